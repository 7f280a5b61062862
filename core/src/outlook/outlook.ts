import { appliesHere } from './applies.ts';
import { DAYS_PER_YEAR } from '../units/day.ts';
import { averageSpeedKmh } from '../duty/duty.ts';
import { ageClock, distanceClock, hoursFromDistance, type ClocksByKind } from '../usage/clock.ts';
import { neglectsOf, upkeepRows, type UpkeepRow } from '../upkeep/tasks.ts';
import { distanceAtDay, type UsagePath } from '../usage/path.ts';
import { FLEET_YEARS, layGrid, RIBBON } from './grid.ts';
import { judgeRow, whenOn, type JudgedRow, type RowWorkings } from './row.ts';
import type { Frame } from './row-ground.ts';
import { drawnRow, shownRow } from './shown-row.ts';
import { withRides } from './rides.ts';
import type { Drawing, ExcludedRow, Outlook, OutlookInput, OutlookPolicy, ReportFact, WeakPointFact } from './types.ts';

/** The version of the computation: stored beside every stored result. */
export const MODEL_VERSION = 11;

/** Days until the next service from `day`: the interval in km through the forecast, or in days, whichever first. */
export function daysToService(
  path: UsagePath,
  policy: Pick<OutlookPolicy, 'serviceKm' | 'serviceDays'>,
  day: number,
): number {
  const clock = distanceClock(path);
  return Math.max(1, Math.min(policy.serviceDays, clock.dayOf(clock.at(day) + policy.serviceKm) - day));
}

/** The clocks of a path: distance, age, and engine hours reckoned from distance at the average speed of this use. */
export const clocksOf = (path: UsagePath, speedKmh: number): ClocksByKind => ({
  distance: distanceClock(path),
  age: ageClock,
  hours: hoursFromDistance(path, speedKmh),
});

/**
 * Shared inputs of the rows of one vehicle, computed once: for its own parts and for those of the
 * engine now fitted.
 */
export interface Frames {
  readonly vehicle: Frame;
  readonly engine: Frame;
  readonly upkeep: readonly UpkeepRow[];
}

/** Lays the frames of a vehicle. */
export function framesOf({
  today,
  path,
  engine,
  policy,
  duty,
  tasks,
  upkeep,
  facts,
}: Pick<OutlookInput, 'today' | 'path' | 'engine' | 'policy' | 'duty' | 'tasks' | 'upkeep' | 'facts'>): Frames {
  const serviceDays = daysToService(path, policy, today);
  const kmAtDay = (day: number): number => distanceAtDay(path, day);
  const pastFromDay = Math.max(path.startDay, today - RIBBON.pastYears * DAYS_PER_YEAR);
  const speed = averageSpeedKmh(duty);
  const [own, fittedDay] = engine === null ? [path, null] : [engine.path, engine.fittedDay];
  const clocks = clocksOf(own, speed);
  const rows = upkeepRows({
    tasks,
    done: upkeep,
    facts,
    clocks,
    startDay: own.startDay,
    fittedDay,
    today,
    serviceDays,
    kmAtDay,
  });
  const neglects = neglectsOf(rows);
  const grid = layGrid(today, pastFromDay, serviceDays);
  const ofEngine: Frame = { clocks, path: own, fittedDay, kmAtDay, neglects, grid };
  const ofVehicle = engine === null ? ofEngine : { ...ofEngine, clocks: clocksOf(path, speed), path, fittedDay: null };
  return { vehicle: ofVehicle, engine: ofEngine, upkeep: rows };
}

export const frameFor = (
  weakPoint: Pick<WeakPointFact, 'fittedTo'>,
  frames: Pick<Frames, 'vehicle' | 'engine'>,
): Frame => frames[weakPoint.fittedTo];

/** Complaints that hold the whole vehicle, whatever its parts come to. */
const holdsOf = ({ reports = [] }: Pick<OutlookInput, 'reports'>): readonly ReportFact[] =>
  reports.filter(({ stop }) => stop !== null);

