import fc from 'fast-check';
import { planVisits } from './plan.ts';
import { planProof } from './proof.ts';
import { planStanding, type PlanItem, type PlanQuestion } from './question.ts';
import { searchPlan } from './search.ts';
import { left } from './testing.ts';
import { exhaustive, OPERATIONS, questions } from './testing-questions.ts';

const MONTHS = 4;
const fewItems = questions({ months: MONTHS, most: 5 });

test('of small questions the best of all plans is found and proven, or that there is none', () => {
  fc.assert(
    fc.property(fewItems, (question) => {
      const best = exhaustive(question);
      const plan = planVisits(question, { left: left(1500) });
      if (best === Infinity) {
        expect(plan).toBeNull();
        return;
      }
      // A search may miss a place that only trying everything finds; what it says of itself is true all the same.
      if (plan === null) return;
      expect(plan.cost).toBeGreaterThanOrEqual(best - 1e-9);
      expect(plan.bound).toBeLessThanOrEqual(best + 1e-6);
      if (plan.proven) expect(plan.cost).toBeCloseTo(best, 6);
      expect(planStanding(question, plan.months).feasible).toBe(true);
      question.items.forEach(({ pin }, i) => {
        if (pin !== null) expect(plan.months[i]).toBe(pin);
      });
    }),
    { numRuns: 60 },
  );
});

test('with all the time there is it ends by itself, at the best of all plans, and proves it', () => {
  fc.assert(
    fc.property(fewItems, (question) => {
      const best = exhaustive(question);
      const plan = planVisits(question, { left: () => 1 });
      if (best === Infinity) expect(plan).toBeNull();
      if (plan === null) return;
      expect(plan).toMatchObject({ proven: true, bound: plan.cost });
      expect(plan.cost).toBeCloseTo(best, 6);
    }),
    { numRuns: 25, seed: 19 },
  );
});

test('with no time left it is the first plan there is, of which nothing is known', () => {
  const dear = { ...small, items: small.items.map((one) => ({ ...one, later: 1000 })) };
  const plan = planVisits(dear, { left: () => 0 })!;
  expect(plan).toMatchObject({ bound: -Infinity, proven: false, sets: [] });
  expect(plan.months).toEqual(searchPlan(dear, { until: () => true })!.months);
  // With time for a bound and none for a proof, the bound lies below it.
  const bounded = planVisits({ ...dear, capacity: 55 }, { left: () => 0.75 })!;
  expect(bounded.bound).toBeGreaterThan(0);
  expect(bounded.bound).toBeLessThanOrEqual(bounded.cost);
});

test('a plan is never dearer than each thing on its own best date, nor than the plan it began from', () => {
  fc.assert(
    fc.property(fewItems, (question) => {
      const open = { ...question, capacity: null, budget: null, yearBudget: null };
      const own = open.items.map((one) => planVisits({ ...open, items: [one] }, { left: left(60) })!.months[0]!);
      const plan = searchPlan(open, { until: (round) => round >= 300, from: own })!;
      expect(plan.cost).toBeLessThanOrEqual(planStanding(open, own).cost + 1e-9);
    }),
    { numRuns: 40 },
  );
});

test('visits that are handed to a search change only how fast it is, whatever they are', () => {
  const set = fc.record({
    month: fc.integer({ min: 0, max: MONTHS - 1 }),
    items: fc.uniqueArray(fc.integer({ min: 0, max: 4 }), { minLength: 1 }),
  });
  fc.assert(
    fc.property(fewItems, fc.array(set, { minLength: 1, maxLength: 4 }), (question, all) => {
      const sets = all
        .map(({ month, items }) => ({ month, items: items.filter((i) => i < question.items.length) }))
        .filter(({ items }) => items.length > 0);
      const plan = searchPlan(question, { until: (round) => round >= 200, sets });
      if (plan === null) return;
      const { cost, feasible } = planStanding(question, plan.months);
      expect(feasible).toBe(true);
      expect(plan.cost).toBeCloseTo(cost, 6);
      expect(plan.cost).toBeGreaterThanOrEqual(exhaustive(question) - 1e-6);
    }),
    { numRuns: 60 },
  );
});

