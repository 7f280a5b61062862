import { groupsOf, mergeQuestion, spreadMonths, spreadSets, squeezeMonths, squeezeSets } from './groups.ts';
import type { PlanItem, PlanQuestion } from './question.ts';

const item = (more: Partial<PlanItem>): PlanItem => ({
  operations: [],
  ownMinutes: 0,
  parts: 0,
  byMonth: [1, 2, 3],
  later: 4,
  pin: null,
  deadline: null,
  ...more,
});
const named = (key: string, goesWith: string | null = null) => ({ key, goesWith });
const ITEMS = [named('seal'), named('pump', 'belt'), named('belt'), named('idler', 'belt')];

test('each stands with the job that it goes with; by itself where nobody knows that job', () => {
  expect(groupsOf(ITEMS, new Map())).toEqual([0, 1, 1, 1]);
  expect(groupsOf([named('pump', 'unheard-of')], new Map())).toEqual([0]);
  expect(groupsOf([...ITEMS, named('plug', 'pump')], new Map())).toEqual([0, 1, 1, 1, 1]);
});

test('what somebody puts elsewhere stands by itself, what he puts into the same month does not', () => {
  expect(groupsOf(ITEMS, new Map([['pump', 4]]))).toEqual([0, 1, 2, 2]);
  const both = new Map([
    ['pump', 4],
    ['belt', 4],
  ]);
  expect(groupsOf(ITEMS, both)).toEqual([0, 1, 1, 1]);
  expect(groupsOf(ITEMS, new Map([['belt', 4]]))).toEqual([0, 1, 1, 1]);
});

test('as one item: their work, their costs added, the strictest of their limits', () => {
  const question: PlanQuestion = {
    operations: new Map(),
    months: 3,
    visitCost: 1,
    labourPerMinute: 1,
    capacity: null,
    budget: null,
    items: [
      item({ operations: ['a', 'b'], ownMinutes: 5, parts: 10, deadline: 2, notBefore: 1 }),
      item({ operations: ['b', 'c'], ownMinutes: 7, parts: 20, deadline: 0, byMonth: [10, Infinity, 30] }),
      item({}),
    ],
  };
  const { items } = mergeQuestion(question, [0, 0, 1]);
  expect(items).toEqual([
    {
      operations: ['a', 'b', 'c'],
      ownMinutes: 12,
      parts: 30,
      byMonth: [11, Infinity, 33],
      later: 8,
      pin: null,
      deadline: 0,
      notBefore: 0,
    },
    question.items[2],
  ]);
  // What was put into a month, or off, takes along what goes with it, whatever day that has of its own.
  const due = item({ deadline: 0, byMonth: [0, Infinity, Infinity] });
  const put = mergeQuestion({ ...question, items: [item({ pin: 2, byMonth: [0, 0, 0] }), due] }, [0, 0]).items[0]!;
  expect(put).toMatchObject({ pin: 2, deadline: null, notBefore: 0 });
  expect(put.byMonth[2]).toBe(0);
  const off = mergeQuestion({ ...question, items: [item({ byMonth: [Infinity, Infinity, Infinity] }), due] }, [0, 0]);
  expect(off.items[0]).toMatchObject({ pin: null, deadline: null });
  const pinned = mergeQuestion({ ...question, items: [item({ pin: 2 }), item({})] }, [0, 0]);
  expect(pinned.items[0]).toMatchObject({ pin: 2, deadline: null, notBefore: 0 });
});

test('months and visits go from groups to items and back', () => {
  const groups = [0, 1, 1, 2];
  expect(spreadMonths([7, 8, 9], groups)).toEqual([7, 8, 8, 9]);
  expect(squeezeMonths([7, 8, 8, 9], groups)).toEqual([7, 8, 9]);
  const sets = [{ month: 3, items: [1, 2] }];
  expect(spreadSets(sets, groups)).toEqual([{ month: 3, items: [1, 2, 3] }]);
  expect(squeezeSets([{ month: 3, items: [1, 2, 3] }], groups)).toEqual(sets);
  // What parts a group is no visit any more.
  expect(squeezeSets([{ month: 3, items: [1, 3] }], groups)).toEqual([]);
});
