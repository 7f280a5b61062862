import fc from 'fast-check';
import { closureOf } from '../access/access.ts';
import { Pricing } from './pricing.ts';
import { mayStand, reduce, type PlanQuestion } from './question.ts';
import { questions } from './testing-questions.ts';

const pricingOf = (question: PlanQuestion) => new Pricing(question, reduce(question));
const nodes = () => ({ left: 1_000_000 });

/** What one visit of some items comes to beside what they are paid, its minutes and its parts. */
function visitOf(
  question: PlanQuestion,
  set: readonly number[],
  { month, paid }: { month: number; paid: Float64Array },
) {
  const keys = new Set(set.flatMap((i) => closureOf(question.operations, question.items[i]!.operations)));
  const minutes =
    [...keys].reduce((sum, key) => sum + question.operations.get(key)!.minutes, 0) +
    set.reduce((sum, i) => sum + question.items[i]!.ownMinutes, 0);
  const parts = set.reduce((sum, i) => sum + question.items[i]!.parts, 0);
  const labour = question.visitCost + question.labourPerMinute * minutes;
  const value = set.reduce((sum, i) => sum + question.items[i]!.byMonth[month]! - paid[i]!, labour);
  const money = Math.min(question.budget ?? Infinity, question.yearBudget ?? Infinity);
  const fits =
    set.every((i) => mayStand(question.items[i]!, month)) &&
    minutes <= (question.capacity ?? Infinity) &&
    labour + parts <= money;
  return { value, minutes, parts, fits };
}

const cases = fc.record({
  question: questions({ months: 3, most: 7 }),
  pays: fc.array(fc.integer({ min: 0, max: 260 }), { minLength: 7, maxLength: 7 }),
  month: fc.nat(2),
});

/** Every set of items that fits one visit of a month. */
function visits(question: PlanQuestion, at: { month: number; paid: Float64Array }) {
  const count = question.items.length;
  return Array.from({ length: 2 ** count - 1 }, (_, n) => {
    const set = question.items.flatMap((__, i) => (((n + 1) >> i) % 2 === 1 ? [i] : []));
    return { set, ...visitOf(question, set, at) };
  }).filter(({ fits }) => fits);
}

test('the visit that is worth most by what its items are paid is the best of all sets, none where none is worth it', () => {
  fc.assert(
    fc.property(cases, ({ question, pays, month }) => {
      const paid = Float64Array.from(pays.slice(0, question.items.length));
      const all = visits(question, { month, paid });
      const least = Math.min(0, ...all.map(({ value }) => value));
      const { value, set } = pricingOf(question).least(month, paid, nodes());
      expect(value).toBeCloseTo(least, 9);
      if (least === 0) expect(set).toEqual([]);
      else {
        const told = visitOf(question, set, { month, paid });
        expect([told.fits, new Set(set).size]).toEqual([true, set.length]);
        expect(told.value).toBeCloseTo(least, 9);
      }
    }),
    { numRuns: 400, seed: 3 },
  );
});

test('all visits below a cost are told, each once, with what they come to', () => {
  fc.assert(
    fc.property(cases, fc.integer({ min: -100, max: 200 }), ({ question, pays, month }, limit) => {
      const paid = Float64Array.from(pays.slice(0, question.items.length));
      // Half a coin beside every sum there is, so that none stands at the limit itself.
      const most = limit + 0.25;
      const told: [string, number, number, number][] = [];
      pricingOf(question).within(month, paid, { most, nodes: nodes() }, (set, { value, minutes, parts }) =>
        told.push([[...set].sort().join(' '), value, minutes, parts]),
      );
      const expected = visits(question, { month, paid })
        .filter(({ value }) => value < most)
        .map(({ set, value, minutes, parts }) => [set.join(' '), value, minutes, parts]);
      const byName = (a: readonly unknown[], b: readonly unknown[]): number => (String(a[0]) < String(b[0]) ? -1 : 1);
      expect(told.sort(byName)).toEqual(expected.sort(byName));
    }),
    { numRuns: 400, seed: 9 },
  );
});

test('looking ends with the nodes there are, and says so by leaving none', () => {
  const item = { operations: [], ownMinutes: 1, parts: 0, byMonth: [0], later: 9, pin: null, deadline: null };
  const question: PlanQuestion = {
    operations: new Map(),
    items: Array.from({ length: 20 }, () => item),
    months: 1,
    visitCost: 0,
    labourPerMinute: 1,
    capacity: null,
    budget: null,
  };
  const few = { left: 50 };
  let told = 0;
  pricingOf(question).within(0, new Float64Array(20).fill(1), { most: 5, nodes: few }, () => {
    told += 1;
  });
  expect(few.left).toBe(0);
  expect(told).toBeLessThanOrEqual(50);
  // What is worth nothing is not looked at at all: nothing is paid here for twenty minutes each.
  const none = { left: 50 };
  expect(pricingOf(question).least(0, new Float64Array(20), none)).toEqual({ value: 0, set: [] });
  expect(none.left).toBe(49);
});
