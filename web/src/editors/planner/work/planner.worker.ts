import {
  besideWork,
  preparePlan,
  proposeVisits,
  yearsAhead,
  type Pins,
  type PreparedPlan,
  type Proposal,
  type ProposalGround,
  type ProposalTerms,
} from '@crosspeen/core';

/** What the planner's thread is asked. */
export type PlannerAsk =
  | { readonly kind: 'prepare'; readonly ground: ProposalGround; readonly terms: ProposalTerms }
  /** While something is dragged: one frame's time. */
  | {
      readonly kind: 'frame';
      readonly pins: Pins;
      readonly from: Proposal['months'] | null;
      readonly sets: Proposal['sets'];
      /** Another for each frame that asks the same once more. */
      readonly seed: number;
    }
  /** The plan that is shown, and then how good it is; what it would cost with only the pins of `free`. */
  | {
      readonly kind: 'prove';
      readonly pins: Pins;
      readonly from: Proposal['months'] | null;
      readonly free: Pins | null;
    }
  /** What each year costs; and, in all, without each of some things. */
  | { readonly kind: 'years'; readonly pins: Pins; readonly without: readonly string[] }
  | { readonly kind: 'beside'; readonly done: readonly string[]; readonly month: number };

/** Milliseconds of one frame for the search, of the plan that is shown at once, and of the one that is proved. */
const FRAME_MS = 11;
const QUICK_MS = 90;
const THOROUGH_MS = 2500;
const YEARS_MS = 500;

/** What remains of a time, from 1 down to 0. */
const until = (milliseconds: number): (() => number) => {
  const began = performance.now();
  return () => 1 - (performance.now() - began) / milliseconds;
};

let prepared: PreparedPlan | null = null;

function* answersTo(ask: PlannerAsk): Generator<unknown> {
  if (ask.kind === 'prepare') {
    prepared = preparePlan(ask.ground, ask.terms);
    return;
  }
  if (prepared === null) return;
  switch (ask.kind) {
    case 'frame':
    case 'prove': {
      const from = ask.from === null ? {} : { from: ask.from };
      if (ask.kind === 'frame') {
        const { pins, sets, seed } = ask;
        yield {
          proposal: proposeVisits(prepared, { pins, sets, seed, left: until(FRAME_MS), isQuick: true, ...from }),
        };
        return;
      }
      let free: number | null = null;
      for (const milliseconds of [QUICK_MS, THOROUGH_MS]) {
        const proposal = proposeVisits(prepared, { pins: ask.pins, left: until(milliseconds), ...from });
        const isLast = milliseconds === THOROUGH_MS || proposal === null || proposal.proven;
        yield { proposal, isLast, free };
        if (free === null && ask.free !== null) {
          free = proposeVisits(prepared, { pins: ask.free, left: until(QUICK_MS) })?.money.total ?? null;
          yield { proposal, isLast, free };
        }
        if (isLast) return;
      }
      return;
    }
    case 'years': {
      const whole = proposeVisits(prepared, { pins: ask.pins, left: until(YEARS_MS) });
      const { months } = prepared.terms;
      yield {
        years: whole && yearsAhead(prepared, whole),
        without: ask.without.map((key) => {
          const plan = proposeVisits(prepared!, { pins: new Map([...ask.pins, [key, months]]), left: until(YEARS_MS) });
          return { key, years: plan && yearsAhead(prepared!, plan) };
        }),
      };
      return;
    }
    case 'beside':
      yield besideWork(prepared, ask.done, ask.month);
      return;
    default:
      ask satisfies never;
  }
}

self.addEventListener('message', ({ data }: MessageEvent<PlannerAsk>) => {
  for (const answer of answersTo(data)) self.postMessage(answer);
});
