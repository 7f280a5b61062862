import { vehiclePath } from '../../ui/paths.ts';
import {
  addressOf,
  type BenchDetail,
  type BenchPart,
  type BenchRow,
  endpoints,
  type Settings,
} from '@crosspeen/contract';
import type { DistanceUnit } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, type ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { read } from '../../api/queries.ts';
import type { ChartOption } from '../../ui/chart.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import type { TableColumn } from '../../ui/data-table.tsx';
import { PagedTable, usePagedList } from '../../ui/paged-list.tsx';
import { distanceText, isoText, percentText } from '../../ui/units.ts';
import { enoughWords, lifeText, shortLifeText } from './words.ts';

const Chart = lazy(() => import('../../ui/chart.tsx'));

const KIND_WORDS: Readonly<Record<BenchPart['kind'], string>> = {
  exact: 'failed',
  interval: 'failed, day not known',
  worn: 'found worn',
  right: 'fine when last seen',
};

function Curve({ detail, unit }: { detail: BenchDetail; unit: DistanceUnit }): ReactNode {
  const option = useCallback(
    (ink: { ink: string; soft: string; rule: string; accent: string; sheet: string }): ChartOption => {
      const at = (of: (point: BenchDetail['curve'][number]) => number): [number, number][] =>
        detail.curve.map((point) => [point.used, of(point) * 100]);
      const faint = {
        lineStyle: { width: 1, color: ink.ink, type: 'dotted' as const },
        itemStyle: { color: ink.ink },
        showSymbol: false,
        type: 'line' as const,
      };
      const named = { fontFamily: 'Barlow Condensed', fontSize: 14 };
      return {
        grid: { left: 44, right: 18, top: 14, bottom: 28 },
        tooltip: {
          trigger: 'axis',
          backgroundColor: ink.sheet,
          borderColor: ink.rule,
          textStyle: { color: ink.ink, ...named },
          formatter: (points: unknown) => {
            const list = points as { axisValue: number; seriesName: string; value: [number, number] }[];
            return [
              `by ${shortLifeText(detail.row, list[0]!.axisValue, unit)}`,
              ...list
                .filter(({ seriesName }) => !seriesName.startsWith('90'))
                .map(({ seriesName, value }) => `${seriesName}: ${percentText(value[1] / 100)} failed`),
            ].join('<br>');
          },
        },
        xAxis: {
          type: 'value',
          min: 0,
          max: 2,
          axisLabel: {
            color: ink.soft,
            formatter: (value: number) => (value === 0 ? '0' : shortLifeText(detail.row, value, unit)),
          },
          axisLine: { lineStyle: { color: ink.rule } },
          splitLine: { show: false },
        },
        yAxis: {
          type: 'value',
          min: 0,
          max: 100,
          axisLabel: { color: ink.soft, formatter: '{value} %' },
          splitLine: { lineStyle: { color: ink.rule } },
        },
        series: [
          {
            name: 'published',
            type: 'line',
            showSymbol: false,
            lineStyle: { width: 2, color: ink.accent },
            itemStyle: { color: ink.accent },
            data: at(({ published }) => published),
          },
          {
            name: 'ours',
            type: 'line',
            showSymbol: false,
            lineStyle: { width: 3, color: ink.ink },
            itemStyle: { color: ink.ink },
            data: at(({ own }) => own),
          },
          { name: '90 low', ...faint, data: at(({ low }) => low) },
          { name: '90 high', ...faint, data: at(({ high }) => high) },
        ],
      };
    },
    [detail, unit],
  );
  return (
    <Suspense fallback={<Waiting what="the picture" />}>
      <Chart
        option={option}
        height={280}
        label={`Share of all engines of this kind that have failed. At the published typical life: published ${percentText(detail.curve[24]!.published)}, ours ${percentText(detail.curve[24]!.own)}.`}
      />
    </Suspense>
  );
}

