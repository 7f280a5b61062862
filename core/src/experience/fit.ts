import { totalLogLikelihood, type Observation, type ShareLife } from './observation.ts';

export interface Fit extends ShareLife {
  readonly logLikelihood: number;
  /**
   * Reason why the search ended: at a maximum, or on a ridge that the observations do not resolve.
   */
  readonly stopped: 'converged' | 'not_settled';
}

const STEPS = 200;
/** Width of the differences that gradient and curvature are taken over, on ln scale, ln shape and logit share. */
const WIDTH = 1e-4;
const DONE = 1e-10;
/** Slope of the likelihood under which the ground is level. */
const LEVEL = 1e-3;

const lifeAt = ([logScale, logShape, logit]: readonly number[]): ShareLife => ({
  scale: Math.exp(logScale!),
  shape: Math.exp(logShape!),
  share: logit === undefined ? 1 : 1 / (1 + Math.exp(-logit)),
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
function slopes(
  value: (point: readonly number[]) => number,
  at: readonly number[],
): { gradient: number[]; curvature: number[][] } {
  const moved = (...steps: readonly (readonly [axis: number, by: number])[]): number => {
    const point = [...at];
    for (const [axis, by] of steps) point[axis]! += by;
    return value(point);
  };
  const middle = value(at);
  const gradient = at.map((_, i) => (moved([i, WIDTH]) - moved([i, -WIDTH])) / (2 * WIDTH));
  const curvature = at.map((_, i) =>
    at.map((_, j) =>
      i === j
        ? (moved([i, WIDTH]) - 2 * middle + moved([i, -WIDTH])) / WIDTH ** 2
        : (moved([i, WIDTH], [j, WIDTH]) -
            moved([i, WIDTH], [j, -WIDTH]) -
            moved([i, -WIDTH], [j, WIDTH]) +
            moved([i, -WIDTH], [j, -WIDTH])) /
          (4 * WIDTH ** 2),
    ),
  );
  return { gradient, curvature };
}

/** Damped Newton steps uphill from one place. */
function climb(
  value: (point: readonly number[]) => number,
  from: readonly number[],
): { readonly point: readonly number[]; readonly height: number; readonly settled: boolean } {
  let point = [...from];
  let height = value(point);
  let damping = 1e-3;
  for (let step = 0; step < STEPS; step += 1) {
    const { gradient, curvature } = slopes(value, point);
    const direction = solve(
      curvature.map((row, i) => row.map((entry, j) => -entry + (i === j ? damping * (1 + Math.abs(entry)) : 0))),
      gradient,
    );
    const next = point.map((coordinate, i) => coordinate + Math.max(-1, Math.min(1, direction[i]!)));
    const reached = value(next);
    if (reached >= height) {
      const moved = Math.max(...direction.map(Math.abs));
      point = next;
      height = reached;
      damping = Math.max(1e-12, damping / 10);
      if (moved < DONE) return { point, height, settled: true };
    } else {
      damping *= 10;
      // Nothing uphill is left within the digits of the likelihood: a top, if the ground is level there.
      if (damping > 1e12) return { point, height, settled: Math.max(...gradient.map(Math.abs)) < LEVEL };
    }
  }
  return { point, height, settled: false };
}

/**
 * Shapes and shares that the search begins from: with nearly all censored, the likelihood is a long flat ridge with
 * more than one top.
 */
const FROM_SHAPES = [0.7, 1.5, 3] as const;
const FROM_SHARES = [0.05, 0.5, 0.9] as const;
/** A share so near to all or none is an edge, not a top. */
const MOST_LOGIT = 12;

/**
 * Maximum-likelihood Weibull life of observations on one clock, with the susceptible share free when `freeShare` (else
 * 1): damped Newton steps on ln scale, ln shape and logit share, from several places; the highest place that was
 * reached is answered, and whether it is settled there.
 * Source: Meeker and Escobar, ch. 8 and 11. Throws RangeError without any failure among the observations.
 */
export function fitLife(observations: readonly Observation[], freeShare: boolean): Fit {
  const failures = observations.filter(({ kind }) => kind !== 'right');
  if (failures.length === 0) throw new RangeError('a life cannot be fitted without a single failure or worn finding');
  const value = (point: readonly number[]): number => {
    const height = totalLogLikelihood(lifeAt(point), observations);
    return Number.isNaN(height) ? -Infinity : height;
  };
  const typical =
    observations.reduce((sum, { at, count = 1 }) => sum + at * count, 0) /
    failures.reduce((sum, { count = 1 }) => sum + count, 0);
  const among =
    failures.reduce((sum, { at, count = 1 }) => sum + at * count, 0) /
    failures.reduce((sum, { count = 1 }) => sum + count, 0);
  const starts = FROM_SHAPES.flatMap((shape) =>
    freeShare
      ? FROM_SHARES.flatMap((share) =>
          [among, typical].map((scale) => [Math.log(scale), Math.log(shape), Math.log(share / (1 - share))]),
        )
      : [[Math.log(typical), Math.log(shape)]],
  );
  const reached = starts
    .map((start) => climb(value, start))
    .filter(({ height, point }) => Number.isFinite(height) && point.every(Number.isFinite));
  if (reached.length === 0) throw new RangeError('the likelihood has no value anywhere near these observations');
  const best = reached.reduce((top, one) =>
    one.height > top.height || (one.height === top.height && one.settled && !top.settled) ? one : top,
  );
  const [, , logit = 0] = best.point;
  const settled = best.settled && Math.abs(logit) < MOST_LOGIT;
  return { ...lifeAt(best.point), logLikelihood: best.height, stopped: settled ? 'converged' : 'not_settled' };
}
