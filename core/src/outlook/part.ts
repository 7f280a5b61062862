import { UNKNOWN_DEFAULTS, unknownInstall } from '../history/unknown.ts';
import { lifeFromMedian, lifeFromWindow, scaleForShare, SHAPE_BY_CLASS } from '../life/elicit.ts';
import { susceptibleGivenAlive } from '../life/hazard.ts';
import { hazardBetween, hazardSinceInstall, weighedRisk, type ClockLife, type Inspection } from '../life/risk.ts';
import type { ClocksByKind } from '../schools/authorities.ts';
import type { Grade, InstallFact, ServiceFact, WeakPointFact } from './types.ts';

/** A cheap part lives so much faster on every clock; equivalents are taken at their word. A shop's view, not a measurement. */
export const GRADE_DUTY: Readonly<Record<Grade, number>> = { original: 1, equivalent: 1, cheap: 1.5 };

/** "I think it was done": how far such a record is believed, and how far off its date may be. */
export const BELIEVED = { chance: 0.75, spreadDays: 180 } as const;

/** Weights below this are left out of a mixture. */
const LEAST_WEIGHT = 1e-4;

/** A part that may be in there: alive now, with the weights of being in a susceptible vehicle or not. */
export interface PartNode {
  readonly installDay: number;
  readonly susceptible: number;
  readonly immune: number;
}

export interface PartState {
  readonly nodes: readonly PartNode[];
  readonly lives: readonly ClockLife[];
  readonly installs: readonly InstallFact[];
  readonly originalChance: number;
  /** P(susceptible | alive) over the share told for a new part. */
  readonly shareLeft: number;
}

/**
 * Lives of a weak point on this vehicle's clocks. A cause told in several units shares one hazard equally between the clocks the vehicle has;
 * independent causes each count in full. `severity` touches the distance clock, `grade` every clock.
 */
export function livesOf(weakPoint: WeakPointFact, clocks: ClocksByKind, severity: number, grade: Grade): ClockLife[] {
  return weakPoint.causes.flatMap((cause) => {
    const usable = cause.filter((span) => clocks[span.clock] !== undefined);
    return usable.map((span) => {
      const told = span.from === span.to ? lifeFromMedian(span.from, SHAPE_BY_CLASS[weakPoint.componentClass]) : lifeFromWindow(span.from, span.to);
      return {
        shape: told.shape,
        scale: scaleForShare(told.scale, told.shape, 1 / usable.length),
        clock: clocks[span.clock]!,
        duty: GRADE_DUTY[grade] * (span.clock === 'distance' ? severity : 1),
      };
    });
  });
}

/** One installation that is known, as a node: weights from surviving since. */
function knownNode(lives: readonly ClockLife[], share: number, installDay: number, nowDay: number, prior: number): PartNode {
  return { installDay, susceptible: prior * share * Math.exp(-hazardSinceInstall(lives, installDay, nowDay)), immune: prior * (1 - share) };
}

/** The one installation there is: conditioned on running in the logarithm, where a share of all and a long life leave nothing to divide by. */
function onlyNode(lives: readonly ClockLife[], share: number, installDay: number, nowDay: number): PartNode {
  const susceptible = susceptibleGivenAlive(share, hazardSinceInstall(lives, installDay, nowDay));
  return { installDay, susceptible, immune: 1 - susceptible };
}

/** The renewal process from new, laid on this vehicle's own path (bins of equal time since new, so that a parked vehicle still ages). */
function unknownNodes(weakPoint: WeakPointFact, lives: readonly ClockLife[], startDay: number, nowDay: number): PartNode[] {
  const customClock = lives.findIndex(({ clock }) => clock.kind === 'distance');
  const ordered = customClock > 0 ? [lives[customClock]!, ...lives.filter((_, i) => i !== customClock)] : lives;
  const nodes = unknownInstall({
    lives: ordered,
    clocksNow: ordered.map(({ clock, duty }) => duty * (clock.at(nowDay) - clock.at(startDay))),
    share: weakPoint.share,
    custom: customClock >= 0 && weakPoint.customKm !== null ? weakPoint.customKm * ordered[0]!.duty : null,
    ...UNKNOWN_DEFAULTS,
  });
  return nodes.map(({ fraction, susceptible, immune }) => ({ installDay: startDay + fraction * (nowDay - startDay), susceptible, immune }));
}

const scaled = (nodes: readonly PartNode[], factor: number): PartNode[] =>
  nodes.map(({ installDay, susceptible, immune }) => ({ installDay, susceptible: susceptible * factor, immune: immune * factor }));

