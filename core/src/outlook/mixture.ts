import { cumulativeHazard, hazardGrowth, hazardIncrement } from '../life/hazard.ts';
import { lookWeights, windowEnd, type ClockLife, type Inspection, type LifeBranch } from '../life/risk.ts';
import { fastExp, fastExpm1, fastLog, fastLog1p } from '../numeric/fast.ts';
import { Scratch } from '../numeric/scratch.ts';

/**
 * Possible installations of the present part, for every possible life. All share the same clocks,
 * so that the readings and the published hazard of an installation are computed once for all lives.
 * Weights are laid out by installation, then life, and sum to 1.
 */
export interface PartMixture {
  readonly clocks: readonly ClockLife[];
  readonly lives: readonly LifeBranch[];
  /**
   * The lives are about all vehicles (what wears): each keeps its weight whatever this vehicle has lived through, so
   * that an old part never looks better with time. Otherwise its survival and its looks speak for the longer lives.
   */
  readonly apart: boolean;
  readonly installDays: Float64Array;
  /** Weight of this installation and life in a vehicle that is susceptible. */
  readonly susceptible: Float64Array;
  /** The same in a vehicle that is not. */
  readonly immune: Float64Array;
  /** Days about which a part may have failed that is still in there, and the weight of each, by day, then life. */
  readonly failedDays: Float64Array;
  readonly failed: Float64Array;
}

/** No part that has failed is in there. */
export const NONE_FAILED: Pick<PartMixture, 'failedDays' | 'failed'> = {
  failedDays: new Float64Array(0),
  failed: new Float64Array(0),
};

/**
 * Days on which something ends, in order, each with its place among the days asked for (-1: the window of a look ends
 * there).
 */
interface Bounds {
  readonly days: ArrayLike<number>;
  readonly asked: ArrayLike<number> | null;
}

function boundsOf(days: readonly number[], looks: readonly { readonly end: number }[], nowDay: number): Bounds {
  // Without looks nothing depends on the order, and every bound is a day that was asked for.
  if (looks.length === 0) return { days, asked: null };
  const all = days.map((day, i) => ({ day, asked: i }));
  for (const end of new Set(looks.map((look) => look.end)))
    if (end > nowDay && Number.isFinite(end)) all.push({ day: end, asked: -1 });
  all.sort((a, b) => a.day - b.day);
  return { days: all.map(({ day }) => day), asked: all.map(({ asked }) => asked) };
}

/** Room for what is read of the clocks and of one installation. */
const ROOM = {
  now: new Scratch(),
  ahead: new Scratch(),
  told: new Scratch(),
  grown: new Scratch(),
  segments: new Scratch(),
};

interface Failed {
  /** Chance of having failed by each day, given the looks: it has failed already, or does so by then. */
  readonly by: readonly number[];
  /** Chance of having failed already and still being in there; 0 where a record says what is in there. */
  readonly now: number;
  /** P(susceptible | looks). */
  readonly susceptible: number;
}

/** Result for one life, or for all lives weighed together. */
export interface LifeSays extends Pick<Failed, 'by' | 'now'> {
  readonly weight: number;
}

/** Room for the sums of each life, and for what fails of it by each day. */
const SUMMED = {
  weight: new Scratch(),
  evidence: new Scratch(),
  susceptible: new Scratch(),
  already: new Scratch(),
  failing: new Scratch(),
};

/**
 * Sums of one life over the installations: weight as it was given, probability of the looks, of those still
 * susceptible, of those that have failed already and that fail by each day. In room that the next sums take again.
 */
class Sums {
  readonly weight: Float64Array;
  readonly evidence: Float64Array;
  readonly susceptible: Float64Array;
  readonly already: Float64Array;
  readonly failing: Float64Array;

  constructor(
    private readonly lives: number,
    private readonly days: number,
  ) {
    this.weight = SUMMED.weight.takeEmpty(lives);
    this.evidence = SUMMED.evidence.takeEmpty(lives);
    this.susceptible = SUMMED.susceptible.takeEmpty(lives);
    this.already = SUMMED.already.takeEmpty(lives);
    this.failing = SUMMED.failing.takeEmpty(lives * days);
  }

  private total(of: Float64Array): number {
    let sum = 0;
    for (let k = 0; k < this.lives; k += 1) sum += of[k]!;
    return sum;
  }

  /** Sum over all lives at once: weighted failures over weighted evidence. */
  private together(): Failed {
    const evidence = this.total(this.evidence);
    const by = new Array<number>(this.days).fill(0);
    for (let k = 0; k < this.lives; k += 1)
      for (let i = 0; i < this.days; i += 1) by[i]! += this.failing[k * this.days + i]!;
    for (let i = 0; i < this.days; i += 1) by[i]! /= evidence;
    return { by, now: this.total(this.already) / evidence, susceptible: this.total(this.susceptible) / evidence };
  }

