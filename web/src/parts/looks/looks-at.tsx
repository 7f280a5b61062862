import { addressOf, endpoints, type LooksAt } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, type ReactNode } from 'react';
import { readWalk } from '../../api/walk.ts';
import type { ChartOption } from '../../ui/chart.tsx';
import { oneDigitText } from '../../ui/formats.ts';
import { Waiting } from '../../ui/notice.tsx';
import { dayText, isoText } from '../../ui/units.ts';

const Chart = lazy(() => import('../../ui/chart.tsx'));

const RESULT_WORDS = { sound: 'Good', worn: 'Worn', failed: 'Failed' } as const;
const DAY_MS = 86_400_000;

type ChartInk = Record<'ink' | 'soft' | 'rule' | 'accent' | 'sheet', string>;

/** Drawing of measurements over time, with the limit always in sight. */
function measuredOption(
  points: readonly { readonly at: number; readonly value: number }[],
  measure: NonNullable<LooksAt['measure']>,
  ink: ChartInk,
): ChartOption {
  const first = points[0]?.at ?? 0;
  const last = points.at(-1)?.at ?? 0;
  return {
    grid: { left: 48, right: 90, top: 16, bottom: 28 },
    tooltip: { trigger: 'axis' },
    xAxis: {
      type: 'time',
      min: first - 30 * DAY_MS,
      max: last + 30 * DAY_MS,
      axisLabel: { color: ink.soft, formatter: (value: number) => dayText(value / DAY_MS), hideOverlap: true },
      splitLine: { show: false },
    },
    yAxis: {
      type: 'value',
      scale: true,
      // The limit is always in sight.
      min: ({ min }: { min: number }) => Math.min(min, measure.limit),
      max: ({ max }: { max: number }) => Math.max(max, measure.limit),
      axisLabel: { color: ink.soft },
      splitLine: { lineStyle: { color: ink.rule } },
    },
    series: [
      {
        type: 'line',
        name: measure.what,
        data: points.map(({ at, value }) => [at, value]),
        symbolSize: 10,
        lineStyle: { color: ink.accent, width: 3 },
        itemStyle: { color: ink.accent },
        markLine: {
          symbol: 'none',
          lineStyle: { color: ink.ink, width: 2 },
          label: { color: ink.ink, formatter: `limit ${oneDigitText(measure.limit)} ${measure.unit}`, position: 'end' },
          data: [{ yAxis: measure.limit }],
        },
      },
    ],
  };
}

/** Measurements over time, against the limit. */
function Measured({ looks, measure }: { looks: LooksAt; measure: NonNullable<LooksAt['measure']> }): ReactNode {
  const points = looks.findings.flatMap(({ day, measured }) =>
    measured === null ? [] : [{ at: dayFromIso(day)! * DAY_MS, value: measured }],
  );
  const option = useCallback(
    (ink: ChartInk) => measuredOption(points, measure, ink),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the points are made anew from the same looks
    [looks, measure],
  );
  if (points.length < 2) return null;
  return (
    <Suspense fallback={<Waiting what="the measurements" />}>
      <Chart
        option={option}
        label={`${measure.what} over time, limit ${oneDigitText(measure.limit)} ${measure.unit}`}
        height={200}
      />
    </Suspense>
  );
}

/** Photos of then and now beside each other, and what lies between. */
function Photos({ photos, title }: { photos: LooksAt['photos']; title: string }): ReactNode {
  if (photos.length === 0) return null;
  const ends = photos.length === 1 ? photos : [photos[0]!, photos.at(-1)!];
  return (
    <>
      <ul className="grid gap-3 sm:grid-cols-2">
        {ends.map((photo, i) => (
          <li key={photo.id}>
            <a href={addressOf(endpoints.walk.photo, { params: { id: photo.id } })} target="_blank" rel="noreferrer">
              <img
                src={addressOf(endpoints.walk.photo, { params: { id: photo.id } })}
                alt={`${title} on ${isoText(photo.day)}`}
                loading="lazy"
                className="max-h-80 w-full rounded border border-rule object-contain"
              />
            </a>
            <p className="text-soft">
              {photos.length > 1 && (i === 0 ? 'Then, ' : 'Now, ')}
              {isoText(photo.day)}, {photo.by}
            </p>
          </li>
        ))}
      </ul>
      {photos.length > 2 && (
        <ul className="mt-2 flex flex-wrap gap-2" aria-label="Photos between">
          {photos.slice(1, -1).map((photo) => (
            <li key={photo.id}>
              <a href={addressOf(endpoints.walk.photo, { params: { id: photo.id } })} target="_blank" rel="noreferrer">
                <img
                  src={addressOf(endpoints.walk.photo, { params: { id: photo.id }, query: { size: 'small' } })}
                  alt={`${title} on ${isoText(photo.day)}`}
                  loading="lazy"
                  className="h-20 rounded border border-rule"
                />
              </a>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** All looks at one weak point of a vehicle: what was found and measured, and how it looked. */
export default function LooksAtView({ vehicleId, weakPointId }: { vehicleId: string; weakPointId: string }): ReactNode {
  const looks = useQuery(readWalk.looksAt(vehicleId, weakPointId));
  if (looks.error) return <p role="alert">{looks.error.message}</p>;
  if (!looks.data) return <Waiting what="the looks" />;
  const { findings, photos, measure, title } = looks.data;
  if (findings.length === 0 && photos.length === 0)
    return <p className="text-soft">Nobody has looked at it here yet. A walk puts its findings here.</p>;
  return (
    <div className="grid gap-3">
      {measure && <Measured looks={looks.data} measure={measure} />}
      {findings.length > 0 && (
        <ul>
          {[...findings].reverse().map((finding) => (
            <li key={finding.id}>
              {isoText(finding.day)}: <strong>{RESULT_WORDS[finding.result]}</strong>
              {finding.measured !== null && (
                <span className="figure">
                  {' '}
                  {oneDigitText(finding.measured)} {finding.unit}
                </span>
              )}
              {[finding.grade, finding.note].filter(Boolean).map((words) => `, ${words}`)}{' '}
              <span className="text-soft">{finding.by}</span>
            </li>
          ))}
        </ul>
      )}
      <Photos photos={photos} title={title} />
    </div>
  );
}
