import type { ClocksByKind } from '../usage/clock.ts';
import type { ClockDuty } from '../duty/duty.ts';
import { scaleForShare } from '../life/elicit.ts';
import { susceptibleGivenAlive } from '../life/hazard.ts';
import { susceptibleShare, toldLife, type LifeTold } from '../life/nature.ts';
import { asTold, hazardSinceInstall, type ClockLife, type ModeLife } from '../life/risk.ts';
import { logAddExp } from '../numeric/logs.ts';
import {
  believedChance,
  BELIEVED_PARTS,
  customRun,
  lagYearsOf,
  openInstalls,
  withBelief,
  type Installs,
  type WeighedBranch,
} from './installs.ts';
import { NONE_FAILED, type PartMixture } from './mixture.ts';
import type { ExperienceFact, Grade, InstallFact, ServiceFact, WeakPointFact } from './types.ts';

/**
 * Speed at which a part of each grade ages on every clock. A cheap part has three quarters of the
 * window, a used one half of it, a rebuilt one nearly all of it; an equivalent counts as an
 * original. It is a view of the trade, not a measurement.
 */
export const GRADE_DUTY: Readonly<Record<Grade, number>> = {
  original: 1,
  equivalent: 1,
  cheap: 4 / 3,
  used: 2,
  rebuilt: 10 / 9,
};

/** Weights below this are left out of a mixture. */
const LEAST_WEIGHT = 1e-4;

export interface PartState {
  readonly mixture: PartMixture;
  /** The life as told, on this vehicle's clocks: for figures that need one life rather than a mixture. */
  readonly told: ModeLife;
  readonly installs: readonly InstallFact[];
  readonly originalChance: number;
  /** P(susceptible | alive) over the share of a new part. */
  readonly shareLeft: number;
}

/**
 * Lives of a weak point on this vehicle's clocks. A cause told in several units shares one hazard equally between the
 * clocks the vehicle has; independent causes each count in full. `duty` touches distance and age, the part's `grade`
 * every clock.
 */
export function livesOf(weakPoint: LifeTold, clocks: ClocksByKind, duty: ClockDuty, grade: Grade): ClockLife[] {
  const lives: ClockLife[] = [];
  for (const cause of weakPoint.causes) {
    let usable = 0;
    for (const { clock } of cause) if (clocks[clock] !== undefined) usable += 1;
    for (const span of cause) {
      const clock = clocks[span.clock];
      if (clock === undefined) continue;
      const { shape, scale } = toldLife(span, weakPoint);
      lives.push({
        shape,
        scale: usable === 1 ? scale : scaleForShare(scale, shape, 1 / usable),
        clock,
        duty: GRADE_DUTY[grade] * (span.clock === 'distance' ? duty.distance : span.clock === 'age' ? duty.age : 1),
      });
    }
  }
  return lives;
}

const toldShapes = (weakPoint: LifeTold): number[] =>
  weakPoint.causes.flatMap((cause) => cause.map((span) => toldLife(span, weakPoint).shape));

/**
 * Published shape of a weak point as a whole, the mean over its windows. It turns the cumulative
 * hazard of all clocks into one clock of life used, u = H0^(1 / shape), on which the workshop's own
 * experience is computed.
 */
export function toldShape(weakPoint: LifeTold): number {
  const shapes = toldShapes(weakPoint);
  return shapes.reduce((sum, shape) => sum + shape, 0) / shapes.length;
}

/** Experience is read once and asked for by every vehicle: its lives are remembered with the weak point. */
const BENT = new WeakMap<WeakPointFact, readonly WeighedBranch[]>();

function branchesOf(weakPoint: WeakPointFact): readonly WeighedBranch[] {
  const known = BENT.get(weakPoint);
  if (known !== undefined) return known;
  const branches = bentLives(weakPoint, weakPoint.experience);
  BENT.set(weakPoint, branches);
  return branches;
}

/**
 * The lives that are possible: the one told, or those that experience leaves, each as a bend of the told one. However
 * experience bends it, what wears never gets safer on any of its clocks.
 */
function bentLives(weakPoint: LifeTold, experience: ExperienceFact | null): WeighedBranch[] {
  if (experience === null || experience.nodes.length === 0)
    return [{ power: 1, factor: 1, share: susceptibleShare(weakPoint), weight: 1 }];
  const shape = toldShape(weakPoint);
  const wears = weakPoint.nature === 'wear';
  const leastPower = wears ? 1 / Math.min(...toldShapes(weakPoint)) : 0;
  return experience.nodes.map((node) => {
    const power = Math.max(leastPower, node.shape / shape);
    return {
      power,
      factor: Math.exp(-power * shape * Math.log(node.scale)),
      share: wears ? 1 : node.share,
      weight: node.weight,
    };
  });
}

/**
 * ln P(running now) and P(susceptible | running) for the one installation there is: in the logarithm, where a share of
 * all and a long life leave nothing to divide by.
 */
