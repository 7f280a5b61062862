import type { PartMixture } from './mixture.ts';

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
