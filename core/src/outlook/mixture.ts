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

function boundsOf(days: readonly number[], ends: readonly number[], nowDay: number): Bounds {
  // Without looks nothing depends on the order, and every bound is a day that was asked for.
  if (ends.length === 0) return { days, asked: null };
  const all = days.map((day, i) => ({ day, asked: i }));
  for (const end of new Set(ends)) if (end > nowDay && Number.isFinite(end)) all.push({ day: end, asked: -1 });
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
  /** The same by life, where lives stand apart; else one entry for all of them. Weights sum to 1. */
  readonly lives: readonly LifeSays[];
}

/**
 * Sums of one life over the installations: weight as it was given, probability of the looks, and of those still
 * susceptible.
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
    [this.weight, this.evidence, this.susceptible, this.already] = [
      new Float64Array(lives),
      new Float64Array(lives),
      new Float64Array(lives),
      new Float64Array(lives),
    ];
    this.failing = new Float64Array(lives * days);
  }

  private total(of: Float64Array): number {
    return of.reduce((sum, value) => sum + value, 0);
  }

  /**
   * Sum of weighted failures over the sum of weighted evidence: by life where lives stand `apart`, else over all of
   * them at once.
   */
  settle(apart: boolean): Failed {
    if (!apart || this.lives === 1) {
      const evidence = this.total(this.evidence);
      const by = Array.from({ length: this.days }, (_, i) => {
        let failing = 0;
        for (let k = 0; k < this.lives; k += 1) failing += this.failing[k * this.days + i]!;
        return failing / evidence;
      });
      const now = this.total(this.already) / evidence;
      return { by, now, susceptible: this.total(this.susceptible) / evidence, lives: [{ weight: 1, by, now }] };
    }
    const whole = this.total(this.weight.filter((_, k) => this.evidence[k]! > 0));
    const by = new Array<number>(this.days).fill(0);
    let [susceptible, already] = [0, 0];
    const lives: LifeSays[] = [];
    for (let k = 0; k < this.lives; k += 1) {
      const evidence = this.evidence[k]!;
      if (evidence <= 0) continue;
      const weight = this.weight[k]! / whole;
      const failingOfLife = Array.from({ length: this.days }, (_, i) => this.failing[k * this.days + i]! / evidence);
      failingOfLife.forEach((chance, i) => {
        by[i]! += weight * chance;
      });
      susceptible += weight * (this.susceptible[k]! / evidence);
      const now = this.already[k]! / evidence;
      already += weight * now;
      lives.push({ weight, by: failingOfLife, now });
    }
    return { by, now: already, susceptible, lives };
  }
}

/**
 * Chance of having failed by each of `days` for a mixture of parts: sum of weighted failures over the sum of
 * weighted evidence, never a mean of chances (but over lives that stand apart, which are about all vehicles). A clean
 * look thins out the failures of its window, a worn one the rest; a look at an earlier part says that it found a sound
 * one sound. Days are day numbers, in any order, none before now. The inner work of the outlook: told hazards once an
 * installation, one exponential a life and day.
 */
export function failedBy(
  { clocks, lives, apart, installDays, susceptible, immune, failedDays, failed }: PartMixture,
  inspections: readonly Inspection[],
  nowDay: number,
  days: readonly number[],
): Failed {
  const looks =
    inspections.length === 0
      ? []
      : inspections.map((inspection) => ({
          ...inspection,
          end: windowEnd(inspection, clocks),
          weights: lookWeights(inspection),
        }));
  const bounds = boundsOf(
    days,
    looks.map(({ end }) => end),
    nowDay,
  );
  const count = bounds.days.length;
  const now = NOW.take(clocks.length);
  const ahead = AHEAD.take(clocks.length * count);
  for (let c = 0; c < clocks.length; c += 1) {
    const { clock, duty } = clocks[c]!;
    now[c] = clock.at(nowDay);
    for (let b = 0; b < count; b += 1) ahead[c * count + b] = duty * (clock.at(bounds.days[b]!) - now[c]!);
  }
  const sums = new Sums(lives.length, days.length);
  const { failing } = sums;
  const [told, grown, segments] = [TOLD.take(count), GROWN.take(count), SEGMENTS.take(count + 1)];
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
    let earlier = 1;
    let outside = 1;
    if (looks.length > 0) {
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
        for (let b = 0; b <= count; b += 1)
          segments[b]! *= end > (b === 0 ? nowDay : bounds.days[b - 1]!) ? seen : unseen;
      }
    }
    for (let k = 0; k < lives.length; k += 1) {
      const at = node * lives.length + k;
      const [weight, rest] = [susceptible[at]!, immune[at]!];
      if (weight + rest <= 0) continue;
      sums.weight[k]! += weight + rest;
      const offset = k * days.length;
      const { power, factor } = lives[k]!;
      const straight = power === 1;
      const base = factor * fastExp(power * logHazard);
      if (looks.length === 0) {
        for (let b = 0; b < count; b += 1) {
          const increment = straight
            ? factor * told[b]!
            : hazard > 0
              ? base * fastExpm1(power * grown[b]!)
              : factor * fastExp(power * grown[b]!);
          failing[offset + b]! -= weight * fastExpm1(-increment);
        }
        sums.evidence[k]! += weight + rest;
        sums.susceptible[k]! += weight;
        continue;
      }
      let before = 0;
      let mass = 0;
      for (let b = 0; b < count; b += 1) {
        const increment = straight
          ? factor * told[b]!
          : hazard > 0
            ? base * fastExpm1(power * grown[b]!)
            : factor * fastExp(power * grown[b]!);
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
    const weight = lookedAtFailed(failedDays[node]!, looks);
    for (let k = 0; k < lives.length; k += 1) {
      const there = failed[node * lives.length + k]!;
      sums.weight[k]! += there;
      sums.evidence[k]! += weight * there;
      sums.susceptible[k]! += weight * there;
      sums.already[k]! += weight * there;
      for (let b = 0; b < days.length; b += 1) failing[k * days.length + b]! += weight * there;
    }
  }
  return sums.settle(apart);
}

/**
 * Weight of the looks where the part failed about `failedDay`: a look since then finds it with its detection, one
 * before found a sound one sound.
 */
function lookedAtFailed(
  failedDay: number,
  looks: readonly (Inspection & { readonly weights: readonly [inside: number, outside: number] })[],
): number {
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
