import { planBound, planVisits, planStanding, searchPlan } from '@crosspeen/core';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { planCall, planQuestion } from './visits.ts';

interface Case {
  readonly in: Record<string, never>;
  readonly out: {
    readonly optimal_cost: number;
    readonly root_bound: number;
    readonly plans: readonly { readonly months: number[]; readonly cost: number; readonly feasible: boolean }[];
  };
}
const { cases } = JSON.parse(readFileSync(join(import.meta.dirname, '../../core/vectors/planner.json'), 'utf8')) as {
  readonly cases: readonly Case[];
};

describe.each(cases.map((one, i) => [i, one] as const))(
  'case %i, proved by other programs',
  (_i, { in: input, out }) => {
    const question = planQuestion(input);

    test('plans that are given cost and fit as they were told', () => {
      for (const { months, cost, feasible } of out.plans) {
        const standing = planStanding(question, months);
        expect(standing.cost).toBeCloseTo(cost, 3);
        expect(standing.feasible).toBe(feasible);
      }
    });

    test('the bound lies under the best and near to that of the columns', () => {
      const { bound } = planBound(question, { cost: out.optimal_cost, until: (round) => round >= 150 });
      expect(bound).toBeLessThanOrEqual(out.optimal_cost + 1e-4);
      expect(bound).toBeGreaterThan(0.99 * out.root_bound);
    });

    test('the best is found; the plan costs what it says and fits', () => {
      const answer = planCall({ ...input, budgetMs: 3000 }) as {
        months: number[];
        cost: number;
        bound: number;
        proven: boolean;
        stopped: string;
      };
      expect(answer.cost).toBeLessThan(1.005 * out.optimal_cost);
      expect(answer.cost).toBeGreaterThan(out.optimal_cost - 1e-4);
      expect(planStanding(question, answer.months)).toEqual({
        cost: expect.closeTo(answer.cost, 6) as number,
        feasible: true,
      });
      expect(answer.bound).toBeLessThanOrEqual(answer.cost);
      if (answer.proven) expect(answer.cost).toBeCloseTo(out.optimal_cost, 3);
      expect(answer.stopped).toBe(answer.proven ? 'proven' : 'the time was over');
    });
  },
);

/** Rounds of a search that one frame has time for. */
const FRAME_ROUNDS = 3000;
const SMALL = 15;

test.each(
  cases.map((one, i) => [i, one] as const).filter(([, { in: input }]) => planQuestion(input).items.length <= SMALL),
)('case %i: what is dragged is answered within 1 % of its best, from the plan before it', (_i, { in: input }) => {
  const question = planQuestion(input);
  const thorough = (): (() => number) => {
    let asked = 0;
    return () => {
      asked += 1;
      return 1 - asked / 20_000;
    };
  };
  const before = planVisits(question, { left: thorough() })!;
  expect(before.proven).toBe(true);
  question.items.forEach((item, at) => {
    if (item.pin !== null || at % 3 !== 0) return;
    const pin = (before.months[at]! + 7) % question.months;
    const items = question.items.map((one, i) => (i === at ? { ...one, pin, deadline: null } : one));
    const best = planVisits({ ...question, items }, { left: thorough() });
    const frame = searchPlan(
      { ...question, items },
      { until: (round) => round >= FRAME_ROUNDS, from: before.months, sets: before.sets },
    );
    expect(frame === null).toBe(best === null);
    if (best === null || frame === null) return;
    expect(best.proven).toBe(true);
    expect(frame.cost).toBeGreaterThan(best.cost - 1e-6);
    expect(frame.cost).toBeLessThan(1.01 * best.cost);
  });
});

test('with nothing to do there is nothing to plan', () => {
  expect(planCall({ ops: [], items: [], T: 1, visit_fixed: 1, labour_rate: 1, cap: 0, budget: 0 })).toMatchObject({
    months: [],
    proven: true,
  });
});
