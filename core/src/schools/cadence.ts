import type { WeibullLife } from '../life/elicit.ts';
import { cumulativeHazard, hazardIncrement } from '../life/hazard.ts';

const requirePositive = (values: Readonly<Record<string, number>>): void => {
  for (const [name, value] of Object.entries(values))
    if (!(value > 0)) throw new RangeError(`${name} must be positive, got ${value}`);
};

/**
 * Share of failures caught by looks every `period` when wear shows for exactly `warning` before the failure and begins
 * at any phase of the period: with L/D = n + f, 1 - (1-r)^n (1 - f r). Source: periodic inspection, delay-time model
 * (Christer and Waller 1984). One clock unit throughout.
 */
export function caughtByPeriod(period: number, warning: number, detection: number): number {
  requirePositive({ period, warning });
  const looks = warning / period;
  const whole = Math.floor(looks);
  return 1 - (1 - detection) ** whole * (1 - (looks - whole) * detection);
}

/**
 * The same for a warning that is exponentially distributed with mean `warning`: (1 - e^-D/L) / (D/L) * r / (1 - (1-r)
 * e^-D/L).
 */
export function caughtByPeriodExponential(period: number, warning: number, detection: number): number {
  requirePositive({ period, warning });
  const ratio = period / warning;
  return (-Math.expm1(-ratio) / ratio) * (detection / (1 - (1 - detection) * Math.exp(-ratio)));
}

/**
 * Longest period between looks that still catches `target` of the failures: the exact inverse of caughtByPeriod, D = L
 * / (n + f). Infinity for a target of 0, 0 for a target of 1 that imperfect looks never reach. Throws RangeError unless
 * 0 < detection <= 1.
 */
export function longestPeriod(warning: number, detection: number, target: number): number {
  requirePositive({ warning, detection });
  if (target <= 0) return Infinity;
  if (detection >= 1) return warning / Math.min(1, target);
  if (target >= 1) return 0;
  const whole = Math.floor(Math.log1p(-target) / Math.log1p(-detection));
  const part = (1 - (1 - target) / (1 - detection) ** whole) / detection;
  return warning / (whole + part);
}

/** Share of the failures of a new part that looks at given clock readings catch, exact for its Weibull life. */
export function caughtBySchedule(
  life: WeibullLife,
  looks: readonly number[],
  warning: number,
  detection: number,
): number {
  const edges = [...new Set([0, ...looks, ...looks.map((look) => look + warning)])].sort((a, b) => a - b);
  let caught = 0;
  edges.slice(1).forEach((to, i) => {
    const from = edges[i]!;
    const seen = looks.filter((look) => look <= from && to <= look + warning).length;
    const failing = -Math.exp(-cumulativeHazard(life, from)) * Math.expm1(-hazardIncrement(life, from, to - from));
    caught += failing * (1 - (1 - detection) ** seen);
  });
  return caught;
}
