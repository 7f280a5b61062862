import fc from 'fast-check';
import { fastExp, fastExpm1, fastLog, fastLog1p } from './fast.ts';

const close = (actual: number, wanted: number, rel: number, abs = 0): void =>
  expect(Math.abs(actual - wanted)).toBeLessThanOrEqual(rel * Math.abs(wanted) + abs);

// Published to 20 digits: e, e^-1, e^10, ln 2, ln 10, ln 3.
test.each([
  [1, 2.7182818284590452354],
  [-1, 0.3678794411714423216],
  [10, 22026.465794806716517],
  [0, 1],
  [-100, 3.720075976020835963e-44],
])('e^%d', (x, wanted) => close(fastExp(x), wanted, 5e-16));
test.each([
  [2, 0.69314718055994530942],
  [10, 2.302585092994045684],
  [3, 1.0986122886681098],
  [1, 0],
  [1e-300, -690.77552789821370521],
])('ln %d', (x, wanted) => close(fastLog(x), wanted, 5e-16, 1e-16));

test('over all that hazards need they are those of the engine to the last digits', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -700, max: 700, noNaN: true }),
      fc.double({ min: 1e-300, max: 1e300, noNaN: true }),
      (x, y) => {
        close(fastExp(x), Math.exp(x), 1e-15);
        close(fastLog(y), Math.log(y), 4e-16, 3e-16);
      },
    ),
    { numRuns: 3000 },
  );
});

test('small differences keep their digits', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -1, max: 50, noNaN: true }),
      fc.double({ min: 1e-18, max: 1e6, noNaN: true }),
      (x, y) => {
        close(fastExpm1(x), Math.expm1(x), 3e-14, 1e-300);
        close(fastLog1p(y), Math.log1p(y), 3e-14);
      },
    ),
    { numRuns: 3000 },
  );
  expect(fastExpm1(1e-24)).toBe(1e-24);
  expect(fastLog1p(1e-24)).toBe(1e-24);
});

test('the ends of the range: nothing, everything, and what is no number', () => {
  expect([fastExp(-800), fastExp(800), fastExp(-Infinity), fastExp(Infinity), fastExp(NaN)]).toEqual([
    0,
    Infinity,
    0,
    Infinity,
    NaN,
  ]);
  expect([fastLog(0), fastLog(Infinity), fastLog(-1), fastLog(NaN), fastLog(5e-324)]).toEqual([
    -Infinity,
    Infinity,
    NaN,
    NaN,
    Math.log(5e-324),
  ]);
});
