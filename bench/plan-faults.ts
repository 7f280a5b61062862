import {
  asksForWork,
  countedPrice,
  failureCost,
  keyMeans,
  KEPT_DAYS,
  labourCost,
  preparePlan,
  proposalGround,
  proposeVisits,
  renewalCost,
  usualTerms,
  workOfJob,
  workTogether,
  type Forecast,
  type Operations,
  type OutlookPolicy,
  type OutlookRow,
  type ToldPoint,
  type ToldTask,
} from '@crosspeen/core';

/** What no plan may do. */
export const PLAN_FAULTS = [
  'an old part behind a new one',
  'a renewal that is cheaper left',
  'more than three visits a year',
  'a plan that contradicts a row',
] as const;
export type PlanFault = (typeof PLAN_FAULTS)[number];

/** A decision as the planner is told it, with what it is called. */
export interface PlannedPart extends ToldPoint {
  readonly key: string;
  readonly rule: string;
  readonly rides: { readonly weakPointId: string; readonly because: string } | null;
}

/** A vehicle that is planned for. */
export interface PlannedVehicle {
  readonly parts: readonly PlannedPart[];
  readonly forecast: Forecast;
  readonly operations: Operations;
  readonly tasks: readonly ToldTask[];
  readonly rateKmPerDay: number;
}

const YEAR_MONTHS = 12;
const MONTH_DAYS = 30.4375;
const MOST_VISITS = 3;
/** Part of an interval before which what was renewed stays where it is. */
const YOUNG = 0.25;
/** Steps that a plan is searched for in: the same question has the same answer. */
const STEPS = 400;
/** What the planner's grid and the forecast's may differ by. */
const ROUNDING = 1.02;

/** A row of the core's own answer as the planner is told it. */
export const plannedPart = ({ weakPoint, authorities, ...row }: OutlookRow): PlannedPart => ({
  ...weakPoint,
  weakPointId: weakPoint.id,
  verdict: row.verdict,
  rule: row.rule,
  due: row.due,
  rides: row.rides,
  work: weakPoint.work ?? null,
  installs: row.installs,
  operation: weakPoint.operation ?? null,
  authorities: authorities.map(({ statement, standing }) => ({
    ...statement,
    setAside: standing.counts ? null : standing.because,
  })),
});

/** The days of the shortest of its renewal intervals; null where nobody gives one. */
function customDays({ authorities }: PlannedPart, rateKmPerDay: number): number | null {
  const days = authorities.flatMap(({ asks, doubted, interval, setAside }) =>
    asks === 'renew' && doubted !== true && setAside === null
      ? interval.flatMap(({ clock, from }) =>
          clock === 'age' ? [from] : clock === 'distance' ? [from / rateKmPerDay] : [],
        )
      : [],
  );
  return days.length === 0 ? null : Math.min(...days);
}

const isYoungBy = (part: PlannedPart, job: PlannedPart, day: number, rateKmPerDay: number): boolean => {
  const [install] = part.installs;
  const custom = customDays(part, rateKmPerDay) ?? customDays(job, rateKmPerDay);
  // What was not renewed long before the job's own date stays, also where the visit comes later.
  const until = Math.min(day, job.due?.day ?? day);
  return install?.certainty === 'done' && custom !== null && until - install.day < YOUNG * custom;
};

const names = (job: PlannedPart, part: PlannedPart): boolean => job.work?.renewWith.includes(part.component) ?? false;

type Fault = readonly [PlanFault, string];

/** Parts that stay old behind a job of one visit that names them as new. */
const oldBehind = (renewed: readonly PlannedPart[], { parts, rateKmPerDay }: PlannedVehicle, day: number): Fault[] => {
  const fresh = new Set(renewed.map(({ component }) => component));
  return renewed.flatMap((job) =>
    parts
      .filter(
        (part) =>
          names(job, part) &&
          !fresh.has(part.component) &&
          part.verdict !== 'behind_it' &&
          part.watch === null &&
          !isYoungBy(part, job, day, rateKmPerDay),
      )
      .map((part): Fault => ['an old part behind a new one', `${part.key} (${part.rule}) behind ${job.key}`]),
  );
};

