import { totalLogLikelihood, type Observation } from './observation.ts';
import { lifePosterior, type GridSpec, type LifePrior, type Posterior, type PosteriorNode } from './posterior.ts';

const prior: LifePrior = {
  logScale: Math.log(150_000),
  logScaleSd: 0.3,
  logShape: Math.log(2.5),
  logShapeSd: 0.2,
  share: 0.4,
  logitSd: 0.7,
};
/** Every kind of observation, from new and from a reading on, alone and many. */
const SEEN: readonly Observation[] = [
  { kind: 'exact', at: 90_000 },
  { kind: 'exact', at: 120_000, entry: 60_000, count: 3 },
  { kind: 'interval', at: 70_000, until: 95_000, entry: 30_000 },
  { kind: 'worn', at: 100_000, detection: 0.7, warning: 20_000, entry: 80_000, count: 2 },
  { kind: 'right', at: 140_000 },
  { kind: 'right', at: 160_000, entry: 90_000 },
  { kind: 'right', at: 110_000, entry: 50_000, count: 4 },
  { kind: 'right', at: 130_000, count: 5, looks: [{ at: 120_000, detection: 0.6, warning: 15_000 }] },
];
const few: GridSpec = {
  scalePoints: 5,
  scaleHalfWidth: 2,
  shapePoints: 4,
  shapeHalfWidth: 1.5,
  sharePoints: 3,
  shareHalfWidth: 1,
};

/** Bayes by hand: ln of the weight of a life, but for what is the same for all lives. */
function logWeight(of: LifePrior, seen: readonly Observation[], { scale, shape, share }: PosteriorNode): number {
  const normal = (x: number, mean: number, sd: number): number => -((x - mean) ** 2) / (2 * sd ** 2);
  const logit = (x: number): number => Math.log(x) - Math.log1p(-x);
  return (
    totalLogLikelihood({ scale, shape, share }, seen) +
    normal(Math.log(scale), of.logScale, of.logScaleSd) +
    normal(Math.log(shape), of.logShape, of.logShapeSd) +
    (of.share >= 0.999 ? 0 : normal(logit(share), logit(of.share), of.logitSd))
  );
}

/** Whether all nodes weigh among each other as Bayes has it, and come to 1. */
function expectBayes({ nodes }: Posterior, of: LifePrior, seen: readonly Observation[]): void {
  const logs = nodes.map((node) => logWeight(of, seen, node));
  const most = Math.max(...logs);
  const total = logs.reduce((sum, log) => sum + Math.exp(log - most), 0);
  nodes.forEach(({ weight }, i) => expect(weight).toBeCloseTo(Math.exp(logs[i]! - most) / total, 9));
}

describe('each point of both grids weighs what Bayes’ rule gives it', () => {
  test.each([
    ['with a share of its own', prior, SEEN],
    ['where all have it in them', { ...prior, share: 1 }, SEEN],
    ['with nothing seen', prior, []],
    ['with nothing but survivors', prior, SEEN.filter(({ kind }) => kind === 'right')],
    // The product of so many chances has no place in a double.
    [
      'with two thousand parts, one by one',
      prior,
      [...SEEN, ...Array.from({ length: 2000 }, (_, i): Observation => ({ kind: 'right', at: 60_000 + 60 * i }))],
    ],
    [
      'with two thousand watched from a reading on',
      prior,
      Array.from({ length: 2000 }, (_, i): Observation => ({ kind: 'right', at: 200_000 + i, entry: 90_000 + 50 * i })),
    ],
  ] as const)('%s', (_, of, seen) => {
    const { first, second } = lifePosterior(seen, of, few);
    expect(first.nodes.length).toBeGreaterThan(2);
    expectBayes(first, of, seen);
    expectBayes(second, of, seen);
  });
});

test('the grid is as wide and as fine as it is told: end points and steps, in the order shape, scale, share', () => {
  const { nodes } = lifePosterior([], prior, few).first;
  expect(nodes).toHaveLength(5 * 4 * 3);
  const logit = (x: number): number => Math.log(x / (1 - x));
  const steps = (of: (node: PosteriorNode) => number): number[] =>
    [...new Set(nodes.map((node) => Number(of(node).toFixed(9))))].sort((a, b) => a - b);
  const even = (from: number, to: number, points: number): number[] =>
    Array.from({ length: points }, (_, i) => Number((from + ((to - from) * i) / (points - 1)).toFixed(9)));
  const [scale, shape, share] = [Math.log(150_000), Math.log(2.5), logit(0.4)];
  expect(steps((node) => Math.log(node.scale))).toEqual(even(scale - 0.6, scale + 0.6, 5));
  expect(steps((node) => Math.log(node.shape))).toEqual(even(shape - 0.3, shape + 0.3, 4));
  expect(steps((node) => logit(node.share))).toEqual(even(share - 0.7, share + 0.7, 3));
});

test.each([
  ['free', prior],
  ['fixed', { ...prior, share: 1 }],
  ['so near to all that it is taken for all', { ...prior, share: 0.999 }],
])('moments are those of the nodes, and the second grid stands around those of the first: the share %s', (_, of) => {
  const { first, second, secondAxes } = lifePosterior(SEEN, of);
  const momentsOf = ({ nodes }: Posterior, value: (node: PosteriorNode) => number): [number, number] => {
    const mean = nodes.reduce((sum, node) => sum + node.weight * value(node), 0);
    return [mean, Math.sqrt(nodes.reduce((sum, node) => sum + node.weight * (value(node) - mean) ** 2, 0))];
  };
  for (const grid of [first, second]) {
    const { moments } = grid;
    const scale = momentsOf(grid, (node) => Math.log(node.scale));
    const shape = momentsOf(grid, (node) => Math.log(node.shape));
    const share = momentsOf(grid, (node) => node.share);
    const told = [moments.meanLogScale, moments.sdLogScale, moments.meanLogShape, moments.sdLogShape];
    [...scale, ...shape].forEach((value, i) => expect(told[i]).toBeCloseTo(value, 9));
    expect(moments.meanShare).toBeCloseTo(share[0], 9);
    expect(moments.sdShare).toBeCloseTo(share[1], 9);
  }
  const { moments } = first;
  const around = (mean: number, sd: number): number[] => [mean - 5 * sd, mean + 5 * sd];
  const close = (told: readonly number[], by: readonly number[]): void =>
    told.forEach((value, i) => expect(value).toBeCloseTo(by[i]!, 9));
  close(secondAxes.logScale, around(moments.meanLogScale, moments.sdLogScale));
  close(secondAxes.logShape, around(moments.meanLogShape, moments.sdLogShape));
  if (of.share >= 0.999) {
    expect(secondAxes.logit).toBeNull();
    expect(new Set(second.nodes.map(({ share }) => share))).toEqual(new Set([1]));
  } else close(secondAxes.logit!, around(...momentsOf(first, ({ share }) => Math.log(share) - Math.log1p(-share))));
});

test('where the first grid is too coarse to tell, the second is a third of its step to each sd', () => {
  const many = Array.from({ length: 4000 }, (_, i): Observation => ({ kind: 'exact', at: 100_000 + 10 * i }));
  const { first, secondAxes } = lifePosterior(many, prior);
  // Twenty steps from four sds below to four above.
  const floor = (8 * prior.logScaleSd) / 20 / 3;
  expect(first.moments.sdLogScale).toBeLessThan(floor);
  const [from, to] = secondAxes.logScale;
  expect(to - from).toBeCloseTo(10 * floor, 9);
  expect((from + to) / 2).toBeCloseTo(first.moments.meanLogScale, 9);
});
