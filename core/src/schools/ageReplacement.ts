import type { WeibullLife } from '../life/elicit.ts';
import { cumulativeHazard } from '../life/hazard.ts';
import { incompleteGamma, logGamma } from '../numeric/gamma.ts';

export interface ReplacementCosts {
  /** Cost of renewing before it fails. */
  readonly planned: number;
  /** Cost of a failure, renewal included; the same money. */
  readonly failure: number;
}

export interface BestAge {
  /** Age at which to renew, in the clock's unit; Infinity when running to failure costs least. */
  readonly age: number;
  /** Long-run cost a clock unit at that age. */
  readonly rate: number;
  /** Long-run cost a clock unit when it is always run to failure. */
  readonly runToFailureRate: number;
}

/**
 * Time lived until age T, int_0^T e^-(x/scale)^shape dx = (scale/shape) Gamma(1/shape) P(1/shape, (T/scale)^shape).
 * Units: those of the clock. Example: shape 1, scale 224,000, T 22,400 gives 21,316.418 (= scale (1 - e^-0.1)).
 */
export function timeLived(life: WeibullLife, age: number): number {
  const a = 1 / life.shape;
  return (life.scale / life.shape) * Math.exp(logGamma(a)) * incompleteGamma(a, cumulativeHazard(life, age));
}

/** Mean life among the susceptible, scale Gamma(1 + 1/shape). */
export const meanLife = (life: WeibullLife): number => life.scale * Math.exp(logGamma(1 + 1 / life.shape));

/**
 * Long-run cost rate of renewing at age T when susceptibility belongs to the vehicle:
 * g(T) = pi [c_p S + c_f (1 - S)] / int_0^T S + (1 - pi) c_p / T. Source: age replacement (Barlow and Proschan 1965),
 * mixed over vehicles; drawing susceptibility afresh for every part would let the rate tend to 0. Money a clock unit.
 */
export function costRate(
  life: WeibullLife,
  share: number,
  { planned, failure }: ReplacementCosts,
  age: number,
): number {
  const hazard = cumulativeHazard(life, age);
  const spent = planned * Math.exp(-hazard) - failure * Math.expm1(-hazard);
  return (share * spent) / timeLived(life, age) + ((1 - share) * planned) / age;
}

/** Derivative of costRate by age. */
function costSlope(life: WeibullLife, share: number, { planned, failure }: ReplacementCosts, age: number): number {
  const hazard = cumulativeHazard(life, age);
  const alive = Math.exp(-hazard);
  const lived = timeLived(life, age);
  const spent = planned * alive - failure * Math.expm1(-hazard);
  const rising = ((failure - planned) * life.shape * hazard * alive) / age;
  return (share * (rising * lived - spent * alive)) / lived ** 2 - ((1 - share) * planned) / age ** 2;
}

/** The ages looked at: from a thousandth to fifty times the scale, in so many steps of equal ratio. */
const SEARCH = { from: 1e-3, to: 50, steps: 240 } as const;

/**
 * Age of least long-run cost: the best of a search over equal ratios, refined by bisection of the slope, against
 * running to failure (pi c_f / mean life).
 * Throws RangeError unless 0 < planned, 0 < failure and 0 <= share <= 1.
 */
export function bestAge(life: WeibullLife, share: number, costs: ReplacementCosts): BestAge {
  if (!(costs.planned > 0 && costs.failure > 0)) throw new RangeError('both costs must be positive');
  if (!(share >= 0 && share <= 1)) throw new RangeError(`share must lie in [0, 1], got ${share}`);
  const runToFailureRate = (share * costs.failure) / meanLife(life);
  const never: BestAge = { age: Infinity, rate: runToFailureRate, runToFailureRate };
  const ratio = (SEARCH.to / SEARCH.from) ** (1 / SEARCH.steps);
  let best = { age: Infinity, rate: runToFailureRate };
  for (let i = 0; i <= SEARCH.steps; i += 1) {
    const age = life.scale * SEARCH.from * ratio ** i;
    const rate = costRate(life, share, costs, age);
    if (rate < best.rate) best = { age, rate };
  }
  if (best.age === Infinity) return never;
  let [low, high] = [best.age / ratio, best.age * ratio];
  if (!(costSlope(life, share, costs, low) < 0 && costSlope(life, share, costs, high) > 0)) return never;
  for (let i = 0; i < 100 && high - low > 1e-12 * high; i += 1) {
    const middle = (low + high) / 2;
    if (costSlope(life, share, costs, middle) < 0) low = middle;
    else high = middle;
  }
  const age = (low + high) / 2;
  return { age, rate: costRate(life, share, costs, age), runToFailureRate };
}
