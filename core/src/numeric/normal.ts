/**
 * Standard normal distribution function, Phi(z) = erfc(-z / sqrt 2) / 2.
 * erfc by the power series of erf below 2.5 and the Lentz continued fraction above; relative error below 1e-13 for |z|
 * < 8.
 * Source: Abramowitz and Stegun, 7.1.6 and 7.1.14. Example: normalCdf(1.96) = 0.9750021048517795.
 */
export function normalCdf(z: number): number {
  const x = Math.abs(z) / Math.SQRT2;
  let tail: number;
  if (x < 2.5) {
    let term = x;
    let sum = x;
    for (let n = 1; Math.abs(term) > 1e-17 * sum; n += 1) {
      term *= (2 * x * x) / (2 * n + 1);
      sum += term;
    }
    tail = 1 - (2 / Math.sqrt(Math.PI)) * Math.exp(-x * x) * sum;
  } else {
    let fraction = 0;
    for (let n = 120; n > 0; n -= 1) fraction = n / 2 / (x + fraction);
    tail = Math.exp(-x * x) / Math.sqrt(Math.PI) / (x + fraction);
  }
  return z > 0 ? 1 - tail / 2 : tail / 2;
}
