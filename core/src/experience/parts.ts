import { partDuty, type DutyFactors, type DutyProfile } from '../duty/duty.ts';
import { cumulativeHazard } from '../life/hazard.ts';
import { windowEnd, type ClockLife } from '../life/risk.ts';
import { customOf } from '../history/custom.ts';
import { livesOf, toldShape } from '../outlook/part.ts';
import type { FindingFact, Grade, ServiceFact, WeakPointFact } from '../outlook/types.ts';
import type { Clock, ClocksByKind } from '../usage/clock.ts';
import type { CleanLook, Observation } from './observation.ts';

/** One vehicle as the observations of one weak point are read off it. Days are day numbers. */
export interface WatchedVehicle {
  readonly clocks: ClocksByKind;
  readonly duty: DutyProfile;
  readonly features: Readonly<Record<string, boolean>>;
  readonly dutyFactors: DutyFactors;
  readonly severity: number;
  readonly services: readonly ServiceFact[];
  readonly findings: readonly FindingFact[];
  /** Day on which the vehicle (or the engine now fitted) was new. */
  readonly startDay: number;
  readonly fittedDay: number | null;
  /** Day on which it first came to this workshop: what happened before was seen by nobody here. */
  readonly firstSeenDay: number;
  /** Day of the last reading: until then it is known to have been running. */
  readonly lastSeenDay: number;
}

/**
 * One part that this workshop watched, as an observation on the life used, with what a person would want to see of it.
 */
export interface WatchedPart {
  readonly observation: Observation;
  readonly installDay: number;
  readonly endDay: number;
  /** The vehicle came in because of it: it would not have been seen otherwise, so it is listed but not counted. */
  readonly broughtIn: boolean;
}

/**
 * The original part is taken to be still in there at the first visit while this much of its told life, and of the
 * custom, was used.
 */
const STILL_ORIGINAL = { lifeUsed: 0.5, custom: 0.6 } as const;
/** A failure found this soon after a vehicle first came is what brought it. */
const BROUGHT_IN_DAYS = 14;

interface Episode {
  readonly from: number;
  readonly to: number;
  readonly grade: Grade;
}

/**
 * Parts whose age is known, from renewal to renewal. A part that may have been renewed unseen has no known age and is
 * left out, and so is a revised one.
 */
function episodes(weakPoint: WeakPointFact, vehicle: WatchedVehicle, usedAtFirstSight: number): Episode[] {
  const { fittedDay } = vehicle;
  const records = vehicle.services.filter(
    ({ componentKey, day }) =>
      componentKey === weakPoint.componentKey && (fittedDay === null || (day !== null && day >= fittedDay)),
  );
  const renewals = records
    .filter((record): record is ServiceFact & { day: number } => record.certainty === 'done' && record.day !== null)
    .sort((a, b) => a.day - b.day);
  const open = records.some(({ certainty }) => certainty === 'believed' || certainty === 'unknown');
  const toldOriginal = records.some(({ certainty }) => certainty === 'not_done');
  const ranAtFirstSight = (clock: Clock): number => clock.at(vehicle.firstSeenDay) - clock.at(vehicle.startDay);
  const young =
    usedAtFirstSight <= STILL_ORIGINAL.lifeUsed &&
    customOf(weakPoint.statements, null).every(
      ({ clock, at }) =>
        (vehicle.clocks[clock] ? ranAtFirstSight(vehicle.clocks[clock]) : 0) <= STILL_ORIGINAL.custom * at,
    );
  const starts = renewals.map(({ day, grade, revision }) => ({
    from: day,
    grade,
    revised: weakPoint.retiredByRevision !== null && revision === weakPoint.retiredByRevision,
  }));
  if (toldOriginal || (!open && young)) starts.unshift({ from: vehicle.startDay, grade: 'original', revised: false });
  return starts.flatMap(({ from, grade, revised }, i) =>
    revised ? [] : [{ from, grade, to: starts[i + 1]?.from ?? Math.max(vehicle.lastSeenDay, from) }],
  );
}

/**
 * Observations of one weak point on one vehicle, each part once: failed, found worn, renewed before
 * it failed, or still running. Earlier clean looks are weights. A part counts only from the reading
 * at which the vehicle first came (left truncation). The clock is the life used, u = H0^(1 /
 * published shape), which is 1 at the published scale, so that vehicles of different use can be
 * compared. The weak point must apply to the vehicle for certain.
 */
