import { DAYS_PER_YEAR } from '@crosspeen/core';
import type { endpoints } from '@crosspeen/contract';
import { type AnswerOf } from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, useDeferredValue, type ReactNode } from 'react';
import { Link } from 'react-router';
import { read } from '../../api/queries.ts';
import type { ChartOption } from '../../ui/chart.tsx';
import { percentText, spansText } from '../../ui/units.ts';
import type { draftFrom } from './draft.ts';
import { componentNamed, draftCurve, touchesParams, type DraftCurve, type DraftValues } from './draft.ts';
import { STATE_WORDS } from './words.ts';

const Chart = lazy(() => import('../../ui/chart.tsx'));

function Curve({ curve }: { curve: DraftCurve }): ReactNode {
  const option = useCallback(
    (ink: { ink: string; soft: string; rule: string }): ChartOption => {
      const short = (value: number): string =>
        curve.clock === 'distance'
          ? value === 0
            ? '0'
            : `${Math.round(value / 1000)}k km`
          : curve.clock === 'age'
            ? `${Math.round(value / DAYS_PER_YEAR)} y`
            : `${Math.round(value)} h`;
      return {
        grid: { left: 44, right: 12, top: 10, bottom: 24 },
        xAxis: {
          type: 'value',
          min: 0,
          max: curve.points.at(-1)!.at,
          axisLabel: { color: ink.soft, formatter: short },
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
            type: 'line',
            showSymbol: false,
            lineStyle: { width: 3, color: ink.ink },
            data: curve.points.map(({ at, failed }) => [at, failed * 100]),
          },
        ],
      };
    },
    [curve],
  );
  const last = curve.points.at(-1)!;
  return (
    <Suspense fallback={<p className="h-[180px] text-soft">Drawing …</p>}>
      <Chart
        option={option}
        height={180}
        label={`Share of all these engines that have failed by then; ${percentText(last.failed)} at ${spansText([{ clock: curve.clock, from: last.at, to: last.at }], 'km')}`}
      />
    </Suspense>
  );
}

/** The curve of the life as it is typed. */
function CurvePart({ curve, late }: { curve: DraftCurve | null; late: DraftValues }): ReactNode {
  return (
    <section aria-labelledby="curve" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 id="curve" className="text-xl">
        How many of them will have failed
      </h2>
      {curve ? (
        <>
          <Curve curve={curve} />
          {late.windows.includes('y') && curve.clock === 'distance' && (
            <p className="text-sm text-soft">Drawn over distance; what age does comes on top.</p>
          )}
        </>
      ) : (
        <p className="py-6 text-soft">Write a window, and the curve is drawn here.</p>
      )}
    </section>
  );
}

/** How many saved vehicles it would affect. */
function TouchedPart({
  values,
  touched,
}: {
  values: DraftValues;
  touched: AnswerOf<typeof endpoints.library.touches> | undefined;
}): ReactNode {
  return (
    <section aria-live="polite" className="rounded-md border border-rule bg-sheet px-4 py-3">
      <h2 className="text-xl">Affected vehicles</h2>
      {!values.familyId ? (
        <p className="text-soft">Choose the engine first.</p>
      ) : (
        touched && (
          <p>
            <strong className="figure text-2xl">{touched.vehicles}</strong>{' '}
            {touched.open > 0 && (
              <span className="text-soft">
                of them {touched.open} only perhaps: variant or first registration is not known
              </span>
            )}
          </p>
        )
      )}
    </section>
  );
}

/** What resembles it in the library. */
function SimilarPart({ touched }: { touched: Pick<AnswerOf<typeof endpoints.library.touches>, 'similar'> }): ReactNode {
  return (
    <section role="status" className="rounded-md border-l-4 border-ink bg-well px-4 py-3">
      <h2 className="text-xl">Is it one of these?</h2>
      <ul>
        {touched.similar.map((point) => (
          <li key={point.id}>
            <Link
              to={`/library/points/${point.id}`}
              className="inline-flex min-h-11 items-center font-semibold hover:underline"
            >
              {point.title}
            </Link>{' '}
            <span className="text-soft">
              {point.component}
              {point.state === 'published' ? '' : `, ${STATE_WORDS[point.state]}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What the draft means, as it is typed: its curve, the vehicles it touches, what it resembles. */
export function Aside({
  values,
  known,
  id,
  today,
}: {
  values: DraftValues;
  known: Parameters<typeof draftFrom>[1];
  id: string | null;
  today: number;
}): ReactNode {
  const late = useDeferredValue(values);
  const touched = useQuery(read.touches(touchesParams(late, known, { not: id, today }))).data;
  const curve = draftCurve(late.windows, late, componentNamed(late.component, known)?.class ?? late.newClass);
  return (
    <aside className="grid content-start gap-4 lg:sticky lg:top-3">
      <CurvePart curve={curve} late={late} />
      <TouchedPart values={values} touched={touched} />
      {touched && touched.similar.length > 0 && <SimilarPart touched={touched} />}
    </aside>
  );
}
