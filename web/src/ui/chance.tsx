import { HoverCard } from 'radix-ui';
import type { ReactNode } from 'react';
import { temperColour, TEMPERS } from './temper.ts';
import { dayText, percentText } from './units.ts';

/** A chance: a temper-coloured tab and the figure. What has failed is no chance: it says so, with its day if known. */
export function Chance({ chance, failedDay = null }: { chance: number; failedDay?: number | null }): ReactNode {
  const failed = failedDay === null ? 'Failed' : `Failed ${dayText(failedDay)}`;
  return (
    <span className="figure inline-flex items-center gap-2 whitespace-nowrap text-lg font-semibold">
      <span
        aria-hidden
        className="h-5 w-3 rounded-sm border"
        style={{ background: temperColour(chance), borderColor: 'var(--temper-edge)' }}
      />
      {chance === 1 ? failed : percentText(chance)}
    </span>
  );
}

/** The legend of the temper colours, one hover or focus away. */
export function TemperLegend(): ReactNode {
  return (
    <HoverCard.Root openDelay={100}>
      <HoverCard.Trigger asChild>
        <button
          type="button"
          className="inline-flex min-h-11 items-center gap-2 rounded px-2 text-sm text-soft hover:bg-well"
        >
          <span aria-hidden className="flex">
            {TEMPERS.map((_, step) => (
              <span key={step} className="h-4 w-3" style={{ background: `var(--temper-${step})` }} />
            ))}
          </span>
          Colours
        </button>
      </HoverCard.Trigger>
      <HoverCard.Portal>
        <HoverCard.Content
          align="end"
          className="z-30 rounded-md border border-rule-strong bg-sheet p-3 text-sm shadow-lg"
        >
          <p className="mb-2 max-w-64">Chance of failing before the next service, if nothing is done.</p>
          <ul>
            {TEMPERS.map(({ name, words }, step) => (
              <li key={name} className="flex items-center gap-2 py-0.5">
                <span
                  aria-hidden
                  className="h-4 w-8 border"
                  style={{ background: `var(--temper-${step})`, borderColor: 'var(--temper-edge)' }}
                />
                {words}
              </li>
            ))}
          </ul>
        </HoverCard.Content>
      </HoverCard.Portal>
    </HoverCard.Root>
  );
}
