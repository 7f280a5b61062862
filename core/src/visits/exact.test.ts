import fc from 'fast-check';
import { planBound } from './bound.ts';
import { planProof } from './proof.ts';
import { planStanding, type PlanQuestion } from './question.ts';
import { searchPlan } from './search.ts';
import { exhaustive, questions } from './testing-questions.ts';

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

test('where nothing is shared the bound is the best plan, and says what is done when, and what is left', () => {
  const [some] = fc.sample(questions({ months: 5, most: 1 }), { numRuns: 1, seed: 1 });
  const one = { operations: [], ownMinutes: 10, parts: 0, pin: null, deadline: null };
  const question: PlanQuestion = {
    ...some!,
    visitCost: 30,
    labourPerMinute: 1,
    capacity: null,
    budget: null,
    yearBudget: null,
    items: [
      { ...one, byMonth: [40, 30, 3, 30, 40], later: 200 },
      // Forty for its visit: it is cheaper left.
      { ...one, byMonth: [0, 0, 0, 0, 0], later: 5 },
    ],
  };
  const { bound, hints, sets, paid } = planBound(question, { cost: 48, until: (round) => round >= 2000 });
  expect(hints).toEqual([2, 5]);
  // Month 2 costs 3, a visit and ten minutes; the other is left.
  expect(bound).toBeCloseTo(3 + 30 + 10 + 5, 2);
  expect(paid[1]).toBeLessThanOrEqual(5);
  expect(sets).toContainEqual({ month: 2, items: [0] });
});

/** So many months, of which one costs nothing and the others the more the further they are. */
const bestIn = (month: number): number[] => Array.from({ length: 40 }, (_, at) => (at - month) ** 2);

test('of forty jobs each comes to the month that is its own, some short ones beside a long one', () => {
  const short = new Map([
    [0, 7],
    [29, 12],
    [30, 31],
    [31, 2],
    [44, 39],
  ]);
  // One long job fits a visit, and one short one beside it.
  let next = 0;
  const question: PlanQuestion = {
    operations: new Map(),
    items: Array.from({ length: 45 }, (_, i) => {
      const own = short.get(i) ?? (next++ * 17 + 5) % 40;
      return {
        operations: [],
        ownMinutes: short.has(i) ? 30 : 60,
        parts: 0,
        byMonth: bestIn(own),
        later: 500,
        pin: null,
        deadline: null,
      };
    }),
    months: 40,
    visitCost: 1,
    labourPerMinute: 0.5,
    capacity: 100,
    budget: null,
  };
  const best = 40 * (1 + 30) + 5 * 15;
  const { paid, bound } = paidAfter(question, best + 1, 300);
  expect(bound).toBeLessThanOrEqual(best + 1e-6);
  const proof = planProof(question, { paid, cost: best + 1 }, () => false)!;
  expect(proof.better!.cost).toBeCloseTo(best, 6);
  proof.better!.months.forEach((month, i) => expect(question.items[i]!.byMonth[month]).toBe(0));
  expect(planProof(question, { paid, cost: best }, () => false)).toEqual({ better: null });
  expect(planProof(question, { paid, cost: best + 1 }, () => true)).toBeNull();
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
