import { fitLife } from './fit.ts';
import { totalLogLikelihood, type Observation } from './observation.ts';

/**
 * A hundred parts many times over, of which a share is susceptible to a Weibull life of scale 100: they fail at the
 * middles of even parts of its chance; half of the others are watched to 130, half to 280.
 */
function seenOf({ share, shape, many }: { share: number; shape: number; many: number }): Observation[] {
  const susceptible = Math.round(100 * share);
  const failed = Array.from({ length: susceptible }, (_, i): Observation => {
    const at = 100 * (-Math.log1p(-(i + 0.5) / susceptible)) ** (1 / shape);
    const until = i % 2 === 0 ? 130 : 280;
    return at <= until ? { kind: 'exact', at, count: many } : { kind: 'right', at: until, count: many };
  });
  const immune = (100 - susceptible) / 2;
  return [
    ...failed,
    ...[130, 280].flatMap((at): Observation[] => (immune > 0 ? [{ kind: 'right', at, count: many * immune }] : [])),
  ];
}

/** By the likelihood equation of a Weibull life the scale follows from the shape: scale^k = sum (x^k - entry^k) / d. */
function scaleByEquation(seen: readonly Observation[], shape: number): number {
  const failed = seen.reduce((sum, { kind, count = 1 }) => sum + (kind === 'exact' ? count : 0), 0);
  const sum = seen.reduce((of, { at, entry = 0, count = 1 }) => of + count * (at ** shape - entry ** shape), 0);
  return (sum / failed) ** (1 / shape);
}

/** Mean of ln x weighed by x^k, less the mean of ln x of what failed, less 1 / k: 0 at the most likely shape. */
function shapeEquation(seen: readonly Observation[], shape: number): number {
  const powers = seen.reduce((sum, { at, count = 1 }) => sum + count * at ** shape, 0);
  const logs = seen.reduce((sum, { at, count = 1 }) => sum + count * at ** shape * Math.log(at), 0);
  const failed = seen.filter(({ kind }) => kind === 'exact');
  const many = failed.reduce((sum, { count = 1 }) => sum + count, 0);
  return logs / powers - failed.reduce((sum, { at, count = 1 }) => sum + count * Math.log(at), 0) / many - 1 / shape;
}

test.each([
  ['all failed', [12, 25, 31, 44, 58, 63, 77].map((at): Observation => ({ kind: 'exact', at }))],
  [
    'some still run, some are many',
    [
      { kind: 'exact', at: 20, count: 3 },
      { kind: 'exact', at: 55 },
      { kind: 'exact', at: 61, count: 2 },
      { kind: 'right', at: 70, count: 8 },
      { kind: 'right', at: 30 },
    ],
  ],
  [
    'nearly all still run',
    [
      { kind: 'exact', at: 20 },
      { kind: 'exact', at: 35 },
      { kind: 'right', at: 40, count: 60 },
    ],
  ],
] as [string, Observation[]][])('scale and shape solve the likelihood equations: %s', (_, seen) => {
  const { scale, shape, share, stopped, logLikelihood } = fitLife(seen, false);
  expect([share, stopped]).toEqual([1, 'converged']);
  expect(scale / scaleByEquation(seen, shape)).toBeCloseTo(1, 5);
  expect(shapeEquation(seen, shape)).toBeCloseTo(0, 5);
  expect(logLikelihood).toBeCloseTo(totalLogLikelihood({ scale, shape, share }, seen), 9);
});

test('of those watched from a reading on the scale is that of what they ran since', () => {
  const seen: Observation[] = [
    { kind: 'exact', at: 50, entry: 20 },
    { kind: 'exact', at: 64, entry: 45 },
    { kind: 'exact', at: 70 },
    { kind: 'right', at: 66, entry: 30, count: 3 },
  ];
  const { scale, shape, stopped } = fitLife(seen, false);
  expect(stopped).toBe('converged');
  expect(scale / scaleByEquation(seen, shape)).toBeCloseTo(1, 5);
});

describe('a share of its own', () => {
  const seen = seenOf({ share: 0.3, shape: 3, many: 15 });
  const found = fitLife(seen, true);

  test('is found with the life of those that are susceptible', () => {
    expect(found.stopped).toBe('converged');
    expect(Math.abs(found.share - 0.3)).toBeLessThan(0.04);
    expect(Math.abs(found.scale / 100 - 1)).toBeLessThan(0.05);
    expect(Math.abs(found.shape / 3 - 1)).toBeLessThan(0.12);
  });

  test('nothing near it nor anywhere on a grid is more likely', () => {
    const { logLikelihood, scale, shape, share } = found;
    for (const [a, b, c] of [
      [1.01, 1, 1],
      [0.99, 1, 1],
      [1, 1.02, 1],
      [1, 0.98, 1],
      [1, 1, 1.03],
      [1, 1, 0.97],
    ] as const)
      expect(totalLogLikelihood({ scale: scale * a, shape: shape * b, share: share * c }, seen)).toBeLessThan(
        logLikelihood,
      );
    for (const wide of [40, 80, 160, 400])
      for (const steep of [0.7, 1.5, 4])
        for (const part of [0.1, 0.4, 0.9])
          expect(totalLogLikelihood({ scale: wide, shape: steep, share: part }, seen)).toBeLessThan(logLikelihood);
  });

  test('is no top where all failed: it runs to all, and that is said', () => {
    const all = [20, 35, 48, 60, 66, 81, 95].map((at): Observation => ({ kind: 'exact', at }));
    const { share, stopped, scale, shape } = fitLife(all, true);
    expect(share).toBeGreaterThan(0.999);
    expect(stopped).toBe('not_settled');
    const fixed = fitLife(all, false);
    expect(scale / fixed.scale).toBeCloseTo(1, 3);
    expect(shape / fixed.shape).toBeCloseTo(1, 3);
  });

  test('counts as so many parts', () => {
    const twice = seen.map((one) => ({ ...one, count: 2 * one.count! }));
    const [once, both] = [found, fitLife(twice, true)];
    expect(both.logLikelihood).toBeCloseTo(2 * once.logLikelihood, 5);
    expect(both.scale / once.scale).toBeCloseTo(1, 4);
    expect(both.share / once.share).toBeCloseTo(1, 3);
  });
});

test('parts that all failed at one reading have no shape: it is not settled', () => {
  const same = fitLife([{ kind: 'exact', at: 80, count: 5 }], false);
  expect(same.stopped).toBe('not_settled');
  expect(same.shape).toBeGreaterThan(20);
});
