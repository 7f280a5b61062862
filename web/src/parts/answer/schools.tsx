import type { AnswerRow } from '@crosspeen/contract';
import type { Answer } from '../../api/answer.ts';
import type { DistanceUnit, School } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { Button } from '../../ui/button.tsx';
import { byWhenText } from '../by-when.ts';
import { countedFromText } from './overdue.ts';

export const SCHOOL_WORDS: Readonly<Record<School, { readonly word: string; readonly means: string }>> = {
  book: { word: 'Book', means: 'the strictest published interval' },
  early: { word: 'Early', means: 'before the chance crosses the workshop’s limit' },
  condition: { word: 'Condition', means: 'look often enough to catch it, renew on finding' },
  cost: { word: 'Cost', means: 'where the long-run cost is least' },
};

type View = AnswerRow['schools'][number];

const WHY: Readonly<Record<View['because'], string>> = {
  interval: 'by the strictest interval',
  no_interval: 'nobody publishes an interval',
  limit: 'before the chance goes over the limit',
  no_limit: 'no limit is set for this consequence',
  not_in_sight: 'the chance stays under the limit for 8 years',
  looks: 'the next look',
  no_look: 'there is nothing to look at beforehand',
  looks_too_seldom: 'it would have to be looked at more often than at every service',
  least_cost: 'renewing then costs least over the years',
  run_to_failure: 'renewing early never pays: run to failure',
  nobody_renews: 'nobody renews it before it fails',
};

const months = (days: number): string =>
  `every ${Math.max(1, Math.round(days / 30.44))} ${Math.round(days / 30.44) <= 1 ? 'month' : 'months'}`;

const FOLLOWED: Readonly<Record<AnswerRow['followedBecause']['by'], (wanted: string, followed: string) => string>> = {
  shop: (wanted) => `${wanted} is followed: the workshop’s choice for this consequence.`,
  vehicle: (wanted) => `${wanted} is followed: chosen for this vehicle.`,
  row: (wanted) => `${wanted} is followed: chosen for this weak point on this vehicle.`,
  safety: (wanted, followed) => `${wanted} was chosen, but it is not used for safety items: ${followed} is followed.`,
  nothing_to_go_by: (wanted, followed) =>
    `${wanted} was chosen, but has nothing to go by here: ${followed} is followed.`,
};

/** One school's view of the row. */
function SchoolCard({
  view,
  row,
  when,
}: {
  view: View;
  row: AnswerRow;
  when: ({ due, school }: View) => string;
}): ReactNode {
  return (
    <li
      aria-current={view.school === row.followed ? 'true' : undefined}
      className={`rounded-md border px-3 py-2 ${view.school === row.followed ? 'border-2 border-accent bg-accent-wash' : 'border-rule bg-sheet'}`}
    >
      <p>
        <strong className="font-narrow text-lg">{SCHOOL_WORDS[view.school].word}</strong>
        {view.school === row.followed ? (
          <span className="text-sm font-semibold"> followed here</span>
        ) : (
          <span className="text-sm text-soft"> {SCHOOL_WORDS[view.school].means}</span>
        )}
      </p>
      <p className="figure text-lg font-semibold">{when(view)}</p>
      <p className="text-sm">
        {view.because === 'interval' && view.asks === 'look' ? 'a look, by the strictest interval' : WHY[view.because]}
        {view.everyDays !== null && Number.isFinite(view.everyDays) ? `, ${months(view.everyDays)}` : ''}
      </p>
    </li>
  );
}

/** The four schools side by side, with the one that decided. */
export function Schools({
  row,
  answer,
  unit,
  onSchool,
}: {
  row: AnswerRow;
  answer: Answer;
  unit: DistanceUnit;
  onSchool?: (row: AnswerRow) => void;
}): ReactNode {
  const { by, wanted, reason } = row.followedBecause;
  const when = ({ due, school, asks }: View): string => {
    if (due === null) return 'no date';
    const from = school === 'book' || school === 'cost' ? countedFromText(row, asks) : '';
    if (school === 'early' && due.day <= answer.today) return 'over the limit now';
    return `${from}${byWhenText({ verdict: row.verdict === 'hold' ? 'renew' : row.verdict, ...due }, answer.today, unit)}`;
  };
  return (
    <section className="lg:col-span-3">
      <div className="mb-1 flex flex-wrap items-center justify-between gap-2">
        <h4 className="font-narrow text-xl font-semibold">When each school would act</h4>
        {onSchool && (
          <Button look="quiet" onClick={() => onSchool(row)}>
            Follow another school here
          </Button>
        )}
      </div>
      <p className="mb-2">
        {FOLLOWED[by](SCHOOL_WORDS[wanted].word, SCHOOL_WORDS[row.followed].word)}
        {reason && <> “{reason}”</>}
      </p>
      <ul className="grid gap-2 sm:grid-cols-2 xl:grid-cols-4">
        {row.schools.map((view) => (
          <SchoolCard key={view.school} view={view} row={row} when={when} />
        ))}
      </ul>
    </section>
  );
}