/** Why those that still run count: the worked figures of this weak point. */
function Survivors({ detail, unit }: { detail: BenchDetail; unit: DistanceUnit }): ReactNode {
  const { row, failuresAlone } = detail;
  return (
    <section aria-labelledby="survivors" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="survivors" className="mb-1 text-2xl">
        Why those that still run count
      </h2>
      {failuresAlone === null ? (
        <p>
          None has failed here while we watched. That is not nothing: {row.stillFine}{' '}
          {row.stillFine === 1 ? 'part has' : 'parts have'} run without it, and the longer they run, the less likely an
          early failure becomes.
        </p>
      ) : (
        <p>
          The {row.failures === 1 ? 'one that failed' : `${row.failures} that failed`} did so{' '}
          {row.failures === 1 ? 'at' : 'typically at'}{' '}
          <strong className="figure text-lg">{shortLifeText(row, failuresAlone, unit)}</strong>. Looked at alone, that
          would be the life of this part. But {row.stillFine} more {row.stillFine === 1 ? 'part has' : 'parts have'}{' '}
          been watched without failing, and each says that the life may well be longer than it has run so far. Reckoned
          with them, the typical life {row.nature === 'defect' ? 'of those that do fail ' : ''}is{' '}
          <strong className="figure text-lg">{shortLifeText(row, row.ownLife.middle, unit)}</strong>
          {row.nature === 'defect'
            ? `, and ${percentText(row.ownShare.middle)} of these engines have it in them at all`
            : ''}
          .
        </p>
      )}
      <p className="mt-2 text-soft">
        A part renewed in good condition counts as one that ran so far. One found worn counts as a failure to come
        within its warning. What happened before a vehicle first came to us is not counted: we would only know of those
        that lived to see us.
      </p>
      {row.broughtIn > 0 && (
        <p className="mt-2">
          <strong>
            {row.broughtIn} {row.broughtIn === 1 ? 'vehicle' : 'vehicles'} came to us because of it.
          </strong>{' '}
          {row.broughtIn === 1 ? 'It stands' : 'They stand'} in the list but {row.broughtIn === 1 ? 'is' : 'are'} not
          counted: whoever only comes when something broke makes everything look worse than it is.
        </p>
      )}
    </section>
  );
}

const partColumns = (unit: DistanceUnit): TableColumn<BenchPart>[] => [
  {
    id: 'vehicle',
    head: 'Vehicle',
    names: true,
    cell: (part) => (
      <Link
        data-row
        to={vehiclePath(part.vehicleId)}
        className="figure inline-flex min-h-11 items-center whitespace-nowrap text-lg font-semibold hover:underline"
      >
        {part.plate ?? part.name}
      </Link>
    ),
  },
  {
    id: 'became',
    head: 'What became of it',
    cell: (part) => (
      <>
        {KIND_WORDS[part.kind]}
        {part.broughtIn && <span className="block text-sm text-soft">came in because of it: not counted</span>}
      </>
    ),
  },
  { id: 'ran', head: 'Ran', figure: true, cell: (part) => distanceText(part.km, unit, 100) },
  { id: 'from', head: 'From', figure: true, cell: (part) => isoText(part.installDay) },
  { id: 'to', head: 'To', figure: true, cell: (part) => isoText(part.endDay) },
  { id: 'looks', head: 'Looks', figure: true, cell: (part) => (part.looks === 0 ? '' : `${part.looks} clean`) },
];

function Parts({ id, unit }: { id: string; unit: DistanceUnit }): ReactNode {
  const of = usePagedList(({ page }) => read.benchParts(id, page));
  return (
    <section aria-labelledby="parts">
      <h2 id="parts" className="mb-2 text-2xl">
        The parts behind it
      </h2>
      <PagedTable
        of={of}
        what="parts"
        label="Parts"
        caption="The parts behind it, failures first"
        columns={partColumns(unit)}
        rowKey={(part) => `${part.vehicleId} ${part.installDay} ${part.endDay} ${part.kind}`}
        csv={addressOf(endpoints.lists.benchParts, { params: { id } })}
        empty={<p className="text-soft">No part of ours is watched yet.</p>}
      />
    </section>
  );
}