  /** Weight of the lives that the looks leave possible. */
  private whole(): number {
    let sum = 0;
    for (let k = 0; k < this.lives; k += 1) if (this.evidence[k]! > 0) sum += this.weight[k]!;
    return sum;
  }

  /** All lives weighed together; where they stand `apart`, each is settled by itself and keeps its weight. */
  settle(apart: boolean): Failed {
    if (!apart || this.lives === 1) return this.together();
    const whole = this.whole();
    const by = new Array<number>(this.days).fill(0);
    let susceptible = 0;
    let now = 0;
    for (let k = 0; k < this.lives; k += 1) {
      if (this.evidence[k]! <= 0) continue;
      const scale = this.weight[k]! / whole / this.evidence[k]!;
      for (let i = 0; i < this.days; i += 1) by[i]! += scale * this.failing[k * this.days + i]!;
      susceptible += scale * this.susceptible[k]!;
      now += scale * this.already[k]!;
    }
    return { by, now, susceptible };
  }

  /** Each life that is possible by itself where they stand `apart`; else one entry for all of them. */
  byLife(apart: boolean): readonly LifeSays[] {
    if (!apart || this.lives === 1) {
      const { by, now } = this.together();
      return [{ weight: 1, by, now }];
    }
    const whole = this.whole();
    const lives: LifeSays[] = [];
    for (let k = 0; k < this.lives; k += 1) {
      const evidence = this.evidence[k]!;
      if (evidence <= 0) continue;
      const by = Array.from({ length: this.days }, (_, i) => this.failing[k * this.days + i]! / evidence);
      lives.push({ weight: this.weight[k]! / whole, by, now: this.already[k]! / evidence });
    }
    return lives;
  }
}

/** A look with the day on which its window ends and what it says of a failure within the window, and outside it. */
interface WeighedLook extends Inspection {
  readonly end: number;
  readonly weights: readonly [inside: number, outside: number];
}

const NO_LOOKS: readonly WeighedLook[] = [];

const weighed = (inspections: readonly Inspection[], clocks: readonly ClockLife[]): readonly WeighedLook[] =>
  inspections.length === 0
    ? NO_LOOKS
    : inspections.map((inspection) => ({
        ...inspection,
        end: windowEnd(inspection, clocks),
        weights: lookWeights(inspection),
      }));

/** Probability of the looks at earlier parts, and of those at this one where it fails outside all their windows. */
interface LooksSay {
  readonly earlier: number;
  readonly outside: number;
}

const SAY_NOTHING: LooksSay = { earlier: 1, outside: 1 };

/**
 * What the looks say of a part put in on `installDay`; their weight up to each bound, and after the last, into
 * `segments`.
 */
function looksAt(
  looks: readonly WeighedLook[],
  installDay: number,
  { nowDay, bounds }: { readonly nowDay: number; readonly bounds: ArrayLike<number> },
  segments: Float64Array,
): LooksSay {
  const count = bounds.length;
  let earlier = 1;
  let outside = 1;
  for (let b = 0; b <= count; b += 1) segments[b] = 1;
  for (const {
    day,
    worn,
    falseAlarm,
    end,
    weights: [seen, unseen],
  } of looks) {
    // A look says something only about the part that was in there then.
    if (day < installDay) {
      if (!worn) earlier *= 1 - falseAlarm;
      continue;
    }
    outside *= unseen;
    for (let b = 0; b <= count; b += 1) segments[b]! *= end > (b === 0 ? nowDay : bounds[b - 1]!) ? seen : unseen;
  }
  return { earlier, outside };
}

/** Readings of the clocks now, and how far each goes on from now to each bound. In room that is taken again. */
function readClocks(
  clocks: readonly ClockLife[],
  nowDay: number,
  bounds: ArrayLike<number>,
): { readonly now: Float64Array; readonly ahead: Float64Array } {
  const count = bounds.length;
  const now = ROOM.now.take(clocks.length);
  const ahead = ROOM.ahead.take(clocks.length * count);
  for (let c = 0; c < clocks.length; c += 1) {
    const { clock, duty } = clocks[c]!;
    const reading = clock.at(nowDay);
    now[c] = reading;
    for (let b = 0; b < count; b += 1) ahead[c * count + b] = duty * (clock.at(bounds[b]!) - reading);
  }
  return { now, ahead };
}

/**
 * Sums of each life over the installations and over what has failed already. The inner work of the outlook: told
 * hazards once an installation, one exponential a life and day.
 */
