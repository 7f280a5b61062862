import type { WeibullLife } from '../life/elicit.ts';
import { cumulativeHazard, hazardIncrement } from '../life/hazard.ts';
import { normalCdf } from '../numeric/normal.ts';

export interface OnceRenewed {
  readonly life: WeibullLife;
  readonly share: number;
  readonly followChance: number;
  /** Customary interval and its standard deviation, on the life's clock. */
  readonly custom: number;
  readonly customSd: number;
  /** Equal-probability nodes over the interval. */
  readonly nodes: number;
}

export interface OnceAnswer {
  readonly risk: number;
  readonly originalChance: number;
  /** Clock readings at which the one renewal may have been. */
  readonly renewedAt: readonly number[];
}

/** The last reading below which less than a part `probability` of the normal interval lies, by bisection. */
function intervalQuantile(custom: number, sd: number, probability: number, most: number): number {
  let low = 0;
  for (let step = most; low + step > low; step /= 2)
    if (normalCdf((low + step - custom) / sd) < probability) low += step;
  return low;
}

/**
 * Unknown history with at most one renewal, on one clock: the original part with probability 1 - p_follow G(x) before
 * survival is counted, else one renewed at one of `nodes` equally probable readings of the customary interval (normal,
 * truncated to (0, x)). Both must have lived until now. A quick stand-in for the renewal process of unknownInstall on a
 * young vehicle. Throws RangeError unless 0 < now < next.
 */
export function onceRenewed(
  { life, share, followChance, custom, customSd, nodes }: OnceRenewed,
  now: number,
  next: number,
): OnceAnswer {
  if (!(now > 0 && next > now)) throw new RangeError(`the clock must run forward from above 0, got ${now} to ${next}`);
  const below = normalCdf(-custom / customSd);
  const within = normalCdf((now - custom) / customSd) - below;
  const renewedShare = (followChance * within) / (1 - below);
  const renewedAt = Array.from({ length: nodes }, (_, i) =>
    intervalQuantile(custom, customSd, below + ((i + 0.5) / nodes) * within, now),
  );
  const parts = [
    { weight: 1 - renewedShare, lived: cumulativeHazard(life, now), age: now },
    ...renewedAt.map((at) => ({
      weight: renewedShare / nodes,
      lived: cumulativeHazard(life, at) + cumulativeHazard(life, now - at),
      age: now - at,
    })),
  ];
  const alive = parts.map(({ weight, lived }) => weight * (1 - share + share * Math.exp(-lived)));
  const total = alive.reduce((sum, weight) => sum + weight, 0);
  const failing = parts.reduce(
    (sum, { weight, lived, age }) =>
      sum - weight * share * Math.exp(-lived) * Math.expm1(-hazardIncrement(life, age, next - now)),
    0,
  );
  return { risk: failing / total, originalChance: alive[0]! / total, renewedAt };
}
