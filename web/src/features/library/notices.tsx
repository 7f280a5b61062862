import { addressOf, endpoints, type NoticeRow } from '@crosspeen/contract';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import type { TableColumn } from '../../ui/data-table.tsx';
import { Empty } from '../../ui/notice.tsx';
import { ListSearch, PagedTable, usePagedList } from '../../ui/paged-list.tsx';
import { isoText } from '../../ui/units.ts';
import { NOTICE_WORDS } from './words.ts';

const COLUMNS: readonly TableColumn<NoticeRow>[] = [
  {
    id: 'notice',
    head: 'Notice',
    names: true,
    cell: (row) => (
      <Link data-row to={`/library/notices/${row.id}`} className="block min-h-12 py-2 hover:underline">
        <span className="text-lg font-semibold leading-tight">{row.title}</span>
        {row.state === 'withdrawn' && (
          <span className="ml-2 rounded border border-rule-strong px-1.5 text-sm">withdrawn</span>
        )}
        <span className="block text-sm text-soft">
          {NOTICE_WORDS[row.kind]} {row.number}
        </span>
      </Link>
    ),
  },
  { id: 'from', head: 'From', cell: (row) => row.authority },
  { id: 'issued', head: 'Issued', className: 'whitespace-nowrap', cell: (row) => isoText(row.issued) },
  { id: 'engines', head: 'Engines', className: 'figure text-lg', cell: (row) => row.engines.join(', ') },
  { id: 'vehicles', head: 'Saved vehicles', figure: true, cell: (row) => row.vehicles },
];

/** Bulletins and coverages, latest first: each opens on the vehicles it touches. */
export function Notices(): ReactNode {
  const of = usePagedList(({ q, page }) => read.notices(q, page));
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-2">
        <ListSearch id="notice-search" label="Search by number or words" placeholder="Number or words" list={of} />
        <Link
          to="/library/notices/write"
          className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
        >
          Add one
        </Link>
      </div>
      <PagedTable
        of={of}
        what="notices"
        label="Bulletins and cover"
        caption="Bulletins and coverages, latest first"
        className="min-w-[46rem]"
        columns={COLUMNS}
        rowKey={(row) => row.id}
        csv={addressOf(endpoints.lists.notices, { query: { q: of.q } })}
        empty={
          <Empty title={of.q === '' ? 'No bulletin or coverage yet' : 'No notice fits'}>
            What a maker lets workshops know, or pays for within a window, stands here and shows at once which vehicles
            it touches.
          </Empty>
        }
      />
    </>
  );
}
