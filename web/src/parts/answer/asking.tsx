import { RowChance } from '../row-chance.tsx';
import type { AnswerRow } from '@crosspeen/contract';
import type { Answer } from '../../api/answer.ts';
import { asksForWork, type DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { Chance } from '../../ui/chance.tsx';
import { VerdictMark } from '../../ui/mark.tsx';
import { byWhenText } from '../by-when.ts';
import { dayText, distanceText, percentText } from '../../ui/units.ts';

/** Cards that fit beside each other; the rest is counted and stands in the table. */
const MOST_CARDS = 4;

/** By when; everything that asks for work has a day. */
const when = ({ verdict, due }: AnswerRow, { today, nextService }: Answer, unit: DistanceUnit): string =>
  byWhenText({ verdict, ...(due ?? nextService) }, today, unit);

/** The answer in ten seconds: what asks for work, by when, and how likely it is to fail first. */
export function Asking({
  answer,
  unit,
  onSelect,
}: {
  answer: Answer;
  unit: DistanceUnit;
  onSelect: (weakPointId: string) => void;
}): ReactNode {
  const asking = answer.rows.filter(({ verdict }) => asksForWork(verdict));
  if (asking.length === 0 && answer.holds.length > 0)
    return (
      <p className="rounded-md border border-rule bg-sheet px-4 py-3 text-lg font-semibold">
        Find the cause of what is reported first. By its parts no other work is due before the next service.
      </p>
    );
  if (asking.length === 0)
    return (
      <p className="rounded-md border border-rule bg-sheet px-4 py-3 text-lg font-semibold">
        No work is due before the next service, {dayText(answer.nextService.day)} or{' '}
        {distanceText(answer.nextService.km, unit, 100)}.
      </p>
    );
  return (
    <section aria-label="What asks for work">
      <ul className="grid gap-2 sm:grid-cols-2 xl:grid-cols-4">
        {asking.slice(0, MOST_CARDS).map((row) => (
          <li key={row.weakPointId}>
            <button
              type="button"
              onClick={() => onSelect(row.weakPointId)}
              className="grid h-full w-full grid-cols-[1fr_auto] content-start gap-x-3 rounded-md border border-rule-strong bg-sheet px-3.5 py-2 text-left hover:bg-well"
            >
              <VerdictMark verdict={row.verdict} className="text-xl!" />
              <RowChance row={row} />
              <span className="col-span-2 font-semibold leading-tight">{row.title}</span>
              {row.unproved !== null && (
                <span className="col-span-2 text-soft">
                  No proof of a renewal
                  {percentText(row.unproved) !== percentText(row.chance) && (
                    <>
                      ; if it is the first one <Chance chance={row.unproved} />
                    </>
                  )}
                </span>
              )}
              <span className="figure col-span-2 text-lg leading-tight">{when(row, answer, unit)}</span>
            </button>
          </li>
        ))}
      </ul>
      {asking.length > MOST_CARDS && (
        <p className="mt-1 text-soft">and {asking.length - MOST_CARDS} more need work: see the table.</p>
      )}
    </section>
  );
}
