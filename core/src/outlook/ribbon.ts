import { cumulativeHazard, hazardGrowth, hazardIncrement, susceptibleGivenAlive } from '../life/hazard.ts';
import { bentHazard, hazardSinceInstall, type Inspection } from '../life/risk.ts';
import { failedBy, type PartMixture } from './mixture.ts';
import type { Ribbon } from './types.ts';

export const RIBBON = { horizonYears: 8, pastYears: 8, futureBins: 32, pastBins: 16 } as const;

/** The days that every lane is computed on, taken once for all lanes. */
export interface RibbonGrid {
  readonly nowDay: number;
  readonly serviceDays: number;
  /** Days ahead of now, ascending from 0, to the horizon and one service interval beyond. */
  readonly aheadDays: Float64Array;
  /** First days of the past bins. */
  readonly pastDays: Float64Array;
  /** Edges of all bins, past and future; one more than there are bins. */
  readonly edges: readonly number[];
}

/** Lays the grid: `pastFromDay` is the first day shown. Days are day numbers. */
export function ribbonGrid(nowDay: number, pastFromDay: number, serviceDays: number): RibbonGrid {
  const horizon = RIBBON.horizonYears * 365.25;
  const steps = RIBBON.futureBins + 4;
  const pastWidth = (nowDay - pastFromDay) / RIBBON.pastBins;
  const pastDays = Float64Array.from({ length: RIBBON.pastBins }, (_, i) => pastFromDay + i * pastWidth);
  return {
    nowDay,
    serviceDays,
    pastDays,
    aheadDays: Float64Array.from({ length: steps + 1 }, (_, i) => ((horizon + serviceDays) * i) / steps),
    edges: [
      ...pastDays,
      ...Array.from({ length: RIBBON.futureBins + 1 }, (_, i) => nowDay + (horizon * i) / RIBBON.futureBins),
    ],
  };
}

/**
 * Beyond this chance of having failed the digits left say nothing; what still runs then is taken to go on as it did
 * before.
 */
const MOST_FAILED = 1 - 1e-9;

/** ln(1 - failed) on each day; where nothing to speak of still runs, the last hazard goes on. */
function logRunning(failed: readonly number[], applies: number): Float64Array {
  const log = new Float64Array(failed.length);
  failed.forEach((chance, i) => {
    const known = i < 2 || applies * chance < MOST_FAILED;
    log[i] = known ? Math.log1p(-Math.min(MOST_FAILED, applies * chance)) : 2 * log[i - 1]! - log[i - 2]!;
  });
  return log;
}

/**
 * The chance of still running on each day ahead of the grid, seen from now, as a logarithm: by life where lives stand
 * apart, else for all of them at once.
 */
export interface Running {
  readonly lives: readonly { readonly weight: number; readonly log: Float64Array }[];
}

/**
 * Lays out the chance of still running on each day ahead of the grid; `applies` is the chance that the weak point is
 * there at all. Between grid days its logarithm is taken as linear, that is, the hazard as constant.
 */
export function runningOn(
  thinned: PartMixture,
  inspections: readonly Inspection[],
  grid: RibbonGrid,
  applies: number,
): Running {
  const { lives } = failedBy(
    thinned,
    inspections,
    grid.nowDay,
    Array.from(grid.aheadDays, (ahead) => grid.nowDay + ahead),
  );
  return { lives: lives.map(({ weight, by }) => ({ weight, log: logRunning(by, applies) })) };
}

/** Chance of still running on the grid's day `at`, seen from now. */
export const runningChance = ({ lives }: Running, at: number): number =>
  lives.reduce((sum, { weight, log }) => sum + weight * Math.exp(log[at]!), 0);

/** The logarithm of one life at any number of days ahead. */
function logAt({ aheadDays }: RibbonGrid, log: Float64Array, ahead: number): number {
  const last = aheadDays.length - 1;
  if (ahead <= 0) return 0;
  const position = (ahead / aheadDays[last]!) * last;
  if (position >= last) return log[last]!;
  const i = Math.floor(position);
  return log[i]! + (position - i) * (log[i + 1]! - log[i]!);
}

/** Chance of failing within a service interval of a day ahead, given alive on that day. */
const chanceFrom = (grid: RibbonGrid, { lives }: Running, ahead: number): number =>
  lives.reduce(
    (sum, { weight, log }) =>
      sum - weight * Math.expm1(logAt(grid, log, ahead + grid.serviceDays) - logAt(grid, log, ahead)),
    0,
  );

/** Chance of failing between two days ahead, seen from now. */
const massBetween = (grid: RibbonGrid, { lives }: Running, from: number, to: number): number =>
  lives.reduce(
    (sum, { weight, log }) => sum + weight * (Math.exp(logAt(grid, log, from)) - Math.exp(logAt(grid, log, to))),
    0,
  );

/** Service intervals shorter than this are not walked one by one: a year at a time is close enough. */
const SHORT_INTERVAL = 180;
/**
 * Parts that the step with the crossing is then divided into; between two of them the chance is as good as straight.
 */
const CROSSING_PARTS = 4;

/**
 * Days ahead at which the chance over one service interval first reaches `limit`, to about a day; 0 when it has, null
 * when it does not within `years`. `susceptible` is P(susceptible | running): a chance never rises above it, so that
 * many need no looking for.
 */
