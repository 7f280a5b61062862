import fc from 'fast-check';
import type { Operations } from './access.ts';
import { workOfJob, workTogether, type WorkItem } from './together.ts';

/** Belt and pump behind the same covers, pump and thermostat on the same coolant. */
const OPERATIONS: Operations = new Map([
  ['shields', { minutes: 20, needs: [] }],
  ['covers', { minutes: 40, needs: ['shields'] }],
  ['timing', { minutes: 60, needs: ['covers'] }],
  ['drain', { minutes: 35, needs: [] }],
  ['belt', { minutes: 50, needs: ['timing'] }],
  ['pump', { minutes: 30, needs: ['timing', 'drain'] }],
  ['thermostat', { minutes: 75, needs: ['drain'] }],
]);
const renew = (key: string): WorkItem => ({ operations: [key], own: 0 });

test('belt, pump and thermostat together take each step once: 5 h 10, where each by itself adds up to 7 h 45', () => {
  const { minutes, alone, steps, shares } = workTogether(OPERATIONS, ['belt', 'pump', 'thermostat'].map(renew));
  expect(minutes).toBe(310);
  expect(alone).toEqual([170, 185, 110]);
  expect(alone.reduce((sum, of) => sum + of, 0)).toBe(465);
  expect(shares.reduce((sum, of) => sum + of, 0)).toBeCloseTo(310, 12);
  expect(steps.map(({ key }) => key)).toEqual(['shields', 'covers', 'timing', 'belt', 'drain', 'pump', 'thermostat']);
  expect(steps.find(({ key }) => key === 'drain')!.for).toEqual([1, 2]);
});

test('a look takes its own minutes and what must be off; what nobody told an operation for takes what was told', () => {
  const look = workOfJob({
    action: 'look',
    operation: 'belt',
    renewMinutes: 170,
    look: { minutes: 8, off: ['covers'] },
  });
  expect(workTogether(OPERATIONS, [look, renew('belt')])).toMatchObject({ minutes: 178, alone: [68, 170] });
  const untold = workOfJob({ action: 'renew', operation: null, renewMinutes: 45, look: null });
  const unseen = workOfJob({ action: 'look', operation: null, renewMinutes: 45, look: null });
  expect(workTogether(OPERATIONS, [untold, unseen, { operations: ['gone'], own: 3 }])).toMatchObject({
    minutes: 58,
    alone: [45, 10, 3],
    steps: [],
  });
});

test('together is never more than each by itself, never less than the longest, and adding never takes minutes away', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          operations: fc.subarray([...OPERATIONS.keys()], { maxLength: 3 }),
          own: fc.integer({ min: 0, max: 40 }),
        }),
        { minLength: 1, maxLength: 8 },
      ),
      (work) => {
        const all = workTogether(OPERATIONS, work);
        const sum = all.alone.reduce((one, other) => one + other, 0);
        expect(all.minutes).toBeLessThanOrEqual(sum);
        expect(all.minutes).toBeGreaterThanOrEqual(Math.max(...all.alone));
        expect(workTogether(OPERATIONS, work.slice(1)).minutes).toBeLessThanOrEqual(all.minutes);
        expect(all.shares.reduce((one, other) => one + other, 0)).toBeCloseTo(all.minutes, 9);
      },
    ),
  );
});

test('operations that need each other are refused by name', () => {
  const ring: Operations = new Map([
    ['a', { minutes: 1, needs: ['b'] }],
    ['b', { minutes: 1, needs: ['a'] }],
  ]);
  expect(() => workTogether(ring, [renew('a')])).toThrow('an operation needs itself: a > b > a');
});
