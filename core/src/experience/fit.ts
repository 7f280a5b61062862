import { totalLogLikelihood, type Observation, type ShareLife } from './observation.ts';

export interface Fit extends ShareLife {
  readonly logLikelihood: number;
  /** Why the search ended: the step became small, or the count of steps ran out. */
  readonly stopped: 'converged' | 'steps';
}

const STEPS = 200;
/** Width of the differences that gradient and curvature are taken over, on ln scale, ln shape and logit share. */
const WIDTH = 1e-4;
const DONE = 1e-10;

const lifeAt = ([logScale, logShape, logit]: readonly number[]): ShareLife => ({
  scale: Math.exp(logScale!), shape: Math.exp(logShape!), share: logit === undefined ? 1 : 1 / (1 + Math.exp(-logit)),
});

/** Solves a small symmetric system by Gaussian elimination with pivoting. */
function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] {
  const rows = matrix.map((row, i) => [...row, right[i]!]);
  const n = rows.length;
  for (let i = 0; i < n; i += 1) {
    let pivot = i;
    for (let j = i + 1; j < n; j += 1) if (Math.abs(rows[j]![i]!) > Math.abs(rows[pivot]![i]!)) pivot = j;
    [rows[i], rows[pivot]] = [rows[pivot]!, rows[i]!];
    for (let j = i + 1; j < n; j += 1) {
      const factor = rows[j]![i]! / rows[i]![i]!;
      for (let k = i; k <= n; k += 1) rows[j]![k]! -= factor * rows[i]![k]!;
    }
  }
  const out = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i -= 1) {
    let sum = rows[i]![n]!;
    for (let k = i + 1; k < n; k += 1) sum -= rows[i]![k]! * out[k]!;
    out[i] = sum / rows[i]![i]!;
  }
  return out;
}

/** Gradient and curvature by central differences. */
function slopes(value: (point: readonly number[]) => number, at: readonly number[]): { gradient: number[]; curvature: number[][] } {
  const moved = (...steps: readonly (readonly [axis: number, by: number])[]): number => {
    const point = [...at];
    for (const [axis, by] of steps) point[axis]! += by;
    return value(point);
  };
  const middle = value(at);
  const gradient = at.map((_, i) => (moved([i, WIDTH]) - moved([i, -WIDTH])) / (2 * WIDTH));
  const curvature = at.map((_, i) => at.map((_, j) => (i === j
    ? (moved([i, WIDTH]) - 2 * middle + moved([i, -WIDTH])) / WIDTH ** 2
    : (moved([i, WIDTH], [j, WIDTH]) - moved([i, WIDTH], [j, -WIDTH]) - moved([i, -WIDTH], [j, WIDTH]) + moved([i, -WIDTH], [j, -WIDTH])) / (4 * WIDTH ** 2))));
  return { gradient, curvature };
}

/**
 * Maximum-likelihood Weibull life of observations on one clock, with the susceptible share free when `freeShare` (else 1): damped Newton steps on
 * ln scale, ln shape and logit share. Source: Meeker and Escobar, ch. 8 and 11. Throws RangeError without any failure among the observations.
 */
export function fitLife(observations: readonly Observation[], freeShare: boolean): Fit {
  const failures = observations.filter(({ kind }) => kind !== 'right');
  if (failures.length === 0) throw new RangeError('a life cannot be fitted without a single failure or worn finding');
  const value = (point: readonly number[]): number => totalLogLikelihood(lifeAt(point), observations);
  const typical = observations.reduce((sum, { at, count = 1 }) => sum + at * count, 0) / failures.reduce((sum, { count = 1 }) => sum + count, 0);
  let point = [Math.log(typical), Math.log(1.5), ...(freeShare ? [0] : [])];
  let height = value(point);
  let damping = 1e-3;
  for (let step = 0; step < STEPS; step += 1) {
    const { gradient, curvature } = slopes(value, point);
    const direction = solve(curvature.map((row, i) => row.map((entry, j) => -entry + (i === j ? damping * (1 + Math.abs(entry)) : 0))), gradient);
    const next = point.map((coordinate, i) => coordinate + Math.max(-1, Math.min(1, direction[i]!)));
    const reached = value(next);
    if (reached >= height) {
      const moved = Math.max(...direction.map(Math.abs));
      point = next;
      height = reached;
      damping = Math.max(1e-12, damping / 10);
      if (moved < DONE) return { ...lifeAt(point), logLikelihood: height, stopped: 'converged' };
    } else {
      damping *= 10;
      // Nothing uphill is left within the digits of the likelihood.
      if (damping > 1e12) return { ...lifeAt(point), logLikelihood: height, stopped: 'converged' };
    }
  }
  return { ...lifeAt(point), logLikelihood: height, stopped: 'steps' };
}
