import { may, type SessionState } from '@crosspeen/contract';
import { CONSEQUENCES, FLEET_YEARS, VERDICTS } from '@crosspeen/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useEffect, useState, type KeyboardEvent, type ReactNode } from 'react';
import { Link, NavigationType, useNavigate, useNavigationType } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Chance, TemperLegend } from '../../ui/chance.tsx';
import { INPUT } from '../../ui/field.tsx';
import { useListParams } from '../../ui/list-params.ts';
import { VERDICT_WORDS, VerdictMark } from '../../ui/mark.tsx';
import { Empty, Notice, Waiting } from '../../ui/notice.tsx';
import { Pager } from '../../ui/pager.tsx';
import { distanceText, isoText } from '../../ui/units.ts';
import { Scroller } from '../../ui/scroller.tsx';
import { FleetProgressLine } from './fleet-progress.tsx';
import { query } from '../../api/client.ts';

const ORDERS = { pressing: 'Most pressing', chance: 'Likeliest', plate: 'By plate' } as const;
const ORDER_WORDS = { pressing: 'most pressing first', chance: 'likeliest to fail first', plate: 'by plate' } as const;
type Order = keyof typeof ORDERS;

/** Chances that the list can be cut off at. */
const LEAST = [0.01, 0.03, 0.08, 0.25] as const;

