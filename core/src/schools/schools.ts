import { hazardSinceInstall, type ModeLife } from '../life/risk.ts';
import { DAYS_PER_YEAR } from '../units/day.ts';
import type { Consequence } from '../decision/kinds.ts';
import { longestPeriod } from './cadence.ts';
import type { ReplacementCosts } from './ageReplacement.ts';

/** Schools of thought on when to act. */
export const SCHOOLS = ['book', 'early', 'condition', 'cost'] as const;
export type School = (typeof SCHOOLS)[number];

/** Share of the failures that looks should catch, by consequence. */
const WANTED_SHARE: Readonly<Record<Consequence, number>> = {
  engine: 0.95,
  stranded: 0.85,
  damage: 0.7,
  leak: 0.7,
  drivability: 0.7,
  emissions: 0.7,
  cosmetic: 0.7,
};

/** Cumulated hazard from which on a look is worth its minutes. */
const NOTICEABLE_HAZARD = 0.02;

/** Ages looked at for the least cost, in days: up to so many years, in so many steps. */
const COST_SEARCH = { years: 40, steps: 100 } as const;
/** Fewer than this part of them left is none. */
const EXTINCT = 1e-9;

/**
 * Age in days at which renewing costs least over the long run for a part worn on several clocks at once, at the
 * vehicle's forecast use: age replacement with susceptibility of the vehicle, g(t) = pi [c_p S + c_f (1 - S)] / int_0^t
 * S + (1 - pi) c_p / t, integrated by Simpson's rule along the path. Infinity when running to failure costs no more.
 * `installDay` is a day number; rates are taken from the clocks after it.
 */
export function cheapestAgeDays(
  life: ModeLife,
  share: number,
  { planned, failure }: ReplacementCosts,
  fromDay: number,
): number {
  const step = (COST_SEARCH.years * DAYS_PER_YEAR) / COST_SEARCH.steps;
  const alive = (age: number): number => Math.exp(-hazardSinceInstall(life, fromDay, fromDay + age));
  const rate = (age: number, survival: number, lived: number): number =>
    (share * (planned * survival + failure * (1 - survival))) / lived + ((1 - share) * planned) / age;
  let lived = 0;
  let before = 1;
  const rates: number[] = [Infinity];
  for (let i = 1; i <= COST_SEARCH.steps; i += 1) {
    const age = i * step;
    // Once none of the susceptible is left nothing more is lived.
    const survival = before < EXTINCT ? 0 : alive(age);
    if (survival < before) lived += (step / 6) * (before + 4 * alive(age - step / 2) + survival);
    else lived += step * survival;
    rates.push(rate(age, survival, lived));
    before = survival;
  }
  let best = 1;
  rates.forEach((value, i) => {
    if (value < rates[best]!) best = i;
  });
  // By the end of the search the susceptible have failed: the last rate is that of running to failure, but for what
  // immune vehicles still cost.
  const runToFailure = (share * failure) / (lived > 0 ? lived : 1);
  if (best === COST_SEARCH.steps || rates[best]! >= runToFailure) return Infinity;
  const [a, b, c] = [rates[best - 1]!, rates[best]!, rates[best + 1]!];
  const shift = Number.isFinite(a) && a - 2 * b + c > 0 ? (0.5 * (a - c)) / (a - 2 * b + c) : 0;
  return (best + shift) * step;
}

export interface ConditionPlan {
  /** First day from which looks are worth their minutes. */
  readonly startDay: number;
  /** Longest days between two looks; null when the weak point cannot be looked at. */
  readonly everyDays: number | null;
  /** False when even a look at every service is too seldom. */
  readonly possible: boolean;
}

/**
 * Condition: looks from the day on which the cumulated hazard is noticeable, at the longest period that catches the
 * wanted share. `warningDays` is how long wear shows at the forecast use; `serviceDays` the gap between visits.
 */
export function conditionPlan(
  life: ModeLife,
  { installDay, serviceDays }: { readonly installDay: number; readonly serviceDays: number },
  { warningDays, detection }: { readonly warningDays: number; readonly detection: number },
  consequence: Consequence,
): ConditionPlan {
  let [low, high] = [installDay, installDay + 60 * DAYS_PER_YEAR];
  if (hazardSinceInstall(life, installDay, high) < NOTICEABLE_HAZARD) low = Infinity;
  else {
    while (high - low > 1) {
      const middle = (low + high) / 2;
      if (hazardSinceInstall(life, installDay, middle) < NOTICEABLE_HAZARD) low = middle;
      else high = middle;
    }
  }
  if (!(warningDays > 0) || !Number.isFinite(warningDays)) return { startDay: low, everyDays: null, possible: false };
  const everyDays = longestPeriod(warningDays, detection, WANTED_SHARE[consequence]);
  return { startDay: low, everyDays, possible: everyDays >= serviceDays };
}