export function watchedParts(weakPoint: WeakPointFact, vehicle: WatchedVehicle): WatchedPart[] {
  const shape = toldShape(weakPoint);
  const duty = partDuty(weakPoint, vehicle, { factors: vehicle.dutyFactors, severity: vehicle.severity });
  const livesFor = (grade: Grade): ClockLife[] => livesOf(weakPoint, vehicle.clocks, duty, grade);
  const used = (lives: readonly ClockLife[], from: number, day: number): number =>
    lives.reduce(
      (sum, life) => sum + cumulativeHazard(life, life.duty * (life.clock.at(day) - life.clock.at(from))),
      0,
    ) **
    (1 / shape);
  const warning = (weakPoint.look?.warning ?? []).flatMap((span) =>
    vehicle.clocks[span.clock] ? [{ clock: vehicle.clocks[span.clock]!, length: span.from }] : [],
  );
  // A vehicle that broke before anybody here knew its history is listed all the same: as old as it is.
  const strangers = vehicle.findings.filter(
    ({ weakPointId, result, broughtIn }) => weakPointId === weakPoint.id && result === 'failed' && broughtIn,
  );
  const parts = episodes(
    weakPoint,
    vehicle,
    used(livesFor('original'), vehicle.startDay, vehicle.firstSeenDay),
  ).flatMap(({ from, to, grade }): WatchedPart[] => {
    const lives = livesFor(grade);
    const at = (day: number): number => used(lives, from, day);
    const findings = vehicle.findings
      .filter(
        ({ weakPointId, day, result }) =>
          weakPointId === weakPoint.id && day <= to && (day > from || (day === from && result === 'sound')),
      )
      .sort((a, b) => a.day - b.day);
    const failure = findings.find(({ result }) => result === 'failed');
    const looks: CleanLook[] =
      weakPoint.look === null
        ? []
        : findings
            .filter(({ result, day }) => result === 'sound' && (failure === undefined || day < failure.day))
            .map(({ day }) => ({
              at: at(day),
              detection: Math.min(0.99, weakPoint.look!.detection),
              warning: at(windowEnd({ day, warning }, lives)) - at(day),
            }));
    const entry = from >= vehicle.firstSeenDay ? 0 : at(vehicle.firstSeenDay);
    const last = findings.at(-1);
    const common = { entry, ...(looks.length > 0 ? { looks } : {}) };
    const part = (observation: Observation, endDay: number, broughtIn = false): WatchedPart[] => {
      const end = observation.kind === 'interval' ? observation.until : observation.at;
      // Watched for no time at all: it says nothing.
      return end > entry + 1e-9 || broughtIn ? [{ observation, installDay: from, endDay, broughtIn }] : [];
    };
    if (failure !== undefined) {
      const broughtIn = failure.broughtIn || failure.day <= vehicle.firstSeenDay + BROUGHT_IN_DAYS;
      if (failure.sinceDay !== null && failure.sinceDay > from && failure.sinceDay < failure.day) {
        return part(
          { kind: 'interval', at: Math.max(entry, at(failure.sinceDay)), until: at(failure.day), ...common },
          failure.day,
          broughtIn,
        );
      }
      return part({ kind: 'exact', at: at(failure.day), ...common }, failure.day, broughtIn);
    }
    if (last?.result === 'worn' && weakPoint.look !== null) {
      return part(
        {
          kind: 'worn',
          at: at(last.day),
          detection: Math.min(0.99, weakPoint.look.detection),
          warning: at(windowEnd({ day: last.day, warning }, lives)) - at(last.day),
          ...common,
        },
        last.day,
      );
    }
    return part({ kind: 'right', at: at(to), ...common }, to);
  });
  const listed = strangers
    .filter(({ day }) => !parts.some((part) => part.broughtIn && part.endDay === day))
    .map(({ day }): WatchedPart => ({
      observation: { kind: 'exact', at: used(livesFor('original'), vehicle.startDay, day) },
      installDay: vehicle.startDay,
      endDay: day,
      broughtIn: true,
    }));
  return [...listed, ...parts];
}