/** Renewals of one visit that no decision asks for and that would be cheaper left until they fail. */
function dearerThanLeft(
  renewed: readonly PlannedPart[],
  { forecast, operations }: PlannedVehicle,
  policy: OutlookPolicy,
): Fault[] {
  const minutesOf = (some: readonly PlannedPart[]): number =>
    workTogether(
      operations,
      some.map(({ operation, renewMinutes }) => workOfJob({ action: 'renew', operation, renewMinutes, look: null })),
    ).minutes;
  const ahead = forecast.ahead.findIndex((days) => days >= KEPT_DAYS);
  return renewed.flatMap((job): Fault[] => {
    const { verdict, rides, safety, consequence } = job;
    if (verdict === 'hold' || verdict === 'renew' || rides?.because === 'named' || rides?.because === 'same_part')
      return [];
    if (renewed.some((other) => names(other, job)) || safety || consequence === 'engine') return [];
    const more = minutesOf(renewed) - minutesOf(renewed.filter((part) => part !== job));
    const beside = labourCost(more, policy.labourCostPerHour) + countedPrice(job);
    const failing = forecast.items.find(({ weakPointId }) => weakPointId === job.weakPointId)!.failed[ahead]!;
    const left = failing * (renewalCost(job, policy) + failureCost(job, policy));
    return beside > ROUNDING * left ? [['a renewal that is cheaper left', `${job.key} (${job.rule})`]] : [];
  });
}

/** Rows whose decision the plan does not carry out, or goes beyond. */
function contradictions(
  { parts, forecast }: PlannedVehicle,
  planned: ReadonlyMap<string, 'renew' | 'look'>,
  months: number,
): Fault[] {
  const until = forecast.nowDay + months * MONTH_DAYS;
  return parts.flatMap((part): Fault[] => {
    const { key, verdict, rule, due, watch } = part;
    const action = planned.get(part.weakPointId) ?? null;
    const isAhead = due !== null && due.day < until;
    const isNamed = parts.some((job) => names(job, part) && planned.get(job.weakPointId) === 'renew');
    const must = verdict === 'hold' || verdict === 'renew' || verdict === 'ride_along';
    const isLeftOut = must && isAhead && action !== 'renew' && watch === null;
    const isNotLookedAt = verdict === 'look' && isAhead && action !== 'look' && !isNamed;
    const isBeyond = !must && action === 'renew' && !isNamed && (!isAhead || asksForWork(verdict));
    return isLeftOut || isNotLookedAt || isBeyond
      ? [['a plan that contradicts a row', `${key}: ${verdict} (${rule}), planned ${action ?? 'not at all'}`]]
      : [];
  });
}

/** Times that the most frequent task stands on some visits. */
function mostOften(keys: readonly string[]): number {
  const times = new Map<string, number>();
  for (const key of keys) {
    const { kind, id } = keyMeans(key);
    if (kind === 'task') times.set(id, (times.get(id) ?? 0) + 1);
  }
  return Math.max(0, ...times.values());
}

/** How a vehicle is planned: so many months ahead, as it stands or just bought; money for the owner's half day. */
export interface PlanAsked {
  readonly months: number;
  readonly isBought: boolean;
  readonly visitOwnerCost: number;
}

/** Plans one vehicle and says what of the plan nobody would sign. */
export function planFaults(
  vehicle: PlannedVehicle,
  policy: OutlookPolicy,
  { months, isBought, visitOwnerCost }: PlanAsked,
): { readonly visits: number; readonly faults: readonly Fault[] } {
  const { parts, forecast, operations, tasks, rateKmPerDay } = vehicle;
  const ground = proposalGround(
    { forecast, operations, points: parts, tasks, rateKmPerDay, standing: new Map(), isBought, isEveryRenewal: false },
    { months, policy },
  );
  let step = 0;
  const left = (): number => {
    step += 1;
    return 1 - step / STEPS;
  };
  const proposal = proposeVisits(
    preparePlan(ground, usualTerms(months, { labourCostPerHour: policy.labourCostPerHour, visitOwnerCost })),
    { pins: new Map(), left },
  )!;
  const byId = new Map(parts.map((part) => [part.weakPointId, part]));
  const planned = new Map<string, 'renew' | 'look'>();
  const faults: Fault[] = [];
  for (const { day, keys } of proposal.visits) {
    const means = keys.map(keyMeans).filter(({ kind }) => kind !== 'task');
    for (const { kind, id } of means) planned.set(id, kind === 'look' ? 'look' : 'renew');
    const renewed = means.filter(({ kind }) => kind === 'point').map(({ id }) => byId.get(id)!);
    faults.push(...oldBehind(renewed, vehicle, day), ...dearerThanLeft(renewed, vehicle, policy));
  }
  for (let year = 0; year * YEAR_MONTHS < months; year += 1) {
    const here = proposal.visits.filter(
      ({ month, keys }) =>
        Math.floor(month / YEAR_MONTHS) === year &&
        // What is held comes in at once, whatever else comes that year.
        !keys.some((key) => byId.get(keyMeans(key).id)?.verdict === 'hold'),
    );
    // A machine that runs so much that its oil alone calls for more comes in as often as that.
    const most = Math.max(MOST_VISITS, mostOften(here.flatMap(({ keys }) => keys)));
    if (here.length > most) faults.push(['more than three visits a year', `${here.length} in year ${year + 1}`]);
  }
  return { visits: proposal.visits.length, faults: [...faults, ...contradictions(vehicle, planned, months)] };
}