/** Published beside what our own vehicles say. */
function Figures({ row, unit, detail }: { row: BenchRow; unit: 'mi' | 'km'; detail: BenchDetail }): ReactNode {
  return (
    <section aria-labelledby="figures" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="figures" className="mb-2 text-2xl">
        Published and ours
      </h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
        <dt className="text-soft">Typical life, published</dt>
        <dd className="figure text-lg">
          {lifeText(row, 1, unit)}
          <span className="block text-base text-soft">
            believed between {shortLifeText(row, row.publishedLife.low, unit)} and{' '}
            {shortLifeText(row, row.publishedLife.high, unit)}
          </span>
        </dd>
        <dt className="text-soft">With our own vehicles</dt>
        <dd className="figure text-lg font-semibold">
          {lifeText(row, row.ownLife.middle, unit)}
          <span className="block text-base font-normal text-soft">
            90 % between {shortLifeText(row, row.ownLife.low, unit)} and {shortLifeText(row, row.ownLife.high, unit)}
          </span>
        </dd>
        {row.nature === 'defect' && (
          <>
            <dt className="text-soft">How many have it</dt>
            <dd className="figure text-lg">
              {percentText(row.share)} published, <strong>{percentText(row.ownShare.middle)}</strong> with ours
              <span className="block text-base text-soft">
                90 % between {percentText(row.ownShare.low)} and {percentText(row.ownShare.high)}
              </span>
            </dd>
          </>
        )}
        <dt className="text-soft">Observed here</dt>
        <dd className="figure text-lg">
          {row.parts} parts on {row.vehicles} vehicles: {row.failures} failed, {row.worn} found worn, {row.stillFine}{' '}
          fine
        </dd>
      </dl>
      <h3 className="mb-1 mt-3 text-xl">Who publishes</h3>
      <ul className="space-y-1">
        {detail.statements.map((statement) => (
          <li key={`${statement.authority}-${statement.words}`}>
            <strong>{statement.authority}:</strong> “{statement.words}”
          </li>
        ))}
      </ul>
    </section>
  );
}

function Found({ detail, settings }: { detail: BenchDetail; settings: Settings }): ReactNode {
  const { row } = detail;
  const unit = settings.distanceUnit;
  return (
    <div className="grid gap-5">
      <header>
        <p>
          <Link to="/bench" className="inline-flex min-h-11 items-center hover:underline">
            ← Bench
          </Link>
        </p>
        <h1 className="text-3xl">
          {row.title}{' '}
          <span className="font-medium text-soft">
            {row.maker} {row.engineCode}
          </span>
        </h1>
        <p className="mt-1 text-lg font-semibold">{enoughWords(row)}</p>
      </header>
      <div className="grid items-start gap-5 lg:grid-cols-[1.3fr_1fr]">
        <section aria-labelledby="curve" className="rounded-md border border-rule bg-sheet px-4 py-3">
          <h2 id="curve" className="text-2xl">
            How many have failed by then
          </h2>
          <Curve detail={detail} unit={unit} />
          <p className="text-sm text-soft">
            <span aria-hidden className="mr-1 inline-block h-1 w-5 bg-accent align-middle" /> published.{' '}
            <span aria-hidden className="mx-1 inline-block h-1 w-5 bg-ink align-middle" /> with our own vehicles;
            dotted: 90 % lie between.
          </p>
        </section>
        <Figures row={row} unit={unit} detail={detail} />
      </div>
      <Survivors detail={detail} unit={unit} />
      <Parts id={row.weakPointId} unit={unit} />
    </div>
  );
}

/** One weak point on the bench. */
export default function BenchPointPage(): ReactNode {
  const { id = '' } = useParams();
  const detail = useQuery(read.benchDetail(id));
  const settings = useQuery(read.settings()).data;
  if (detail.error)
    return (
      <Empty page title="Nothing on the bench here">
        {detail.error.message}
      </Empty>
    );
  if (!detail.data || !settings) return <Waiting what="the bench" />;
  return <Found detail={detail.data} settings={settings} />;
}
