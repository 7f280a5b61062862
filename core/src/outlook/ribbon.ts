import { susceptibleGivenAlive } from '../life/hazard.ts';
import { hazardSinceInstall, type Inspection } from '../life/risk.ts';
import { mixtureRisk, type PartNode, type PartState } from './part.ts';
import type { RibbonBin } from './types.ts';

/** The future is computed on this grid; the chance between its points is interpolated in the cumulative hazard. */
export interface RibbonGrid {
  readonly nowDay: number;
  /** Days ahead of now, ascending from 0. */
  readonly aheadDays: readonly number[];
}

export const RIBBON = { horizonYears: 8, futureBins: 32, pastBins: 16 } as const;

/** Chance of having failed by each grid day, seen from now. */
export function failedBy(state: PartState, inspections: readonly Inspection[], grid: RibbonGrid): Float64Array {
  const failed = new Float64Array(grid.aheadDays.length);
  if (inspections.length > 0) {
    grid.aheadDays.forEach((ahead, i) => { failed[i] = mixtureRisk(state, inspections, grid.nowDay, ahead).risk; });
    return failed;
  }
  for (const node of state.nodes) {
    const before = hazardSinceInstall(state.lives, node.installDay, grid.nowDay);
    grid.aheadDays.forEach((ahead, i) => {
      failed[i]! -= node.susceptible * Math.expm1(before - hazardSinceInstall(state.lives, node.installDay, grid.nowDay + ahead));
    });
  }
  return failed;
}

/** Failed-by at any number of days ahead, linear in -ln(1 - F) between grid points. */
export function failedAt(grid: RibbonGrid, failed: Float64Array, ahead: number): number {
  const { aheadDays } = grid;
  const last = aheadDays.length - 1;
  if (ahead <= 0) return 0;
  if (ahead >= aheadDays[last]!) return failed[last]!;
  let i = 0;
  while (aheadDays[i + 1]! < ahead) i += 1;
  const part = (ahead - aheadDays[i]!) / (aheadDays[i + 1]! - aheadDays[i]!);
  const [a, b] = [Math.log1p(-failed[i]!), Math.log1p(-Math.min(failed[i + 1]!, 1 - 1e-15))];
  return -Math.expm1(a + part * (b - a));
}

/** Chance of failing within `serviceDays` of a day ahead, given alive on that day. */
export function chanceFrom(grid: RibbonGrid, failed: Float64Array, ahead: number, serviceDays: number): number {
  const start = failedAt(grid, failed, ahead);
  return start >= 1 ? 1 : (failedAt(grid, failed, ahead + serviceDays) - start) / (1 - start);
}

/** Days ahead at which the chance over one service interval first reaches `limit`; 0 when it has, null when it does not within the grid. */
export function crossing(grid: RibbonGrid, failed: Float64Array, limit: number, serviceDays: number): number | null {
  const horizon = grid.aheadDays[grid.aheadDays.length - 1]! - serviceDays;
  if (chanceFrom(grid, failed, 0, serviceDays) >= limit) return 0;
  let low = 0;
  for (const high of grid.aheadDays) {
    if (high === 0) continue;
    if (high > horizon) return null;
    if (chanceFrom(grid, failed, high, serviceDays) >= limit) {
      let [from, to] = [low, high];
      while (to - from > 1) {
        const middle = (from + to) / 2;
        if (chanceFrom(grid, failed, middle, serviceDays) >= limit) to = middle;
        else from = middle;
      }
      return to;
    }
    low = high;
  }
  return null;
}

/**
 * The ribbon of one lane: past bins show the chance as it stood then (given alive then and the looks made by then), future bins the chance
 * from there and the mass of failures expected in the bin.
 */
export function ribbon(state: PartState, share: number, inspections: readonly Inspection[], grid: RibbonGrid, failed: Float64Array, serviceDays: number, pastFromDay: number): RibbonBin[] {
  const bins: RibbonBin[] = [];
  const pastWidth = (grid.nowDay - pastFromDay) / RIBBON.pastBins;
  for (let i = 0; pastWidth > 0 && i < RIBBON.pastBins; i += 1) {
    const from = pastFromDay + i * pastWidth;
    const there = state.nodes.filter(({ installDay }) => installDay <= from).map((node): PartNode => {
      // As it stood then: survival between then and now is what we know today, not what was known on that day.
      const weight = node.susceptible + node.immune;
      const susceptible = susceptibleGivenAlive(share, hazardSinceInstall(state.lives, node.installDay, from));
      return { installDay: node.installDay, susceptible: weight * susceptible, immune: weight * (1 - susceptible) };
    });
    if (there.length === 0) continue;
    const chance = mixtureRisk({ nodes: there, lives: state.lives }, inspections.filter(({ day }) => day <= from), from, serviceDays).risk;
    bins.push({ fromDay: from, toDay: from + pastWidth, chance, mass: 0 });
  }
  const futureEnd = grid.nowDay + RIBBON.horizonYears * 365.25;
  const width = (futureEnd - grid.nowDay) / RIBBON.futureBins;
  for (let i = 0; i < RIBBON.futureBins; i += 1) {
    const ahead = i * width;
    bins.push({
      fromDay: grid.nowDay + ahead,
      toDay: grid.nowDay + ahead + width,
      chance: chanceFrom(grid, failed, ahead, serviceDays),
      mass: failedAt(grid, failed, ahead + width) - failedAt(grid, failed, ahead),
    });
  }
  return bins;
}
