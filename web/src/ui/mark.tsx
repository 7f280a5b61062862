import { leavesAlone, type Verdict } from '@crosspeen/core';
import type { ReactNode } from 'react';

export const VERDICT_WORDS: Readonly<Record<Verdict, { readonly word: string; readonly means: string }>> = {
  hold: { word: 'Hold', means: 'do not drive it; repair it first' },
  renew: { word: 'Renew', means: 'by a date and a reading' },
  look: { word: 'Look', means: 'inspect it' },
  ride_along: { word: 'Ride along', means: 'only with other work there' },
  watch: { word: 'Watch', means: 'nobody renews it before it fails: what the driver keeps an eye on' },
  run_on: { word: 'Run on', means: 'leave it' },
  behind_it: { word: 'Behind it', means: 'does not apply any more' },
};

/** Shapes, not colours: each verdict is told apart in black and white and from two metres. */
const SHAPES: Readonly<Record<Verdict, ReactNode>> = {
  hold: <path d="M2 2h12v12H2z M5 7h6v2H5z" fillRule="evenodd" />,
  renew: <path d="M8 1.5 14.5 8 8 14.5 1.5 8z" />,
  look: (
    <path
      d="M8 2a6 6 0 1 1 0 12A6 6 0 0 1 8 2zm0 2.2a3.8 3.8 0 1 0 0 7.6 3.8 3.8 0 0 0 0-7.6zM8 6.4a1.6 1.6 0 1 1 0 3.2 1.6 1.6 0 0 1 0-3.2z"
      fillRule="evenodd"
    />
  ),
  ride_along: <path d="M1.5 5.5h13V8h-13zM1.5 10h8v2.5h-8z" />,
  watch: (
    <path
      d="M8 3.5c3.4 0 5.9 2.3 7 4.5-1.1 2.2-3.6 4.5-7 4.5S2.1 10.2 1 8c1.1-2.2 3.6-4.5 7-4.5zM8 5.7a2.3 2.3 0 1 0 0 4.6 2.3 2.3 0 0 0 0-4.6z"
      fillRule="evenodd"
    />
  ),
  run_on: <path d="M2 7h8.2L7.4 4.2 9 2.6 14.4 8 9 13.4l-1.6-1.6L10.2 9H2z" />,
  behind_it: <path d="M3.2 8.2 6.6 11.6 12.8 4.4 14.3 5.7 6.8 14.4 1.7 9.7z" />,
};

/** The mark of a verdict with its word, or alone with the word for screen readers. */
export function VerdictMark({
  verdict,
  wordless = false,
  className = '',
}: {
  verdict: Verdict;
  wordless?: boolean;
  className?: string;
}): ReactNode {
  const { word, means } = VERDICT_WORDS[verdict];
  return (
    <span
      className={`inline-flex items-center gap-1.5 whitespace-nowrap font-narrow text-lg font-semibold ${leavesAlone(verdict) ? 'text-soft' : ''} ${className}`}
      title={`${word}: ${means}`}
    >
      <svg viewBox="0 0 16 16" width="17" height="17" fill="currentColor" aria-hidden className="shrink-0">
        {SHAPES[verdict]}
      </svg>
      <span className={wordless ? 'sr-only' : ''}>{word}</span>
    </span>
  );
}
