import type { Answer, AnswerRow, SettingsValues, WalkStep, WalkView } from '@crosspeen/contract';
import { answerRows } from '@crosspeen/contract';
import {
  asksForWork,
  failureCost,
  forbiddenWith,
  forbidsWhile,
  isAllowed,
  isGlance,
  labourCost,
  lookWorth,
  needsWords,
  renewalCost,
  STANDING_STILL,
  walkSheet,
  type NeedsFact,
  type WalkItem,
  type WeakPointFact,
} from '@crosspeen/core';
import type { FamilyKnowledge } from '../knowledge/family.ts';
import { policyOf } from './answer.ts';

/** What a walk is made of. */
export interface WalkGrounds {
  readonly answer: Answer;
  readonly knowledge: FamilyKnowledge;
  readonly settings: SettingsValues;
}

/** Recurring tasks that are done in passing: looked at or measured. */
const WALKED_TASKS = new Set(['look', 'measure']);
/** States of a task in which it is asked for. */
const ASKED_TASKS = new Set(['overdue', 'due', 'unknown']);

type Words = Omit<WalkStep, 'takesOff' | 'teardownMinutes' | 'chanceThen' | 'linked'>;

/** Something that may be on a sheet: what is reckoned with, and what is read. */
interface Candidate {
  readonly item: WalkItem;
  readonly words: Words;
  readonly needs: NeedsFact;
  /** Worth its minutes at what an hour costs, or asked for anyway. */
  readonly worthwhile: boolean;
}

const pointKey = (id: string): string => `point:${id}`;

function pointCandidate(
  row: AnswerRow,
  fact: WeakPointFact,
  { knowledge, settings }: Pick<WalkGrounds, 'knowledge' | 'settings'>,
): Candidate | null {
  const { look } = fact;
  if (look === null || row.verdict === 'behind_it') return null;
  const policy = policyOf(settings);
  const operations = new Map(knowledge.operations.map((operation) => [operation.key, operation]));
  const off = (look.off ?? []).filter((key) => operations.has(key));
  const asked = asksForWork(row.verdict);
  // What nobody can show is looked at for what it is if it is the first one.
  const chance = Math.max(row.chance, row.unproved ?? 0);
  const worth = lookWorth({
    chance,
    detection: look.detection,
    falseAlarm: look.falseAlarm,
    failureCost: failureCost(fact, policy),
    renewalCost: renewalCost(fact, policy),
    decides: asked,
  });
  const key = pointKey(fact.id);
  const place = look.place ?? (off.length > 0 ? 'opened' : 'top');
  return {
    item: { key, place, minutes: look.minutes, off, worth, must: asked && (row.safety || row.verdict === 'hold') },
    words: {
      key,
      kind: 'point',
      title: row.title,
      component: row.component,
      place,
      spot: look.spot ?? null,
      method: look.method ?? (look.measure ? 'measure' : null),
      upkeepKind: null,
      how: look.how,
      good: look.good ?? null,
      worn: look.worn ?? null,
      failed: look.failed ?? null,
      measure: look.measure ? { ...look.measure, sense: [...look.measure.sense] } : null,
      grades: (look.grades ?? []).map((grade) => ({ ...grade })),
      minutes: look.minutes,
      tools: [...(look.tools ?? [])],
      cautions: [...(look.cautions ?? [])],
      safety: row.safety,
      glance: isGlance({ consequence: fact.consequence, safety: row.safety, look }),
      needs: needsWords(look.needs ?? STANDING_STILL),
      why: row.reason,
      verdict: row.verdict,
      chance: row.chance,
      due: row.due && { day: row.due.day, km: row.due.km },
    },
    needs: look.needs ?? STANDING_STILL,
    worthwhile: asked || worth >= labourCost(look.minutes, policy.labourCostPerHour),
  };
}

function taskCandidate(
  task: Answer['upkeep'][number],
  { answer, knowledge, settings }: WalkGrounds,
  facts: ReadonlyMap<string, WeakPointFact>,
): Candidate | null {
  if (!WALKED_TASKS.has(task.kind) || !ASKED_TASKS.has(task.standing)) return null;
  const told = knowledge.tasks.find(({ id }) => id === task.taskId);
  const policy = policyOf(settings);
  // What its neglect adds to the chances of what it protects, at what a failure of these costs.
  const worth = task.protects.reduce((sum, { weakPointId, factor }) => {
    const fact = facts.get(weakPointId);
    const chance = answer.judgements.find((row) => row.weakPointId === weakPointId)?.chance ?? 0;
    return fact === undefined ? sum : sum + (1 - 1 / factor) * chance * failureCost(fact, policy);
  }, 0);
  const key = `task:${task.taskId}`;
  const place = told?.place ?? 'top';
  const since = task.standing === 'unknown' ? 'Nobody knows when it was last done.' : 'Due now.';
  return {
    item: { key, place, minutes: task.minutes, off: [], worth, must: false },
    words: {
      key,
      kind: 'task',
      title: task.title,
      component: null,
      place,
      spot: told?.spot ?? null,
      method: task.kind === 'measure' ? 'measure' : null,
      upkeepKind: task.kind,
      how: task.how,
      good: null,
      worn: null,
      failed: null,
      measure: null,
      grades: [],
      minutes: task.minutes,
      tools: [],
      cautions: [...task.cautions],
      safety: false,
      glance: false,
      needs: '',
      why: task.standing === 'overdue' ? `Overdue, says ${task.by}.` : since,
      verdict: null,
      chance: null,
      due: task.due,
    },
    needs: STANDING_STILL,
    worthwhile: true,
  };
}

