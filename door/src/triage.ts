import { triageNext } from '@crosspeen/core';
import { asArray, asNumber, asObject, DoorError, field, numbers, optional, type Call } from './json.ts';

/** Explanations and the next check of one search. */
export const triageCall: Call = (input) => {
  const epsilon = optional(input, 'eps');
  const answers = new Map(
    Object.entries(asObject(field(input, 'answers'), 'answers')).map(([check, said]) => {
      const yes = typeof said === 'boolean' ? said : asNumber(said, 'answers') === 1;
      if (!/^\d+$/.test(check)) throw new DoorError('bad_input', 'answers must be by the number of the check');
      return [Number(check), yes];
    }),
  );
  const state = triageNext({
    risks: numbers(field(input, 'q'), 'q'),
    unlistedOdds: asNumber(field(input, 'w_none'), 'w_none'),
    shows: asArray(field(input, 'P'), 'P').map((row) => numbers(row, 'P')),
    minutes: numbers(field(input, 'minutes'), 'minutes'),
    answers,
    ...(epsilon === undefined ? {} : { epsilon: asNumber(epsilon, 'eps') }),
  });
  return {
    prior: state.prior,
    posterior: state.posterior,
    entropy_bits: state.entropyBits,
    gains_bits: state.gainsBits,
    best: state.best,
    best_bits_per_min: state.bestBitsPerMinute,
  };
};
