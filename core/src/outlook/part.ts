import type { ClockDuty } from '../duty/duty.ts';
import { UNKNOWN_DEFAULTS, unknownInstall } from '../history/unknown.ts';
import { lifeFromMedian, lifeFromWindow, scaleForShare, SHAPE_BY_CLASS, type ComponentClass } from '../life/elicit.ts';
import { susceptibleGivenAlive } from '../life/hazard.ts';
import { asTold, hazardBetween, hazardSinceInstall, weighedRisk, type ClockLife, type Inspection, type ModeLife } from '../life/risk.ts';
import { logAddExp } from '../numeric/logs.ts';
import type { ClocksByKind } from '../schools/authorities.ts';
import type { Span } from '../shorthand/window.ts';
import type { ExperienceFact, Grade, InstallFact, ServiceFact, Source, WeakPointFact } from './types.ts';

/** A cheap part lives so much faster on every clock; equivalents are taken at their word. A shop's view, not a measurement. */
export const GRADE_DUTY: Readonly<Record<Grade, number>> = { original: 1, equivalent: 1, cheap: 1.5 };

/** "I think it was done": how far such a record is believed, by where it comes from, and how far off its date may be. */
export const BELIEVED = {
  chance: { own: 0.95, invoice: 0.95, stamp: 0.85, owner: 0.75, seller: 0.5 } as const satisfies Readonly<Record<Source, number>>,
  unsaid: 0.75,
  spreadDays: 180,
} as const;

/** How far a record that is only believed is believed. */
export const believedChance = (source: Source | null): number => (source === null ? BELIEVED.unsaid : BELIEVED.chance[source]);

/** Weights below this are left out of a mixture. */
const LEAST_WEIGHT = 1e-4;

/** A part that may be in there: alive now, with the weights of being in a susceptible vehicle or not, and the life it would have. */
export interface PartNode {
  readonly installDay: number;
  readonly susceptible: number;
  readonly immune: number;
  readonly life: ModeLife;
}

export interface PartState {
  readonly nodes: readonly PartNode[];
  /** The life as told, on this vehicle's clocks: for figures that need one life rather than a mixture. */
  readonly told: ModeLife;
  readonly installs: readonly InstallFact[];
  readonly originalChance: number;
  /** P(susceptible | alive) over the share of a new part. */
  readonly shareLeft: number;
}

const toldLife = (span: Span, componentClass: ComponentClass): { shape: number; scale: number } =>
  (span.from === span.to ? lifeFromMedian(span.from, SHAPE_BY_CLASS[componentClass]) : lifeFromWindow(span.from, span.to));

type LifeTold = Pick<WeakPointFact, 'causes' | 'componentClass'>;

/**
 * Lives of a weak point on this vehicle's clocks. A cause told in several units shares one hazard equally between the clocks the vehicle has;
 * independent causes each count in full. `duty` touches distance and age, the part's `grade` every clock.
 */
export function livesOf({ causes, componentClass }: LifeTold, clocks: ClocksByKind, duty: ClockDuty, grade: Grade): ClockLife[] {
  return causes.flatMap((cause) => {
    const usable = cause.filter((span) => clocks[span.clock] !== undefined);
    return usable.map((span) => {
      const told = toldLife(span, componentClass);
      return {
        shape: told.shape,
        scale: scaleForShare(told.scale, told.shape, 1 / usable.length),
        clock: clocks[span.clock]!,
        duty: GRADE_DUTY[grade] * (span.clock === 'distance' ? duty.distance : span.clock === 'age' ? duty.age : 1),
      };
    });
  });
}

/**
 * The shape that a weak point is told with as a whole, the mean over its windows: with it, the cumulative hazard of all clocks becomes one clock of life used,
 * u = H0^(1 / shape), on which the workshop's own experience is reckoned.
 */
export function toldShape({ causes, componentClass }: LifeTold): number {
  const shapes = causes.flatMap((cause) => cause.map((span) => toldLife(span, componentClass).shape));
  return shapes.reduce((sum, shape) => sum + shape, 0) / shapes.length;
}

interface LifeBranch { readonly life: ModeLife; readonly share: number; readonly weight: number }

/** The lives that are possible: the one told, or those that experience leaves, each as a bend of the told one. */
function branchesOf(weakPoint: Pick<WeakPointFact, 'causes' | 'componentClass' | 'share'>, clocks: readonly ClockLife[], experience: ExperienceFact | null): LifeBranch[] {
  if (experience === null || experience.nodes.length === 0) return [{ life: asTold(clocks), share: weakPoint.share, weight: 1 }];
  const shape = toldShape(weakPoint);
  return experience.nodes.map((node) => ({
    life: { clocks, power: node.shape / shape, factor: Math.exp(-node.shape * Math.log(node.scale)) }, share: node.share, weight: node.weight,
  }));
}

