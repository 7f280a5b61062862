import { appliesHere } from './applies.ts';
import { CLOCK_KINDS, type ClockKind } from '../usage/clock.ts';
import { frameFor, framesOf } from './outlook.ts';
import { runningChance } from './ahead.ts';
import { neverRenewed, recordsOf } from './part.ts';
import { judgeRow } from './row.ts';
import type { OutlookInput, WeakPointFact } from './types.ts';

/** Grounds of a chance, one at a time. */
export const WHY_GROUNDS = [
  'share',
  ...CLOCK_KINDS.map((kind) => `clock:${kind}` as const),
  'duty',
  'upkeep',
  'history',
  'original',
  'looks',
  'failures',
  'experience',
  'applies',
] as const;
export type WhyGround = (typeof WHY_GROUNDS)[number];

export interface WhyStep {
  readonly ground: WhyGround;
  /**
   * The chance reckoned again without this ground (or, for `share`, `original` and `applies`, as if it were certain).
   */
  readonly otherwise: number;
}

export interface Why {
  readonly chance: number;
  readonly steps: readonly WhyStep[];
  /** Chance of still running on each of the days, seen from now. */
  readonly running: readonly { readonly day: number; readonly chance: number }[];
}

/**
 * Takes a chance apart: each ground it rests on is taken away in turn and everything is reckoned again, so that the
 * difference is what that ground moved. The differences need not add up: grounds work on each other. Null when the weak
 * point does not apply or is not among the input's.
 */
export function explain(input: OutlookInput, weakPointId: string): Why | null {
  const weakPoint = input.weakPoints.find(({ id }) => id === weakPointId);
  if (weakPoint === undefined) return null;
  const frame = frameFor(weakPoint, framesOf(input));
  const applies = appliesHere(weakPoint, input, frame.fittedDay);
  if (applies.applies === 'no') return null;
  const judged = (
    changes: Partial<OutlookInput>,
    point: WeakPointFact = weakPoint,
    weight: number = applies.weight,
  ) => {
    const changed = { ...input, ...changes };
    return judgeRow({ weakPoint: point, appliesWeight: weight }, changed, frameFor(point, framesOf(changed)));
  };
  const base = judged({});
  const kinds = [...new Set(weakPoint.causes.flatMap((cause) => cause.map(({ clock }) => clock)))];
  const { fittedDay } = frame;
  const records = recordsOf({ weakPoint, services: input.services, fittedDay, nowDay: input.today });
  const findings = input.findings.filter(({ weakPointId: id }) => id === weakPointId);
  const steps: WhyStep[] = [];
  const add = (ground: WhyGround, { chance }: { readonly chance: number }): void => {
    steps.push({ ground, otherwise: chance });
  };
  if (weakPoint.nature === 'defect' && weakPoint.share < 0.99)
    add(
      'share',
      judged(
        {},
        {
          ...weakPoint,
          share: 1,
          experience: weakPoint.experience && {
            ...weakPoint.experience,
            nodes: weakPoint.experience.nodes.map((node) => ({ ...node, share: 1 })),
          },
        },
      ),
    );
  if (kinds.length > 1)
    for (const kind of kinds)
      add(`clock:${kind}`, judged({}, { ...weakPoint, causes: without(weakPoint.causes, kind) }));
  if (base.dutyOn.distance !== 1 || base.dutyOn.age !== 1)
    add('duty', judged({ severity: 1, duty: {} }, { ...weakPoint, hastens: [] }));
  if ((frame.neglects.get(weakPointId) ?? []).length > 0) add('upkeep', judged({ upkeep: [] }));
  if (records.length > 0) add('history', judged({ services: [] }));
  else add('original', judged({ services: [neverRenewed(weakPoint.componentKey, fittedDay)] }));
  if (findings.some(({ result }) => result !== 'failed'))
    add('looks', judged({ findings: findings.filter(({ result }) => result === 'failed') }));
  if (findings.some(({ result }) => result === 'failed'))
    add('failures', judged({ findings: findings.filter(({ result }) => result !== 'failed') }));
  if (weakPoint.experience !== null) add('experience', judged({}, { ...weakPoint, experience: null }));
  if (applies.applies === 'maybe') add('applies', judged({}, weakPoint, 1));
  const running = base.running();
  return {
    chance: base.chance,
    steps,
    running: Array.from(frame.grid.aheadDays, (ahead, i) => ({
      day: input.today + ahead,
      chance: runningChance(running, i),
    })),
  };
}

/** Factor on the published window beyond which it counts as never reached. */
const NEVER = 1e6;

/**
 * The causes as if one clock did not wear: its windows are moved out of reach, so that all else (shares, customs) stays
 * as it is.
 */
const without = (causes: WeakPointFact['causes'], kind: ClockKind): WeakPointFact['causes'] =>
  causes.map((cause) =>
    cause.map((span) => (span.clock === kind ? { ...span, from: span.from * NEVER, to: span.to * NEVER } : span)),
  );
