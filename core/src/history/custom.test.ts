import { customaryKm } from './custom.ts';

const km = (from: number) => ({ clock: 'distance' as const, from, to: 2 * from });

test('the custom is the shortest interval in distance that anyone publishes', () => {
  expect(customaryKm([[km(120_000), { clock: 'age', from: 10, to: 10 }], [km(90_000)], []])).toBe(90_000);
  expect(customaryKm([[{ clock: 'age', from: 3652, to: 3652 }], []])).toBeNull();
  expect(customaryKm([])).toBeNull();
});
