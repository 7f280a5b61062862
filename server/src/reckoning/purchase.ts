import { answerRows, type Answer, type PurchaseView, type WalkStep, type WireQuestion } from '@crosspeen/contract';
import {
  costSpread,
  keyMeans,
  ifFoundWorn,
  labourCost,
  preparePlan,
  proposalGround,
  proposeVisits,
  usualTerms,
  yearsAhead,
  type YearCost,
} from '@crosspeen/core';
import type { SettingsValues } from '@crosspeen/contract';
import { policyOf } from './answer.ts';

/** Months that a buyer looks ahead. */
const MONTHS = 24;
/** Looks and questions that fit on one page, the most telling first. */
const MOST_LOOKS = 6;
const MOST_QUESTIONS = 4;
/** Steps that the plan is searched for in: the same question has the same answer. */
const STEPS = 4000;

const costsOf = ({ visits, failures, failuresLow, failuresHigh }: YearCost): PurchaseView['total'] => ({
  visits: Math.round(visits),
  failures: Math.round(failures),
  low: Math.round(visits + failuresLow),
  high: Math.round(visits + failuresHigh),
});

/** What a vehicle that nothing is known of will ask for, where to look before it is bought, and what to ask. */
export function purchaseOf(
  {
    answer,
    walk,
    questions,
    settings,
  }: {
    /** Drawn: the forecast is what is planned by. */
    readonly answer: Answer;
    readonly walk: readonly WalkStep[];
    readonly questions: readonly WireQuestion[];
    readonly settings: SettingsValues;
  },
  price: number | null,
): PurchaseView {
  const rows = answerRows(answer);
  const policy = policyOf(settings);
  const ground = proposalGround(
    {
      forecast: answer.drawing!.forecast,
      operations: new Map(answer.operations.map((operation) => [operation.key, operation])),
      points: rows,
      tasks: answer.upkeep,
      rateKmPerDay: answer.usage.rateKmPerDay,
      standing: new Map(),
      isBought: true,
      isEveryRenewal: false,
    },
    { months: MONTHS, policy },
  );
  const prepared = preparePlan(
    ground,
    usualTerms(MONTHS, { labourCostPerHour: settings.labourRateMinor, visitOwnerCost: settings.visitOwnerMinor }),
  );
  let step = 0;
  const left = (): number => {
    step += 1;
    return 1 - step / STEPS;
  };
  // Without limits everything fits on some visit.
  const proposal = proposeVisits(prepared, { pins: new Map(), left })!;
  const byId = new Map<string, (typeof rows)[number]>(rows.map((row) => [row.weakPointId, row]));
  const tasks = new Map<string, Answer['upkeep'][number]>(answer.upkeep.map((task) => [task.taskId, task]));
  const jobs = proposal.visits.flatMap(({ day, keys }) =>
    keys.map((key): PurchaseView['jobs'][number] => {
      const item = ground.items.find((one) => one.key === key)!;
      const { id, kind } = keyMeans(key);
      const row = kind === 'task' ? undefined : byId.get(id);
      const parts = item.money.kind === 'renew' ? item.money.parts : 0;
      const ifWorn = ifFoundWorn(ground, item, day - ground.forecast.nowDay);
      return {
        weakPointId: row?.weakPointId ?? null,
        taskId: tasks.get(id)?.taskId ?? null,
        kind: item.money.kind,
        title: row?.title ?? tasks.get(id)!.title,
        component: row?.component ?? null,
        day: Math.round(day),
        minutes: item.aloneMinutes,
        money: Math.round(labourCost(item.aloneMinutes, settings.labourRateMinor) + parts),
        isPriceTold: item.money.kind !== 'renew' || row === undefined || row.partPrice !== null,
        ifWorn: ifWorn && { chance: ifWorn.chance, money: Math.round(ifWorn.cost) },
        verdict: row?.verdict ?? null,
        chance: row?.chance ?? null,
        ifFirst: row?.ifFirst ?? null,
        safety: row?.safety ?? false,
        reason: row?.reason ?? null,
      };
    }),
  );
  const telling = (step_: WalkStep): number => (step_.safety ? 1 : 0) + (step_.chance ?? 0);
  const told = new Set([...walk].sort((a, b) => telling(b) - telling(a)).slice(0, MOST_LOOKS));
  return {
    engine: answer.engine,
    odometerUnit: settings.distanceUnit,
    today: answer.today,
    now: answer.now,
    price,
    months: MONTHS,
    jobs,
    holds: answer.holds,
    visits: proposal.visits.length,
    years: yearsAhead(prepared, proposal).map(costsOf),
    total: costsOf(costSpread(prepared, proposal)),
    looks: walk
      .filter((one) => told.has(one))
      .map(({ title, place, how, good, worn, minutes, cautions, chance }) => ({
        title,
        place,
        how,
        good,
        worn,
        minutes,
        cautions,
        chance,
      })),
    questions: questions
      .slice(0, MOST_QUESTIONS)
      .map(({ ask, moves, proof }) => ({
        ask,
        changes: [...new Set(moves.map(({ title }) => title))].slice(0, 4),
        proof,
      })),
  };
}
