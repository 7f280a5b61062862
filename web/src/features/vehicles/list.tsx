import { vehiclePath } from '../../ui/paths.ts';
import { addressOf, endpoints, may, type SessionState, type VehicleListRow } from '@crosspeen/contract';
import {
  CHANCE_BANDS,
  CONSEQUENCES,
  dayFromIso,
  FLEET_YEARS,
  VERDICTS,
  type Verdict,
  type Consequence,
} from '@crosspeen/core';
import type { ReactNode } from 'react';
import { Link, useNavigate, type NavigateFunction } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Chance, TemperLegend } from '../../ui/chance.tsx';
import type { TableColumn } from '../../ui/data-table.tsx';
import { VERDICT_WORDS, VerdictMark } from '../../ui/mark.tsx';
import { Empty } from '../../ui/notice.tsx';
import { ListSearch, PagedTable, usePagedList, type PagedList } from '../../ui/paged-list.tsx';
import { Toggles } from '../../ui/toggles.tsx';
import { distanceText, isoText, percentText } from '../../ui/units.ts';
import { byWhenText } from '../../parts/by-when.ts';
import { FleetProgressLine } from './fleet-progress.tsx';
import { chosenOf, type ChangeParams } from '../../ui/list-params.ts';
import { Select, optionsOf } from '../../ui/select.tsx';

const ORDERS = { pressing: 'Most urgent', chance: 'Likeliest', plate: 'By plate' } as const;
const ORDER_WORDS = { pressing: 'most urgent first', chance: 'likeliest to fail first', plate: 'by plate' } as const;
type Order = keyof typeof ORDERS;

/** Chances that the list can be cut off at. */

/** What the list is cut and ordered by, as it stands in the address. */
function askedOf(params: URLSearchParams) {
  const least = CHANCE_BANDS.find((value) => String(value) === params.get('least'));
  return {
    order: chosenOf(params, 'order', Object.keys(ORDERS) as Order[]) ?? 'pressing',
    verdict: chosenOf(params, 'verdict', VERDICTS),
    consequence: chosenOf(params, 'consequence', CONSEQUENCES),
    least: least === undefined ? null : String(least),
  };
}

function Due({
  pressing,
  unit,
}: {
  pressing: NonNullable<VehicleListRow['pressing']>;
  unit: VehicleListRow['odometerUnit'];
}) {
  if (pressing.dueDay === null) return <span className="text-soft">not within {FLEET_YEARS} years</span>;
  return byWhenText(
    { verdict: pressing.verdict, day: dayFromIso(pressing.dueDay)!, km: pressing.dueKm },
    dayFromIso(pressing.asOf)!,
    unit,
  );
}

const columnsOf = (order: Order, onOrder: (order: Order) => void): TableColumn<VehicleListRow>[] => [
  {
    id: 'vehicle',
    head: 'Vehicle',
    names: true,
    order: { sorted: order === 'plate' && 'ascending', onSort: () => onOrder('plate') },
    cell: (row) => (
      <Link data-row to={vehiclePath(row.id)} className="block min-h-12 py-1.5 hover:underline">
        <span className="figure whitespace-nowrap text-xl font-semibold">{row.plate ?? row.name}</span>
        <span className="block text-sm text-soft">
          {row.maker} {row.model}
          <span className="lg:hidden"> {row.engineCode}</span>
        </span>
      </Link>
    ),
  },
  { id: 'engine', head: 'Engine', figure: true, from: 'lg', cell: (row) => row.engineCode },
  {
    id: 'reading',
    head: 'Reading',
    figure: true,
    cell: (row) => (row.km === null ? 'none' : distanceText(row.km, row.odometerUnit, 100)),
  },
  {
    id: 'pressing',
    head: 'Most urgent',
    order: { sorted: order === 'pressing' && 'descending', onSort: () => onOrder('pressing') },
    cell: ({ pressing, upkeep }) =>
      pressing === null ? (
        <span className="text-soft">nothing applies</span>
      ) : (
        <>
          <VerdictMark verdict={pressing.verdict} />
          <span className="block leading-tight">
            {pressing.title}
            {pressing.others > 0 && <span className="text-soft">, and {pressing.others} more</span>}
          </span>
          {upkeep && upkeep.overdue > 0 && (
            <span className="block text-sm">
              ▲ Upkeep overdue: {upkeep.title}
              {upkeep.overdue > 1 && `, and ${upkeep.overdue - 1} more`}
            </span>
          )}
        </>
      ),
  },
  {
    id: 'chance',
    head: 'Chance before the next service',
    order: { sorted: order === 'chance' && 'descending', onSort: () => onOrder('chance') },
    cell: ({ pressing }) =>
      pressing && (
        <>
          {pressing.chance === null ? (
            <span className="text-soft">complaint open</span>
          ) : (
            <Chance chance={pressing.chance} />
          )}
          {pressing.ifFirst !== null && (
            <span className="block text-sm text-soft">
              no proof of a renewal; if it is the first one {percentText(pressing.ifFirst)}
            </span>
          )}
          {pressing.stale && <span className="block text-sm text-soft">old result</span>}
        </>
      ),
  },
  {
    id: 'due',
    head: 'By when',
    className: 'figure text-lg',
    cell: ({ pressing, odometerUnit }) => pressing && <Due pressing={pressing} unit={odometerUnit} />,
  },
  {
    id: 'visit',
    head: 'Next visit',
    figure: true,
    cell: (row) => (row.nextVisit === null ? <span className="text-soft">none</span> : isoText(row.nextVisit)),
  },
];