type BareNode = Omit<PartNode, 'life'>;
const sumOf = (nodes: readonly BareNode[]): number => nodes.reduce((sum, node) => sum + node.susceptible + node.immune, 0);

/** One installation that is known, as a node: weights from surviving since. */
function knownNode({ life, share }: LifeBranch, installDay: number, nowDay: number, prior: number): BareNode {
  return { installDay, susceptible: prior * share * Math.exp(-hazardSinceInstall(life, installDay, nowDay)), immune: prior * (1 - share) };
}

/** The renewal process from new, laid on this vehicle's own path (bins of equal time since new, so that a parked vehicle still ages). */
function unknownNodes({ life, share }: LifeBranch, customKm: number | null, startDay: number, nowDay: number): BareNode[] {
  const customClock = life.clocks.findIndex(({ clock }) => clock.kind === 'distance');
  const ordered = customClock > 0 ? [life.clocks[customClock]!, ...life.clocks.filter((_, i) => i !== customClock)] : life.clocks;
  const nodes = unknownInstall({
    lives: ordered,
    bend: life,
    clocksNow: ordered.map(({ clock, duty }) => duty * (clock.at(nowDay) - clock.at(startDay))),
    share,
    custom: customClock >= 0 && customKm !== null ? customKm * ordered[0]!.duty : null,
    ...UNKNOWN_DEFAULTS,
  });
  return nodes.map(({ fraction, susceptible, immune }) => ({ installDay: startDay + fraction * (nowDay - startDay), susceptible, immune }));
}

const scaled = (nodes: readonly BareNode[], factor: number): BareNode[] =>
  nodes.map(({ installDay, susceptible, immune }) => ({ installDay, susceptible: susceptible * factor, immune: immune * factor }));

/** What one life says of the part in there: nodes that sum to 1, and the logarithm of the evidence (of having lived until now). */
interface Weighed { readonly nodes: readonly BareNode[]; readonly logEvidence: number }

/** The one installation there is: conditioned on running in the logarithm, where a share of all and a long life leave nothing to divide by. */
function only({ life, share }: LifeBranch, installDay: number, nowDay: number): Weighed {
  const hazard = hazardSinceInstall(life, installDay, nowDay);
  const susceptible = susceptibleGivenAlive(share, hazard);
  const logEvidence = share >= 1 ? -hazard : logAddExp(Math.log1p(-share), Math.log(share) - hazard);
  return { nodes: [{ installDay, susceptible, immune: 1 - susceptible }], logEvidence };
}

function weighed(nodes: readonly BareNode[], branch: LifeBranch, nowDay: number): Weighed {
  const total = sumOf(nodes);
  // Every part that could be in there has outlived its life by far: the youngest is the likeliest by far.
  if (!(total > 0)) return only(branch, nodes.at(-1)!.installDay, nowDay);
  return { nodes: scaled(nodes, 1 / total), logEvidence: Math.log(total) };
}

export interface PartQuestion {
  readonly weakPoint: WeakPointFact;
  readonly clocks: ClocksByKind;
  readonly duty: ClockDuty;
  readonly services: readonly ServiceFact[];
  /** It has failed on this vehicle before: susceptibility belongs to the vehicle. */
  readonly failedBefore: boolean;
  /** Day on which the engine (or the vehicle) now counted was new. */
  readonly startDay: number;
  /** Day before which no record is about this engine; null where it was never swapped. */
  readonly fittedDay: number | null;
  readonly counted: boolean;
  readonly nowDay: number;
}

/** Records of a component that are about the engine now fitted, and the last of them that decides. */
export function decidingRecord({ weakPoint, services, fittedDay, nowDay }: Pick<PartQuestion, 'weakPoint' | 'services' | 'fittedDay' | 'nowDay'>): ServiceFact | undefined {
  const own = services.filter(({ componentKey, day }) => componentKey === weakPoint.componentKey && (day === null ? fittedDay === null : day <= nowDay && (fittedDay === null || day >= fittedDay)));
  return own.filter((record) => record.certainty === 'done' && record.day !== null).sort((a, b) => b.day! - a.day!)[0] ?? own.findLast((record) => record.certainty !== 'done');
}

/**
 * What is in there now: a mixture over installations from the service records of its component, for each life that is possible. The last definite record
 * decides (`done`: installed that day; `not_done`: the original); `believed` mixes that day with the unknown; `unknown` and no record at all are the
 * renewal process. Weights of all nodes sum to 1. A vehicle that is `counted` among the observations keeps the weights of the lives as they are; for any
 * other, having lived until now speaks for the longer lives.
 */
