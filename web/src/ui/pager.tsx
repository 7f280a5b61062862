import type { ReactNode } from 'react';
import { Button } from './button.tsx';
import { SaveLink } from './save-link.tsx';
import { wholeText } from './formats.ts';

/** Steps through a paged list; `csv` is where the whole of it can be saved from. */
export function Pager({
  page,
  pageSize,
  total,
  what,
  onPage,
  csv,
}: {
  page: number;
  pageSize: number;
  total: number;
  what: string;
  onPage: (page: number) => void;
  csv?: string;
}): ReactNode {
  const pages = Math.max(1, Math.ceil(total / pageSize));
  return (
    <nav aria-label={`Pages of ${what}`} className="flex items-center justify-between gap-3 py-3">
      <p className="figure text-lg">
        {wholeText(total)} {total === 1 ? what.replace(/ies$/, 'y').replace(/s$/, '') : what}
        {pages > 1 ? `, page ${page} of ${wholeText(pages)}` : ''}
      </p>
      <div className="flex gap-2">
        {csv !== undefined && total > 0 && <SaveLink href={csv}>Save as CSV</SaveLink>}
        {pages > 1 && (
          <Button disabled={page <= 1} onClick={() => onPage(page - 1)}>
            Previous
          </Button>
        )}
        {pages > 1 && (
          <Button disabled={page >= pages} onClick={() => onPage(page + 1)}>
            Next
          </Button>
        )}
      </div>
    </nav>
  );
}
