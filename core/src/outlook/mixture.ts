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

const [NOW, AHEAD, TOLD, GROWN, SEGMENTS] = [
  new Scratch(),
  new Scratch(),
  new Scratch(),
  new Scratch(),
  new Scratch(),
] as const;

/** Result for one life, or for all lives weighed together. */
export interface LifeSays {
  readonly weight: number;
  /** Chance of having failed by each day, given the looks: it has failed already, or does so by then. */
  readonly by: readonly number[];
  /** Chance of having failed already. */
  readonly now: number;
}

interface Failed {
  /** Chance of having failed by each day, given the looks: it has failed already, or does so by then. */
  readonly by: readonly number[];
  /** Chance of having failed already and still being in there; 0 where a record says what is in there. */
  readonly now: number;
  /** P(susceptible | looks). */
  readonly susceptible: number;
}

const [WEIGHT, EVIDENCE, SUSCEPTIBLE, ALREADY, FAILING] = [
  new Scratch(),
  new Scratch(),
  new Scratch(),
  new Scratch(),
  new Scratch(),
] as const;

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
    this.weight = WEIGHT.takeEmpty(lives);
    this.evidence = EVIDENCE.takeEmpty(lives);
    this.susceptible = SUSCEPTIBLE.takeEmpty(lives);
    this.already = ALREADY.takeEmpty(lives);
    this.failing = FAILING.takeEmpty(lives * days);
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
  const now = NOW.take(clocks.length);
  const ahead = AHEAD.take(clocks.length * count);
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
  const told = TOLD.take(count);
  const grown = GROWN.take(count);
  const segments = SEGMENTS.take(count + 1);
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

/**
 * A ribbon is drawn, and due dates are looked for, with so many installations at most; the chance itself is computed
 * with all of them.
 */
const MOST_NODES = 5;

/** And with lives of at least this weight. */
const LEAST_LIFE = 0.05;

/** The lives that weigh something, their weights brought back to 1. */
function likelyLives(mixture: PartMixture): PartMixture {
  const { lives, installDays, susceptible, immune, failedDays, failed } = mixture;
  const weights = new Array<number>(lives.length).fill(0);
  for (let at = 0; at < susceptible.length; at += 1) weights[at % lives.length]! += susceptible[at]! + immune[at]!;
  for (let at = 0; at < failed.length; at += 1) weights[at % lives.length]! += failed[at]!;
  const kept = weights.flatMap((weight, k) => (weight >= LEAST_LIFE ? [k] : []));
  if (kept.length === lives.length || kept.length === 0) return mixture;
  const scale = 1 / kept.reduce((sum, k) => sum + weights[k]!, 0);
  const [likelySusceptible, likelyImmune] = [
    new Float64Array(installDays.length * kept.length),
    new Float64Array(installDays.length * kept.length),
  ];
  for (let node = 0; node < installDays.length; node += 1) {
    for (let i = 0; i < kept.length; i += 1) {
      likelySusceptible[node * kept.length + i] = scale * susceptible[node * lives.length + kept[i]!]!;
      likelyImmune[node * kept.length + i] = scale * immune[node * lives.length + kept[i]!]!;
    }
  }
  const likelyFailed = Float64Array.from(
    { length: failedDays.length * kept.length },
    (_, at) => scale * failed[Math.floor(at / kept.length) * lives.length + kept[at % kept.length]!]!,
  );
  return {
    ...mixture,
    lives: kept.map((k) => lives[k]!),
    susceptible: likelySusceptible,
    immune: likelyImmune,
    failed: likelyFailed,
  };
}

/** Fewer installations and lives: the oldest stays, the others are joined by neighbours at their mean day. */
export function thinnedMixture(whole: PartMixture): PartMixture {
  const mixture = likelyLives(whole);
  const { lives, installDays, susceptible, immune } = mixture;
  if (installDays.length <= MOST_NODES) return mixture;
  const size = Math.ceil((installDays.length - 1) / (MOST_NODES - 1));
  const groups: [from: number, to: number][] = [[0, 1]];
  for (let from = 1; from < installDays.length; from += size)
    groups.push([from, Math.min(installDays.length, from + size)]);
  const days = new Float64Array(groups.length);
  const [joinedSusceptible, joinedImmune] = [
    new Float64Array(groups.length * lives.length),
    new Float64Array(groups.length * lives.length),
  ];
  groups.forEach(([from, to], g) => {
    let [moment, weight] = [0, 0];
    for (let node = from; node < to; node += 1) {
      for (let k = 0; k < lives.length; k += 1) {
        const at = node * lives.length + k;
        joinedSusceptible[g * lives.length + k]! += susceptible[at]!;
        joinedImmune[g * lives.length + k]! += immune[at]!;
        moment += (susceptible[at]! + immune[at]!) * installDays[node]!;
        weight += susceptible[at]! + immune[at]!;
      }
    }
    days[g] = weight > 0 ? moment / weight : installDays[from]!;
  });
  return { ...mixture, installDays: days, susceptible: joinedSusceptible, immune: joinedImmune };
}
