import type { WeibullLife } from '../life/elicit.ts';
import { cumulativeHazard, hazardIncrement } from '../life/hazard.ts';
import { logSumExp } from '../numeric/logs.ts';

/** An earlier look that found nothing, on the part's clock. */
export interface CleanLook {
  readonly at: number;
  readonly detection: number;
  /** Length of the P-F interval. */
  readonly warning: number;
}

/** What became of one part, on its own clock (since it was new). */
export type Outcome =
  /** Failed at `at`. */
  | { readonly kind: 'exact'; readonly at: number }
  /** Still running, or renewed in good condition, at `at`. */
  | { readonly kind: 'right'; readonly at: number }
  /** Failed after `at`, by `until`. */
  | { readonly kind: 'interval'; readonly at: number; readonly until: number }
  /** Found worn at `at`, not failed: it would have failed within the warning. */
  | { readonly kind: 'worn'; readonly at: number; readonly detection: number; readonly warning: number };

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
  return logSumExp([Math.log1p(-share), Math.log(share) - hazard]);
}

/** ln of the probability that a part fails in (from, to], each piece weighted by the looks whose window covers it. */
function logFailing(life: ShareLife, from: number, to: number, looks: readonly CleanLook[]): number {
  const logShare = Math.log(life.share);
  const edges = [...new Set([from, to, ...looks.flatMap((look) => [look.at, look.at + look.warning])])].filter((edge) => edge >= from && edge <= to).sort((a, b) => a - b);
  return logSumExp(edges.slice(1).map((end, i) => {
    const begin = edges[i]!;
    const missed = looks.reduce((sum, look) => sum + (look.at <= begin && end <= look.at + look.warning ? Math.log1p(-look.detection) : 0), 0);
    const increment = end === Infinity ? Infinity : hazardIncrement(life, begin, end - begin);
    return logShare - cumulativeHazard(life, begin) + missed + Math.log(-Math.expm1(-increment));
  }));
}

/**
 * Log-likelihood of one observation of one failure mode on one clock, in a limited-failure Weibull population: exact, right-censored,
 * interval, found worn (T in (x, x + L], factor r), earlier clean looks as weights (1 - r) on their windows, left truncation at `entry` (the log of
 * R(entry) is taken off). Source: Meeker and Escobar, Statistical Methods for Reliability Data, ch. 2 and 11. Natural logarithm.
 */
export function logLikelihood(life: ShareLife, observation: Observation): number {
  const looks = observation.looks ?? [];
  let value: number;
  switch (observation.kind) {
    case 'exact': {
      const { at } = observation;
      const hazard = cumulativeHazard(life, at);
      const missed = looks.reduce((sum, look) => sum + (at > look.at && at <= look.at + look.warning ? Math.log1p(-look.detection) : 0), 0);
      value = Math.log(life.share) + Math.log(life.shape) - Math.log(life.scale) + (life.shape - 1) * Math.log(at / life.scale) - hazard + missed;
      break;
    }
    case 'right':
      value = looks.length === 0
        ? logSurviving(life, observation.at)
        : logSumExp([Math.log1p(-life.share), logFailing(life, observation.at, Infinity, looks)]);
      break;
    case 'interval':
      value = logFailing(life, observation.at, observation.until, looks);
      break;
    case 'worn':
      value = Math.log(observation.detection) + logFailing(life, observation.at, observation.at + observation.warning, looks);
      break;
  }
  const { entry = 0, count = 1 } = observation;
  return count * (value - (entry > 0 ? logSurviving(life, entry) : 0));
}

export const totalLogLikelihood = (life: ShareLife, observations: readonly Observation[]): number =>
  observations.reduce((sum, observation) => sum + logLikelihood(life, observation), 0);
