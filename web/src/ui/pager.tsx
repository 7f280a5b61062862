import type { ReactNode } from 'react';
import { Button } from './button.tsx';

/** Steps through a paged list. */
export function Pager({ page, pageSize, total, what, onPage }: { page: number; pageSize: number; total: number; what: string; onPage: (page: number) => void }): ReactNode {
  const pages = Math.max(1, Math.ceil(total / pageSize));
  return (
    <nav aria-label={`Pages of ${what}`} className="flex items-center justify-between gap-3 py-3">
      <p className="figure text-lg">{total.toLocaleString('en-GB')} {what}{pages > 1 ? `, page ${page} of ${pages.toLocaleString('en-GB')}` : ''}</p>
      {pages > 1 && (
        <div className="flex gap-2">
          <Button disabled={page <= 1} onClick={() => onPage(page - 1)}>Back</Button>
          <Button disabled={page >= pages} onClick={() => onPage(page + 1)}>On</Button>
        </div>
      )}
    </nav>
  );
}
