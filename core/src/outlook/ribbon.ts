import { susceptibleGivenAlive } from '../life/hazard.ts';
import { bentHazard, type Inspection, type ModeLife } from '../life/risk.ts';
import { CLOCK_KINDS, type ClockKind } from '../usage/clock.ts';
import type { ClocksByKind } from '../schools/authorities.ts';
import { mixtureRisk, type PartNode, type PartState } from './part.ts';
import type { Ribbon } from './types.ts';

export const RIBBON = { horizonYears: 8, pastYears: 8, futureBins: 32, pastBins: 16 } as const;

/** A mixture is drawn with so many parts at most; the chance itself is computed with all of them. */
const DRAWN_NODES = 6;

type Readings = Partial<Record<ClockKind, Float64Array>>;

/** The days that every lane is computed on, with the readings of the vehicle's clocks on them, taken once for all lanes. */
export interface RibbonGrid {
  readonly nowDay: number;
  readonly serviceDays: number;
  /** Days ahead of now, ascending from 0, to the horizon and one service interval beyond. */
  readonly aheadDays: Float64Array;
  readonly ahead: Readings;
  /** First days of the past bins, and one service interval after each. */
  readonly pastDays: Float64Array;
  readonly past: Readings;
  readonly pastEnd: Readings;
  /** Edges of all bins, past and future; one more than there are bins. */
  readonly edges: readonly number[];
}

/** Lays the grid: `pastFromDay` is the first day shown. Days are day numbers. */
export function ribbonGrid(clocks: ClocksByKind, nowDay: number, pastFromDay: number, serviceDays: number): RibbonGrid {
  const horizon = RIBBON.horizonYears * 365.25;
  const steps = RIBBON.futureBins + 4;
  const aheadDays = Float64Array.from({ length: steps + 1 }, (_, i) => ((horizon + serviceDays) * i) / steps);
  const pastWidth = (nowDay - pastFromDay) / RIBBON.pastBins;
  const pastDays = Float64Array.from({ length: RIBBON.pastBins }, (_, i) => pastFromDay + i * pastWidth);
  const read = (days: Float64Array): Readings => Object.fromEntries(CLOCK_KINDS.flatMap((kind) => {
    const clock = clocks[kind];
    return clock ? [[kind, days.map((day) => clock.at(day))]] : [];
  }));
  return {
    nowDay, serviceDays, aheadDays, pastDays,
    ahead: read(aheadDays.map((ahead) => nowDay + ahead)),
    past: read(pastDays),
    pastEnd: read(pastDays.map((day) => day + serviceDays)),
    edges: [...pastDays, ...Array.from({ length: RIBBON.futureBins + 1 }, (_, i) => nowDay + (horizon * i) / RIBBON.futureBins)],
  };
}

/** Cumulative hazard of a part at every reading of the grid, into `into`. The inner loop of the outlook: no allocation, exp and log only. */
function hazardsAt(life: ModeLife, installDay: number, readings: Readings, into: Float64Array): void {
  into.fill(0);
  for (const clock of life.clocks) {
    const values = readings[clock.clock.kind]!;
    const start = clock.clock.at(installDay);
    const { shape, duty } = clock;
    const logScale = Math.log(clock.scale / duty);
    for (let i = 0; i < into.length; i += 1) {
      const run = values[i]! - start;
      if (run > 0) into[i]! += Math.exp(shape * (Math.log(run) - logScale));
    }
  }
  if (life.power !== 1 || life.factor !== 1) for (let i = 0; i < into.length; i += 1) into[i] = bentHazard(life, into[i]!);
}

/** Fewer parts for drawing: for each life the oldest stays, the others are joined by neighbours into parts at their mean day. */
function drawn(nodes: readonly PartNode[]): readonly PartNode[] {
  if (nodes.length <= DRAWN_NODES) return nodes;
  const joined: PartNode[] = [];
  for (const life of new Set(nodes.map((node) => node.life))) {
    const [first, ...rest] = nodes.filter((node) => node.life === life) as [PartNode, ...PartNode[]];
    const size = Math.ceil(rest.length / (DRAWN_NODES - 1));
    joined.push(first);
    for (let from = 0; from < rest.length; from += size) {
      let [susceptible, immune, moment] = [0, 0, 0];
      for (const node of rest.slice(from, from + size)) {
        susceptible += node.susceptible;
        immune += node.immune;
        moment += (node.susceptible + node.immune) * node.installDay;
      }
      joined.push({ installDay: moment / (susceptible + immune), susceptible, immune, life });
    }
  }
  return joined;
}

/** Largest chance of having failed that its logarithm is kept for. */
const MOST_FAILED = 1 - 1e-15;

/**
 * Logarithm of the chance of still running on each day ahead of the grid, seen from now; `applies` is the chance that the weak point is there at all.
 * Between grid days it is taken as linear, that is, the hazard as constant.
 */
