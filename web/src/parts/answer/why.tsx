import type { AnswerRow, WireWhy } from '@crosspeen/contract';
import type { Answer } from '../../api/answer.ts';
import { distanceAtDay, type DistanceUnit } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, type ReactNode } from 'react';
import { read, type AnswerSource } from '../../api/queries.ts';
import { Chance } from '../../ui/chance.tsx';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { Waiting } from '../../ui/notice.tsx';
import type { ChartOption } from '../../ui/chart.tsx';
import { dayText, distanceText, percentText } from '../../ui/units.ts';

const Chart = lazy(() => import('../../ui/chart.tsx'));

export type WhySource = AnswerSource;

const GROUND_WORDS: Readonly<Record<WireWhy['steps'][number]['ground'], string>> = {
  share: 'If every engine of this kind had it in it',
  'clock:distance': 'If it did not wear by distance',
  'clock:age': 'If it did not age',
  'clock:hours': 'If it did not wear by engine hours',
  duty: 'With ordinary use',
  upkeep: 'If the upkeep had been done in time',
  history: 'With nothing recorded about the part',
  original: 'If it is still the part it was built with',
  looks: 'Without the looks',
  failures: 'If it had not failed here before',
  experience: 'By what is published alone, without our own vehicles',
  applies: 'If it applied for certain',
};

/** How a ground moved the chance, in points of a hundred. */
function movedWords(chance: number, otherwise: number): string {
  const points = (otherwise - chance) * 100;
  if (Math.abs(points) < 0.05) return 'the same';
  return `${Math.abs(points) < 9.95 ? Math.abs(points).toFixed(1) : Math.round(Math.abs(points))} percentage points ${points > 0 ? 'higher' : 'lower'}`;
}

/** The share still running, and the chance to the next service, over the years ahead, with what the authorities say. */
function curveOption(row: AnswerRow, answer: Answer, unit: DistanceUnit, why: WireWhy) {
  return (ink: { ink: string; soft: string; rule: string; accent: string; sheet: string }): ChartOption => {
    const ms = (day: number): number => day * 86_400_000;
    const last = why.running.at(-1)!.day;
    const marks = row.authorities
      .filter(({ due, setAside }) => due !== null && setAside === null && due.day > answer.today && due.day < last)
      .map(({ authority, due }) => ({ xAxis: ms(due!.day), name: authority }));
    const drawn = answer.drawing?.ribbons.find(({ weakPointId }) => weakPointId === row.weakPointId);
    const ribbon = (drawn?.chance ?? []).flatMap((chance, bin): [number, number][] =>
      chance === null ? [] : [[ms(answer.drawing!.edges[bin]!), chance * 100]],
    );
    const axis = {
      axisLabel: { color: ink.soft },
      axisLine: { lineStyle: { color: ink.rule } },
      splitLine: { lineStyle: { color: ink.rule } },
    };
    const named = { fontFamily: 'Barlow Condensed', fontSize: 14 };
    return {
      grid: { left: 44, right: 14, top: 30, bottom: 28 },
      tooltip: {
        trigger: 'axis',
        backgroundColor: ink.sheet,
        borderColor: ink.rule,
        textStyle: { color: ink.ink, ...named },
        formatter: (points: unknown) => {
          const list = points as { axisValue: number; seriesName: string; value: [number, number] }[];
          const day = list[0]!.axisValue / 86_400_000;
          return [
            `${dayText(day)}, ${distanceText(distanceAtDay(answer.usage, day), unit, 1000)}`,
            ...list.map(({ seriesName, value }) => `${seriesName}: ${percentText(value[1] / 100)}`),
          ].join('<br>');
        },
      },
      xAxis: { type: 'time', ...axis, splitLine: { show: false } },
      yAxis: {
        type: 'value',
        min: 0,
        max: 100,
        axisLabel: { color: ink.soft, formatter: '{value} %' },
        splitLine: { lineStyle: { color: ink.rule } },
      },
      series: [
        {
          name: 'still running',
          type: 'line',
          showSymbol: false,
          lineStyle: { color: ink.ink, width: 2.5 },
          itemStyle: { color: ink.ink },
          data: why.running.map(({ day, chance }) => [ms(day), chance * 100]),
          markLine: {
            symbol: 'none',
            silent: true,
            label: { color: ink.ink, position: 'insideEndTop', formatter: '{b}', ...named },
            lineStyle: { color: ink.soft, type: 'dashed' },
            data: marks,
          },
        },
        {
          name: 'chance to the next service',
          type: 'line',
          step: 'end',
          showSymbol: false,
          lineStyle: { color: ink.accent, width: 2.5 },
          itemStyle: { color: ink.accent },
          data: ribbon,
          markLine: {
            symbol: 'none',
            silent: true,
            label: { color: ink.ink, position: 'insideEndTop', formatter: '{b}', ...named },
            lineStyle: { color: ink.ink, type: 'solid', width: 2 },
            data: [{ xAxis: ms(answer.today), name: 'now' }],
          },
        },
      ],
    };
  };
}

const stepColumns = (chance: number): TableColumn<WireWhy['steps'][number]>[] => [
  { id: 'ground', head: 'Otherwise', names: true, className: 'py-1.5', cell: ({ ground }) => GROUND_WORDS[ground] },
  {
    id: 'chance',
    head: 'Chance',
    sortBy: ({ otherwise }) => otherwise,
    cell: ({ otherwise }) => <Chance chance={otherwise} />,
  },
  {
    id: 'moved',
    head: 'Against today’s',
    className: 'figure whitespace-nowrap text-base text-soft',
    cell: ({ otherwise }) => movedWords(chance, otherwise),
  },
];

/** Why this chance: every thing it rests on taken away in turn, and the years ahead as a picture. */
export default function Why({
  row,
  answer,
  unit,
  source,
}: {
  row: AnswerRow;
  answer: Answer;
  unit: DistanceUnit;
  source: WhySource;
}): ReactNode {
  const why = useQuery(read.why(source, row.weakPointId)).data;
  const option = useCallback(
    (ink: Parameters<ReturnType<typeof curveOption>>[0]) => curveOption(row, answer, unit, why!)(ink),
    [row, answer, unit, why],
  );
  if (!why) return <Waiting what="what the chance rests on" />;
  return (
    <div className="grid gap-x-8 gap-y-3 lg:grid-cols-2">
      <div className="self-start">
        <p className="mb-1 text-soft">
          The chance if one fact were different. Today’s chance is {percentText(why.chance)}.
        </p>
        <DataTable
          label="What the chance rests on"
          caption="The chance if one fact were different"
          columns={stepColumns(why.chance)}
          rows={why.steps}
          rowKey={({ ground }) => ground}
        />
      </div>
      <div>
        <Suspense fallback={<Waiting what="the picture" />}>
          <Chart
            option={option}
            height={230}
            label={`Chance that it is still running over the years ahead: ${why.running
              .filter((_, i) => i % 9 === 0)
              .map(({ day, chance }) => `${dayText(day)} ${percentText(chance)}`)
              .join(', ')}`}
          />
        </Suspense>
        <p className="text-sm text-soft">
          <span aria-hidden className="mr-1 inline-block h-1 w-5 bg-ink align-middle" /> still running, seen from today.{' '}
          <span aria-hidden className="mx-1 inline-block h-1 w-5 bg-accent align-middle" /> chance to the next service
          from there. Dashed: what they publish.
        </p>
      </div>
    </div>
  );
}