/** All vehicles on file, most pressing first, searched and paged in the database. The address reproduces the list. */
export default function VehiclesPage({ session }: { session: SessionState }): ReactNode {
  const { params, page, go: change } = useListParams();
  const navigate = useNavigate();
  const q = params.get('q') ?? '';
  const asked = params.get('order');
  const order: Order = asked !== null && Object.hasOwn(ORDERS, asked) ? (asked as Order) : 'pressing';
  const chosen = <T extends string>(name: string, known: readonly T[]): T | null =>
    known.find((value) => value === params.get(name)) ?? null;
  const verdict = chosen('verdict', VERDICTS);
  const consequence = chosen('consequence', CONSEQUENCES);
  const least = LEAST.find((value) => String(value) === params.get('least')) ?? null;
  const filtered = verdict !== null || consequence !== null || least !== null;
  const [typed, setTyped] = useState(q);
  const settled = useDeferredValue(typed);
  const way = useNavigationType();
  const [lastQ, setLastQ] = useState(q);
  if (q !== lastQ) {
    setLastQ(q);
    // Back and forward bring another search; our own replacing of the address must not overtake what is being typed.
    if (way === NavigationType.Pop) setTyped(q);
  }
  useEffect(() => {
    if (settled !== q) change({ q: settled, page: null });
  }, [settled, q, change]);
  const list = useQuery({
    ...read.vehicles({ q, order, page, verdict, consequence, least: least === null ? null : String(least) }),
    placeholderData: keepPreviousData,
  });
  const go = (changes: Record<string, string | null>): void => change(changes, 'push');
  const onArrow = (event: KeyboardEvent<HTMLElement>): void => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    const links = [...event.currentTarget.querySelectorAll<HTMLAnchorElement>('a[data-row]')];
    const at = links.indexOf(document.activeElement as HTMLAnchorElement);
    links[at + (event.key === 'ArrowDown' ? 1 : -1)]?.focus();
    event.preventDefault();
  };
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <h1 className="text-3xl">Vehicles</h1>
        <div className="flex flex-wrap items-center gap-2">
          {may(session.user!.role, 'importFiles') && (
            <Link
              to="/vehicles/intake"
              className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
            >
              Take in a spreadsheet
            </Link>
          )}
          <TemperLegend />
          <label className="sr-only" htmlFor="vehicle-search">
            Search plate, name, make, model or engine
          </label>
          <input
            id="vehicle-search"
            type="search"
            className={`${INPUT} w-72!`}
            placeholder="Plate, name, make, model, engine"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'ArrowDown') document.querySelector<HTMLAnchorElement>('a[data-row]')?.focus();
            }}
          />
          {(Object.keys(ORDERS) as Order[]).map((key) => (
            <Button
              key={key}
              aria-pressed={order === key}
              look={order === key ? 'main' : 'plain'}
              onClick={() => go({ order: key === 'pressing' ? null : key, page: null })}
            >
              {ORDERS[key]}
            </Button>
          ))}
        </div>
      </div>
      <div role="group" aria-label="Only vehicles with" className="mb-3 flex flex-wrap items-center gap-2">
        <span className="text-soft">Only vehicles with</span>
        <select
          aria-label="Verdict"
          className={`${INPUT} w-auto!`}
          value={verdict ?? ''}
          onChange={(event) => go({ verdict: event.target.value || null, page: null })}
        >
          <option value="">any verdict</option>
          {VERDICTS.map((value) => (
            <option key={value} value={value}>
              {VERDICT_WORDS[value].word}
            </option>
          ))}
        </select>
        <select
          aria-label="Consequence"
          className={`${INPUT} w-auto!`}
          value={consequence ?? ''}
          onChange={(event) => go({ consequence: event.target.value || null, page: null })}
        >
          <option value="">any consequence</option>
          {CONSEQUENCES.map((value) => (
            <option key={value} value={value}>
              {value}
            </option>
          ))}
        </select>
        <select
          aria-label="Chance"
          className={`${INPUT} w-auto!`}
          value={least === null ? '' : String(least)}
          onChange={(event) => go({ least: event.target.value || null, page: null })}
        >
          <option value="">any chance</option>
          {LEAST.map((value) => (
            <option key={value} value={String(value)}>
              {Math.round(value * 100)} in 100 and more
            </option>
          ))}
        </select>
        {filtered && (
          <Button look="quiet" onClick={() => go({ verdict: null, consequence: null, least: null, page: null })}>
            All vehicles
          </Button>
        )}
        {filtered && list.data && !list.isPlaceholderData && (
          <span role="status" className="figure text-lg">
            {list.data.total} fit
          </span>
        )}
      </div>
      <FleetProgressLine session={session} />
      {list.isPending && <Waiting what="vehicles" />}
      {list.error && (
        <Notice role="alert" actions={<Button onClick={() => void list.refetch()}>Try again</Button>}>
          {list.error.message}
        </Notice>
      )}
      {list.data &&
        list.data.total === 0 &&
        (filtered ? (
          <Empty
            title="No vehicle fits"
            action={
              <Button onClick={() => go({ verdict: null, consequence: null, least: null, page: null })}>
                All vehicles
              </Button>
            }
          >
            None on file has a weak point of that verdict, consequence and chance
            {q === '' ? '' : ` among those called “${q}”`}.
          </Empty>
        ) : q === '' ? (
          <Empty
            title="No vehicle is on file"
            action={
              <Button look="main" onClick={() => void navigate('/', { state: { focusLine: true } })}>
                Look an engine up
              </Button>
            }
          >
            Look up an engine code with a reading, then keep the answer as a vehicle. It will be listed here, most
            pressing first.
          </Empty>
        ) : (
          <Empty title={`Nothing on file fits “${q}”`} action={<Button onClick={() => setTyped('')}>Show all</Button>}>
            Search takes parts of plate, name, make, model and engine code.
          </Empty>
        ))}
      {list.data && list.data.rows.length > 0 && (
        <>
          <Scroller label="Vehicles on file">
            <table className="w-full min-w-[46rem] lg:min-w-[52rem]" onKeyDown={onArrow}>
              <caption className="sr-only">Vehicles, {ORDER_WORDS[order]}</caption>
              <thead>
                <tr className="border-b border-rule-strong text-left text-sm text-soft">
                  {[
                    'Vehicle',
                    'Engine',
                    'Reading',
                    'Most pressing',
                    'Chance before the next service',
                    'Comes due',
                    'Next visit',
                  ].map((head) => (
                    <th
                      key={head}
                      scope="col"
                      className={`px-3 py-2 font-medium ${head === 'Engine' ? 'max-lg:hidden' : ''}`}
                    >
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {list.data.rows.map((row) => (
                  <tr key={row.id} className="border-b border-rule last:border-0 hover:bg-well">
                    <th scope="row" className="px-3 text-left font-normal">
                      <Link
                        data-row
                        to={`/vehicles/${row.id}/outlook`}
                        className="block min-h-12 py-1.5 hover:underline"
                      >
                        <span className="figure whitespace-nowrap text-xl font-semibold">{row.plate ?? row.name}</span>
                        <span className="block text-sm text-soft">
                          {row.maker} {row.model}
                          <span className="lg:hidden"> {row.engineCode}</span>
                        </span>
                      </Link>
                    </th>
                    <td className="figure px-3 text-lg max-lg:hidden">{row.engineCode}</td>
                    <td className="figure whitespace-nowrap px-3 text-lg">
                      {row.km === null ? 'none' : distanceText(row.km, row.odometerUnit, 100)}
                    </td>
                    {row.pressing === null ? (
                      <td colSpan={3} className="px-3 text-soft">
                        nothing applies
                      </td>
                    ) : (
                      <>
                        <td className="px-3 py-1">
                          <VerdictMark verdict={row.pressing.verdict} />
                          <span className="block leading-tight">
                            {row.pressing.title}
                            {row.pressing.others > 0 && (
                              <span className="text-soft">, and {row.pressing.others} more</span>
                            )}
                          </span>
                        </td>
                        <td className="px-3">
                          <Chance chance={row.pressing.chance} />
                          {row.pressing.stale && (
                            <span className="block text-sm text-soft">judged before a change</span>
                          )}
                        </td>
                        <td className="figure px-3 text-lg leading-tight">
                          {row.pressing.dueDay === null ? (
                            <span className="text-soft">not within {FLEET_YEARS} years</span>
                          ) : row.pressing.dueDay <= row.pressing.asOf ? (
                            <strong>now</strong>
                          ) : (
                            <>
                              {isoText(row.pressing.dueDay)}
                              {row.pressing.dueKm !== null && (
                                <span className="block text-base text-soft">
                                  or {distanceText(row.pressing.dueKm, row.odometerUnit, 100)}
                                </span>
                              )}
                            </>
                          )}
                        </td>
                      </>
                    )}
                    <td className="figure whitespace-nowrap px-3 text-lg">
                      {row.nextVisit === null ? <span className="text-soft">none</span> : isoText(row.nextVisit)}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroller>
          <Pager
            page={page}
            pageSize={list.data.pageSize}
            total={list.data.total}
            what="vehicles"
            csv={`/api/lists/vehicles.csv${query({ q, order, verdict, consequence, least: least === null ? null : String(least) })}`}
            onPage={(next) => go({ page: next === 1 ? null : String(next) })}
          />
        </>
      )}
    </>
  );
}
