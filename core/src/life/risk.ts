import type { Clock } from '../usage/clock.ts';
import type { WeibullLife } from './elicit.ts';
import { fastExp, fastLog } from '../numeric/fast.ts';
import { cumulativeHazard, hazardGrowth, hazardIncrement, susceptibleGivenAlive } from './hazard.ts';

/** Life on one clock, with the duty factor that multiplies that clock (accelerated life). */
export interface ClockLife extends WeibullLife {
  readonly clock: Clock;
  readonly duty: number;
}

/** A P-F interval on one clock: from when wear can be seen until it fails, in the clock's own unit. */
export interface WarningInterval {
  readonly clock: Clock;
  readonly length: number;
}

/** One look at a part: what was found, and how good the look is. */
export interface Inspection {
  readonly day: number;
  /** Chance of seeing wear that is there; held at MOST_DETECTION. */
  readonly detection: number;
  /** Chance of calling a sound part worn. */
  readonly falseAlarm: number;
  readonly worn: boolean;
  /** P-F intervals; the one that ends first counts, so that a parked vehicle still leaves its window by age. */
  readonly warning: readonly WarningInterval[];
}

/**
 * Life of one failure mode on all its clocks: H = factor * H0^power, H0 the sum of the clocks' own cumulative hazards.
 * As told, both are 1; a workshop's own experience stretches the scale and bends the shape of the whole, which keeps
 * the clocks' shares of the wear as they were told.
 */
export interface ModeLife {
  readonly clocks: readonly ClockLife[];
  readonly power: number;
  readonly factor: number;
}

/** One life that is possible, as a bend of the told one: H = factor * H0^power, with its susceptible share. */
export interface LifeBranch {
  readonly power: number;
  readonly factor: number;
  readonly share: number;
}

/** A life as it was told. */
export const asTold = (clocks: readonly ClockLife[]): ModeLife => ({ clocks, power: 1, factor: 1 });

/** Cumulative hazard of the whole from that of the clocks, H = factor * H0^power. */
export const bentHazard = ({ power, factor }: Pick<ModeLife, 'power' | 'factor'>, hazard: number): number => {
  return factor * (power === 1 ? hazard : fastExp(power * fastLog(hazard)));
};

/** No look is perfect: with detection 1 and a share of 1, a clean look in an endless window would be 0/0. */
const MOST_DETECTION = 0.99;

export interface RiskQuestion {
  readonly life: ModeLife;
  /** Susceptible share in [0, 1]. */
  readonly share: number;
  readonly installDay: number;
  readonly nowDay: number;
  readonly stepDays: number;
  readonly inspections: readonly Inspection[];
  /** Mixture over the length of the P-F interval: [multiplier, weight]; one node of 1 when left out. */
  readonly warningNodes?: readonly (readonly [multiplier: number, weight: number])[];
}

export interface RiskAnswer {
  /** Chance of failing in (now, now + step], given alive now and the looks. */
  readonly risk: number;
  /** Cumulative hazard from install to now among the susceptible. */
  readonly hazard: number;
  readonly susceptible: number;
  /** P(susceptible | alive, looks). */
  readonly susceptibleGivenLooks: number;
}

const ONE_NODE = [[1, 1]] as const;

/** Cumulative hazard of a part between its installation and `day`, all clocks added. */
export function hazardSinceInstall(life: ModeLife, installDay: number, day: number): number {
  let hazard = 0;
  for (const clock of life.clocks)
    hazard += cumulativeHazard(clock, clock.duty * (clock.clock.at(day) - clock.clock.at(installDay)));
  return bentHazard(life, hazard);
}

/** Increment of the cumulative hazard between two days for a part installed on `installDay`, without cancellation. */
export function hazardBetween(life: ModeLife, installDay: number, fromDay: number, toDay: number): number {
  let before = 0;
  let increment = 0;
  for (const clock of life.clocks) {
    const from = clock.clock.at(fromDay);
    const run = clock.duty * (from - clock.clock.at(installDay));
    increment += hazardIncrement(clock, run, clock.duty * (clock.clock.at(toDay) - from));
    before += cumulativeHazard(clock, run);
  }
  if (life.power === 1) return life.factor * increment;
  // (H0 + dH0)^k - H0^k = H0^k expm1(k log1p(dH0 / H0)): the same care as on one clock.
  return before > 0
    ? bentHazard(life, before) * hazardGrowth(life.power, before, increment)
    : bentHazard(life, increment);
}

/** Day on which the P-F window of a look ends; `shrink` is the duty factor, which makes wear run faster. */
export function windowEnd(
  inspection: Pick<Inspection, 'day' | 'warning'>,
  clocks: readonly ClockLife[],
  multiplier = 1,
): number {
  let end = Infinity;
  for (const { clock, length } of inspection.warning) {
    const duty = clocks.find((life) => life.clock.kind === clock.kind)?.duty ?? 1;
    end = Math.min(end, clock.dayOf(clock.at(inspection.day) + (length * multiplier) / duty));
  }
  return end;
}

