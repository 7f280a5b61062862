import { incompleteGamma, logGamma } from './gamma.ts';

const rel = (actual: number, wanted: number, within = 1e-13): void =>
  expect(Math.abs(actual - wanted)).toBeLessThanOrEqual(within * Math.abs(wanted));

/** n!, exact in doubles up to 22. */
const factorial = (n: number): number => (n <= 1 ? 1 : n * factorial(n - 1));

test('ln Gamma at whole and half numbers is that of the closed forms', () => {
  for (let n = 2; n <= 22; n += 1) rel(logGamma(n + 1), Math.log(factorial(n)));
  expect(logGamma(1)).toBeCloseTo(0, 14);
  expect(logGamma(2)).toBeCloseTo(0, 14);
  // Gamma(n + 1/2) = (2n)! sqrt(pi) / (4^n n!).
  for (let n = 0; n <= 11; n += 1)
    rel(logGamma(n + 0.5), Math.log((factorial(2 * n) * Math.sqrt(Math.PI)) / (4 ** n * factorial(n))));
});

// Published: Abramowitz and Stegun, table 6.1.
test.each([
  [0.1, 9.513507698668732],
  [0.25, 3.625609908221908],
  [1.5, 0.886226925452758],
  [1.75, 0.919062526848883],
])('Gamma(%d) = %d', (x, wanted) => rel(Math.exp(logGamma(x)), wanted, 1e-12));

test('Gamma(x + 1) = x Gamma(x), below one half as above', () => {
  for (const x of [0.01, 0.2, 0.4999, 0.5, 0.5001, 3.3, 40.7])
    expect(logGamma(x + 1)).toBeCloseTo(Math.log(x) + logGamma(x), 12);
});

/** P(a, x) for whole a: 1 - e^-x sum x^k / k!. */
const whole = (a: number, x: number): number => {
  let sum = 0;
  for (let k = 0; k < a; k += 1) sum += x ** k / factorial(k);
  return 1 - Math.exp(-x) * sum;
};

test.each([
  [1, 0.3],
  [1, 1],
  [1, 7],
  [2, 0.5],
  [2, 3],
  [2, 5],
  [5, 2],
  [5, 6],
  [5, 6.0001],
  [5, 15],
  [10, 4],
  [10, 11],
  [10, 20],
  [12, 40],
])('P(%d, %d) is that of the sum, by the series and by the fraction', (a, x) =>
  expect(incompleteGamma(a, x)).toBeCloseTo(whole(a, x), 13),
);

// P(1/2, x) = erf(sqrt x); published to 16 digits.
test.each([
  [0.25, 0.5204998778130465],
  [1, 0.8427007929497149],
  [2.25, 0.9661051464753108],
  [4, 0.9953222650189527],
])('P(1/2, %d) is the error function of its root', (x, wanted) =>
  expect(incompleteGamma(0.5, x)).toBeCloseTo(wanted, 13),
);

test('P(a + 1, x) = P(a, x) - x^a e^-x / Gamma(a + 1), also for large a and x', () => {
  for (const [a, x] of [
    [0.3, 0.1],
    [2.7, 2],
    [2.7, 9],
    [60.5, 55],
    [60.5, 80],
    [150, 149],
    [150, 160],
  ] as const)
    expect(incompleteGamma(a + 1, x)).toBeCloseTo(
      incompleteGamma(a, x) - Math.exp(a * Math.log(x) - x - logGamma(a + 1)),
      12,
    );
});

test('from nothing to certainty', () => {
  for (const a of [0.5, 1, 20]) expect([incompleteGamma(a, 0), incompleteGamma(a, Infinity)]).toEqual([0, 1]);
  expect(incompleteGamma(3, 1e-8)).toBeCloseTo(1e-24 / 6, 30);
});

test('what lies outside is refused by its name', () => {
  for (const x of [0, -1, NaN]) expect(() => logGamma(x)).toThrow(`logGamma needs a positive argument, got ${x}`);
  for (const [a, x] of [
    [0, 1],
    [-1, 1],
    [NaN, 1],
    [1, -1],
    [1, NaN],
  ] as const)
    expect(() => incompleteGamma(a, x)).toThrow(`incompleteGamma needs a > 0 and x >= 0, got ${a} and ${x}`);
});
