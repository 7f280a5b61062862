import { fastExp, fastExpm1, fastLog, fastLog1p } from '../numeric/fast.ts';
import type { WeibullLife } from './elicit.ts';

/**
 * Cumulative hazard (z / scale)^shape of one clock reading, as exp(shape * ln(z / scale)); 0 before the clock begins.
 * Source: Weibull cumulative hazard; the exponential form is faster than a power and equally exact here.
 */
export function cumulativeHazard(life: WeibullLife, z: number): number {
  return z <= 0 ? 0 : fastExp(life.shape * fastLog(z / life.scale));
}

/** Relative growth of a cumulative hazard over a step: expm1(shape * log1p(dz / z)), for z > 0. */
export const hazardGrowth = (shape: number, z: number, dz: number): number => fastExpm1(shape * fastLog1p(dz / z));

/**
 * Increment H(z + dz) - H(z) without cancellation: (z/scale)^shape * expm1(shape * log1p(dz / z)).
 * At z = 0, or where a factor overflows, H(z) is nothing beside H(z + dz), which stands for the difference.
 * Same unit as the scale; what lies before 0 counts as 0, of the reading and of the step.
 */
export function hazardIncrement(life: WeibullLife, z: number, dz: number): number {
  const from = Math.max(0, z);
  const step = Math.max(0, dz);
  const increment = cumulativeHazard(life, from) * hazardGrowth(life.shape, from, step);
  return Number.isFinite(increment) ? increment : cumulativeHazard(life, from + step);
}

/**
 * Probability that a part belongs to the susceptible share, given that it has survived cumulative hazard H:
 * p = pi e^-H / (1 - pi + pi e^-H), computed as 1 / (1 + e^H (1-pi)/pi) so that a large H and pi of 0 or 1 stay exact.
 */
export function susceptibleGivenAlive(share: number, hazard: number): number {
  if (share >= 1) return 1;
  return 1 / (1 + fastExp(hazard) * ((1 - share) / share));
}

export interface LimitedFailure {
  /** Cumulative hazard among the susceptible now. */
  readonly hazard: number;
  /** Increment of the cumulative hazard over the step. */
  readonly increment: number;
  /** Share of all parts failed by now. */
  readonly failed: number;
  /** Share of all parts still running; never 1 - failed, which loses digits. */
  readonly surviving: number;
  readonly susceptible: number;
  /** Chance of failing in the step, given alive now. */
  readonly risk: number;
}

/**
 * Limited-failure population with clocks whose hazards add: H = sum (z_s/scale_s)^shape_s, F = pi (1 - e^-H),
 * R = 1 - pi + pi e^-H, risk of the step = P(susceptible | alive) (1 - e^-dH).
 * Source: Meeker (1987), Limited failure population life tests. Arrays are one entry a clock, in that clock's unit,
 * duty factor included.
 * Throws RangeError when the arrays differ in length or the share lies outside [0, 1].
 */
export function limitedFailure(
  lives: readonly WeibullLife[],
  z: readonly number[],
  dz: readonly number[],
  share: number,
): LimitedFailure {
  if (lives.length !== z.length || z.length !== dz.length)
    throw new RangeError('one life, one reading and one step are needed for each clock');
  if (!(share >= 0 && share <= 1)) throw new RangeError(`share must lie in [0, 1], got ${share}`);
  let hazard = 0;
  let increment = 0;
  lives.forEach((life, clock) => {
    hazard += cumulativeHazard(life, z[clock]!);
    increment += hazardIncrement(life, z[clock]!, dz[clock]!);
  });
  const susceptible = susceptibleGivenAlive(share, hazard);
  return {
    hazard,
    increment,
    failed: -share * Math.expm1(-hazard),
    surviving: 1 - share + share * Math.exp(-hazard),
    susceptible,
    risk: -susceptible * Math.expm1(-increment),
  };
}
