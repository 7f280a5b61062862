import { deferralCosts, planVisits, type PlanQuestion } from '@crosspeen/core';
import { asArray, asNumber, asObject, field, numbers, optional, type Call, type Json } from './json.ts';

/** Cost of putting one item off, month by month. */
export const deferralCall: Call = (input) => {
  const number = (name: string): number => asNumber(field(input, name), name);
  const { byMonth, later, bestAge, susceptible } = deferralCosts({
    life: { shape: number('beta'), scale: number('eta') },
    share: number('pi'),
    ageNow: number('a0'),
    ratePerMonth: number('rate'),
    months: number('T'),
    plannedAlone: number('cp_full'),
    parts: number('cp_parts'),
    failure: number('cf'),
    lateLabour: number('late_labour'),
  });
  return { phi: byMonth, later, T_opt: bestAge, p_now: susceptible };
};

/** Rounds that stand for a millisecond: the core has no clock, and the same question has the same answer. */
const ASKS_PER_MS = 60;
const USUAL_BUDGET_MS = 2000;

/** A question of the planner as the cases tell it: operations by their place, -1 for no pin, 0 for no limit. */
export function planQuestion(input: Record<string, Json>): PlanQuestion {
  const number = (name: string): number => asNumber(field(input, name), name);
  const places = (value: Json, name: string): string[] => numbers(value, name).map(String);
  const noneBelow = (value: number): number | null => (value < 0 ? null : value);
  const limit = (value: number): number | null => (value > 0 ? value : null);
  return {
    operations: new Map(
      asArray(field(input, 'ops'), 'ops').map((told, at) => {
        const operation = asObject(told, 'ops');
        return [
          String(at),
          { minutes: asNumber(field(operation, 'm'), 'm'), needs: places(field(operation, 'req'), 'req') },
        ];
      }),
    ),
    items: asArray(field(input, 'items'), 'items').map((told) => {
      const item = asObject(told, 'items');
      return {
        operations: places(field(item, 'req'), 'req'),
        ownMinutes: 0,
        parts: asNumber(field(item, 'parts'), 'parts'),
        byMonth: numbers(field(item, 'phi'), 'phi'),
        later: asNumber(field(item, 'later'), 'later'),
        pin: noneBelow(asNumber(field(item, 'pin'), 'pin')),
        deadline: noneBelow(asNumber(field(item, 'deadline'), 'deadline')),
      };
    }),
    months: number('T'),
    visitCost: number('visit_fixed'),
    labourPerMinute: number('labour_rate'),
    capacity: limit(number('cap')),
    budget: limit(number('budget')),
  };
}

/** The visits that cost least, and how far from the best they can be. */
export const planCall: Call = (input) => {
  const budget = optional(input, 'budgetMs');
  const asks = ASKS_PER_MS * (budget === undefined ? USUAL_BUDGET_MS : asNumber(budget, 'budgetMs'));
  let asked = 0;
  const plan = planVisits(planQuestion(input), {
    left: () => {
      asked += 1;
      return 1 - asked / asks;
    },
  });
  if (plan === null) return { months: null, cost: null, bound: null, proven: true, stopped: 'an item fits nowhere' };
  return { ...plan, stopped: plan.proven ? 'proven' : 'the time was over' };
};