/** Search, order, and saving a vehicle. */
function ListHead({
  session,
  of,
  order,
  onOrder,
}: {
  session: SessionState;
  of: PagedList<VehicleListRow>;
  order: 'pressing' | 'chance' | 'plate';
  onOrder: (key: Order) => void;
}): ReactNode {
  return (
    <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
      <h1 className="text-3xl">Vehicles</h1>
      <div className="flex flex-wrap items-center gap-2">
        {may(session.user!.role, 'importFiles') && (
          <Link
            to="/vehicles/intake"
            className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
          >
            Import a spreadsheet
          </Link>
        )}
        <TemperLegend />
        <ListSearch
          id="vehicle-search"
          label="Search plate, name, make, model or engine"
          placeholder="Plate, name, make, model, engine"
          list={of}
        />
        <Toggles label="Order of the vehicles" value={order} onChange={onOrder} options={ORDERS} />
      </div>
    </div>
  );
}

/** What the list is cut down to. */
function VehicleFilters({
  verdict,
  go,
  consequence,
  least,
  filtered,
  all,
  list,
}: {
  verdict: Verdict | null;
  go: ChangeParams;
  consequence: Consequence | null;
  least: string | null;
  filtered: boolean;
  all: () => void;
  list: { readonly data: { readonly total: number } | undefined; readonly isPlaceholderData: boolean };
}): ReactNode {
  return (
    <div role="group" aria-label="Only vehicles with" className="mb-3 flex flex-wrap items-center gap-2">
      <span className="text-soft">Only vehicles with</span>
      <Select
        aria-label="Verdict"
        className="w-auto!"
        value={verdict ?? ''}
        onChange={(picked) => go({ verdict: picked || null })}
        options={[{ value: '', label: 'any verdict' }, ...optionsOf(VERDICTS, (value) => VERDICT_WORDS[value].word)]}
      />
      <Select
        aria-label="Consequence"
        className="w-auto!"
        value={consequence ?? ''}
        onChange={(picked) => go({ consequence: picked || null })}
        options={[{ value: '', label: 'any consequence' }, ...optionsOf(CONSEQUENCES, (value) => value)]}
      />
      <Select
        aria-label="Chance"
        className="w-auto!"
        value={least ?? ''}
        onChange={(picked) => go({ least: picked || null })}
        options={[
          { value: '', label: 'any chance' },
          ...CHANCE_BANDS.map((value) => ({ value: String(value), label: `${Math.round(value * 100)} % and more` })),
        ]}
      />
      {filtered && (
        <Button look="quiet" onClick={all}>
          All vehicles
        </Button>
      )}
      {filtered && list.data && !list.isPlaceholderData && (
        <span role="status" className="figure text-lg">
          {list.data.total} fit
        </span>
      )}
    </div>
  );
}

/** What stands where no vehicle is saved yet. */
function NoVehicles({ navigate, session }: { navigate: NavigateFunction; session: SessionState }): ReactNode {
  return (
    <Empty
      title="No vehicle is saved yet"
      action={
        <span className="flex flex-wrap justify-center gap-3">
          <Button look="main" onClick={() => void navigate('/', { state: { focusLine: true } })}>
            Look an engine up
          </Button>
          {may(session.user!.role, 'importFiles') && (
            <Button onClick={() => void navigate('/vehicles/intake')}>Bring them from a spreadsheet</Button>
          )}
        </span>
      }
    >
      Look up an engine code with a reading, then save the answer as a vehicle; or bring all of them as CSV. They are
      listed here, most urgent first.
    </Empty>
  );
}

/** All saved vehicles, most urgent first, searched and paged in the database. The address reproduces the list. */
export default function VehiclesPage({ session }: { session: SessionState }): ReactNode {
  const navigate = useNavigate();
  const of = usePagedList(({ q, page, params }) => read.vehicles({ q, page, ...askedOf(params) }));
  const { q, list, setTyped } = of;
  const { order, verdict, consequence, least } = askedOf(of.params);
  const filtered = verdict !== null || consequence !== null || least !== null;
  const go = (changes: Record<string, string | null>): void => of.go({ ...changes, page: null }, 'push');
  const onOrder = (key: Order): void => go({ order: key === 'pressing' ? null : key });
  const all = (): void => go({ verdict: null, consequence: null, least: null });
  return (
    <>
      <ListHead session={session} of={of} order={order} onOrder={onOrder} />
      <VehicleFilters
        verdict={verdict}
        go={go}
        consequence={consequence}
        least={least}
        filtered={filtered}
        all={all}
        list={list}
      />
      <FleetProgressLine session={session} />
      <PagedTable
        of={of}
        what="vehicles"
        label="Saved vehicles"
        caption={`Vehicles, ${ORDER_WORDS[order]}`}
        className="min-w-[46rem] lg:min-w-[52rem]"
        columns={columnsOf(order, onOrder)}
        rowKey={(row) => row.id}
        csv={addressOf(endpoints.lists.vehicles, { query: { q, order, verdict, consequence, least } })}
        empty={
          filtered ? (
            <Empty title="No vehicle fits" action={<Button onClick={all}>All vehicles</Button>}>
              No vehicle matches these filters
              {q === '' ? '' : ` among those called “${q}”`}.
            </Empty>
          ) : q === '' ? (
            <NoVehicles navigate={navigate} session={session} />
          ) : (
            <Empty title={`No vehicle fits “${q}”`} action={<Button onClick={() => setTyped('')}>Show all</Button>}>
              Search takes parts of plate, name, make, model and engine code.
            </Empty>
          )
        }
      />
    </>
  );
}
