import { givesWay, RIDES_ALONG } from '../decision/decide.ts';
import type { RideFact } from '../decision/facts.ts';
import { VERDICTS } from '../decision/kinds.ts';
import { customOf } from '../history/custom.ts';
import { failureCost, KEPT_DAYS, renewalCost } from '../money/failure.ts';
import { labourCost } from '../money/labour.ts';
import { failedBy } from './mixture.ts';
import type { RowWorkings } from './row.ts';

/** Share of its own minutes from which a job counts as laid open by another. */
const LAID_OPEN = 0.5;
/** Part of its custom before which what was renewed stays where it is. */
const YOUNG = 0.25;
/** Days before a job at which a look is made by itself rather than waiting for it. */
const LOOK_FIRST_DAYS = 60;

const minutesOf = (operations: Iterable<{ readonly minutes: number }>): number =>
  [...operations].reduce((sum, { minutes }) => sum + minutes, 0);

const goesWith = ({ weakPoint }: RowWorkings, { weakPoint: { componentKey } }: RowWorkings): boolean =>
  weakPoint.goesWith?.includes(componentKey) ?? false;

/** True where a record says that it was renewed less than a quarter of its custom before the job, else of the job's. */
function isYoung({ weakPoint, question, state }: RowWorkings, job: RowWorkings): boolean {
  const [install] = state.installs;
  if (install!.certainty !== 'done') return false;
  const own = customOf(weakPoint.statements, question.market);
  const day = Math.max(question.today, job.due?.day ?? question.today);
  return (own.length > 0 ? own : customOf(job.weakPoint.statements, question.market)).every(({ clock: kind, at }) => {
    const clock = question.clocks[kind];
    return clock === undefined || clock.at(day) - clock.at(install!.day) < YOUNG * at;
  });
}

/** Day on which a part renewed today customarily comes out again. */
const opensAgain = ({ weakPoint, question }: RowWorkings): number =>
  customOf(weakPoint.statements, question.market).reduce((first, { clock: kind, at }) => {
    const clock = question.clocks[kind];
    return clock ? Math.min(first, clock.dayOf(clock.at(question.today) + at)) : first;
  }, Infinity);

/**
 * Expected cost of leaving it until it fails, or of renewing it by itself on its own day, whichever is less; until the
 * job comes again or the vehicle is given away.
 */
function aloneCost({ weakPoint, question, appliesWeight, thinned, looks, due }: RowWorkings, job: RowWorkings): number {
  const { today, policy } = question;
  const until = Math.min(today + KEPT_DAYS, opensAgain(job));
  const planned = renewalCost(weakPoint, policy);
  const failing = appliesWeight * failedBy(thinned(), looks, today, [until]).by[0]!;
  const left = failing * (planned + failureCost(weakPoint, policy));
  return due !== null && due.day <= until ? Math.min(planned, left) : left;
}

/** Finds the job that a row goes along with, the minutes that it adds and what that saves; null if none does. */
function rideOf(
  row: RowWorkings,
  jobs: readonly RowWorkings[],
): { readonly job: RowWorkings; readonly ride: RideFact } | null {
  const { weakPoint, question } = row;
  const alone = weakPoint.renewMinutes;
  const fact = (job: RowWorkings, more: Pick<RideFact, 'minutes' | 'saves' | 'because'>) => ({
    job,
    ride: {
      weakPointId: job.weakPoint.id,
      title: more.because === 'same_part' ? job.weakPoint.title : job.weakPoint.component,
      alone,
      partPrice: weakPoint.partPrice,
      ...more,
    },
  });
  const same = jobs.find((job) => job.weakPoint.componentKey === weakPoint.componentKey);
  if (same !== undefined)
    return row.verdict === 'behind_it' ? null : fact(same, { minutes: 0, saves: null, because: 'same_part' });
  const open = new Set(jobs.flatMap((job) => job.weakPoint.access.map(({ key }) => key)));
  const shared = minutesOf(weakPoint.access.filter(({ key }) => open.has(key)));
  const minutes = Math.max(0, alone - shared);
  const named = jobs.find((job) => goesWith(job, row));
  if (named !== undefined) return isYoung(row, named) ? null : fact(named, { minutes, saves: null, because: 'named' });
  if (shared === 0 || shared < LAID_OPEN * minutesOf(weakPoint.access)) return null;
  if (row.verdict === 'behind_it' || weakPoint.watch !== null) return null;
  const keys = new Set(weakPoint.access.map(({ key }) => key));
  const sharing = (job: RowWorkings): number => minutesOf(job.weakPoint.access.filter(({ key }) => keys.has(key)));
  const job = jobs.reduce((best, other) => (sharing(other) > sharing(best) ? other : best));
  if (isYoung(row, job)) return null;
  const beside = labourCost(minutes, question.policy.labourCostPerHour) + (weakPoint.partPrice ?? 0);
  const saves = aloneCost(row, job) - beside;
  return saves > 0 ? fact(job, { minutes, saves, because: 'cheaper' }) : null;
}

