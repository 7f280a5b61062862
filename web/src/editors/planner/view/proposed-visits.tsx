import type { Settings } from '@crosspeen/contract';
import { ifFoundWorn, minutesText, PLAN_MONTH_DAYS, type Pins, type ProposalItem } from '@crosspeen/core';
import { memo, type ReactNode } from 'react';
import { Button } from '../../../ui/button.tsx';
import { dayText, isoText, aboutMoneyText, percentText } from '../../../ui/units.ts';
import type { FreshVisit } from '../work/accepting.ts';
import { minutesOf } from '../work/board-model.ts';
import { THING_WORDS, type PlannerAsked, type Thing } from '../work/ground.ts';

/** By when something is to be done, where anything asks for it. */
const byWhen = ({ dueDay }: ProposalItem, nowDay: number): string => {
  if (dueDay === null) return '';
  return dueDay < nowDay ? ` due since ${dayText(dueDay)}` : ` by ${dayText(Math.round(dueDay))}`;
};

/** What follows from a look: the renewal it may lead to, with its chance and price. */
function ifWornWords(item: ProposalItem, month: number, asked: PlannerAsked, settings: Settings): string {
  const worn = ifFoundWorn(asked.ground, item, month * PLAN_MONTH_DAYS);
  if (worn === null) return '';
  const renewed = item.before === null ? 'renewed' : 'renewed on the next visit';
  return `; if it is found worn (${percentText(worn.chance)}): ${renewed}, about ${aboutMoneyText(worn.cost, settings)}`;
}

function Heading({
  visit,
  asked,
  settings,
}: {
  visit: FreshVisit;
  asked: PlannerAsked;
  settings: Settings;
}): ReactNode {
  const minutes = minutesOf(asked, visit.keys);
  if (visit.joins === null)
    return (
      <h3 className="text-xl">
        About {dayText(visit.day)}{' '}
        <span className="font-medium text-soft">
          {minutesText(minutes)} labour, {aboutMoneyText(asked.terms.labourPerMinute * minutes, settings)} before tax
          and parts
        </span>
      </h3>
    );
  const standing = visit.all.filter((key) => asked.standing.has(key));
  return (
    <h3 className="text-xl">
      On the visit of {isoText(visit.joins.day)}{' '}
      <span className="font-medium text-soft">
        {minutesText(minutesOf(asked, visit.all) - minutesOf(asked, standing))} more labour, {minutesText(minutes)} by
        itself
      </span>
    </h3>
  );
}

/** The proposed visits as a list, each to be accepted by itself. */
export const ProposedVisits = memo(function ProposedVisits({
  visits,
  asked,
  settings,
  pins,
  thingOf,
  busy,
  onTake,
}: {
  visits: readonly FreshVisit[];
  asked: PlannerAsked;
  settings: Settings;
  pins: Pins;
  thingOf: (key: string) => Thing;
  busy: boolean;
  onTake: (visits: readonly FreshVisit[]) => void;
}): ReactNode {
  const items = new Map(asked.ground.items.map((item) => [item.key, item]));
  return (
    <ol className="grid gap-3 md:grid-cols-2">
      {visits.map((visit) => (
        <li
          key={visit.month}
          className="flex flex-col justify-between gap-2 rounded-md border border-rule bg-sheet px-4 py-3"
        >
          <div>
            <Heading visit={visit} asked={asked} settings={settings} />
            <ul>
              {visit.keys.map((key) => {
                const thing = thingOf(key);
                const item = items.get(key)!;
                return (
                  <li key={key}>
                    <strong>{THING_WORDS[thing.kind]}:</strong> {thing.title}
                    <span className="text-soft">
                      {byWhen(item, asked.ground.forecast.nowDay)}
                      {ifWornWords(item, visit.month, asked, settings)}
                      {thing.kind === 'renew' && thing.row?.partPrice === null && ', price of the part not told'}
                      {pins.has(key) && ', pinned'}
                    </span>
                  </li>
                );
              })}
            </ul>
          </div>
          <div>
            <Button disabled={busy} onClick={() => onTake([visit])}>
              {visit.joins === null ? 'Plan only this one' : `Add to the visit of ${isoText(visit.joins.day)}`}
            </Button>
          </div>
        </li>
      ))}
    </ol>
  );
});
