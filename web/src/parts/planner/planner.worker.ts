import { proposeVisits, type ProposalGround, type ProposalTerms } from '@crosspeen/core';

/** Milliseconds for the plan that is shown at once, and for the one that is proved. */
const QUICK_MS = 120;
const THOROUGH_MS = 2500;

/** What remains of a time, from 1 down to 0. */
const until = (milliseconds: number): (() => number) => {
  const began = performance.now();
  return () => 1 - (performance.now() - began) / milliseconds;
};

self.addEventListener(
  'message',
  ({ data }: MessageEvent<{ id: number; ground: ProposalGround; terms: ProposalTerms }>) => {
    const { id, ground, terms } = data;
    for (const milliseconds of [QUICK_MS, THOROUGH_MS]) {
      const proposal = proposeVisits(ground, terms, { left: until(milliseconds) });
      self.postMessage({ id, proposal, isLast: milliseconds === THOROUGH_MS || proposal === null || proposal.proven });
      if (proposal === null || proposal.proven) return;
    }
  },
);