export function runningLog(state: PartState, inspections: readonly Inspection[], grid: RibbonGrid, applies: number): Float64Array {
  const failed = failedBy(state, inspections, grid);
  return failed.map((chance) => Math.log1p(-Math.min(MOST_FAILED, applies * chance)));
}

function failedBy(state: PartState, inspections: readonly Inspection[], grid: RibbonGrid): Float64Array {
  const nodes = drawn(state.nodes);
  if (inspections.length > 0) return grid.aheadDays.map((ahead) => mixtureRisk(nodes, inspections, grid.nowDay, ahead).risk);
  const failed = new Float64Array(grid.aheadDays.length);
  const hazard = new Float64Array(grid.aheadDays.length);
  let total = 0;
  for (const node of nodes) {
    hazardsAt(node.life, node.installDay, grid.ahead, hazard);
    for (let i = 0; i < failed.length; i += 1) failed[i]! -= node.susceptible * Math.expm1(hazard[0]! - hazard[i]!);
    total += node.susceptible + node.immune;
  }
  for (let i = 0; i < failed.length; i += 1) failed[i]! /= total;
  return failed;
}

/** The same logarithm at any number of days ahead. */
function runningAt({ aheadDays }: RibbonGrid, running: Float64Array, ahead: number): number {
  const last = aheadDays.length - 1;
  if (ahead <= 0) return 0;
  const position = (ahead / aheadDays[last]!) * last;
  if (position >= last) return running[last]!;
  const i = Math.floor(position);
  return running[i]! + (position - i) * (running[i + 1]! - running[i]!);
}

/** Chance of failing within a service interval of a day ahead, given alive on that day. */
const chanceFrom = (grid: RibbonGrid, running: Float64Array, ahead: number): number =>
  -Math.expm1(runningAt(grid, running, ahead + grid.serviceDays) - runningAt(grid, running, ahead));

/** Days ahead at which the chance over one service interval first reaches `limit`; 0 when it has, null when it does not within the grid. */
export function crossing(grid: RibbonGrid, running: Float64Array, limit: number): number | null {
  const horizon = grid.aheadDays[grid.aheadDays.length - 1]! - grid.serviceDays;
  if (chanceFrom(grid, running, 0) >= limit) return 0;
  let low = 0;
  for (const high of grid.aheadDays) {
    if (high === 0) continue;
    if (high > horizon) return null;
    if (chanceFrom(grid, running, high) >= limit) {
      let [from, to] = [low, high];
      while (to - from > 1) {
        const middle = (from + to) / 2;
        if (chanceFrom(grid, running, middle) >= limit) to = middle;
        else from = middle;
      }
      return to;
    }
    low = high;
  }
  return null;
}

/** The chance as it stood on each past day: given alive then, and the looks made by then. Null before the first part that is known. */
function pastChances(state: PartState, share: number, inspections: readonly Inspection[], grid: RibbonGrid): (number | null)[] {
  const count = grid.pastDays.length;
  const nodes = drawn(state.nodes);
  const failing = new Float64Array(count);
  const total = new Float64Array(count);
  const [begin, end] = [new Float64Array(count), new Float64Array(count)];
  for (const node of nodes) {
    hazardsAt(node.life, node.installDay, grid.past, begin);
    hazardsAt(node.life, node.installDay, grid.pastEnd, end);
    for (let i = 0; i < count; i += 1) {
      if (node.installDay > grid.pastDays[i]!) continue;
      // As it stood then: survival between then and now is what we know today, not what was known on that day.
      const weight = node.susceptible + node.immune;
      const susceptible = susceptibleGivenAlive(share, begin[i]!);
      const seen = inspections.length === 0 ? inspections : inspections.filter(({ day }) => day <= grid.pastDays[i]!);
      failing[i]! += seen.length === 0
        ? -weight * susceptible * Math.expm1(begin[i]! - end[i]!)
        : weight * mixtureRisk([{ ...node, susceptible, immune: 1 - susceptible }], seen, grid.pastDays[i]!, grid.serviceDays).risk;
      total[i]! += weight;
    }
  }
  return Array.from(total, (weight, i) => (weight > 0 ? failing[i]! / weight : null));
}

/**
 * The ribbon of one lane over the grid's bins: past bins show the chance as it stood then, future bins the chance from there on and the mass of
 * failures expected in the bin, seen from now.
 */
export function ribbon(state: PartState, share: number, inspections: readonly Inspection[], grid: RibbonGrid, running: Float64Array): Ribbon {
  const past = pastChances(state, share, inspections, grid);
  const chance: (number | null)[] = [...past];
  const mass: number[] = past.map(() => 0);
  for (let i = RIBBON.pastBins; i < RIBBON.pastBins + RIBBON.futureBins; i += 1) {
    const [from, to] = [grid.edges[i]! - grid.nowDay, grid.edges[i + 1]! - grid.nowDay];
    chance.push(chanceFrom(grid, running, from));
    mass.push(Math.exp(runningAt(grid, running, from)) - Math.exp(runningAt(grid, running, to)));
  }
  return { chance, mass };
}
