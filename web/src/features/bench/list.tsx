import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { INPUT } from '../../ui/field.tsx';
import { pageParam, useListParams } from '../../ui/list-params.ts';
import { Empty, Notice, Waiting } from '../../ui/notice.tsx';
import { Pager } from '../../ui/pager.tsx';
import { percentText } from '../../ui/units.ts';
import { Scroller } from '../../ui/scroller.tsx';
import { LifeInterval } from './interval.tsx';
import { enoughShort, shortLifeText } from './words.ts';
import { query } from '../../api/client.ts';

/** What only a wide screen has room for is told on the weak point's own page as well. */
const HEADS: readonly { readonly head: string; readonly wide?: boolean }[] = [
  { head: 'Weak point' },
  { head: 'Watched' },
  { head: 'Failed' },
  { head: 'Typical life, published and ours' },
  { head: 'How many have it', wide: true },
  { head: 'What it says' },
];
const ORDERS = { failures: 'Most failures', apart: 'Furthest from print', parts: 'Most watched' } as const;
type Order = keyof typeof ORDERS;

/** What this workshop has seen on its own vehicles, beside what is published. */
export default function BenchPage(): ReactNode {
  const { params, page, go } = useListParams();
  const [typed, setTyped] = useState(params.get('q') ?? '');
  const q = useDeferredValue(typed);
  const asked = params.get('order');
  const order: Order = asked !== null && Object.hasOwn(ORDERS, asked) ? (asked as Order) : 'failures';
  const settings = useQuery(read.settings()).data;
  const list = useQuery({ ...read.bench({ q, order, page }), placeholderData: keepPreviousData });
  if (!settings) return <Waiting what="the settings" />;
  const unit = settings.distanceUnit;
  return (
    <>
      <div className="mb-1 flex flex-wrap items-end justify-between gap-3">
        <h1 className="text-3xl">Bench</h1>
        <div className="flex flex-wrap items-center gap-2">
          <label className="sr-only" htmlFor="bench-search">
            Search weak point, component, engine or make
          </label>
          <input
            id="bench-search"
            type="search"
            className={`${INPUT} w-72!`}
            placeholder="Weak point, component, engine"
            value={typed}
            onChange={(event) => {
              setTyped(event.target.value);
              go({ q: event.target.value, page: null });
            }}
          />
          {(Object.keys(ORDERS) as Order[]).map((key) => (
            <Button
              key={key}
              look={order === key ? 'main' : 'plain'}
              aria-pressed={order === key}
              onClick={() => go({ order: key === 'failures' ? null : key, page: null })}
            >
              {ORDERS[key]}
            </Button>
          ))}
        </div>
      </div>
      <p className="mb-3 max-w-4xl text-soft">
        What our own vehicles say, each part counted once: those that failed and those that still run. The thin line is
        what is published, the thick one what it becomes with ours, both so wide that 9 in 10 lie inside. Pale: not
        enough yet.
      </p>
      {list.isPending && <Waiting what="the bench" />}
      {list.error && (
        <Notice role="alert" actions={<Button onClick={() => void list.refetch()}>Try again</Button>}>
          {list.error.message}
        </Notice>
      )}
      {list.data?.total === 0 &&
        (q.trim() === '' ? (
          <Empty title="Nothing has been seen yet">
            As soon as a vehicle with a reading is on file, its parts are watched here: what failed, what came out still
            good, what runs on. Record a failure or a renewal on a vehicle’s outlook.
          </Empty>
        ) : (
          <Empty
            title={`Nothing on the bench fits “${q}”`}
            action={
              <Button
                onClick={() => {
                  setTyped('');
                  go({ q: null, page: null });
                }}
              >
                Show all
              </Button>
            }
          >
            Search takes parts of weak point, component, engine code and make.
          </Empty>
        ))}
      {list.data && list.data.rows.length > 0 && (
        <>
          <Scroller label="The bench">
            <table className="w-full min-w-[44rem] lg:min-w-[56rem]">
              <caption className="sr-only">
                Weak points seen on our own vehicles, {ORDERS[order].toLowerCase()} first
              </caption>
              <thead>
                <tr className="border-b border-rule-strong text-left text-sm text-soft">
                  {HEADS.map(({ head, wide }) => (
                    <th key={head} scope="col" className={`px-3 py-2 font-medium ${wide ? 'max-lg:hidden' : ''}`}>
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {list.data.rows.map((row) => (
                  <tr key={row.weakPointId} className="border-b border-rule align-top last:border-0 hover:bg-well">
                    <th scope="row" className="px-3 text-left font-normal">
                      <Link to={`/bench/${row.weakPointId}`} className="block min-h-12 py-2 hover:underline">
                        <span className="text-lg font-semibold leading-tight">{row.title}</span>
                        <span className="block text-sm text-soft">
                          {row.maker} {row.engineCode}, {row.component}
                        </span>
                      </Link>
                    </th>
                    <td className="figure whitespace-nowrap px-3 py-2 text-lg">
                      {row.parts}
                      <span className="block text-base text-soft">
                        on {row.vehicles} {row.vehicles === 1 ? 'vehicle' : 'vehicles'}
                      </span>
                    </td>
                    <td className="figure whitespace-nowrap px-3 py-2 text-lg font-semibold">
                      {row.failures}
                      {row.worn > 0 && <span className="block text-base font-normal text-soft">{row.worn} worn</span>}
                    </td>
                    <td className="px-3 py-2">
                      <LifeInterval
                        row={row}
                        label={`Published ${shortLifeText(row, row.publishedLife.middle, unit)}, ours ${shortLifeText(row, row.ownLife.middle, unit)}, between ${shortLifeText(row, row.ownLife.low, unit)} and ${shortLifeText(row, row.ownLife.high, unit)}`}
                      />
                      <span className="figure text-base">
                        <span className="text-soft">{shortLifeText(row, 1, unit)}</span> →{' '}
                        <strong>{shortLifeText(row, row.ownLife.middle, unit)}</strong>
                      </span>
                    </td>
                    <td className="figure whitespace-nowrap px-3 py-2 text-lg max-lg:hidden">
                      {row.nature === 'wear' ? (
                        <span className="text-soft">all, it wears</span>
                      ) : (
                        <>
                          <span className="text-soft">{percentText(row.share)}</span> →{' '}
                          {percentText(row.ownShare.middle)}
                        </>
                      )}
                    </td>
                    <td className={`max-w-72 px-3 py-2 ${row.enough === 'yes' ? 'font-semibold' : 'text-soft'}`}>
                      {enoughShort(row)}
                      {row.broughtIn > 0 && (
                        <span className="block text-sm text-soft">
                          {row.broughtIn} came in because of it and {row.broughtIn === 1 ? 'is' : 'are'} not counted.
                        </span>
                      )}
                      {row.stale && (
                        <span className="block text-sm text-soft">New readings are being reckoned in.</span>
                      )}
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
            what="weak points"
            csv={`/api/lists/bench.csv${query({ q, order })}`}
            onPage={(next) => go({ page: pageParam(next) })}
          />
        </>
      )}
    </>
  );
}
