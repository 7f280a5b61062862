import type { ClocksByKind } from '../usage/clock.ts';
import type { ClockDuty } from '../duty/duty.ts';
import { failedBy, NONE_FAILED, type PartMixture } from './mixture.ts';
import { livesOf } from './part.ts';
import type { WeakPointFact } from './types.ts';

/**
 * Chance that a part put in new today has failed by each of `days` (day numbers, none before `nowDay`). It is an
 * original of the latest revision, so that it never fails where a revision ended the weak point. Susceptibility belongs
 * to the vehicle: a defect that has faded until now, to `susceptible` of P(susceptible | running, looks), stays faded.
 */
export function failedOnceRenewed(
  weakPoint: WeakPointFact,
  now: { readonly mixture: PartMixture; readonly susceptible: number },
  { clocks, duty }: { readonly clocks: ClocksByKind; readonly duty: ClockDuty },
  { nowDay, days }: { readonly nowDay: number; readonly days: readonly number[] },
): readonly number[] {
  if (weakPoint.retiredByRevision !== null) return days.map(() => 0);
  const { mixture, susceptible } = now;
  const count = mixture.lives.length;
  const [prone, all] = [new Float64Array(count), new Float64Array(count)];
  mixture.susceptible.forEach((weight, at) => {
    prone[at % count]! += weight;
    all[at % count]! += weight + mixture.immune[at]!;
  });
  mixture.failed.forEach((weight, at) => {
    prone[at % count]! += weight;
    all[at % count]! += weight;
  });
  const before = prone.reduce((sum, weight) => sum + weight, 0);
  const faded = prone.map((weight) => (before > 0 ? (weight * susceptible) / before : 0));
  return failedBy(
    {
      clocks: livesOf(weakPoint, clocks, duty, 'original'),
      lives: mixture.lives,
      apart: mixture.apart,
      installDays: Float64Array.of(nowDay),
      ...NONE_FAILED,
      susceptible: faded,
      immune: all.map((weight, k) => Math.max(0, weight - faded[k]!)),
    },
    [],
    nowDay,
    days,
  ).by;
}
