import type { Answer } from '../../../api/answer.ts';
import type { AnswerRow, Settings } from '@crosspeen/contract';
import { minutesText, type Beside } from '@crosspeen/core';
import { useMemo, type ReactNode } from 'react';
import type { VehicleOutlook } from '../../../api/answer.ts';
import { Button } from '../../../ui/button.tsx';
import { aboutMoneyText, monthText, percentText } from '../../../ui/units.ts';
import { isQuiteNew } from '../../../parts/job/quite-new.ts';
import { keysOnVisits, monthWithin, plannerAsked, thingsOf } from '../work/ground.ts';
import { middleOf } from '../work/pins.ts';
import type { PlannerAsk } from '../work/planner.worker.ts';
import { useBeside } from '../work/use-planner.ts';

/** Work on a visit as it is being put together. */
export interface WorkChosen {
  readonly day: string;
  readonly jobs: readonly { readonly weakPointId: AnswerRow['weakPointId']; readonly action: 'renew' | 'look' }[];
  readonly tasks: readonly { readonly taskId: VehicleOutlook['answer']['upkeep'][number]['taskId'] }[];
}

/** Suggestions that are shown; what is not worth it is told for those that share access. */
const MOST = 4;

/** Why something beside the work is worth doing, or is not. */
function why(
  { gain, failsBefore, ownMonth }: Beside,
  row: AnswerRow,
  { settings, today, month }: { settings: Settings; today: number; month: number },
): string {
  if (isQuiteNew(row, today)) return 'renewed less than a year ago: leave it';
  const until =
    ownMonth === null
      ? 'within three years'
      : `before ${monthText(middleOf(today, ownMonth))}, when it would come by itself`;
  if (ownMonth !== null && ownMonth <= month && gain > 0)
    return `due about then anyway: ${aboutMoneyText(gain, settings)} cheaper beside this`;
  const chance = failsBefore === null ? '' : `${percentText(failsBefore)} that it fails ${until}`;
  return gain > 0
    ? `${aboutMoneyText(gain, settings)} cheaper than later; ${chance}`
    : `not yet: ${aboutMoneyText(-gain, settings)} dearer than later; ${chance}`;
}

function BesideItem({
  one,
  row,
  settings,
  answer,
  day,
  isWorth,
  onAdd,
}: {
  one: Beside;
  row: AnswerRow;
  settings: Settings;
  answer: Answer;
  day: string;
  isWorth: boolean;
  onAdd: (row: AnswerRow) => void;
}): ReactNode {
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 px-3 py-1.5">
      <span className="min-w-0 flex-1 basis-60">
        <span className="font-semibold">{row.title}</span>{' '}
        <span className="block text-sm text-soft">
          {why(one, row, { settings, today: answer.today, month: monthWithin(answer.today, day) })}
        </span>
      </span>
      <span className="figure whitespace-nowrap">
        <strong>+{minutesText(one.minutes)}</strong>{' '}
        <span className="text-soft">{minutesText(one.alone)} by itself</span>
        <span className="block text-right text-sm text-soft">
          {aboutMoneyText(one.labourSaved, settings)} not paid twice
        </span>
      </span>
      {isWorth ? (
        <Button onClick={() => onAdd(row)}>Add it</Button>
      ) : (
        <Button look="quiet" onClick={() => onAdd(row)}>
          Add it all the same
        </Button>
      )}
    </li>
  );
}

/** What else could be done while the vehicle is apart: what it adds, what it saves, and whether it is worth it. */
export function InThere({
  data,
  settings,
  chosen,
  onAdd,
}: {
  data: VehicleOutlook;
  settings: Settings;
  chosen: WorkChosen;
  onAdd: (row: AnswerRow) => void;
}): ReactNode {
  const { answer, vehicle } = data;
  const { day, jobs, tasks } = chosen;
  const work = JSON.stringify({ day, jobs, tasks });
  const asked = useMemo(() => {
    const visit = { id: 'chosen', state: 'planned' as const, ...(JSON.parse(work) as WorkChosen) };
    const made = plannerAsked({ answer, vehicle, visits: [visit] }, settings, { isEveryRenewal: true });
    const ask: PlannerAsk | null = made && {
      kind: 'beside',
      done: keysOnVisits([visit]).get('chosen')!,
      month: monthWithin(answer.today, visit.day),
    };
    return { made, ask };
  }, [answer, vehicle, settings, work]);
  const { is: beside } = useBeside(asked.made, jobs.length === 0 ? null : asked.ask);
  if (beside === null || jobs.length === 0) return null;
  const thingOf = thingsOf({ answer });
  const told = beside.flatMap((one) => {
    const { row } = thingOf(one.key);
    return row === null ? [] : [{ ...one, row, isWorth: one.gain > 0 && !isQuiteNew(row, answer.today) }];
  });
  const worth = told.filter(({ isWorth }) => isWorth);
  // Of what is not worth it, only what shares access is a question that anybody asks.
  const not = told.filter(({ isWorth, minutes, alone }) => !isWorth && minutes < alone);
  if (worth.length + not.length === 0) return null;
  return (
    <section aria-label="While you are in there">
      <h3 className="mb-1 font-semibold">While you are in there</h3>
      <ul className="divide-y divide-rule rounded-md border border-rule">
        {[...worth.slice(0, MOST), ...not.slice(0, MOST)].map(({ row, isWorth, ...one }) => (
          <BesideItem
            key={one.key}
            one={one}
            row={row}
            settings={settings}
            answer={answer}
            day={day}
            isWorth={isWorth}
            onAdd={onAdd}
          />
        ))}
      </ul>
    </section>
  );
}
