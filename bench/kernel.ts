import { cumulativeHazard, fastExpm1, hazardGrowth, susceptibleGivenAlive, type WeibullLife } from '@crosspeen/core';

/** What one run of the kernel works on: parts on two clocks (km and days), each with one of a few lives. */
export interface KernelInput {
  readonly count: number;
  readonly lives: readonly { readonly distance: WeibullLife; readonly age: WeibullLife; readonly share: number }[];
  readonly km: Float64Array;
  readonly days: Float64Array;
  readonly stepKm: number;
  readonly stepDays: number;
}

/** A repeatable source of even numbers in (0, 1): the "minimal standard" generator of Park and Miller. */
export function evenNumbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 48_271) % 2_147_483_647;
    return state / 2_147_483_647;
  };
}

/** Made-up parts, the same in every language: the C program draws them with the same generator. */
export function kernelInput(count: number): KernelInput {
  const even = evenNumbers(20_261_124);
  const km = new Float64Array(count);
  const days = new Float64Array(count);
  for (let i = 0; i < count; i += 1) {
    km[i] = 1000 + 250_000 * even();
    days[i] = 100 + 7000 * even();
  }
  const lives = Array.from({ length: 20 }, (_, i) => ({
    distance: { shape: 2 + 0.15 * i, scale: 120_000 + 5000 * i },
    age: { shape: 3 + 0.1 * i, scale: 4000 + 120 * i },
    share: 0.1 + 0.04 * i,
  }));
  return { count, lives, km, days, stepKm: 15_000, stepDays: 365 };
}

/**
 * Chance of failing in the next step for every part, summed: the arithmetic of a fleet, with the core's own functions.
 */
export function runKernel({ count, lives, km, days, stepKm, stepDays }: KernelInput): number {
  let sum = 0;
  for (let i = 0; i < count; i += 1) {
    const life = lives[i % lives.length]!;
    const byDistance = cumulativeHazard(life.distance, km[i]!);
    const byAge = cumulativeHazard(life.age, days[i]!);
    const increment =
      byDistance * hazardGrowth(life.distance.shape, km[i]!, stepKm) +
      byAge * hazardGrowth(life.age.shape, days[i]!, stepDays);
    sum -= susceptibleGivenAlive(life.share, byDistance + byAge) * fastExpm1(-increment);
  }
  return sum;
}