/** Weights of a failure inside and outside the window of one look, given its result. */
export const lookWeights = ({
  worn,
  detection,
  falseAlarm,
}: Pick<Inspection, 'worn' | 'detection' | 'falseAlarm'>): readonly [inside: number, outside: number] => {
  const seen = Math.min(detection, MOST_DETECTION);
  return worn ? [seen, falseAlarm] : [1 - seen, 1 - falseAlarm];
};

/** A part that is running now: when it went in, and how likely it belongs to the susceptible share. */
interface RunningPart {
  readonly installDay: number;
  readonly susceptible: number;
}

type LookQuestion = Pick<RiskQuestion, 'life' | 'nowDay' | 'stepDays' | 'inspections' | 'warningNodes'>;

interface WeighedRisk {
  /** Probability of the looks and of a failure in the step. */
  readonly failing: number;
  /** Probability of the looks and of belonging to the susceptible share. */
  readonly susceptible: number;
  /** Probability of the looks. */
  readonly total: number;
}

/** The finite sums of conditionalRisk for one part that is known to be running. */
function weighedRisk(
  { installDay, susceptible }: RunningPart,
  { life, nowDay, stepDays, inspections: all, warningNodes }: LookQuestion,
): WeighedRisk {
  const endDay = nowDay + stepDays;
  // A look made before the part went in was at another part, and says nothing of this one.
  const inspections = all.filter(({ day }) => day >= installDay);
  const weights = inspections.map(lookWeights);
  const outside = weights.reduce((product, [, out]) => product * out, 1);
  let failing = 0;
  let susceptibleMass = 0;
  let total = 0;
  for (const [multiplier, nodeWeight] of warningNodes ?? ONE_NODE) {
    const ends = inspections.map((inspection) => windowEnd(inspection, life.clocks, multiplier));
    const changes = ends.filter(Number.isFinite).map((end) => Math.max(nowDay, end));
    const breaks = [...new Set([endDay, ...changes])].sort((a, b) => a - b);
    let inStep = 0;
    let ever = 0;
    let from = nowDay;
    let hazardBefore = 0;
    for (let i = 0; i <= breaks.length; i += 1) {
      const to = breaks[i];
      let weight = 1;
      ends.forEach((end, k) => {
        weight *= end > from ? weights[k]![0] : weights[k]![1];
      });
      if (to === undefined) {
        // The endless tail: whatever has not failed by the last break fails later, or never, under the last weight.
        ever += weight * Math.exp(-hazardBefore);
        break;
      }
      const increment = hazardBetween(life, installDay, from, to);
      const mass = -weight * Math.exp(-hazardBefore) * Math.expm1(-increment);
      ever += mass;
      if (to <= endDay) inStep += mass;
      hazardBefore += increment;
      from = to;
    }
    failing += nodeWeight * susceptible * inStep;
    susceptibleMass += nodeWeight * susceptible * ever;
    total += nodeWeight * (susceptible * ever + (1 - susceptible) * outside);
  }
  return { failing, susceptible: susceptibleMass, total };
}

/**
 * Chance of failing in (now, now + step], given no failure since install and a set of looks.
 * A clean look at x multiplies the density of the failure time by (1 - detection) on (x, x + L] and by (1 - false
 * alarm) elsewhere; a worn finding by detection and false alarm. Weights change only where a window ends, so with p =
 * P(susceptible | alive) risk = p sum_step w_k e^-dH_k (1 - e^-inc_k) / (p sum_all w_k e^-dH_k (1 - e^-inc_k) + (1 - p)
 * w_outside) is a finite sum.
 * Source: delay-time inspection model (Christer 1976) on a limited-failure population.
 * A look made before the part went in says nothing of it. Days are day numbers; lengths of P-F intervals are in their
 * clock's unit. `risk` is NaN when the looks are impossible under the model.
 * Throws RangeError on a negative step or a share outside [0, 1].
 */
export function conditionalRisk(question: RiskQuestion): RiskAnswer {
  const { life, share, installDay, nowDay, stepDays } = question;
  if (!(stepDays >= 0)) throw new RangeError(`the step must not be negative, got ${stepDays} days`);
  if (!(share >= 0 && share <= 1)) throw new RangeError(`share must lie in [0, 1], got ${share}`);
  const hazard = hazardSinceInstall(life, installDay, nowDay);
  const susceptible = susceptibleGivenAlive(share, hazard);
  const weighed = weighedRisk({ installDay, susceptible }, question);
  return {
    risk: weighed.failing / weighed.total,
    hazard,
    susceptible,
    susceptibleGivenLooks: weighed.susceptible / weighed.total,
  };
}
