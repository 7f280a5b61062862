import type { Reported } from '@crosspeen/contract';
import { asksForWork } from '@crosspeen/core';
import type { ReactNode } from 'react';
import type { Answer } from '../../api/answer.ts';
import { Chance } from '../../ui/chance.tsx';
import { percentText } from '../../ui/units.ts';

/** What was reported in the line, and which weak points of this engine show so: how often, and how likely each is. */
export function ReportedView({ reported, answer }: { reported: readonly Reported[]; answer: Answer }): ReactNode {
  if (reported.length === 0) return null;
  const rows = new Map(answer.rows.map((row) => [row.weakPointId as string, row]));
  return (
    <section aria-label="Reported" className="rounded-md border border-rule bg-sheet px-4 py-2">
      {reported.map(({ symptom, words, tells, shownBy }) => {
        const showing = shownBy.flatMap(({ weakPointId, shows }) => {
          const row = rows.get(weakPointId);
          return row === undefined ? [] : [{ row, shows }];
        });
        return (
          <div key={symptom} className="py-1">
            <h3 className="text-lg font-semibold">{words}</h3>
            {showing.length === 0 && <p className="text-soft">Nothing that applies to this one shows so.</p>}
            <ul>
              {showing.map(({ row, shows }) => (
                <li key={row.weakPointId} className="flex flex-wrap items-center gap-x-3">
                  <a href={`#row-${row.weakPointId}`} className="inline-flex min-h-9 items-center hover:underline">
                    {row.title}
                  </a>
                  <span className="text-soft">shows so in {percentText(shows)} of its cases; its chance</span>
                  <Chance chance={row.chance} />
                  {asksForWork(row.verdict) && <span className="text-soft">needs work</span>}
                </li>
              ))}
            </ul>
            {tells && <p className="text-soft">To tell them apart: {tells}.</p>}
          </div>
        );
      })}
    </section>
  );
}
