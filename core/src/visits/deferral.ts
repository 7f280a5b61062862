import type { WeibullLife } from '../life/elicit.ts';
import { cumulativeHazard, susceptibleGivenAlive } from '../life/hazard.ts';
import { bestAge, meanLife, timeLived } from '../schools/ageReplacement.ts';

/** Facts of one item for the cost of putting it off; any one money. */
export interface DeferralQuestion {
  readonly life: WeibullLife;
  /** Share of vehicles that are susceptible; 1 for what wears. */
  readonly share: number;
  /** The part's clock now, and how far it runs in a month. */
  readonly ageNow: number;
  readonly ratePerMonth: number;
  readonly months: number;
  /** A planned renewal by itself, labour and all: it fixes the age of least cost. */
  readonly plannedAlone: number;
  /** Its parts alone: labour is shared with what else is done on a visit. */
  readonly parts: number;
  readonly failure: number;
  /** Labour that comes on top where it is done later than the horizon. */
  readonly lateLabour: number;
}

export interface DeferralCosts {
  /** Expected cost of doing it first in month 0, 1, ... beside what its successors cost at their best. */
  readonly byMonth: readonly number[];
  /** The least of all months beyond the horizon. */
  readonly later: number;
  /** Age of least long-run cost; Infinity where it is run to failure. */
  readonly bestAge: number;
  /** P(susceptible | running now). */
  readonly susceptible: number;
}

/** Months beyond the horizon that "later" looks through: five horizons and four hundred months more. */
const LATER = { horizons: 6, more: 400 } as const;

/** Cumulative hazard beyond which the closed form of the time lived ahead has no digits left. */
const FAR_BEYOND = 20;
const STEPS = 200;

/** Simpson's rule over [0, end]. */
function simpson(of: (at: number) => number, end: number): number {
  const step = end / STEPS;
  let sum = of(0) + of(end);
  for (let i = 1; i < STEPS; i += 1) sum += (i % 2 === 0 ? 2 : 4) * of(i * step);
  return (sum * step) / 3;
}

/**
 * Cost of doing an item first in month t, against its successors at their best pace:
 * p [c_f (1 - S_c) + c_parts S_c - g_s int_0^t S_c du] + (1 - p) [c_parts - g_n t], where S_c(u) = S(a0 + u) / S(a0),
 * p = P(susceptible | alive), g_s the long-run cost rate among the susceptible at the best age, g_n = planned / best
 * age (0 where it is run to failure). Source: age replacement (Barlow and Proschan 1965), as opportunity cost of the
 * life that is given away. Money. Throws RangeError as bestAge does.
 */
export function deferralCosts({
  life,
  share,
  ageNow,
  ratePerMonth,
  months,
  plannedAlone,
  parts,
  failure,
  lateLabour,
}: DeferralQuestion): DeferralCosts {
  const best = bestAge(life, share, { planned: plannedAlone, failure });
  const hazardNow = cumulativeHazard(life, ageNow);
  const susceptible = susceptibleGivenAlive(share, hazardNow);
  const runs = best.age !== Infinity;
  const aliveAtBest = Math.exp(-cumulativeHazard(life, best.age));
  const amongSusceptible = runs
    ? (plannedAlone * aliveAtBest + failure * (1 - aliveAtBest)) / timeLived(life, best.age)
    : failure / meanLife(life);
  const amongOthers = runs ? plannedAlone / best.age : 0;
  const livedNow = timeLived(life, ageNow);
  /** int_0^ahead S_c(u) du; by the incomplete gamma function, which far beyond the life's scale is 0 / 0. */
  const livedAhead = (ahead: number): number =>
    hazardNow < FAR_BEYOND
      ? (timeLived(life, ageNow + ahead) - livedNow) * Math.exp(hazardNow)
      : simpson((u) => Math.exp(hazardNow - cumulativeHazard(life, ageNow + u)), ahead);
  const cost = (month: number, renewal: number): number => {
    const ahead = month * ratePerMonth;
    const alive = Math.exp(hazardNow - cumulativeHazard(life, ageNow + ahead));
    const lived = livedAhead(ahead);
    return (
      susceptible * (failure * (1 - alive) + renewal * alive - amongSusceptible * lived) +
      (1 - susceptible) * (renewal - amongOthers * ahead)
    );
  };
  let later = Infinity;
  for (let month = months; month < LATER.horizons * months + LATER.more; month += 1)
    later = Math.min(later, cost(month, parts + lateLabour));
  return {
    byMonth: Array.from({ length: months }, (_, month) => cost(month, parts)),
    later,
    bestAge: best.age,
    susceptible,
  };
}
