import type { Settings } from '@crosspeen/contract';
import { minutesText, type Proposal } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { aboutMoneyText, monthText, percentText } from '../../../ui/units.ts';
import { failsBefore, minutesOfVisits } from '../work/board-model.ts';
import type { PlannerAsked, Thing } from '../work/ground.ts';
import { middleOf } from '../work/pins.ts';

/** Money nearer to each other than this, minor units, is the same to whoever pays it. */
const SAME_MONEY = 50;

/** A sum of money with its sign said in words: 34 more, 12 less. */
const difference = (amount: number, settings: Settings): string =>
  Math.abs(amount) < SAME_MONEY
    ? 'costs the same'
    : `${aboutMoneyText(Math.abs(amount), settings)} ${amount > 0 ? 'more' : 'less'}`;

const moreWork = (minutes: number): string =>
  minutes === 0
    ? 'as much work in all'
    : `${minutesText(Math.abs(Math.round(minutes)))} ${minutes > 0 ? 'more' : 'less'} work in all`;

/** What moving something costs, in money, minutes and chance, beside what is moved. */
export function Moved({
  asked,
  base,
  now,
  keys,
  month,
  settings,
  thingOf,
}: {
  asked: PlannerAsked;
  base: Proposal;
  /** The plan with it there; null where something fits on no visit then. */
  now: Proposal | null;
  keys: readonly string[];
  month: number;
  settings: Settings;
  thingOf: (key: string) => Thing;
}): ReactNode {
  return (
    <div role="status" className="leading-snug">
      <strong className="figure text-lg">{monthText(middleOf(asked.ground.forecast.nowDay, month))}</strong>
      {now === null ? (
        <p>Something fits on no visit then.</p>
      ) : (
        <>
          <p className="figure text-lg">{difference(now.money.total - base.money.total, settings)}</p>
          <p>{moreWork(minutesOfVisits(asked, now.visits) - minutesOfVisits(asked, base.visits))}</p>
          {keys.map((key) => {
            const chance = failsBefore(asked, key, month);
            return chance === null ? null : (
              <p key={key} className="text-soft">
                {percentText(chance)} that it fails before
                {keys.length > 1 ? `: ${thingOf(key).title}` : ''}
              </p>
            );
          })}
        </>
      )}
    </div>
  );
}
