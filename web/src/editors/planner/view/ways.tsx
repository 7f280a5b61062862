import type { Settings } from '@crosspeen/contract';
import type { PlanMoney, Proposal } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { aboutMoneyText } from '../../../ui/units.ts';

/** The ways a vehicle may be kept, beside each other. */
const WAYS = {
  money: 'These visits',
  apart: 'Each on its own date',
  allNow: 'All of it now',
  wait: 'Only what is due, the rest until it fails',
} as const satisfies Partial<Record<keyof Proposal, string>>;

/** Where the money of a way goes, darkest first. */
const PARTS = [
  { part: 'labour', words: 'Visits and labour', look: 'bg-accent' },
  { part: 'parts', words: 'Parts', look: 'bg-soft' },
  { part: 'failures', words: 'Breakdowns still expected', look: 'bg-rule-strong' },
  { part: 'wear', words: 'Value used up', look: 'bg-rule' },
] as const satisfies readonly { part: keyof PlanMoney; words: string; look: string }[];

/** What the ways cost, as bars of their parts; each opens into its figures. */
export function Ways({ proposal, settings }: { proposal: Proposal; settings: Settings }): ReactNode {
  const ways = Object.keys(WAYS) as (keyof typeof WAYS)[];
  const most = Math.max(...ways.map((way) => proposal[way].total), 1);
  const money = (amount: number): string => aboutMoneyText(amount, settings);
  return (
    <section aria-label="What it costs" className="grid gap-1">
      <h3 className="text-xl">
        What it costs <span className="font-medium text-soft">over three years, with what is left for later</span>
      </h3>
      <p className="flex flex-wrap gap-x-4 gap-y-1 text-sm text-soft">
        {PARTS.map(({ part, words, look }) => (
          <span key={part} className="inline-flex items-center gap-1.5">
            <span aria-hidden className={`inline-block size-3 rounded-sm ${look}`} />
            {words}
          </span>
        ))}
      </p>
      {ways.map((way) => (
        <details key={way} className="group">
          <summary className="grid min-h-11 cursor-pointer grid-cols-[13rem_minmax(0,1fr)_8rem] items-center gap-3 max-sm:grid-cols-[minmax(0,1fr)_8rem]">
            <span className={way === 'money' ? 'font-semibold' : ''}>{WAYS[way]}</span>
            <span aria-hidden className="flex h-5 overflow-hidden rounded-sm bg-well max-sm:order-3 max-sm:col-span-2">
              {PARTS.map(({ part, look }) => (
                <span
                  key={part}
                  className={`block h-full ${look}`}
                  style={{ width: `${(Math.max(0, proposal[way][part]) / most) * 100}%` }}
                />
              ))}
            </span>
            <span className="figure text-right text-lg font-semibold">{money(proposal[way].total)}</span>
          </summary>
          <dl className="mb-2 grid gap-x-6 pl-6 sm:grid-cols-2">
            {PARTS.map(({ part, words, look }) => (
              <div key={part} className="flex items-baseline justify-between gap-3 border-t border-rule py-1">
                <dt className="flex items-baseline gap-2">
                  <span aria-hidden className={`inline-block size-3 self-center rounded-sm ${look}`} />
                  {words}
                </dt>
                <dd className="figure font-semibold">{money(proposal[way][part])}</dd>
              </div>
            ))}
          </dl>
        </details>
      ))}
    </section>
  );
}