const sumOf = (nodes: readonly PartNode[]): number => nodes.reduce((sum, node) => sum + node.susceptible + node.immune, 0);

/**
 * What is in there now: a mixture over installations from the service records of its component. The last definite record decides
 * (`done`: installed that day; `not_done`: the original); `believed` mixes that day with the unknown; `unknown` and no record at all are the renewal process.
 */
export function partState(weakPoint: WeakPointFact, clocks: ClocksByKind, severity: number, services: readonly ServiceFact[], startDay: number, nowDay: number): PartState {
  const own = services.filter(({ componentKey, day }) => componentKey === weakPoint.componentKey && (day === null || day <= nowDay));
  const last = own.filter((record) => record.certainty === 'done' && record.day !== null).sort((a, b) => b.day! - a.day!)[0]
    ?? own.findLast((record) => record.certainty !== 'done');
  const grade = last?.certainty === 'done' || last?.certainty === 'believed' ? last.grade : 'original';
  const lives = livesOf(weakPoint, clocks, severity, grade);
  const { share } = weakPoint;
  let nodes: PartNode[];
  let installs: InstallFact[];
  const openHistory = (): PartNode[] => unknownNodes(weakPoint, lives, startDay, nowDay);
  if (last?.certainty === 'done') {
    nodes = [onlyNode(lives, share, last.day!, nowDay)];
    installs = [{ certainty: 'done', day: last.day!, weight: 1 }];
  } else if (last?.certainty === 'not_done') {
    nodes = [onlyNode(lives, share, startDay, nowDay)];
    installs = [{ certainty: 'not_done', day: startDay, weight: 1 }];
  } else if (last?.certainty === 'believed' && last.day !== null) {
    const told = last.day;
    const days = [-BELIEVED.spreadDays, 0, BELIEVED.spreadDays].map((offset) => Math.max(startDay, Math.min(nowDay, told + offset)));
    const believed = days.map((day, i) => knownNode(lives, share, day, nowDay, [0.25, 0.5, 0.25][i]!));
    const open = openHistory();
    nodes = [...scaled(believed, BELIEVED.chance), ...scaled(open, 1 - BELIEVED.chance)];
    installs = [{ certainty: 'believed', day: told, weight: (BELIEVED.chance * sumOf(believed)) / sumOf(nodes) }];
  } else {
    nodes = openHistory();
    installs = [{ certainty: last === undefined ? 'assumed' : 'unknown', day: startDay, weight: (nodes[0]!.susceptible + nodes[0]!.immune) / sumOf(nodes) }];
  }
  const total = sumOf(nodes);
  const normal = scaled(nodes, 1 / total);
  const kept = normal.filter((node) => node.susceptible + node.immune > LEAST_WEIGHT);
  const original = normal.filter(({ installDay }) => installDay <= startDay).reduce((sum, node) => sum + node.susceptible + node.immune, 0);
  const susceptible = normal.reduce((sum, node) => sum + node.susceptible, 0);
  return { nodes: kept, lives, installs, originalChance: original, shareLeft: share > 0 ? susceptible / share : 0 };
}

/** Chance of failing in the step for a mixture of parts: sum of weighted failures over the sum of weighted evidence, never a mean of chances. */
export function mixtureRisk(state: Pick<PartState, 'nodes' | 'lives'>, inspections: readonly Inspection[], nowDay: number, stepDays: number): { risk: number; susceptible: number } {
  let failing = 0;
  let susceptible = 0;
  let total = 0;
  if (inspections.length === 0) {
    // Without looks the evidence of every part is 1: the same sums, without building a question for each.
    for (const node of state.nodes) {
      failing -= node.susceptible * Math.expm1(-hazardBetween(state.lives, node.installDay, nowDay, nowDay + stepDays));
      susceptible += node.susceptible;
      total += node.susceptible + node.immune;
    }
    return { risk: failing / total, susceptible: susceptible / total };
  }
  for (const node of state.nodes) {
    const weight = node.susceptible + node.immune;
    // A look says something only about the part that was in there then.
    const own = inspections.filter(({ day }) => day >= node.installDay);
    const part = weighedRisk({ installDay: node.installDay, susceptible: node.susceptible / weight }, { lives: state.lives, nowDay, stepDays, inspections: own });
    failing += weight * part.failing;
    susceptible += weight * part.susceptible;
    total += weight * part.total;
  }
  return { risk: failing / total, susceptible: susceptible / total };
}
