import fc from 'fast-check';
import { accessMinutes, closureOf, type Operations } from './access.ts';

/** A belt job: cover and belt come off for belt and pump alike; the pump needs the coolant out too. */
const operations: Operations = new Map([
  ['cover', { minutes: 40, needs: [] }],
  ['belt-off', { minutes: 55, needs: ['cover'] }],
  ['drain', { minutes: 30, needs: [] }],
  ['belt', { minutes: 15, needs: ['belt-off'] }],
  ['pump', { minutes: 25, needs: ['belt-off', 'drain'] }],
]);

test('what gives access comes first, and each once', () => {
  expect(closureOf(operations, ['belt'])).toEqual(['cover', 'belt-off', 'belt']);
  expect(closureOf(operations, ['pump', 'belt', 'cover'])).toEqual(['cover', 'belt-off', 'drain', 'pump', 'belt']);
  expect(closureOf(operations, [])).toEqual([]);
});

test('belt and pump together: 165 minutes, not 260; the pump adds 55', () => {
  expect(accessMinutes(operations, [['belt'], ['pump']])).toEqual({
    alone: [110, 150],
    together: 165,
    marginalLast: 55,
    shares: [15 + 95 / 2, 30 + 25 + 95 / 2],
  });
  expect(accessMinutes(operations, [])).toEqual({ alone: [], together: 0, marginalLast: 0, shares: [] });
});

test('what needs itself is named with the way round, what is not there by its name', () => {
  const ring: Operations = new Map([
    ['a', { minutes: 1, needs: ['b'] }],
    ['b', { minutes: 1, needs: ['c'] }],
    ['c', { minutes: 1, needs: ['b'] }],
  ]);
  expect(() => closureOf(ring, ['a'])).toThrow('an operation needs itself: b > c > b');
  expect(() => closureOf(ring, ['b'])).toThrow('an operation needs itself: b > c > b');
  expect(() => closureOf(operations, ['none'])).toThrow('there is no operation none');
});

test('together is never more than alone, never less than the longest; shares sum to it', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ minutes: fc.integer({ min: 1, max: 60 }), needs: fc.array(fc.nat(), { maxLength: 3 }) }), {
        minLength: 1,
        maxLength: 20,
      }),
      fc.array(fc.array(fc.nat(), { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 6 }),
      (drawn, wanted) => {
        // Each needs only what stands before it, so that no ring can come about.
        const some: Operations = new Map(
          drawn.map(({ minutes, needs }, i) => [
            `o${i}`,
            { minutes, needs: i === 0 ? [] : [...new Set(needs.map((need) => `o${need % i}`))] },
          ]),
        );
        const jobs = wanted.map((job) => job.map((need) => `o${need % drawn.length}`));
        const { alone, together, marginalLast, shares } = accessMinutes(some, jobs);
        const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
        expect(together).toBeLessThanOrEqual(sum(alone));
        expect(together).toBeGreaterThanOrEqual(Math.max(...alone));
        expect(sum(shares)).toBeCloseTo(together, 9);
        expect(marginalLast).toBe(together - accessMinutes(some, jobs.slice(0, -1)).together);
      },
    ),
    { numRuns: 300 },
  );
});
