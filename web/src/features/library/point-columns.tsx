import type { LibraryPointRow } from '@crosspeen/contract';
import { CONSEQUENCE_LABELS, type DistanceUnit } from '@crosspeen/core';
import { Link } from 'react-router';
import type { TableColumn } from '../../ui/data-table.tsx';
import { shareText, STATE_WORDS, windowText } from './words.ts';

/** The columns of weak points of the library; `engines` names each one's engine. */
export const pointColumns = (
  unit: DistanceUnit,
  { engines, sorted }: { readonly engines: boolean; readonly sorted: boolean },
): TableColumn<LibraryPointRow>[] => {
  const by = (of: (row: LibraryPointRow) => number | string) => (sorted ? { sortBy: of } : {});
  return [
    {
      id: 'point',
      head: 'Weak point',
      names: true,
      ...by(({ title }) => title),
      cell: (row) => (
        <Link data-row to={`/library/points/${row.id}`} className="block min-h-12 py-2 hover:underline">
          <span className="text-lg font-semibold leading-tight">{row.title}</span>
          {row.state !== 'published' && (
            <span className="ml-2 rounded border border-rule-strong px-1.5 text-sm">{STATE_WORDS[row.state]}</span>
          )}
          <span className="block text-sm text-soft">
            {engines ? `${row.maker} ${row.engineCode}, ` : ''}
            {row.component}
          </span>
        </Link>
      ),
    },
    {
      id: 'consequence',
      head: 'If it fails',
      ...by(({ consequence }) => CONSEQUENCE_LABELS[consequence]),
      cell: (row) => (
        <>
          {CONSEQUENCE_LABELS[row.consequence]}
          {row.safety && <span className="block text-sm font-semibold">safety</span>}
        </>
      ),
    },
    { id: 'window', head: 'Mostly fails at', className: 'figure text-lg', cell: (row) => windowText(row, unit) },
    {
      id: 'share',
      head: 'How many',
      figure: true,
      ...by(({ share }) => share),
      cell: (row) => (
        <>
          {shareText(row.share)}
          <span className="block text-base text-soft">{row.nature === 'wear' ? 'fail by then' : 'have it'}</span>
        </>
      ),
    },
    {
      id: 'vehicles',
      head: 'Saved vehicles',
      figure: true,
      ...by(({ vehicles }) => vehicles),
      cell: (row) => row.vehicles,
    },
  ];
};
