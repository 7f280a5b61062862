import fc from 'fast-check';
import { planStanding, type PlanQuestion } from './question.ts';

export const OPERATIONS: PlanQuestion['operations'] = new Map([
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

/** Questions of so many months and at most so many items, with every kind of limit. */
export const questions = (shape: Shape): fc.Arbitrary<PlanQuestion> =>
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
export function exhaustive(question: PlanQuestion): number {
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
