import type { WeibullLife } from '../life/elicit.ts';
import { cumulativeHazard, hazardIncrement } from '../life/hazard.ts';
import { logAddExp } from '../numeric/logs.ts';

/** An earlier look that found nothing, on the part's clock. */
export interface CleanLook {
  readonly at: number;
  readonly detection: number;
  /** Length of the P-F interval. */
  readonly warning: number;
}

/** Outcome of one part on its own clock, counted from new. */
export type Outcome =
  /** Failed at `at`. */
  | { readonly kind: 'exact'; readonly at: number }
  /** Still running, or renewed in good condition, at `at`. */
  | { readonly kind: 'right'; readonly at: number }
  /** Failed after `at`, by `until`. */
  | { readonly kind: 'interval'; readonly at: number; readonly until: number }
  /** Found worn at `at`, not failed: it would have failed within the warning. */
  | { readonly kind: 'worn'; readonly at: number; readonly detection: number; readonly warning: number };

/** All that may become of a part. */
export const OBSERVATION_KINDS = ['exact', 'right', 'interval', 'worn'] as const satisfies readonly Outcome['kind'][];

export type Observation = Outcome & {
  readonly looks?: readonly CleanLook[];
  /** Reading at which the part first came to be watched, still running (left truncation); 0 when from new. */
  readonly entry?: number;
  /** Parts that all did the same. */
  readonly count?: number;
};

/** A life with its susceptible share. */
export interface ShareLife extends WeibullLife {
  readonly share: number;
}

/** ln R(x) = ln(1 - pi + pi e^-H), exact for a large H and for pi = 1. */
export function logSurviving({ share, ...life }: ShareLife, x: number): number {
  const hazard = cumulativeHazard(life, x);
  if (share >= 1) return -hazard;
  return logAddExp(Math.log1p(-share), Math.log(share) - hazard);
}

/** ln of a chance as a function of the life; what does not depend on the life is worked out once. */
export type LogTerm = (life: WeibullLife) => number;

/**
 * ln of the probability that a susceptible part fails in (from, to], each piece weighted by the looks whose window
 * covers it.
 */
function failingTerm(from: number, to: number, looks: readonly CleanLook[], plus = 0): LogTerm {
  const edges = [...new Set([from, to, ...looks.flatMap((look) => [look.at, look.at + look.warning])])]
    .filter((edge) => edge >= from && edge <= to)
    .sort((a, b) => a - b);
  const pieces = edges.slice(1).map((end, i) => {
    const begin = edges[i]!;
    return {
      begin,
      end,
      missed: looks.reduce(
        (product, look) => product * (look.at <= begin && end <= look.at + look.warning ? 1 - look.detection : 1),
        1,
      ),
    };
  });
  return (life) => {
    // Relative to the survival at the beginning, so that nothing underflows before the logarithm is taken.
    const first = cumulativeHazard(life, from);
    let sum = 0;
    let before = 0;
    for (const { begin, end, missed } of pieces) {
      const increment = end === Infinity ? Infinity : hazardIncrement(life, begin, end - begin);
      sum -= missed * Math.exp(-before) * Math.expm1(-increment);
      before += increment;
    }
    return plus - first + Math.log(sum);
  };
}

/**
 * Tells whether a part has shown that it is susceptible: it failed or was found worn. Any other may
 * be immune.
 */
export const showsSusceptible = ({ kind }: Pick<Observation, 'kind'>): boolean => kind !== 'right';

/**
 * Log density or log probability of an observation for a susceptible part; the share does not
 * enter. The likelihood is pi e^v where showsSusceptible, and 1 - pi + pi e^v for a part that may
 * be immune.
 */
export function termIfSusceptible(observation: Observation): LogTerm {
  const looks = observation.looks ?? [];
  const { at } = observation;
  switch (observation.kind) {
    case 'exact': {
      const missed = looks.reduce(
        (sum, look) => sum + (at > look.at && at <= look.at + look.warning ? Math.log1p(-look.detection) : 0),
        0,
      );
      return (life) =>
        Math.log(life.shape) -
        Math.log(life.scale) +
        (life.shape - 1) * Math.log(at / life.scale) -
        cumulativeHazard(life, at) +
        missed;
    }
    case 'right':
      return looks.length === 0 ? (life) => -cumulativeHazard(life, at) : failingTerm(at, Infinity, looks);
    case 'interval':
      return failingTerm(at, observation.until, looks);
    case 'worn':
      return failingTerm(at, at + observation.warning, looks, Math.log(observation.detection));
  }
}

/**
 * Log-likelihood of one observation of one failure mode on one clock, in a limited-failure Weibull population: exact,
 * right-censored, interval, found worn (T in (x, x + L], factor r), earlier clean looks as weights (1 - r) on their
 * windows, left truncation at `entry` (the log of R(entry) is taken off). Source: Meeker and Escobar, Statistical
 * Methods for Reliability Data, ch. 2 and 11. Natural logarithm.
 */
export function logLikelihood(life: ShareLife, observation: Observation): number {
  const alone = termIfSusceptible(observation)(life);
  const logShare = Math.log(life.share);
  const value = showsSusceptible(observation) ? logShare + alone : logAddExp(Math.log1p(-life.share), logShare + alone);
  const truncated =
    observation.entry === undefined || observation.entry <= 0 ? 0 : logSurviving(life, observation.entry);
  return (observation.count ?? 1) * (value - truncated);
}

/** Sum over all observations. */
export const totalLogLikelihood = (life: ShareLife, observations: readonly Observation[]): number =>
  observations.reduce((sum, observation) => sum + logLikelihood(life, observation), 0);
