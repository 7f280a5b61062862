import { vehiclePath } from '../../ui/paths.ts';
import { addressOf, endpoints } from '@crosspeen/contract';
import { dayFromIso, type Verdict } from '@crosspeen/core';
import { lazy, startTransition, Suspense, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { byWhenText } from '../../parts/by-when.ts';
import { read, type CalledRow } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Chance } from '../../ui/chance.tsx';
import { Choices } from '../../ui/choices.tsx';
import { VerdictMark } from '../../ui/mark.tsx';
import type { TableColumn } from '../../ui/data-table.tsx';
import { PagedTable, usePagedList } from '../../ui/paged-list.tsx';
import { SaveLink } from '../../ui/save-link.tsx';
import { distanceText } from '../../ui/units.ts';
import type { About } from './call-dialog.tsx';
import { coverWords, doneWords } from './words.ts';

const CallDialog = lazy(() => import('./call-dialog.tsx'));

const columnsOf = (cover: boolean, onCall: (row: CalledRow) => void): TableColumn<CalledRow>[] => [
  {
    id: 'vehicle',
    head: 'Vehicle',
    names: true,
    cell: (row) => (
      <Link data-row to={vehiclePath(row.vehicleId)} className="block min-h-12 py-2 hover:underline">
        <span className="figure text-lg font-semibold">{row.plate ?? row.name}</span>{' '}
        <span className="block text-sm text-soft">
          {row.maker} {row.model}
          {row.km === null ? '' : `, ${distanceText(row.km, row.odometerUnit, 100)}`}
        </span>
      </Link>
    ),
  },
  {
    id: 'contact',
    head: 'Call',
    cell: (row) => (
      <>
        <span className="mb-1 block">{row.contact ?? <span className="text-soft">no contact saved</span>}</span>
        <Button onClick={() => onCall(row)} aria-label={`Called about ${row.plate ?? row.name}`}>
          Called
        </Button>
      </>
    ),
  },
  {
    id: 'verdict',
    head: 'What to do',
    cell: (row) => (
      <>
        <VerdictMark verdict={row.verdict as Verdict} />
        {row.dueDay && (
          <span className="block text-sm text-soft">
            {byWhenText(
              { verdict: row.verdict as Verdict, day: dayFromIso(row.dueDay)!, km: null },
              dayFromIso(row.asOf)!,
              row.odometerUnit,
            )}
          </span>
        )}
      </>
    ),
  },
  ...(cover
    ? [
        {
          id: 'cover',
          head: 'Paid for',
          className: (row: CalledRow) => (row.covered === false ? 'text-soft' : ''),
          cell: (row: CalledRow) => coverWords(row),
        },
      ]
    : []),
  { id: 'chance', head: 'Chance before the next service', cell: (row) => <Chance chance={row.chance} /> },
  {
    id: 'done',
    head: 'Done about it',
    cell: (row) => (
      <>
        {doneWords(row).map((words) => (
          <span key={words} className="block">
            {words}
          </span>
        ))}
        {doneWords(row).length === 0 && <span className="text-soft">nothing recorded</span>}
        {row.answered && <strong className="block">answered</strong>}
      </>
    ),
  },
];

const leftOf = (params: URLSearchParams): 'all' | 'left' => (params.get('left') === 'all' ? 'all' : 'left');

/**
 * The vehicles a weak point, a bulletin or a coverage touches now, what was done about each, and who is left: a list to
 * call from.
 */
export function Campaign({
  about,
  cover = false,
  nobody,
  today,
}: {
  about: About;
  cover?: boolean;
  nobody: string;
  today: number;
}): ReactNode {
  const of = usePagedList(({ page, params }) => read.calls(about, leftOf(params), page));
  const left = leftOf(of.params);
  const [calling, setCalling] = useState<CalledRow | null>(null);
  const csv =
    about.weakPointId === null
      ? addressOf(endpoints.lists.noticeVehicles, { params: { id: about.noticeId }, query: { left } })
      : addressOf(endpoints.lists.pointVehicles, { params: { id: about.weakPointId }, query: { left } });
  return (
    <section aria-labelledby="campaign">
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h2 id="campaign" className="text-2xl">
          Affected vehicles
        </h2>
        <div className="flex flex-wrap items-end gap-2">
          <Choices
            label="Show"
            value={left}
            onChange={(next) => of.go({ left: next === 'all' ? 'all' : null, page: null })}
            options={[
              { value: 'left', label: 'Still to call' },
              { value: 'all', label: 'All of them' },
            ]}
          />
          <SaveLink href={csv}>Save as CSV</SaveLink>
        </div>
      </div>
      <PagedTable<CalledRow>
        of={of}
        what="vehicles"
        label="Vehicles to call"
        caption={`Affected vehicles, ${cover ? 'cover that ends soonest first' : 'likeliest first'}`}
        className="min-w-[46rem]"
        columns={columnsOf(cover, (row) => startTransition(() => setCalling(row)))}
        rowKey={(row) => row.vehicleId}
        empty={<p className="text-soft">{left === 'left' ? nobody : 'No saved vehicle has it.'}</p>}
      />
      <Suspense fallback={null}>
        {calling && <CallDialog row={calling} about={about} today={today} onClose={() => setCalling(null)} />}
      </Suspense>
    </section>
  );
}
