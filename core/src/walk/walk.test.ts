import fc from 'fast-check';
import type { Operations } from '../access/access.ts';
import { LOOK_PLACES } from '../look/words.ts';
import { chooseWithin, liftChanges, walkOrder, walkSheet, type WalkItem } from './sheet.ts';
import { lookBits, lookWorth } from './worth.ts';

/** Guard before cover, cover before belt; the tray by itself. */
const OPERATIONS: Operations = new Map([
  ['guard', { minutes: 5, needs: [] }],
  ['cover', { minutes: 12, needs: ['guard'] }],
  ['belt', { minutes: 30, needs: ['cover'] }],
  ['tray', { minutes: 8, needs: [] }],
]);

const items = (most: number): fc.Arbitrary<WalkItem[]> =>
  fc
    .array(
      fc.record({
        place: fc.constantFrom(...LOOK_PLACES),
        minutes: fc.integer({ min: 1, max: 20 }),
        off: fc.subarray([...OPERATIONS.keys()], { maxLength: 2 }),
        worth: fc.integer({ min: 1, max: 400 }),
        must: fc.constant(false),
      }),
      { minLength: 1, maxLength: most },
    )
    .map((list) => list.map((item, i) => ({ ...item, key: `look-${i}` })));

function orders<Of>(list: readonly Of[]): Of[][] {
  if (list.length <= 1) return [[...list]];
  return list.flatMap((first, i) =>
    orders([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [first, ...rest]),
  );
}

/** By hand: everything an item needs off, however deep. */
function all(off: readonly string[]): Set<string> {
  const keys = new Set<string>();
  const take = (key: string): void => {
    keys.add(key);
    OPERATIONS.get(key)!.needs.forEach(take);
  };
  off.forEach(take);
  return keys;
}

/** Sum of the minutes after which each item of an order is done. */
function waiting(order: readonly WalkItem[]): number {
  const gone = new Set<string>();
  let clock = 0;
  let sum = 0;
  for (const item of order) {
    for (const key of all(item.off)) {
      if (!gone.has(key)) clock += OPERATIONS.get(key)!.minutes;
      gone.add(key);
    }
    clock += item.minutes;
    sum += clock;
  }
  return sum;
}

/** How often the way changes its place. */
const changes = (order: readonly WalkItem[]): number =>
  order.filter((item, i) => i > 0 && order[i - 1]!.place !== item.place).length;

const minutesOf = (list: readonly WalkItem[]): number =>
  list.reduce((sum, { minutes }) => sum + minutes, 0) +
  [...new Set(list.flatMap(({ off }) => [...all(off)]))].reduce((sum, key) => sum + OPERATIONS.get(key)!.minutes, 0);

test('no order changes place or lift less often, and of those in the order of the hands none waits less in one place', () => {
  fc.assert(
    fc.property(items(6), (list) => {
      const ours = walkOrder(list, OPERATIONS).map(({ item }) => item);
      const every = orders(list);
      expect(changes(ours)).toBe(Math.min(...every.map(changes)));
      const lifts = every.map((order) => liftChanges(order.map(({ place }) => place)));
      expect(liftChanges(ours.map(({ place }) => place))).toBe(Math.min(...lifts));
      if (new Set(list.map(({ place }) => place)).size === 1)
        expect(waiting(ours)).toBe(Math.min(...every.map(waiting)));
    }),
    { numRuns: 120 },
  );
});

test('at one place none waits less than in the order of the hands', () => {
  fc.assert(
    fc.property(
      items(6).map((list) => list.map((item) => ({ ...item, place: 'top' as const }))),
      (list) => {
        const ours = walkOrder(list, OPERATIONS).map(({ item }) => item);
        expect(waiting(ours)).toBe(Math.min(...orders(list).map(waiting)));
      },
    ),
    { numRuns: 60 },
  );
});

test('what is off from the place before is off at the next', () => {
  const steps = walkOrder(
    [
      look('plain', 12, 1, { place: 'front' }),
      // Ten minutes behind a cover that is off by then; 27 were it not.
      look('behind', 10, 1, { place: 'front', off: ['cover'] }),
      look('first', 1, 1, { off: ['cover'] }),
    ],
    OPERATIONS,
  );
  expect(LOOK_PLACES.indexOf('top')).toBeLessThan(LOOK_PLACES.indexOf('front'));
  expect(steps.map(({ item }) => item.key)).toEqual(['first', 'behind', 'plain']);
  expect(steps.map(({ teardownMinutes }) => teardownMinutes)).toEqual([17, 0, 0]);
});

test('of many items too, one behind what is off already waits for its own minutes alone', () => {
  const plain = Array.from({ length: 20 }, (_, i) => look(`p${i}`, 7, 1));
  const behind = [look('six', 1, 1, { off: ['guard'] }), look('four', 4, 1, { off: ['guard'] })];
  expect(
    walkOrder([...plain, ...behind], OPERATIONS)
      .slice(0, 2)
      .map(({ item }) => item.key),
  ).toEqual(['six', 'four']);
});

test('what comes off comes off once, before what it gives access to', () => {
  fc.assert(
    fc.property(items(20), (list) => {
      const sheet = walkSheet(list, OPERATIONS);
      const off = sheet.steps.flatMap(({ takesOff }) => takesOff);
      expect(new Set(off).size).toBe(off.length);
      for (const [i, key] of off.entries())
        for (const before of OPERATIONS.get(key)!.needs) expect(off.indexOf(before)).toBeLessThan(i);
      expect(sheet.minutes).toBe(minutesOf(list));
      expect(sheet.steps.map(({ item }) => item.key).sort()).toEqual(list.map(({ key }) => key).sort());
    }),
    { numRuns: 100 },
  );
});

test('no choice within the minutes is worth more', () => {
  fc.assert(
    fc.property(items(9), fc.integer({ min: 0, max: 90 }), (list, budget) => {
      const kept = chooseWithin(list, OPERATIONS, budget);
      const worth = (of: readonly WalkItem[]): number => of.reduce((sum, item) => sum + item.worth, 0);
      let best = 0;
      for (let bits = 0; bits < 1 << list.length; bits += 1) {
        const some = list.filter((_, i) => bits & (1 << i));
        if (minutesOf(some) <= budget) best = Math.max(best, worth(some));
      }
      expect(minutesOf(kept)).toBeLessThanOrEqual(budget);
      expect(worth(kept)).toBe(best);
    }),
    { numRuns: 120 },
  );
});

const look = (key: string, minutes: number, worth: number, more: Partial<WalkItem> = {}): WalkItem => ({
  key,
  place: 'top',
  minutes,
  off: [],
  worth,
  must: false,
  ...more,
});

test('what must not be left out stays though it takes longer than there is time; the rest is said, worth most first', () => {
  const sheet = walkSheet(
    [look('hose', 30, 1, { must: true }), look('cap', 5, 9), look('belt', 5, 20), look('pan', 1, 3)],
    OPERATIONS,
    20,
  );
  expect(sheet.steps.map(({ item }) => item.key)).toEqual(['hose']);
  expect(sheet.leftOut.map(({ key }) => key)).toEqual(['belt', 'cap', 'pan']);
});

test('what must be looked at takes its minutes once, its teardown with it; what is left over is filled', () => {
  const must = look('must', 5, 90, { must: true });
  const rest = [look('other', 7, 3), look('more', 7, 2)];
  const keys = (of: readonly WalkItem[]): string[] => of.map(({ key }) => key);
  expect(keys(chooseWithin([must, ...rest], OPERATIONS, 12))).toEqual(['must', 'other']);
  expect(keys(chooseWithin([must, ...rest], OPERATIONS, 11))).toEqual(['must']);
  // Seventeen minutes for guard and cover, five for itself: eight are left of thirty, behind the cover too.
  const behind = look('behind', 8, 3, { off: ['cover'] });
  const covered = { ...must, off: ['cover'] };
  expect(keys(chooseWithin([covered, behind], OPERATIONS, 30))).toEqual(['must', 'behind']);
  expect(keys(chooseWithin([covered, behind], OPERATIONS, 29))).toEqual(['must']);
});

test('of more teardowns than can all be tried, those that give access to the most are', () => {
  const covers: Operations = new Map(Array.from({ length: 14 }, (_, i) => [`o${i}`, { minutes: 5, needs: [] }]));
  const list = [...covers.keys()].flatMap((key, i) => [
    look(`a${i}`, 1, i + 1, { off: [key] }),
    look(`b${i}`, 1, i + 1, { off: [key] }),
  ]);
  expect(chooseWithin(list, covers, 7).map(({ key }) => key)).toEqual(['a13', 'b13']);
});

test('a sheet says how often the vehicle goes up and down', () => {
  const sheet = walkSheet([look('a', 1, 1), look('b', 1, 1, { place: 'underneath' })], OPERATIONS);
  expect(sheet.liftChanges).toBe(2);
});

test('two looks behind one cover are worth it together where neither is alone', () => {
  const behind = [look('a', 4, 30, { off: ['cover'] }), look('b', 4, 30, { off: ['cover'] }), look('c', 20, 50)];
  const kept = chooseWithin(behind, OPERATIONS, 25).map(({ key }) => key);
  expect(kept).toEqual(['a', 'b']);
});

test('many items of one place are ordered too: what is quick first, what shares a teardown together', () => {
  const many = Array.from({ length: 30 }, (_, i) =>
    look(`l${i}`, 1 + ((i * 7) % 11), 1, i % 5 ? {} : { off: ['belt'] }),
  );
  const steps = walkOrder(many, OPERATIONS);
  const opened = steps.findIndex(({ takesOff }) => takesOff.length > 0);
  expect(opened).toBe(24);
  const before = steps.slice(0, opened).map(({ item }) => item.minutes);
  expect(before).toEqual([...before].sort((a, b) => a - b));
});

test('up once and down once, however much there is underneath', () => {
  expect(liftChanges([])).toBe(0);
  expect(liftChanges(['top', 'underneath', 'underneath', 'road'])).toBe(2);
  expect(liftChanges(['underneath'])).toBe(2);
  expect(liftChanges(['underneath', 'top', 'underneath'])).toBe(4);
});

test('an operation that is not there is named', () => {
  expect(() => walkSheet([look('a', 1, 1, { off: ['bonnet'] })], OPERATIONS)).toThrow('there is no operation bonnet');
});

describe('what a look is worth', () => {
  const facts = { chance: 0.2, detection: 0.8, falseAlarm: 0.05, failureCost: 1000, renewalCost: 300, decides: false };

  test('the cost it is expected to save', () => {
    expect(lookWorth(facts)).toBeCloseTo(160, 12);
    expect(lookWorth({ ...facts, chance: 0 })).toBe(0);
  });

  test('bits from the table of finding and failure: one for a look that cannot err, none for one that sees nothing', () => {
    expect(lookBits({ chance: 0.5, detection: 1, falseAlarm: 0 })).toBeCloseTo(1, 12);
    expect(lookBits({ chance: 0.4, detection: 0.3, falseAlarm: 0.3 })).toBeCloseTo(0, 12);
    const table = [
      [0.16, 0.2, 0.2],
      [0.04, 0.2, 0.8],
      [0.04, 0.8, 0.2],
      [0.76, 0.8, 0.8],
    ] as const;
    const bits = table.reduce((sum, [both, fails, found]) => sum + both * Math.log2(both / (fails * found)), 0);
    expect(lookBits(facts)).toBeCloseTo(bits, 12);
  });

  test('where a decision hangs on it, at least its bits at the price of what is decided on', () => {
    const cheapFailure = { ...facts, failureCost: 1, decides: true };
    expect(lookWorth(cheapFailure)).toBeCloseTo(lookBits(facts) * 300, 12);
    expect(lookWorth({ ...facts, decides: true })).toBeCloseTo(160, 12);
  });
});
