/** Lanczos coefficients, g = 7, n = 9. */
const LANCZOS = [
  0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
  12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
] as const;

/**
 * ln Gamma(x) for x > 0, by Lanczos' approximation (relative error about 1e-15). Throws RangeError for x <= 0.
 * Source: Lanczos (1964), coefficients of Godfrey. Example: logGamma(0.5) = ln sqrt(pi) = 0.5723649429247001.
 */
export function logGamma(x: number): number {
  if (!(x > 0)) throw new RangeError(`logGamma needs a positive argument, got ${x}`);
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x);
  const z = x - 1;
  let sum: number = LANCZOS[0];
  for (let i = 1; i < LANCZOS.length; i += 1) sum += LANCZOS[i]! / (z + i);
  const t = z + 7.5;
  return 0.5 * Math.log(2 * Math.PI) + (z + 0.5) * Math.log(t) - t + Math.log(sum);
}

const TINY = 1e-300;
const STEPS = 1000;

/**
 * Regularised lower incomplete gamma function P(a, x), a > 0, x >= 0: the power series below a + 1, the continued
 * fraction (modified Lentz) above.
 * Source: Abramowitz and Stegun 6.5.29 and 6.5.31. Example: P(1, 1) = 1 - 1/e = 0.6321205588285577.
 */
export function incompleteGamma(a: number, x: number): number {
  if (!(a > 0) || !(x >= 0)) throw new RangeError(`incompleteGamma needs a > 0 and x >= 0, got ${a} and ${x}`);
  if (x === 0) return 0;
  if (x === Infinity) return 1;
  const front = Math.exp(a * Math.log(x) - x - logGamma(a));
  if (x < a + 1) {
    let term = 1 / a;
    let sum = term;
    for (let n = 1; n < STEPS && Math.abs(term) > 1e-17 * Math.abs(sum); n += 1) {
      term *= x / (a + n);
      sum += term;
    }
    return front * sum;
  }
  let b = x + 1 - a;
  let c = 1 / TINY;
  let d = 1 / b;
  let fraction = d;
  for (let n = 1; n < STEPS; n += 1) {
    const an = -n * (n - a);
    b += 2;
    d = 1 / (an * d + b || TINY);
    c = b + an / c || TINY;
    const step = d * c;
    fraction *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return 1 - front * fraction;
}
