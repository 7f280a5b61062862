import { DAYS_PER_YEAR } from '../units/day.ts';
import type { ClocksByKind } from '../usage/clock.ts';
import type { DamageFact, FindingFact, ServiceFact, WeakPointFact } from './types.ts';

/** Years within which harm comes where nobody says; it comes while the failure is driven with. */
const UNTOLD_YEARS = 0.5;

/** Harm that a failed neighbour does to a weak point: so much cumulative hazard, spread evenly over some days. */
export interface Harm {
  /** The neighbour. */
  readonly title: string;
  /** Day on which it failed, day on which the harm has come as far as it does, and day on which it was repaired. */
  readonly fromDay: number;
  readonly toDay: number;
  readonly repairedDay: number;
  /** -ln(1 - c), with the chance c that it takes the part along. */
  readonly hazard: number;
}

const lastOf = ({ within }: DamageFact, clocks: ClocksByKind, fromDay: number): number =>
  within.reduce((last, span) => {
    const clock = clocks[span.clock];
    return clock ? Math.min(last, clock.dayOf(clock.at(fromDay) + span.to)) : last;
  }, Infinity);

/** Day of the first renewal of a part since it failed; endless where there was none. */
const repairedSince = (componentKey: string, services: readonly ServiceFact[], day: number): number =>
  services.reduce(
    (first, service) =>
      service.componentKey === componentKey && service.certainty === 'done' && (service.day ?? -Infinity) >= day
        ? Math.min(first, service.day!)
        : first,
    Infinity,
  );

/**
 * What failed neighbours do to a weak point: one that failed with a chance c of taking it along within a distance or a
 * time carries the hazard -ln(1 - c), spread evenly from the failure on, until it is repaired.
 */
export function harmsTo(
  weakPoint: Pick<WeakPointFact, 'key'>,
  {
    weakPoints,
    findings,
    services,
    today,
  }: {
    readonly weakPoints: readonly WeakPointFact[];
    readonly findings: readonly FindingFact[];
    readonly services: readonly ServiceFact[];
    readonly today: number;
  },
  clocks: ClocksByKind,
): readonly Harm[] {
  return findings.flatMap(({ weakPointId, result, day }): Harm[] => {
    if (result !== 'failed' || day > today) return [];
    const cause = weakPoints.find(({ id }) => id === weakPointId);
    const damage = cause?.damages.find((one) => one.weakPoint === weakPoint.key);
    if (cause === undefined || damage === undefined || damage.chance <= 0) return [];
    const told = lastOf(damage, clocks, day);
    return [
      {
        title: cause.title,
        fromDay: day,
        toDay: Number.isFinite(told) && told > day ? told : day + UNTOLD_YEARS * DAYS_PER_YEAR,
        repairedDay: repairedSince(cause.componentKey, services, day),
        hazard: -Math.log1p(-Math.min(damage.chance, 0.999)),
      },
    ];
  });
}

/**
 * Chance that the harm has taken the part along by `day`, counted from `sinceDay` on. What came of it before a good
 * look, a renewal, or a failure that nobody would have missed does not count.
 */
export const harmedBy = (harms: readonly Harm[], sinceDay: number, day: number): number =>
  -Math.expm1(
    -harms.reduce((sum, { fromDay, toDay, repairedDay, hazard }) => {
      const days = Math.min(day, toDay, repairedDay) - Math.max(sinceDay, fromDay);
      return days > 0 ? sum + (hazard * days) / (toDay - fromDay) : sum;
    }, 0),
  );
