import { givesWay, RIDES_ALONG } from '../decision/decide.ts';
import type { RideFact } from '../decision/facts.ts';
import { VERDICTS } from '../decision/kinds.ts';
import { customOf, YOUNG_PART, type CustomarySpan } from '../history/custom.ts';
import { typicalLife } from '../life/nature.ts';
import { countedPrice, failureCost, KEPT_DAYS, renewalCost } from '../money/failure.ts';
import { labourCost } from '../money/labour.ts';
import { failedBy } from './mixture.ts';
import type { RowWorkings } from './row.ts';

/** Share of its own minutes from which a job counts as laid open by another. */
const LAID_OPEN = 0.5;
/** Days before a job at which a look is made by itself rather than waiting for it. */
const LOOK_FIRST_DAYS = 60;

const minutesOf = (operations: Iterable<{ readonly minutes: number }>): number =>
  [...operations].reduce((sum, { minutes }) => sum + minutes, 0);

const goesWith = ({ weakPoint }: RowWorkings, { weakPoint: { componentKey } }: RowWorkings): boolean =>
  weakPoint.goesWith?.includes(componentKey) ?? false;

/** The custom of a part, else of the job beside it, else what such a part typically lives. */
function spansOf({ weakPoint, question: { market } }: RowWorkings, job: RowWorkings): readonly CustomarySpan[] {
  const own = customOf(weakPoint.statements, market);
  if (own.length > 0) return own;
  const ofJob = customOf(job.weakPoint.statements, market);
  if (ofJob.length > 0) return ofJob;
  return weakPoint.causes.flat().map((span) => ({ clock: span.clock, at: typicalLife(span, weakPoint) }));
}

/** True where a record says that it was renewed less than a quarter of its time before the job. */
function isYoung(row: RowWorkings, job: RowWorkings): boolean {
  const { question, state } = row;
  const [install] = state.installs;
  if (install!.certainty !== 'done') return false;
  const day = Math.max(question.today, job.due?.day ?? question.today);
  return spansOf(row, job).every(({ clock: kind, at }) => {
    const clock = question.clocks[kind];
    return clock === undefined || clock.at(day) - clock.at(install!.day) < YOUNG_PART * at;
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

/** A job, and what a row that goes along with it is told. */
interface Ride {
  readonly job: RowWorkings;
  readonly ride: RideFact;
}

/** What a row adds to jobs whose access is open. */
const minutesBeside = ({ weakPoint: { access, renewMinutes } }: RowWorkings, open: ReadonlySet<string>): number =>
  Math.max(0, renewMinutes - minutesOf(access.filter(({ key }) => open.has(key))));

const openedBy = (jobs: readonly RowWorkings[]): ReadonlySet<string> =>
  new Set(jobs.flatMap(({ weakPoint }) => weakPoint.access.map(({ key }) => key)));

const rideWith = (
  { weakPoint: { renewMinutes, partPrice } }: RowWorkings,
  job: RowWorkings,
  more: Pick<RideFact, 'minutes' | 'saves' | 'because'>,
): Ride => ({
  job,
  ride: {
    weakPointId: job.weakPoint.id,
    title: more.because === 'same_part' ? job.weakPoint.title : job.weakPoint.component,
    alone: renewMinutes,
    partPrice,
    ...more,
  },
});

/**
 * Finds the job that a row goes along with, the minutes that it adds and what that saves; null if none does. `open`:
 * what the jobs lay open together.
 */
function rideOf(row: RowWorkings, jobs: readonly RowWorkings[], open: ReadonlySet<string>): Ride | null {
  const { weakPoint, question } = row;
  const same = jobs.find((job) => job.weakPoint.componentKey === weakPoint.componentKey);
  if (same !== undefined)
    return row.verdict === 'behind_it' ? null : rideWith(row, same, { minutes: 0, saves: null, because: 'same_part' });
  const minutes = minutesBeside(row, open);
  const named = jobs.find((job) => goesWith(job, row));
  if (named !== undefined)
    return isYoung(row, named) ? null : rideWith(row, named, { minutes, saves: null, because: 'named' });
  if (row.verdict === 'behind_it' || weakPoint.watch !== null) return null;
  const shared = minutesOf(weakPoint.access.filter(({ key }) => open.has(key)));
  if (shared === 0 || shared < LAID_OPEN * minutesOf(weakPoint.access)) return null;
  const keys = new Set(weakPoint.access.map(({ key }) => key));
  const sharing = (job: RowWorkings): number => minutesOf(job.weakPoint.access.filter(({ key }) => keys.has(key)));
  const job = jobs.reduce((best, other) => (sharing(other) > sharing(best) ? other : best));
  if (isYoung(row, job)) return null;
  const beside = labourCost(minutes, question.policy.labourCostPerHour) + countedPrice(weakPoint);
  const saves = aloneCost(row, job) - beside;
  return saves > 0 ? rideWith(row, job, { minutes, saves, because: 'cheaper' }) : null;
}

/** The ride of what something names as new that itself only goes along: with the job behind both. */
function broughtBy(row: RowWorkings, brought: RowWorkings, jobs: readonly RowWorkings[]): Ride {
  const job = jobs.find(({ weakPoint }) => weakPoint.id === brought.facts.ridesWith!.weakPointId)!;
  const minutes = minutesBeside(row, openedBy([...jobs, brought]));
  return rideWith(row, job, { minutes, saves: null, because: 'named' });
}

/** A row as it goes along with a job; as it was where its look comes well before that. */
function goneAlong(row: RowWorkings, found: Ride | null): RowWorkings {
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
  const open = openedBy(jobs);
  let decided = rows.map((row) => (givesWay(row) ? goneAlong(row, rideOf(row, jobs, open)) : row));
  // What goes along opens things too: what it names as new goes with the job that brought it.
  for (let isMore = true; isMore;) {
    const riding = decided.filter(({ facts }) => facts.ridesWith !== null);
    const next = decided.map((row) => {
      if (!givesWay(row) || row.facts.ridesWith !== null) return row;
      const brought = riding.find((one) => goesWith(one, row));
      return brought === undefined || isYoung(row, brought) ? row : goneAlong(row, broughtBy(row, brought, jobs));
    });
    isMore = next.some((row, i) => row !== decided[i]);
    decided = next;
  }
  return decided;
}
