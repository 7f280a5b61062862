import { customOf } from '../history/custom.ts';
import { DAYS_PER_YEAR } from '../units/day.ts';
import { judge, VERDICTS, type RideFact } from '../verdict/verdict.ts';
import { FLEET_YEARS } from './grid.ts';
import type { RowWorkings } from './row.ts';

/** Share of its own minutes from which a job counts as laid open by another. */
const LAID_OPEN = 0.5;

const minutesOf = (operations: Iterable<{ readonly minutes: number }>): number =>
  [...operations].reduce((sum, { minutes }) => sum + minutes, 0);

/** Day on which a part renewed today customarily comes out again. */
const opensAgain = ({ weakPoint, question }: RowWorkings): number =>
  customOf(weakPoint.statements).reduce((first, { clock: kind, at }) => {
    const clock = question.clocks[kind];
    return clock ? Math.min(first, clock.dayOf(clock.at(question.today) + at)) : first;
  }, Infinity);

/**
 * Finds the renewal that lays most of a row's access open, and the minutes that the row adds to it;
 * null if none does.
 */
function rideOf(
  row: RowWorkings,
  jobs: readonly RowWorkings[],
): { readonly job: RowWorkings; readonly ride: RideFact } | null {
  const { weakPoint, due, question } = row;
  const others = jobs.filter((job) => job.weakPoint.componentKey !== weakPoint.componentKey);
  const open = new Set(others.flatMap((job) => job.weakPoint.access.map(({ key }) => key)));
  const shared = minutesOf(weakPoint.access.filter(({ key }) => open.has(key)));
  if (due === null || shared === 0 || shared < LAID_OPEN * minutesOf(weakPoint.access)) return null;
  const keys = new Set(weakPoint.access.map(({ key }) => key));
  const sharing = (job: RowWorkings): number => minutesOf(job.weakPoint.access.filter(({ key }) => keys.has(key)));
  const job = others.reduce((best, other) => (sharing(other) > sharing(best) ? other : best));
  // A list of vehicles knows no later dates, and must come to the same verdict.
  const horizon = question.today + FLEET_YEARS * DAYS_PER_YEAR;
  if (due.day > Math.min(horizon, opensAgain(job))) return null;
  const { id, title } = job.weakPoint;
  const alone = weakPoint.renewMinutes;
  return { job, ride: { weakPointId: id, title, minutes: Math.max(0, alone - shared), alone } };
}

/**
 * Rows of one vehicle with what goes along: where a renewal is asked for, whatever its teardown lays open and whose own
 * time would come before that access is open again rides along, by the table of verdicts, due with the job.
 */
export function withRides(rows: readonly RowWorkings[]): RowWorkings[] {
  const jobs = rows.filter(({ verdict }) => verdict === 'renew');
  if (jobs.length === 0) return [...rows];
  return rows.map((row) => {
    const found = rideOf(row, jobs);
    if (found === null) return row;
    const facts = { ...row.facts, ridesWith: found.ride };
    const { verdict, rule } = judge(facts);
    if (rule !== 'rides_along') return row;
    const pressing = row.rank - VERDICTS.indexOf(row.verdict);
    return { ...row, facts, verdict, rule, due: found.job.due, rank: VERDICTS.indexOf(verdict) + pressing };
  });
}
