import { minutesText } from '@crosspeen/core';
import type { AnswerRow } from '@crosspeen/contract';
import type { ReactNode } from 'react';
import { WorkTold } from '../answer/told-more.tsx';

/** One step of the work on a visit, and which jobs need it, by their place. */
export interface TeardownStep {
  readonly name: string;
  readonly minutes: number;
  readonly for: readonly number[];
}

function Steps({
  steps,
  longest,
  needed,
}: {
  steps: readonly TeardownStep[];
  longest: number;
  needed: { title: string; at: number }[];
}): ReactNode {
  return (
    <tbody>
      {steps.map((step) => (
        <tr key={step.name}>
          <td className="border-t border-rule py-1.5 pr-3">
            {step.name}
            {step.for.length > 1 && <span className="text-soft"> once for {step.for.length}</span>}
            <span aria-hidden className="mt-1 block h-1.5 rounded-sm bg-well">
              <span
                className="block h-1.5 rounded-sm bg-rule-strong"
                style={{ width: `${(step.minutes / longest) * 100}%` }}
              />
            </span>
          </td>
          <td className="figure border-t border-rule py-1.5 text-right">{minutesText(step.minutes)}</td>
          {needed.map(({ at, title }) => (
            <td key={at} className="border-t border-rule p-0 text-center">
              {step.for.includes(at) ? (
                <span className="mx-auto block size-5 rounded-full bg-accent">
                  <span className="sr-only">for {title}</span>
                </span>
              ) : (
                <span aria-hidden className="mx-auto block h-5 w-px bg-rule" />
              )}
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  );
}

/**
 * How a vehicle comes apart for a set of jobs: what comes off, in which order, once; a line for each job runs down
 * through the steps that it needs. Large enough to be read from the bay.
 */
export function Teardown({
  steps,
  jobs,
  work,
}: {
  steps: readonly TeardownStep[];
  jobs: readonly string[];
  /** What it takes beside the minutes: what can hurt, tools, what goes in new, what comes after. */
  work: AnswerRow['work'];
}): ReactNode {
  if (steps.length === 0) return null;
  const needed = jobs
    .map((title, i) => ({ title, at: i }))
    .filter(({ at }) => steps.some((step) => step.for.includes(at)));
  const longest = Math.max(...steps.map(({ minutes }) => minutes));
  return (
    <div className="overflow-x-auto">
      <table className="w-full border-separate border-spacing-0 text-lg">
        <caption className="sr-only">What comes off, in its order, and for which job</caption>
        <thead>
          <tr>
            <th scope="col" className="pb-1 text-left font-narrow font-semibold">
              In this order, each once
            </th>
            <th scope="col" className="pb-1 text-right font-narrow font-semibold">
              Minutes
            </th>
            {needed.map(({ title, at }, i) => (
              <th key={at} scope="col" className="figure w-11 pb-1 text-center font-semibold" title={title}>
                {i + 1}
              </th>
            ))}
          </tr>
        </thead>
        <Steps steps={steps} longest={longest} needed={needed} />
      </table>
      <ol className="mt-2 grid gap-x-6 text-soft sm:grid-cols-2">
        {needed.map(({ title, at }, i) => (
          <li key={at}>
            <span className="figure font-semibold">{i + 1}</span> {title}
          </li>
        ))}
      </ol>
      {work && (
        <div className="mt-3 border-t border-rule pt-2">
          <WorkTold work={work} />
        </div>
      )}
    </div>
  );
}
