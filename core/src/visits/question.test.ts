import { mayStand, mustFit, planStanding, reduce, type PlanItem, type PlanQuestion } from './question.ts';

const item = (operations: readonly string[], more: Partial<PlanItem> = {}): PlanItem => ({
  operations,
  ownMinutes: 10,
  parts: 7,
  byMonth: Array.from({ length: 14 }, (_, month) => month),
  later: 100,
  pin: null,
  deadline: null,
  ...more,
});
/** A cover, what lies behind it, a drain of its own. */
const question: PlanQuestion = {
  operations: new Map([
    ['cover', { minutes: 20, needs: [] }],
    ['belt', { minutes: 30, needs: ['cover'] }],
    ['pump', { minutes: 15, needs: ['cover'] }],
    ['drain', { minutes: 5, needs: [] }],
  ]),
  items: [item(['belt']), item(['pump']), item(['drain'])],
  months: 14,
  visitCost: 40,
  labourPerMinute: 2,
  capacity: null,
  budget: null,
};

test('a plan costs its months, its visits and their labour, what is shared once', () => {
  // By hand: belt and pump in month 1 take 20 + 30 + 15 + 20 minutes; the drain is left.
  expect(planStanding(question, [1, 1, 14])).toEqual({ cost: 1 + 1 + 100 + 40 + 2 * 85, feasible: true });
  // Apart the cover comes off twice.
  expect(planStanding(question, [1, 2, 2])).toEqual({ cost: 1 + 2 + 2 + 2 * 40 + 2 * (60 + 45 + 15), feasible: true });
});

test.each([
  ['minutes met exactly', { capacity: 85 }, true],
  ['a minute too many', { capacity: 84 }, false],
  // 40 + 2 * 85 of the visit, 14 of parts.
  ['money of a visit met exactly', { budget: 224 }, true],
  ['a coin too many', { budget: 223 }, false],
  // The drain in month 11 is of the same year: 40 + 2 * 15 + 7 more.
  ['money of a year met exactly', { yearBudget: 301 }, true],
  ['a coin too many in a year', { yearBudget: 300 }, false],
])('limits of a plan: %s', (_, limits, feasible) => {
  expect(planStanding({ ...question, ...limits }, [1, 1, 11]).feasible).toBe(feasible);
  // In the thirteenth month it is another year.
  if ('yearBudget' in limits) expect(planStanding({ ...question, ...limits }, [1, 1, 12]).feasible).toBe(true);
});

test('where an item may stand: its pin alone, until its deadline, from its first month, not where it is barred', () => {
  const standsIn = (more: Partial<PlanItem>): number[] => {
    const one = item([], { byMonth: [0, 1, 2, 3], ...more });
    return [0, 1, 2, 3, 4].filter((month) => mayStand(one, month));
  };
  expect(standsIn({})).toEqual([0, 1, 2, 3, 4]);
  expect(standsIn({ pin: 2 })).toEqual([2]);
  expect(standsIn({ deadline: 2 })).toEqual([0, 1, 2]);
  expect(standsIn({ notBefore: 2 })).toEqual([2, 3, 4]);
  expect(standsIn({ byMonth: [0, Infinity, 2, Infinity] })).toEqual([0, 2, 4]);
});

test('operations with the same users are one, and what one item alone needs is of its own minutes', () => {
  const { own, groupMinutes, groupsOf } = reduce(question);
  expect([...own]).toEqual([40, 25, 15]);
  expect([...groupMinutes]).toEqual([20]);
  expect(groupsOf.map((of) => [...of])).toEqual([[0], [0], []]);
  // Two that need cover and drain both share the two as one; a third with the cover alone parts them.
  const same = reduce({ ...question, items: [item(['cover', 'drain']), item(['drain', 'cover'])] });
  expect([[...same.own], [...same.groupMinutes]]).toEqual([[10, 10], [25]]);
  const parted = reduce({ ...question, items: [item(['cover', 'drain']), item(['drain', 'cover']), item(['cover'])] });
  expect([...parted.groupMinutes].sort((a, b) => a - b)).toEqual([5, 20]);
  expect(parted.groupsOf.map((of) => [...of].reduce((sum, g) => sum + parted.groupMinutes[g]!, 0))).toEqual([
    25, 25, 20,
  ]);
});

test('what is just within its limits is a question', () => {
  const within = [{ pin: 3, deadline: 3, notBefore: 3 }, { deadline: 0 }, { deadline: 14 }, { pin: 13 }, { pin: 0 }];
  for (const more of within) expect(() => mustFit({ ...question, items: [item([], more)] })).not.toThrow();
  expect(() => mustFit({ ...question, capacity: 0.5, budget: 0.5, yearBudget: 0.5 })).not.toThrow();
  for (const [more, words] of [
    [{ pin: 14 }, 'items.0.pin lies outside of the months'],
    [{ pin: -1 }, 'items.0.pin lies outside of the months'],
    [{ pin: 2, notBefore: 3 }, 'items.0.pin lies outside of what its limits allow'],
    [{ pin: 4, deadline: 3 }, 'items.0.pin lies outside of what its limits allow'],
    [{ deadline: 2, notBefore: 3 }, 'items.0.deadline lies before it may be done'],
  ] as const)
    expect(() => mustFit({ ...question, items: [item([], more)] })).toThrow(new RangeError(words));
  expect(() => mustFit({ ...question, months: 1.5, items: [] })).toThrow('months must be a whole number');
});
