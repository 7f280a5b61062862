import { Board } from './board.ts';
import { reduce, type PlanQuestion } from './question.ts';
import { Ruins } from './ruins.ts';

/** Six items over five months: 0, 1 and 2 stand behind one cover, 3 and 4 share a drain, 5 nothing. */
const question: PlanQuestion = {
  operations: new Map([
    ['cover', { minutes: 20, needs: [] }],
    ['drain', { minutes: 15, needs: [] }],
  ]),
  items: [['cover'], ['cover'], ['cover'], ['drain'], ['drain'], []].map((operations) => ({
    operations,
    ownMinutes: 10,
    parts: 0,
    // The cheapest empty month of them all is the fourth.
    byMonth: [9, 9, 9, 9, 1],
    later: 90,
    pin: null,
    deadline: null,
  })),
  months: 5,
  visitCost: 20,
  labourPerMinute: 1,
  capacity: null,
  budget: null,
};
const STANDS = [0, 0, 1, 1, 2, 5];
const SETS = [{ month: 1, items: [0, 3] }];

/** What is taken out and the month it is meant for, for given random numbers, and how many numbers are left over. */
function ruin(dice: readonly number[], sets: typeof SETS = []) {
  const reduced = reduce(question);
  const board = new Board(question, reduced);
  board.load(STANDS);
  let at = 0;
  const ruins = new Ruins(board, reduced, () => dice[at++] ?? 0.999, sets);
  const taken = ruins.next();
  return { taken: taken.map((item) => [item, ruins.target[item]]), unused: dice.length - at };
}

/** The middle of one of so many, as a die that falls on it. */
const on = (which: number, of: number): number => (which + 0.5) / of;
const item = (which: number): number => on(which, 6);
const [SWAP, VISIT, SHARERS, AROUND, ANY] = [0.02, 0.08, 0.2, 0.5, 0.9];
const [JOIN, ANYWHERE] = [0.1, 0.9];

test('two visits change places; a visit with itself is moved instead', () => {
  // Begun at item 2, whose month is the first; the other is where item 0 stands.
  expect(ruin([item(2), SWAP, JOIN, item(0)])).toEqual({
    taken: [
      [2, 0],
      [3, 0],
      [0, 1],
      [1, 1],
    ],
    unused: 0,
  });
  expect(ruin([item(2), SWAP, JOIN, item(3), ANYWHERE, on(4, 6)])).toEqual({
    taken: [
      [2, 4],
      [3, 4],
    ],
    unused: 0,
  });
});

test('a whole visit is moved: to where something stands, or to any month, later among them', () => {
  expect(ruin([item(1), VISIT, JOIN, item(4)])).toEqual({
    taken: [
      [0, 2],
      [1, 2],
    ],
    unused: 0,
  });
  expect(ruin([item(1), VISIT, ANYWHERE, on(3, 6)])).toEqual({
    taken: [
      [0, 3],
      [1, 3],
    ],
    unused: 0,
  });
  expect(ruin([item(1), VISIT, ANYWHERE, on(5, 6)])).toEqual({
    taken: [
      [0, 5],
      [1, 5],
    ],
    unused: 0,
  });
});

test('of what shares an operation seven in ten are moved together, to the best empty month or anywhere', () => {
  // Who shares the first group is 0, 1 and 2; the second of them stays.
  const some = [item(5), SHARERS, on(0, 2), 0.6, 0.8, 0.6];
  expect(ruin([...some, 0.2])).toEqual({
    taken: [
      [0, 4],
      [2, 4],
    ],
    unused: 0,
  });
  expect(ruin([...some, 0.4, JOIN, item(4)])).toEqual({
    taken: [
      [0, 2],
      [2, 2],
    ],
    unused: 0,
  });
  expect(ruin([item(5), SHARERS, on(1, 2), 0.1, 0.1, 0.2])).toEqual({
    taken: [
      [3, 4],
      [4, 4],
    ],
    unused: 0,
  });
});

test('what stands around a month is taken out and finds its own place; so many at most', () => {
  // Around month 2 stand the first month and the second; 3 of them at most, one in five is passed over.
  expect(ruin([item(4), AROUND, on(2, 6), 0.5, 0.9, 0.5, item(5)])).toEqual({
    taken: [
      [2, -1],
      [4, -1],
      [5, -1],
    ],
    unused: 0,
  });
  // Where they are fewer than that, others come with them, until one comes twice.
  expect(ruin([item(4), AROUND, on(5, 6), 0.5, 0.5, 0.5, item(0), item(0)])).toEqual({
    taken: [
      [2, -1],
      [3, -1],
      [4, -1],
      [0, -1],
    ],
    unused: 0,
  });
  // One at most.
  expect(ruin([item(0), AROUND, on(0, 6), 0.5, 0.5])).toEqual({ taken: [[0, -1]], unused: 1 });
});

test('or anything is taken out, until one comes twice', () => {
  expect(ruin([item(0), ANY, on(3, 6), item(5), item(1), item(5)])).toEqual({
    taken: [
      [5, -1],
      [1, -1],
    ],
    unused: 0,
  });
});

test('a visit that is known to be worth it is put together: what is not of it leaves, what is of it comes', () => {
  expect(ruin([item(5), 0.1, on(0, 1)], SETS)).toEqual({
    taken: [
      [0, 1],
      [2, -1],
    ],
    unused: 0,
  });
  // Three times in ten; else what else is done.
  expect(ruin([item(1), 0.4, VISIT, JOIN, item(4)], SETS)).toEqual({
    taken: [
      [0, 2],
      [1, 2],
    ],
    unused: 0,
  });
});

test('where nothing is shared, what would be moved together is taken out as anything is', () => {
  const apart = { ...question, items: question.items.map((one) => ({ ...one, operations: [] })) };
  const reduced = reduce(apart);
  const board = new Board(apart, reduced);
  board.load(STANDS);
  const dice = [item(0), SHARERS, on(0, 6), 0.5];
  let at = 0;
  expect(new Ruins(board, reduced, () => dice[at++]!, []).next()).toEqual([0]);
});