/** Everything that can be looked at on this vehicle, worth it now or not. */
function candidates(grounds: WalkGrounds): Map<string, Candidate> {
  const facts = new Map(grounds.knowledge.weakPoints.map((fact) => [fact.id, fact]));
  const found = [
    ...answerRows(grounds.answer).map((row) => pointCandidate(row, facts.get(row.weakPointId)!, grounds)),
    ...grounds.answer.upkeep.map((task) => taskCandidate(task, grounds, facts)),
  ].filter((candidate) => candidate !== null);
  return new Map(found.map((candidate) => [candidate.item.key, candidate]));
}

/** What was found worn or failed on a walk harms others: which look follows from which finding. */
export function linkedChecks(
  knowledge: Pick<FamilyKnowledge, 'weakPoints'>,
  bad: ReadonlySet<string>,
): Map<string, string[]> {
  const byKey = new Map(knowledge.weakPoints.map((fact) => [fact.key, fact]));
  const linked = new Map<string, string[]>();
  for (const fact of knowledge.weakPoints) {
    if (!bad.has(fact.id)) continue;
    for (const { weakPoint } of fact.damages) {
      const other = weakPoint === undefined ? undefined : byKey.get(weakPoint);
      if (other === undefined || other.look === null) continue;
      const key = pointKey(other.id);
      linked.set(key, [...(linked.get(key) ?? []), fact.title]);
    }
  }
  return linked;
}

/** What a walk that has begun holds on to. */
export interface BegunWalk {
  readonly items: readonly { readonly key: string; readonly chance: number | null }[];
  /** Weak points that were found worn or failed on it. */
  readonly bad: ReadonlySet<string>;
}

export type WalkRound = Pick<WalkView, 'steps' | 'leftOut' | 'forbidden' | 'holds' | 'minutes' | 'liftChanges'>;

/**
 * The sheet of a walk in the order of the hands: what is worth its minutes now, within the time there is; of a walk
 * that has begun, what was on it then, and what follows from its findings. Pure.
 */
export function walkRound(
  grounds: WalkGrounds,
  { budgetMinutes, begun }: { readonly budgetMinutes: number | null; readonly begun: BegunWalk | null },
): WalkRound {
  const all = candidates(grounds);
  const operations = new Map(grounds.knowledge.operations.map((operation) => [operation.key, operation]));
  const linked = begun === null ? new Map<string, string[]>() : linkedChecks(grounds.knowledge, begun.bad);
  const then = new Map(begun?.items.map(({ key, chance }) => [key, chance]) ?? []);
  const wanted = [...all.values()].filter(({ item, worthwhile }) =>
    begun === null ? worthwhile : then.has(item.key) || linked.has(item.key),
  );
  const banned = forbiddenWith(grounds.answer.reports.flatMap(({ forbids, stop }) => forbidsWhile(forbids, stop)));
  const chosen = wanted.filter(({ needs }) => isAllowed(needs, banned));
  const sheet = walkSheet(
    chosen.map(({ item }) => item),
    operations,
    begun === null ? budgetMinutes : null,
  );
  return {
    steps: sheet.steps.map(({ item, takesOff, teardownMinutes }) => {
      const { words } = all.get(item.key)!;
      return {
        ...words,
        key: words.key,
        takesOff: takesOff.map((key) => operations.get(key)!.name),
        teardownMinutes,
        tools: [
          ...new Set([
            ...words.tools,
            ...takesOff.flatMap((key) => operations.get(key)!.tools.map(({ name }) => name)),
          ]),
        ],
        cautions: [...new Set([...words.cautions, ...takesOff.flatMap((key) => operations.get(key)!.cautions)])],
        chanceThen: then.get(item.key) ?? null,
        linked: linked.get(item.key) ?? [],
      };
    }),
    forbidden: wanted
      .filter(({ needs }) => !isAllowed(needs, banned))
      .map(({ words: { key, title }, needs }) => ({ key, title, needs: needsWords(needs) })),
    holds: grounds.answer.holds,
    leftOut: sheet.leftOut.map(({ key }) => {
      const { words } = all.get(key)!;
      return { key, title: words.title, minutes: words.minutes };
    }),
    minutes: sheet.minutes,
    liftChanges: sheet.liftChanges,
  };
}
