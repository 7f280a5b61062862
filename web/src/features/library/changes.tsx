import { call } from '../../api/client.ts';
import { addressOf, endpoints, type LibraryChange } from '@crosspeen/contract';
import type { ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { PagedView, usePagedList } from '../../ui/paged-list.tsx';
import { FormProblem } from '../../ui/problem.tsx';
import { instantText } from '../../ui/units.ts';

const WHAT = { new: 'new', changed: 'changed', gone: 'taken out' } as const;

function Items({ items, rows }: Pick<LibraryChange, 'items' | 'rows'>): ReactNode {
  return (
    <ul className="mt-1 space-y-1 border-l-2 border-rule pl-3 text-sm">
      {items.map((item, i) => (
        <li key={`${item.entity}-${item.name}-${i}`}>
          <strong>{item.entity}</strong> {WHAT[item.what]}: {item.name}
          {item.columns.map(({ column, before, after }) => (
            <span key={column} className="block pl-3 text-soft">
              {column}: {before} → <span className="text-ink">{after}</span>
            </span>
          ))}
        </li>
      ))}
      {rows > items.length && <li className="text-soft">and {rows - items.length} rows more</li>}
    </ul>
  );
}

/**
 * What changed in the library since when, by whom, each change with the way back; of one weak point where it is named.
 */
export function Changes({ entityId }: { entityId?: string }): ReactNode {
  const of = usePagedList(
    ({ page }) => read.libraryChanges(page, entityId),
    entityId === undefined ? 'page' : 'changes',
  );
  const undo = useChange((id: string) => call(endpoints.changes.undo, { params: { id } }));
  return (
    <>
      <FormProblem error={undo.error} />
      <PagedView
        of={of}
        what="changes"
        empty={<p className="text-soft">Nothing has changed since it was saved.</p>}
        {...(entityId === undefined ? { csv: addressOf(endpoints.lists.libraryChanges, {}) } : {})}
      >
        {(rows) => (
          <ol className="divide-y divide-rule rounded-md border border-rule bg-sheet">
            {rows.map((row) => (
              <li key={row.id} className="flex flex-wrap items-start justify-between gap-3 px-4 py-2">
                <details className="min-w-0 flex-1">
                  <summary className="min-h-11 cursor-pointer py-2">
                    <span className={row.undone ? 'line-through' : 'font-semibold'}>{row.summary}</span>{' '}
                    <span className="text-soft">
                      {instantText(row.at)}
                      {row.by ? `, ${row.by}` : ''}, {row.rows} {row.rows === 1 ? 'row' : 'rows'}
                      {row.undone ? ', taken back' : ''}
                    </span>
                  </summary>
                  <Items items={row.items} rows={row.rows} />
                </details>
                {row.undoable && (
                  <Button disabled={undo.isPending} onClick={() => undo.mutate(row.id)}>
                    Take it back
                  </Button>
                )}
              </li>
            ))}
          </ol>
        )}
      </PagedView>
    </>
  );
}