function sumUp(
  { clocks, lives, installDays, susceptible, immune, failedDays, failed }: PartMixture,
  inspections: readonly Inspection[],
  nowDay: number,
  days: readonly number[],
): Sums {
  const looks = weighed(inspections, clocks);
  const bounds = boundsOf(days, looks, nowDay);
  const count = bounds.days.length;
  const { now, ahead } = readClocks(clocks, nowDay, bounds.days);
  const sums = new Sums(lives.length, days.length);
  const { failing } = sums;
  const told = ROOM.told.take(count);
  const grown = ROOM.grown.take(count);
  const segments = ROOM.segments.take(count + 1);
  for (let node = 0; node < installDays.length; node += 1) {
    const installDay = installDays[node]!;
    let hazard = 0;
    for (let b = 0; b < count; b += 1) told[b] = 0;
    for (let c = 0; c < clocks.length; c += 1) {
      const life = clocks[c]!;
      const run = life.duty * (now[c]! - life.clock.at(installDay));
      const clockHazard = cumulativeHazard(life, run);
      hazard += clockHazard;
      for (let b = 0; b < count; b += 1) {
        const step = ahead[c * count + b]!;
        const grownBy = clockHazard * hazardGrowth(life.shape, run, step);
        // From new, or where a factor overflows, the direct difference is exact enough.
        told[b]! += grownBy < Infinity ? grownBy : hazardIncrement(life, run, step);
      }
    }
    // (H0 + dH0)^k - H0^k = H0^k expm1(k log1p(dH0 / H0)): the logarithm is the same for every life.
    const logHazard = fastLog(hazard);
    for (let b = 0; b < count; b += 1) grown[b] = hazard > 0 ? fastLog1p(told[b]! / hazard) : fastLog(told[b]!);
    const { earlier, outside } =
      looks.length === 0 ? SAY_NOTHING : looksAt(looks, installDay, { nowDay, bounds: bounds.days }, segments);
    for (let k = 0; k < lives.length; k += 1) {
      const weight = susceptible[node * lives.length + k]!;
      const rest = immune[node * lives.length + k]!;
      if (weight + rest <= 0) continue;
      sums.weight[k]! += weight + rest;
      const offset = k * days.length;
      const { power, factor } = lives[k]!;
      const straight = power === 1;
      const base = straight ? factor : factor * fastExp(power * logHazard);
      /** Increment of this life's hazard from now until a bound. */
      const incrementTo = (b: number): number =>
        straight
          ? factor * told[b]!
          : hazard > 0
            ? base * fastExpm1(power * grown[b]!)
            : factor * fastExp(power * grown[b]!);
      if (looks.length === 0) {
        for (let b = 0; b < count; b += 1) failing[offset + b]! -= weight * fastExpm1(-incrementTo(b));
        sums.evidence[k]! += weight + rest;
        sums.susceptible[k]! += weight;
        continue;
      }
      let before = 0;
      let mass = 0;
      for (let b = 0; b < count; b += 1) {
        const increment = incrementTo(b);
        mass -= segments[b]! * fastExp(-before) * fastExpm1(before - increment);
        before = increment;
        const asked = bounds.asked![b]!;
        if (asked >= 0) failing[offset + asked]! += earlier * weight * mass;
      }
      // The endless tail: whatever has not failed by the last bound fails later, or never, under the last weight.
      const ever = earlier * weight * (mass + segments[count]! * fastExp(-before));
      sums.evidence[k]! += ever + earlier * rest * outside;
      sums.susceptible[k]! += ever;
    }
  }
  for (let node = 0; node < failedDays.length; node += 1) {
    const weight = looks.length === 0 ? 1 : lookedAtFailed(failedDays[node]!, looks);
    for (let k = 0; k < lives.length; k += 1) {
      const there = failed[node * lives.length + k]!;
      sums.weight[k]! += there;
      sums.evidence[k]! += weight * there;
      sums.susceptible[k]! += weight * there;
      sums.already[k]! += weight * there;
    }
  }
  for (let k = 0; k < lives.length; k += 1)
    for (let b = 0; b < days.length; b += 1) failing[k * days.length + b]! += sums.already[k]!;
  return sums;
}

/**
 * Chance of having failed by each of `days` for a mixture of parts: sum of weighted failures over the sum of
 * weighted evidence, never a mean of chances (but over lives that stand apart, which are about all vehicles). A clean
 * look thins out the failures of its window, a worn one the rest; a look at an earlier part says that it found a sound
 * one sound. Days are day numbers, in any order, none before now.
 */
export const failedBy = (
  mixture: PartMixture,
  inspections: readonly Inspection[],
  nowDay: number,
  days: readonly number[],
): Failed => sumUp(mixture, inspections, nowDay, days).settle(mixture.apart);

/** The same for each life by itself where lives stand apart; else one entry for all of them. Weights sum to 1. */
export const failedByLife = (
  mixture: PartMixture,
  inspections: readonly Inspection[],
  nowDay: number,
  days: readonly number[],
): readonly LifeSays[] => sumUp(mixture, inspections, nowDay, days).byLife(mixture.apart);

/**
 * Weight of the looks where the part failed about `failedDay`: a look since then finds it with its detection, one
 * before found a sound one sound.
 */
function lookedAtFailed(failedDay: number, looks: readonly WeighedLook[]): number {
  let weight = 1;
  for (const { day, worn, falseAlarm, weights } of looks) {
    if (day >= failedDay) weight *= weights[0];
    else if (!worn) weight *= 1 - falseAlarm;
  }
  return weight;
}