function only(
  clocks: readonly ClockLife[],
  { power, factor, share }: WeighedBranch,
  installDay: number,
  nowDay: number,
): { susceptible: number; logEvidence: number } {
  const hazard = hazardSinceInstall({ clocks, power, factor }, installDay, nowDay);
  return {
    susceptible: susceptibleGivenAlive(share, hazard),
    logEvidence: logAddExp(Math.log1p(-share), Math.log(share) - hazard),
  };
}

export interface PartQuestion {
  readonly weakPoint: WeakPointFact;
  readonly clocks: ClocksByKind;
  /** The clocks as the neglect of what protects the part has carried them; its life is counted on these. */
  readonly worn: ClocksByKind;
  readonly duty: ClockDuty;
  readonly services: readonly ServiceFact[];
  /** It has failed on this vehicle before: susceptibility belongs to the vehicle. */
  readonly failedBefore: boolean;
  /** Day on which the engine (or the vehicle) now counted was new. */
  readonly startDay: number;
  /** Day before which no record is about this engine; null where it was never swapped. */
  readonly fittedDay: number | null;
  readonly counted: boolean;
  /** Market in which the vehicle was sold; null if unknown. */
  readonly market: string | null;
  readonly nowDay: number;
}

/**
 * The record that a component is the one it was built with; where another engine was put in on `fittedDay`, the one
 * that this engine was built with.
 */
export const neverRenewed = (componentKey: string, fittedDay: number | null): ServiceFact => ({
  componentKey,
  certainty: 'not_done',
  day: fittedDay,
  grade: 'original',
  revision: null,
  source: null,
  cameOut: null,
});

/** Records of a component that are about the engine now fitted, as they were told. */
export const recordsOf = ({
  weakPoint,
  services,
  fittedDay,
  nowDay,
}: Pick<PartQuestion, 'weakPoint' | 'services' | 'fittedDay' | 'nowDay'>): ServiceFact[] =>
  // What has no day was before all that has one, and before an engine from elsewhere was fitted.
  services.filter(
    ({ componentKey, day }) =>
      componentKey === weakPoint.componentKey &&
      (day ?? -Infinity) <= nowDay &&
      (day ?? -Infinity) >= (fittedDay ?? -Infinity),
  );

/** The last of the records about the part now fitted, which decides. */
export function decidingRecord(
  question: Pick<PartQuestion, 'weakPoint' | 'services' | 'fittedDay' | 'nowDay'>,
): ServiceFact | undefined {
  const records = recordsOf(question);
  return (
    records.filter((record) => record.certainty === 'done' && record.day !== null).sort((a, b) => b.day! - a.day!)[0] ??
    records.findLast((record) => record.certainty !== 'done')
  );
}

/**
 * State of the present part: a mixture over installations from the service records of its
 * component, for each possible life. The last definite record decides (`done`: installed that day;
 * `not_done`: the original). `believed` mixes that day with the unknown. `unknown` and no record at
 * all are the renewal process. Weights of all nodes sum to 1. The lives of wear describe all
 * vehicles, and so do those of a vehicle that is `counted` among the observations: they keep their
 * weights. For any other defect, survival until now favours the longer lives.
 */
