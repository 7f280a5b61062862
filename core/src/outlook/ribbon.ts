import type { ItemForecast } from '../forecast/forecast.ts';
import { cumulativeHazard, hazardGrowth, hazardIncrement, susceptibleGivenAlive } from '../life/hazard.ts';
import { bentHazard, hazardSinceInstall, type Inspection } from '../life/risk.ts';
import type { Grid } from './grid.ts';
import { failedBy, NONE_FAILED, type PartMixture } from './mixture.ts';
import type { Ribbon } from './types.ts';

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
  { pastDays, serviceDays }: Grid,
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
      ...NONE_FAILED,
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
  grid: Grid,
  { chance, failed }: Pick<ItemForecast, 'chance' | 'failed'>,
): Ribbon {
  const past = pastChances(thinned, inspections, grid);
  return {
    chance: [...past, ...chance.slice(0, -1)],
    mass: [...past.map(() => 0), ...failed.slice(1).map((by, i) => by - failed[i]!)],
  };
}