export function crossing(
  thinned: PartMixture,
  inspections: readonly Inspection[],
  { nowDay, serviceDays }: Pick<RibbonGrid, 'nowDay' | 'serviceDays'>,
  applies: number,
  limit: number,
  susceptible: number,
  years: number = RIBBON.horizonYears,
): number | null {
  if (applies * susceptible < limit) return null;
  /**
   * Chances from `count` days on, `step` apart. Where the step is the interval itself, the end of one is the beginning
   * of the next.
   */
  const chances = (start: number, step: number, count: number): number[] => {
    const chained = step === serviceDays;
    const days: number[] = [];
    for (let i = 0; i < count; i += 1) {
      days.push(nowDay + start + i * step);
      if (!chained || i === count - 1) days.push(nowDay + start + i * step + serviceDays);
    }
    const { lives } = failedBy(thinned, inspections, nowDay, days);
    return Array.from({ length: count }, (_, i) =>
      lives.reduce((sum, { weight, by }) => {
        const [before, after] = chained ? [by[i]!, by[i + 1]!] : [by[2 * i]!, by[2 * i + 1]!];
        const running = 1 - applies * before;
        return sum + weight * (running <= 0 ? 1 : (applies * (after - before)) / running);
      }, 0),
    );
  };
  const step = serviceDays < SHORT_INTERVAL ? 365.25 : serviceDays;
  const coarse = chances(0, step, Math.floor((years * 365.25) / step) + 1);
  const first = coarse.findIndex((chance) => chance >= limit);
  if (first <= 0) return first === 0 ? 0 : null;
  const part = step / CROSSING_PARTS;
  const start = (first - 1) * step;
  const fine = [coarse[first - 1]!, ...chances(start + part, part, CROSSING_PARTS - 1), coarse[first]!];
  const next = fine.findIndex((chance, i) => i > 0 && chance >= limit);
  const [low, high] = [fine[next - 1]!, fine[next]!];
  return start + part * (next - 1 + (high > low ? (limit - low) / (high - low) : 1));
}

/**
 * The chance of failing within a service interval as it stood on one past day, without looks: over the parts that could
 * be in there by then. Null when none could.
 */
function chanceThen(
  { clocks, lives, installDays, susceptible, immune }: PartMixture,
  day: number,
  endDay: number,
): number | null {
  let [weights, failing] = [0, 0];
  for (let node = 0; node < installDays.length; node += 1) {
    if (installDays[node]! > day) continue;
    let [told, grown] = [0, 0];
    for (const life of clocks) {
      const now = life.clock.at(day);
      const run = life.duty * (now - life.clock.at(installDays[node]!));
      told += cumulativeHazard(life, run);
      grown += hazardIncrement(life, run, life.duty * (life.clock.at(endDay) - now));
    }
    for (let k = 0; k < lives.length; k += 1) {
      const life = lives[k]!;
      // As it stood then: survival between then and now is what we know today, not what was known on that day.
      const weight = susceptible[node * lives.length + k]! + immune[node * lives.length + k]!;
      const increment =
        life.power === 1
          ? life.factor * grown
          : told > 0
            ? bentHazard(life, told) * hazardGrowth(life.power, told, grown)
            : bentHazard(life, grown);
      weights += weight;
      failing -= weight * susceptibleGivenAlive(life.share, bentHazard(life, told)) * Math.expm1(-increment);
    }
  }
  return weights > 0 ? failing / weights : null;
}

/**
 * The chance as it stood on each past day: given alive then, and the looks made by then. Null before the first part
 * that is known.
 */
function pastChances(
  mixture: PartMixture,
  inspections: readonly Inspection[],
  { pastDays, serviceDays }: RibbonGrid,
): (number | null)[] {
  const { clocks, lives, apart, installDays } = mixture;
  return Array.from(pastDays, (day) => {
    const looks = inspections.filter((look) => look.day <= day);
    if (looks.length === 0) return chanceThen(mixture, day, day + serviceDays);
    const nodes = Array.from(installDays.keys()).filter((node) => installDays[node]! <= day);
    if (nodes.length === 0) return null;
    const [susceptible, immune] = [
      new Float64Array(nodes.length * lives.length),
      new Float64Array(nodes.length * lives.length),
    ];
    nodes.forEach((node, i) =>
      lives.forEach((life, k) => {
        const weight = mixture.susceptible[node * lives.length + k]! + mixture.immune[node * lives.length + k]!;
        const part = susceptibleGivenAlive(
          life.share,
          hazardSinceInstall({ clocks, power: life.power, factor: life.factor }, installDays[node]!, day),
        );
        susceptible[i * lives.length + k] = weight * part;
        immune[i * lives.length + k] = weight * (1 - part);
      }),
    );
    const then = {
      clocks,
      lives,
      apart,
      susceptible,
      immune,
      installDays: Float64Array.from(nodes, (node) => installDays[node]!),
    };
    return failedBy(then, looks, day, [day + serviceDays]).by[0]!;
  });
}

/**
 * The ribbon of one lane over the grid's bins: past bins show the chance as it stood then, future bins the chance from
 * there on and the mass of failures expected in the bin, seen from now.
 */
export function ribbon(
  thinned: PartMixture,
  inspections: readonly Inspection[],
  grid: RibbonGrid,
  running: Running,
): Ribbon {
  const past = pastChances(thinned, inspections, grid);
  const chance: (number | null)[] = [...past];
  const mass: number[] = past.map(() => 0);
  for (let i = RIBBON.pastBins; i < RIBBON.pastBins + RIBBON.futureBins; i += 1) {
    const [from, to] = [grid.edges[i]! - grid.nowDay, grid.edges[i + 1]! - grid.nowDay];
    chance.push(chanceFrom(grid, running, from));
    mass.push(massBetween(grid, running, from, to));
  }
  return { chance, mass };
}