export function partState(question: PartQuestion): PartState {
  const { weakPoint, clocks, duty, startDay, nowDay } = question;
  const last = decidingRecord(question);
  const grade = last?.certainty === 'done' || last?.certainty === 'believed' ? last.grade : 'original';
  const lives = livesOf(weakPoint, clocks, duty, grade);
  const branches = branchesOf(weakPoint, lives, weakPoint.experience).map((branch) => (question.failedBefore ? { ...branch, share: 1 } : branch));
  let believedWeight = 0;
  const state = (branch: LifeBranch): Weighed => {
    if (last?.certainty === 'done') return only(branch, last.day!, nowDay);
    if (last?.certainty === 'not_done') return only(branch, startDay, nowDay);
    const open = unknownNodes(branch, weakPoint.customKm, startDay, nowDay);
    if (last?.certainty !== 'believed' || last.day === null) return weighed(open, branch, nowDay);
    const days = [-BELIEVED.spreadDays, 0, BELIEVED.spreadDays].map((offset) => Math.max(startDay, Math.min(nowDay, last.day! + offset)));
    const chance = believedChance(last.source);
    const believed = scaled(days.map((day, i) => knownNode(branch, day, nowDay, [0.25, 0.5, 0.25][i]!)), chance);
    const all = [...scaled(open, 1 - chance), ...believed];
    believedWeight += branch.weight * (sumOf(believed) / sumOf(all));
    return weighed(all, branch, nowDay);
  };
  const each = branches.map(state);
  const most = Math.max(...each.map(({ logEvidence }) => logEvidence));
  const weights = branches.map(({ weight }, k) => (question.counted ? weight : weight * Math.exp(each[k]!.logEvidence - most)));
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  const nodes = each.flatMap((one, k) => scaled(one.nodes, weights[k]! / total).map((node): PartNode => ({ ...node, life: branches[k]!.life })));
  const originalChance = nodes.filter(({ installDay }) => installDay <= startDay).reduce((sum, node) => sum + node.susceptible + node.immune, 0);
  const susceptible = nodes.reduce((sum, node) => sum + node.susceptible, 0);
  const share = branches.reduce((sum, branch, k) => sum + (weights[k]! / total) * branch.share, 0);
  return {
    nodes: nodes.filter((node) => node.susceptible + node.immune > LEAST_WEIGHT), told: asTold(lives), originalChance, shareLeft: share > 0 ? susceptible / share : 0,
    installs: [installFact(last, startDay, originalChance, believedWeight)],
  };
}

function installFact(last: ServiceFact | undefined, startDay: number, originalChance: number, believedWeight: number): InstallFact {
  if (last?.certainty === 'done') return { certainty: 'done', day: last.day!, weight: 1 };
  if (last?.certainty === 'not_done') return { certainty: 'not_done', day: startDay, weight: 1 };
  if (last?.certainty === 'believed' && last.day !== null) return { certainty: 'believed', day: last.day, weight: Math.min(1, believedWeight) };
  return { certainty: last === undefined ? 'assumed' : 'unknown', day: startDay, weight: originalChance };
}

/** Chance of failing in the step for a mixture of parts: sum of weighted failures over the sum of weighted evidence, never a mean of chances. */
export function mixtureRisk(nodes: readonly PartNode[], inspections: readonly Inspection[], nowDay: number, stepDays: number): { risk: number; susceptible: number } {
  let failing = 0;
  let susceptible = 0;
  let total = 0;
  if (inspections.length === 0) {
    // Without looks the evidence of every part is 1: the same sums, without building a question for each.
    for (const node of nodes) {
      failing -= node.susceptible * Math.expm1(-hazardBetween(node.life, node.installDay, nowDay, nowDay + stepDays));
      susceptible += node.susceptible;
      total += node.susceptible + node.immune;
    }
    return { risk: failing / total, susceptible: susceptible / total };
  }
  for (const node of nodes) {
    const weight = node.susceptible + node.immune;
    // A look says something only about the part that was in there then; a clean one found an earlier part sound, as it would find any that is.
    const own = inspections.filter(({ day }) => day >= node.installDay);
    const earlier = inspections.reduce((product, { day, worn, falseAlarm }) => (day < node.installDay && !worn ? product * (1 - falseAlarm) : product), 1);
    const part = weighedRisk({ installDay: node.installDay, susceptible: node.susceptible / weight }, { life: node.life, nowDay, stepDays, inspections: own });
    failing += weight * earlier * part.failing;
    susceptible += weight * earlier * part.susceptible;
    total += weight * earlier * part.total;
  }
  return { risk: failing / total, susceptible: susceptible / total };
}