export function partState(question: PartQuestion): PartState {
  const { weakPoint, clocks, worn, duty, startDay, nowDay } = question;
  const last = decidingRecord(question);
  const grade = last?.certainty === 'done' || last?.certainty === 'believed' ? last.grade : 'original';
  const lives = livesOf(weakPoint, worn, duty, grade);
  const possible = branchesOf(weakPoint);
  const branches = question.failedBefore ? possible.map((branch) => ({ ...branch, share: 1 })) : possible;
  const count = branches.length;
  // What nobody renews before it fails is the one it was built with, unless a record says otherwise.
  const original = last?.certainty === 'not_done' || (weakPoint.watch !== null && last?.certainty !== 'believed');
  const sure = last?.certainty === 'done' ? last.day! : original ? startDay : null;
  const believed = last?.certainty === 'believed' && last.day !== null;
  let installs: Installs;
  if (sure !== null)
    installs = {
      days: Float64Array.of(sure),
      susceptible: new Float64Array(count),
      immune: new Float64Array(count),
      ...NONE_FAILED,
    };
  else {
    // A cheap part that is believed in says nothing of what else may be in there.
    const usual = grade === 'original' ? lives : livesOf(weakPoint, worn, duty, 'original');
    const open = openInstalls(
      usual,
      branches,
      { customs: customRun(weakPoint, clocks, question), lagYears: lagYearsOf(weakPoint) },
      question,
    );
    installs = believed
      ? withBelief(open, { clocks: lives, branches }, { day: last.day, chance: believedChance(last.source) }, question)
      : open;
  }
  const { days, susceptible, immune, failedDays, failed } = installs;
  const totals = new Float64Array(count);
  for (let from = 0; from < days.length * count; from += count)
    for (let k = 0; k < count; k += 1) totals[k]! += susceptible[from + k]! + immune[from + k]!;
  for (let from = 0; from < failedDays.length * count; from += count)
    for (let k = 0; k < count; k += 1) totals[k]! += failed[from + k]!;
  const logEvidence = new Float64Array(count);
  for (let k = 0; k < count; k += 1) {
    if (totals[k]! > 0) {
      logEvidence[k] = Math.log(totals[k]!);
      continue;
    }
    // The installation is known, or every part that could be in there has outlived its life by far and the youngest is
    // the likeliest by far.
    const at = days.length - 1;
    const one = only(lives, branches[k]!, days[at]!, nowDay);
    susceptible[at * count + k] = one.susceptible;
    immune[at * count + k] = 1 - one.susceptible;
    totals[k] = 1;
    logEvidence[k] = one.logEvidence;
  }
  const most = logEvidence.reduce((top, value) => Math.max(top, value), -Infinity);
  const apart = weakPoint.nature === 'wear';
  const weights = branches.map(({ weight }, k) =>
    apart || question.counted ? weight : weight * Math.exp(logEvidence[k]! - most),
  );
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  const scales = weights.map((weight, k) => weight / total / totals[k]!);
  const nodeWeights = new Float64Array(days.length);
  let left = 0;
  for (let node = 0; node < days.length; node += 1) {
    for (let k = 0; k < count; k += 1) {
      const at = node * count + k;
      susceptible[at]! *= scales[k]!;
      immune[at]! *= scales[k]!;
      nodeWeights[node]! += susceptible[at]! + immune[at]!;
      left += susceptible[at]!;
    }
  }
  for (let from = 0; from < failedDays.length * count; from += count) {
    for (let k = 0; k < count; k += 1) {
      failed[from + k]! *= scales[k]!;
      left += failed[from + k]!;
    }
  }
  let [originalChance, believedWeight] = [0, 0];
  const kept: number[] = [];
  for (let i = 0; i < days.length; i += 1) {
    if (days[i]! <= startDay) originalChance += nodeWeights[i]!;
    if (believed && i >= days.length - BELIEVED_PARTS.length) believedWeight += nodeWeights[i]!;
    if (nodeWeights[i]! > LEAST_WEIGHT) kept.push(i);
  }
  // What has surely failed is one that went in last.
  if (kept.length === 0) kept.push(days.length - 1);
  // A believed renewal stands last among the days, wherever it lies.
  if (believed) kept.sort((a, b) => days[a]! - days[b]!);
  const share = branches.reduce((sum, branch, k) => sum + (weights[k]! / total) * branch.share, 0);
  return {
    mixture: { clocks: lives, lives: branches, apart, ...picked(installs, kept, count) },
    told: asTold(lives),
    originalChance,
    shareLeft: share > 0 ? left / share : 0,
    installs: [installFact(last, startDay, originalChance, believedWeight)],
  };
}

/** The installations worth keeping, in this order, and what has failed already; `count` lives to each. */
function picked(
  { days, susceptible, immune, failedDays, failed }: Installs,
  kept: readonly number[],
  count: number,
): Pick<PartMixture, 'installDays' | 'susceptible' | 'immune' | 'failedDays' | 'failed'> {
  const size = kept.length * count;
  // One piece of room for all: in a fleet, taking it costs more than filling it.
  const room = new Float64Array(kept.length + 2 * size + failedDays.length * count);
  for (let to = 0; to < kept.length; to += 1) {
    const from = kept[to]!;
    room[to] = days[from]!;
    const at = kept.length + to * count;
    for (let k = 0; k < count; k += 1) {
      room[at + k] = susceptible[from * count + k]!;
      room[at + size + k] = immune[from * count + k]!;
    }
  }
  const [immuneAt, failedAt] = [kept.length + size, kept.length + 2 * size];
  for (let at = 0; at < failedDays.length * count; at += 1) room[failedAt + at] = failed[at]!;
  return {
    installDays: room.subarray(0, kept.length),
    susceptible: room.subarray(kept.length, immuneAt),
    immune: room.subarray(immuneAt, failedAt),
    failedDays,
    failed: failedDays.length === 0 ? NONE_FAILED.failed : room.subarray(failedAt),
  };
}

function installFact(
  last: ServiceFact | undefined,
  startDay: number,
  originalChance: number,
  believedWeight: number,
): InstallFact {
  if (last?.certainty === 'done') return { certainty: 'done', day: last.day!, weight: 1 };
  if (last?.certainty === 'not_done') return { certainty: 'not_done', day: startDay, weight: 1 };
  if (last?.certainty === 'believed' && last.day !== null)
    return { certainty: 'believed', day: last.day, weight: Math.min(1, believedWeight) };
  return { certainty: last === undefined ? 'assumed' : 'unknown', day: startDay, weight: originalChance };
}
