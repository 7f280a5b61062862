import { addressOf, type BenchRow, endpoints } from '@crosspeen/contract';
import type { DistanceUnit } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import type { TableColumn } from '../../ui/data-table.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { ListSearch, PagedTable, usePagedList } from '../../ui/paged-list.tsx';
import { Toggles } from '../../ui/toggles.tsx';
import { percentText } from '../../ui/units.ts';
import { LifeInterval } from './interval.tsx';
import { enoughShort, shortLifeText } from './words.ts';

const ORDERS = { failures: 'Most failures', apart: 'Differs most from published', parts: 'Most observed' } as const;
type Order = keyof typeof ORDERS;

const orderOf = (params: URLSearchParams): Order => {
  const asked = params.get('order');
  return asked !== null && Object.hasOwn(ORDERS, asked) ? (asked as Order) : 'failures';
};

/** What only a wide screen has room for is told on the weak point's own page as well. */
const columnsOf = (unit: DistanceUnit, order: Order, onOrder: (order: Order) => void): TableColumn<BenchRow>[] => {
  const ordered = (by: Order) => ({ sorted: order === by && ('descending' as const), onSort: () => onOrder(by) });
  return [
    {
      id: 'point',
      head: 'Weak point',
      names: true,
      cell: (row) => (
        <Link data-row to={`/bench/${row.weakPointId}`} className="block min-h-12 py-2 hover:underline">
          <span className="text-lg font-semibold leading-tight">{row.title}</span>
          <span className="block text-sm text-soft">
            {row.maker} {row.engineCode}, {row.component}
          </span>
        </Link>
      ),
    },
    {
      id: 'watched',
      head: 'Observed',
      order: ordered('parts'),
      figure: true,
      cell: (row) => (
        <>
          {row.parts}
          <span className="block text-base text-soft">
            on {row.vehicles} {row.vehicles === 1 ? 'vehicle' : 'vehicles'}
          </span>
        </>
      ),
    },
    {
      id: 'failed',
      head: 'Failed',
      order: ordered('failures'),
      figure: true,
      className: 'font-semibold',
      cell: (row) => (
        <>
          {row.failures}
          {row.worn > 0 && <span className="block text-base font-normal text-soft">{row.worn} worn</span>}
        </>
      ),
    },
    {
      id: 'life',
      head: 'Typical life, published and ours',
      order: ordered('apart'),
      cell: (row) => (
        <>
          <LifeInterval
            row={row}
            label={`Published ${shortLifeText(row, row.publishedLife.middle, unit)}, ours ${shortLifeText(row, row.ownLife.middle, unit)}, between ${shortLifeText(row, row.ownLife.low, unit)} and ${shortLifeText(row, row.ownLife.high, unit)}`}
          />
          <span className="figure text-base">
            <span className="text-soft">{shortLifeText(row, 1, unit)}</span> →{' '}
            <strong>{shortLifeText(row, row.ownLife.middle, unit)}</strong>
          </span>
        </>
      ),
    },
    {
      id: 'share',
      head: 'How many have it',
      from: 'lg',
      figure: true,
      cell: (row) =>
        row.nature === 'wear' ? (
          <span className="text-soft">all, it wears</span>
        ) : (
          <>
            <span className="text-soft">{percentText(row.share)}</span> → {percentText(row.ownShare.middle)}
          </>
        ),
    },
    {
      id: 'says',
      head: 'What it says',
      className: (row) => `max-w-72 ${row.enough === 'yes' ? 'font-semibold' : 'text-soft'}`,
      cell: (row) => (
        <>
          {enoughShort(row)}
          {row.broughtIn > 0 && (
            <span className="block text-sm text-soft">
              {row.broughtIn} came in because of it and {row.broughtIn === 1 ? 'is' : 'are'} not counted.
            </span>
          )}
          {row.stale && <span className="block text-sm text-soft">Updating.</span>}
        </>
      ),
    },
  ];
};

/** What this workshop has seen on its own vehicles, beside what is published. */
export default function BenchPage(): ReactNode {
  const of = usePagedList(({ q, page, params }) => read.bench({ q, page, order: orderOf(params) }));
  const order = orderOf(of.params);
  const settings = useQuery(read.settings()).data;
  if (!settings) return <Waiting what="the settings" />;
  const onOrder = (key: Order): void => of.go({ order: key === 'failures' ? null : key, page: null }, 'push');
  return (
    <>
      <div className="mb-1 flex flex-wrap items-end justify-between gap-3">
        <h1 className="text-3xl">Bench</h1>
        <div className="flex flex-wrap items-center gap-2">
          <ListSearch
            id="bench-search"
            label="Search weak point, component, engine or make"
            placeholder="Weak point, component, engine"
            list={of}
          />
          <Toggles label="Order of the bench" value={order} onChange={onOrder} options={ORDERS} />
        </div>
      </div>
      <p className="mb-3 max-w-4xl text-soft">
        What our own vehicles say, each part counted once: those that failed and those that still run. The thin line is
        what is published, the thick one what it becomes with ours, both so wide that 90 % lie inside. Pale: not enough
        yet.
      </p>
      <PagedTable
        of={of}
        what="weak points"
        label="The bench"
        caption={`Weak points seen on our own vehicles, ${ORDERS[order].toLowerCase()} first`}
        className="min-w-[44rem] lg:min-w-[56rem]"
        columns={columnsOf(settings.distanceUnit, order, onOrder)}
        rowKey={(row) => row.weakPointId}
        csv={addressOf(endpoints.lists.bench, { query: { q: of.q, order } })}
        empty={
          of.q === '' ? (
            <Empty title="Nothing has been seen yet">
              As soon as a vehicle with a reading is saved, its parts are observed here: what failed, what came out
              still good, what runs on. Record a failure or a renewal on a vehicle’s outlook.
            </Empty>
          ) : (
            <Empty
              title={`Nothing on the bench fits “${of.q}”`}
              action={<Button onClick={() => of.setTyped('')}>Show all</Button>}
            >
              Search takes parts of weak point, component, engine code and make.
            </Empty>
          )
        }
      />
    </>
  );
}