/** The ride of what something names as new that itself only goes along: with the job behind both. */
function broughtBy(
  row: RowWorkings,
  brought: RowWorkings,
  jobs: readonly RowWorkings[],
): { readonly job: RowWorkings; readonly ride: RideFact } {
  const job = jobs.find(({ weakPoint }) => weakPoint.id === brought.facts.ridesWith!.weakPointId)!;
  const open = new Set([...jobs, brought].flatMap(({ weakPoint }) => weakPoint.access.map(({ key }) => key)));
  const { access, renewMinutes, partPrice } = row.weakPoint;
  const minutes = Math.max(0, renewMinutes - minutesOf(access.filter(({ key }) => open.has(key))));
  const { id, component: title } = job.weakPoint;
  return {
    job,
    ride: { weakPointId: id, title, minutes, alone: renewMinutes, partPrice, saves: null, because: 'named' },
  };
}

/** A look that is due well before the job is made then. */
const looksFirst = ({ verdict, due }: RowWorkings, job: RowWorkings): boolean =>
  verdict === 'look' && due !== null && job.due !== null && due.day < job.due.day - LOOK_FIRST_DAYS;

/**
 * Rows of one vehicle with what goes along: where a renewal is asked for, whatever it names as new, and whatever costs
 * less beside it than by itself, rides along and is due with it.
 */
export function withRides(rows: readonly RowWorkings[]): RowWorkings[] {
  const jobs = rows
    .filter(({ verdict }) => verdict === 'renew' || verdict === 'hold')
    .sort((a, b) => (a.due?.day ?? Infinity) - (b.due?.day ?? Infinity));
  if (jobs.length === 0) return [...rows];
  const along = (row: RowWorkings, found: { readonly job: RowWorkings; readonly ride: RideFact } | null) => {
    if (found === null || looksFirst(row, found.job)) return row;
    const { verdict, rule } = RIDES_ALONG;
    return {
      ...row,
      facts: { ...row.facts, ridesWith: found.ride },
      verdict,
      rule,
      due: found.job.due,
      rank: VERDICTS.indexOf(verdict) + row.rank - VERDICTS.indexOf(row.verdict),
    };
  };
  let decided = rows.map((row) => (givesWay(row) ? along(row, rideOf(row, jobs)) : row));
  // What goes along opens things too: what it names as new goes with the job that brought it.
  for (let isMore = true; isMore;) {
    const riding = decided.filter(({ facts }) => facts.ridesWith !== null);
    const next = decided.map((row) => {
      if (!givesWay(row) || row.facts.ridesWith !== null) return row;
      const brought = riding.find((one) => goesWith(one, row));
      return brought === undefined || isYoung(row, brought) ? row : along(row, broughtBy(row, brought, jobs));
    });
    isMore = next.some((row, i) => row !== decided[i]);
    decided = next;
  }
  return decided;
}
