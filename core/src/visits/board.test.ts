import fc from 'fast-check';
import { Board } from './board.ts';
import { planStanding, reduce, type PlanQuestion } from './question.ts';
import { questions } from './testing-questions.ts';

const boardOf = (question: PlanQuestion) => new Board(question, reduce(question));
const never = (): boolean => false;

/** Of the items that have a place alone, the question that they make, and where they stand. */
function placed(question: PlanQuestion, months: readonly (number | null)[]) {
  const those = question.items.flatMap((item, i) => (months[i] === null ? [] : [{ item, month: months[i]! }]));
  return { question: { ...question, items: those.map(({ item }) => item) }, months: those.map(({ month }) => month) };
}

/** What a plan of some items comes to; infinite where it does not fit. */
function standing(question: PlanQuestion, months: readonly (number | null)[]): number {
  const { question: of, months: at } = placed(question, months);
  const { cost, feasible } = planStanding(of, at);
  return feasible ? cost : Infinity;
}

const shapes = fc.constantFrom({ months: 4, most: 6 }, { months: 15, most: 6 });
const cases = shapes.chain((shape) =>
  fc.record({
    question: questions(shape),
    moves: fc.array(fc.record({ item: fc.nat(5), month: fc.nat(shape.months) }), { maxLength: 40 }),
  }),
);

test('what an item adds is what the plan costs with it less without; where it does not fit it adds no number', () => {
  fc.assert(
    fc.property(cases, ({ question, moves }) => {
      const board = boardOf(question);
      const months: (number | null)[] = question.items.map(() => null);
      for (const { item: some, month } of moves) {
        const item = some % months.length;
        board.take(item);
        months[item] = null;
        const before = standing(question, months);
        const after = standing(question, months.with(item, month));
        const added = board.cost(item, month);
        if (after === Infinity) expect(added).toBe(Infinity);
        else expect(added).toBeCloseTo(after - before, 9);
        // Only what fits is ever put: what stands before the next move fits.
        if (after === Infinity) continue;
        board.put(item, month);
        months[item] = month;
        expect(Array.from(board.month)).toEqual(months.map((of) => of ?? -1));
        if (months.includes(null)) expect(board.total()).toBe(Infinity);
        else expect(board.total()).toBeCloseTo(after, 9);
      }
    }),
    { numRuns: 300, seed: 2 },
  );
});

test('put where it costs least is the least over all months, later among them', () => {
  fc.assert(
    fc.property(cases, ({ question, moves }) => {
      const board = boardOf(question);
      for (const { item: some } of moves) {
        const item = some % question.items.length;
        board.take(item);
        const all = Array.from({ length: question.months + 1 }, (_, month) => board.cost(item, month));
        const least = Math.min(...all);
        expect(board.putBest(item, never)).toBe(least);
        if (least === Infinity) expect(board.month[item]).toBe(-1);
        else expect(all[board.month[item]!]).toBe(least);
      }
    }),
    { numRuns: 300, seed: 4 },
  );
});

test('a good place is passed over only where there is one already, and only by the word of the blink', () => {
  const question: PlanQuestion = {
    operations: new Map(),
    items: [0, 1].map(() => ({
      operations: [],
      ownMinutes: 10,
      parts: 0,
      byMonth: [5, 1, 3],
      later: 90,
      pin: null,
      deadline: null,
    })),
    months: 3,
    visitCost: 20,
    labourPerMinute: 1,
    capacity: null,
    budget: null,
  };
  const board = boardOf(question);
  // Later costs 90, a visit of month 1 costs 31: whoever always looks away leaves it for later.
  expect([board.putBest(0, () => true), board.month[0]]).toEqual([90, 3]);
  board.take(0);
  expect([board.putBest(0, never), board.month[0]]).toEqual([31, 1]);
  // Beside it there 11; passed over, alone in month 2 is 33; passed over as well, in month 0 is 35.
  const looks = (...words: boolean[]) => {
    let at = 0;
    return () => words[at++] ?? false;
  };
  expect([board.putBest(1, looks(false)), board.month[1]]).toEqual([11, 1]);
  board.take(1);
  expect([board.putBest(1, looks(true)), board.month[1]]).toEqual([33, 2]);
  board.take(1);
  expect([board.putBest(1, looks(true, true)), board.month[1]]).toEqual([35, 0]);
  board.take(1);
  // What must be done and has no other place is not passed over.
  const must = boardOf({ ...question, items: [{ ...question.items[0]!, deadline: 0 }] });
  expect([must.putBest(0, () => true), must.month[0]]).toEqual([35, 0]);
});

test('the empty month where some together cost least; later where they may stand nowhere together', () => {
  fc.assert(
    fc.property(cases, fc.nat(), ({ question, moves }, some) => {
      const board = boardOf(question);
      const months: (number | null)[] = question.items.map(() => null);
      for (const { item } of moves.slice(0, 3)) {
        const at = item % months.length;
        board.take(at);
        board.putBest(at, never);
      }
      const items = question.items.flatMap((_, i) => ((some >> i) % 2 === 1 ? [i] : []));
      const busy = new Set(board.month);
      const sumAt = (month: number): number =>
        items.reduce((sum, i) => {
          const { pin, deadline, byMonth } = question.items[i]!;
          return (pin ?? month) === month && month <= (deadline ?? month) ? sum + byMonth[month]! : Infinity;
        }, 0);
      const free = Array.from({ length: question.months }, (_, month) => month).filter((month) => !busy.has(month));
      const least = Math.min(...free.map(sumAt));
      const expected = least === Infinity ? question.months : free.find((month) => sumAt(month) === least);
      expect(board.bestEmpty(items)).toBe(expected);
    }),
    { numRuns: 300, seed: 6 },
  );
});

test('a plan that is loaded stands as it is told, without what stood before', () => {
  fc.assert(
    fc.property(
      questions({ months: 4, most: 5 }),
      fc.array(fc.nat(4), { minLength: 10, maxLength: 10 }),
      (of, told) => {
        const question = { ...of, capacity: null, budget: null, yearBudget: null };
        const free = { ...question, items: question.items.map((item) => ({ ...item, pin: null, deadline: null })) };
        const board = boardOf(free);
        const count = free.items.length;
        board.load(told.slice(0, count));
        expect(board.total()).toBeCloseTo(planStanding(free, told.slice(0, count)).cost, 9);
        const other = told.slice(5, 5 + count);
        board.load([...other.slice(0, -1), -1]);
        expect([board.total(), board.month[count - 1]]).toEqual([Infinity, -1]);
        board.load(other);
        expect(board.total()).toBeCloseTo(planStanding(free, other).cost, 9);
      },
    ),
    { numRuns: 100, seed: 8 },
  );
});