/** Judgement of a vehicle for the fleet: the rows of its weak points, and its upkeep. */
export interface JudgedVehicle {
  readonly rows: readonly JudgedRow[];
  /** Complaints that hold the vehicle until they are solved or withdrawn. */
  readonly holds: readonly ReportFact[];
  readonly upkeep: readonly UpkeepRow[];
}

/**
 * Judges every weak point that applies, worst first, without what is only drawn: what a whole fleet is judged with. The
 * rows are those of `outlook`, save that what comes due only after FLEET_YEARS has no date.
 */
export function judgeVehicle(input: OutlookInput): JudgedVehicle {
  const frames = framesOf(input);
  const rows: RowWorkings[] = [];
  for (const weakPoint of input.weakPoints) {
    const frame = frameFor(weakPoint, frames);
    const applies = appliesHere(weakPoint, input, frame.fittedDay);
    if (applies.applies !== 'no')
      rows.push(judgeRow({ weakPoint, appliesWeight: applies.weight }, input, frame, FLEET_YEARS));
  }
  const last = input.today + FLEET_YEARS * DAYS_PER_YEAR;
  return {
    rows: withRides(rows)
      .map((row) => (row.due !== null && row.due.day > last ? { ...row, due: null } : row))
      .sort((a, b) => a.rank - b.rank || a.weakPoint.title.localeCompare(b.weakPoint.title)),
    holds: holdsOf(input),
    upkeep: frames.upkeep,
  };
}

/**
 * The answer for one vehicle: every weak point that applies with its verdict, reason, chance and due date, worst first,
 * and those that do not apply with why; where it is `drawn`, its ribbons and its forecast too. Pure: the day, the path
 * and all records are passed in. Days are day numbers, distances km.
 */
export function outlook(input: OutlookInput, { drawn = false }: { readonly drawn?: boolean } = {}): Outlook {
  const { today, path } = input;
  const frames = framesOf(input);
  const judged: { readonly workings: RowWorkings; readonly settle: string | null }[] = [];
  const excluded: ExcludedRow[] = [];
  for (const weakPoint of input.weakPoints) {
    const frame = frameFor(weakPoint, frames);
    const applies = appliesHere(weakPoint, input, frame.fittedDay);
    if (applies.applies === 'no') {
      const { id, key, title, component, group } = weakPoint;
      excluded.push({ weakPoint: { id, key, title, component, group }, because: applies.because });
    } else {
      const workings = judgeRow({ weakPoint, appliesWeight: applies.weight }, input, frame);
      judged.push({ workings, settle: applies.applies === 'maybe' ? applies.settle : null });
    }
  }
  const rows = withRides(judged.map(({ workings }) => workings)).map((workings, i) => ({
    workings,
    shown: shownRow(workings, judged[i]!.settle),
  }));
  rows.sort(({ shown: a }, { shown: b }) => a.rank - b.rank || a.weakPoint.title.localeCompare(b.weakPoint.title));
  const { serviceDays } = frames.vehicle.grid;
  return {
    rows: rows.map(({ shown }) => shown),
    excluded,
    holds: holdsOf(input),
    upkeep: frames.upkeep,
    now: whenOn(path, today),
    nextService: whenOn(path, today + serviceDays),
    drawing: drawn
      ? drawingOf(
          rows.map(({ workings }) => workings),
          frames,
        )
      : null,
  };
}

function drawingOf(rows: readonly RowWorkings[], frames: Frames): Drawing {
  const { edges, aheadDays, nowDay, serviceDays } = frames.vehicle.grid;
  const drawn = rows.map((row) => ({ row, ...drawnRow(row, frameFor(row.weakPoint, frames)) }));
  return {
    edges,
    ribbons: drawn.map(({ row, ribbon }) => ({ weakPointId: row.weakPoint.id, ...ribbon })),
    forecast: {
      nowDay,
      serviceDays,
      ahead: Array.from(aheadDays.subarray(0, RIBBON.futureBins + 1)),
      items: drawn.map(({ forecast }) => forecast),
    },
  };
}
