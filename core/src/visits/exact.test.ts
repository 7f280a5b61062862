import fc from 'fast-check';
import { planBound } from './bound.ts';
import { planProof } from './proof.ts';
import { planStanding, type PlanQuestion } from './question.ts';
import { searchPlan } from './search.ts';

const OPERATIONS: PlanQuestion['operations'] = new Map([
  ['cover', { minutes: 20, needs: [] }],
  ['drain', { minutes: 15, needs: [] }],
  ['deep', { minutes: 30, needs: ['cover'] }],
  ['tray', { minutes: 10, needs: [] }],
]);

interface Shape {
  readonly months: number;
  readonly most: number;
}
const items = ({ months, most }: Shape) =>
  fc.array(
    fc.record({
      operations: fc.subarray([...OPERATIONS.keys()], { maxLength: 3 }),
      ownMinutes: fc.integer({ min: 0, max: 40 }),
      parts: fc.integer({ min: 0, max: 100 }),
      byMonth: fc.array(fc.integer({ min: 0, max: 120 }), { minLength: months, maxLength: months }),
      later: fc.integer({ min: 0, max: 150 }),
      pin: fc.option(fc.integer({ min: 0, max: months - 1 }), { freq: 8 }),
      deadline: fc.option(fc.integer({ min: 0, max: months - 1 }), { freq: 4 }),
    }),
    { minLength: 1, maxLength: most },
  );
const questions = (shape: Shape) =>
  fc
    .record({
      operations: fc.constant(OPERATIONS),
      items: items(shape),
      months: fc.constant(shape.months),
      visitCost: fc.integer({ min: 0, max: 80 }),
      labourPerMinute: fc.constantFrom(0.5, 1, 1.5),
      capacity: fc.option(fc.integer({ min: 80, max: 200 })),
      budget: fc.option(fc.integer({ min: 300, max: 600 })),
      yearBudget: fc.option(fc.integer({ min: 300, max: 900 }), { freq: 3 }),
    })
    .map((question): PlanQuestion => ({
      ...question,
      // A pin after a deadline is no question.
      items: question.items.map((item) => ({
        ...item,
        deadline: item.pin !== null && item.deadline !== null ? Math.max(item.pin, item.deadline) : item.deadline,
      })),
    }));

/** The least cost of all plans there are; infinite where none fits. */
function exhaustive(question: PlanQuestion): number {
  let best = Infinity;
  const plan = question.items.map(() => 0);
  const go = (at: number): void => {
    if (at === plan.length) {
      const { cost, feasible } = planStanding(question, plan);
      if (feasible && cost < best) best = cost;
      return;
    }
    for (let month = 0; month <= question.months; month += 1) {
      plan[at] = month;
      go(at + 1);
    }
  };
  go(0);
  return best;
}

const paidAfter = (question: PlanQuestion, cost: number, rounds: number) =>
  planBound(question, { cost, until: (round) => round >= rounds });

test('from any plan that is known a proof finds the best there is; from the best it finds none better', () => {
  fc.assert(
    fc.property(questions({ months: 4, most: 5 }), fc.constantFrom(1, 12, 60), (question, rounds) => {
      const best = exhaustive(question);
      if (best === Infinity) return;
      for (const above of [0.01, 7, 90]) {
        const { paid } = paidAfter(question, best + above, rounds);
        const proof = planProof(question, { paid, cost: best + above }, () => false);
        expect(proof?.better?.cost).toBeCloseTo(best, 6);
        const { cost, feasible } = planStanding(question, proof!.better!.months);
        expect([feasible, Math.abs(cost - best) < 1e-6]).toEqual([true, true]);
      }
      const { paid } = paidAfter(question, best, rounds);
      expect(planProof(question, { paid, cost: best }, () => false)).toEqual({ better: null });
    }),
    { numRuns: 150, seed: 5 },
  );
});

test('over two years a proof keeps to what each of them may cost', () => {
  fc.assert(
    fc.property(questions({ months: 14, most: 3 }), (whole) => {
      const question = { ...whole, yearBudget: 320 };
      const best = exhaustive(question);
      if (best === Infinity) return;
      const { paid } = paidAfter(question, best + 30, 20);
      const proof = planProof(question, { paid, cost: best + 30 }, () => false);
      expect(proof?.better?.cost).toBeCloseTo(best, 6);
    }),
    { numRuns: 60, seed: 11 },
  );
});

test('a proof that is told to stop says nothing', () => {
  fc.assert(
    fc.property(questions({ months: 4, most: 4 }), (question) => {
      const { paid } = paidAfter(question, 1000, 3);
      expect(planProof(question, { paid, cost: 1000 }, () => true)).toBeNull();
    }),
    { numRuns: 5, seed: 3 },
  );
});

test('no bound lies above the best plan, and where jobs share nothing it comes to it', () => {
  fc.assert(
    fc.property(questions({ months: 4, most: 4 }), (question) => {
      const best = exhaustive(question);
      if (best === Infinity) return;
      for (const rounds of [1, 5, 80]) expect(paidAfter(question, best, rounds).bound).toBeLessThanOrEqual(best + 1e-6);
      const apart = {
        ...question,
        visitCost: 0,
        capacity: null,
        budget: null,
        yearBudget: null,
        items: question.items.map((item) => ({ ...item, operations: [] })),
      };
      const least = exhaustive(apart);
      const { bound, hints, sets } = paidAfter(apart, least, 400);
      expect(bound).toBeGreaterThan(least - 0.05 * Math.max(1, least));
      expect(hints).toHaveLength(apart.items.length);
      for (const { month, items: of } of sets) {
        expect(month).toBeLessThan(apart.months);
        expect(new Set(of).size).toBe(of.length);
      }
    }),
    { numRuns: 80, seed: 7 },
  );
});

test('a search of small questions without limits ends at the best of all plans', () => {
  let [found, all] = [0, 0];
  fc.assert(
    fc.property(questions({ months: 4, most: 5 }), (question) => {
      const open = { ...question, capacity: null, budget: null, yearBudget: null };
      const best = exhaustive(open);
      const plan = searchPlan(open, { until: (round) => round >= 400 })!;
      expect(plan.cost).toBeGreaterThanOrEqual(best - 1e-9);
      all += 1;
      if (plan.cost <= best + 1e-9) found += 1;
    }),
    { numRuns: 120, seed: 13 },
  );
  expect(found).toBe(all);
});