const alone = (more: Partial<PlanItem> = {}): PlanItem => ({
  operations: ['cover'],
  ownMinutes: 10,
  parts: 5,
  byMonth: [10, 5, 0, 5],
  later: 20,
  pin: null,
  deadline: null,
  ...more,
});
const small: PlanQuestion = {
  operations: OPERATIONS,
  items: [alone(), alone({ byMonth: [0, 5, 10, 15], operations: ['cover'] })],
  months: MONTHS,
  visitCost: 50,
  labourPerMinute: 1,
  capacity: null,
  budget: null,
};

test('two jobs behind one cover go together where apart each has a better month', () => {
  const dear = { ...small, items: small.items.map((one) => ({ ...one, later: 1000 })) };
  const { months, proven } = planVisits(dear, { left: left(500) })!;
  expect(months[0]).toBe(months[1]);
  expect(proven).toBe(true);
});

test('what may not come before a month, and what has a deadline, is kept to', () => {
  const limited = { ...small, items: [alone({ notBefore: 3, later: 1000 }), alone({ deadline: 1, later: 0 })] };
  expect(planVisits(limited, { left: left(500) })!.months).toEqual([3, 1]);
});

test('a month in which something may not be done is passed over', () => {
  const barred = { ...small, items: [alone({ byMonth: [50, 50, Infinity, 60], later: 1000 })] };
  expect(planVisits(barred, { left: left(500) })!.months).toEqual([0]);
});

test('what a year may cost is kept to, over the years', () => {
  const two = { byMonth: Array.from({ length: 24 }, (_, month) => month), later: 1000, ownMinutes: 100, parts: 0 };
  const years = { ...small, months: 24, items: [alone(two), alone({ ...two, operations: [] })] };
  expect(planVisits(years, { left: left(2000) })!.months).toEqual([0, 0]);
  // Each visit of its own comes to 170 and 150: two do not fit into one year.
  const { months, proven } = planVisits({ ...years, yearBudget: 200 }, { left: left(2000) })!;
  expect([...months].sort((a, b) => a - b)).toEqual([0, 12]);
  expect(proven).toBe(true);
});

test('with nothing to do there is nothing to pay', () => {
  expect(planVisits({ ...small, items: [] }, { left: left(20) })).toMatchObject({ months: [], cost: 0, proven: true });
});

test('what fits nowhere has no plan', () => {
  expect(planVisits({ ...small, capacity: 5, items: [alone({ pin: 1 })] }, { left: left(50) })).toBeNull();
});

test('more than a proof can hold is not proved, and planned all the same', () => {
  const many = { ...small, items: Array.from({ length: 70 }, () => alone({ later: 30 })) };
  expect(planProof(many, { paid: new Float64Array(70), cost: 1e6 }, () => false)).toBeNull();
  expect(planVisits(many, { left: left(200) })!.months).toHaveLength(70);
});

test.each([
  [{ months: 0 }, 'months must be a whole number'],
  [{ capacity: 0 }, 'capacity must be positive'],
  [{ budget: -1 }, 'budget must be positive'],
  [{ yearBudget: 0 }, 'yearBudget must be positive'],
  [{ items: [alone({ byMonth: [1] })] }, 'items.0.byMonth needs one cost for each month'],
  [{ items: [alone({ pin: 9 })] }, 'items.0.pin lies outside of the months'],
  [{ items: [alone({ deadline: 0, notBefore: 2 })] }, 'items.0.deadline lies before'],
  [{ items: [alone({ pin: 3, deadline: 1 })] }, 'items.0.pin lies outside of what its limits allow'],
  [{ items: [alone({ operations: ['bonnet'] })] }, 'there is no operation bonnet'],
  [{ operations: new Map([['cover', { minutes: 1, needs: ['cover'] }]]) }, 'an operation needs itself: cover > cover'],
])('%j is refused by name', (wrong, words) => {
  expect(() => planVisits({ ...small, ...wrong }, { left: left(20) })).toThrow(words);
});
