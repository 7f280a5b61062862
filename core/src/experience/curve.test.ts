import type { LifeTold } from '../life/nature.ts';
import { experienceCurve, failuresAlone, lifeApart } from './curve.ts';
import { experienceOf, type ExperienceSummary } from './experience.ts';

/** Shape 3 (gaskets), so that the typical life lies at (ln 2)^(1/3) of the scale. */
const SEAL: LifeTold = {
  causes: [[{ clock: 'distance', from: 100_000, to: 100_000 }]],
  componentClass: 'gasket',
  nature: 'wear',
  share: 1,
};
const summary = (changes: Partial<ExperienceSummary>): ExperienceSummary => ({
  ...experienceOf({ ...SEAL, statements: [] }, []),
  ...changes,
});

test('at the typical life half have failed, at none nobody; what was published is there whatever was seen', () => {
  const curve = experienceCurve(SEAL, summary({ nodes: [{ weight: 1, scale: 2, shape: 3, share: 1 }] }));
  expect(curve).toHaveLength(49);
  expect(curve[0]).toMatchObject({ used: 0, published: 0, own: 0 });
  expect(curve[24]!.used).toBe(1);
  expect(curve[24]!.published).toBeCloseTo(0.5, 12);
  // Twice the scale: an eighth of the hazard.
  expect(curve[24]!.own).toBeCloseTo(1 - 0.5 ** (1 / 8), 12);
  expect(curve[48]!.published).toBeCloseTo(1 - 0.5 ** 8, 12);
});

test('lives that remain possible are weighed, and the own curve never leaves its interval', () => {
  const nodes = [
    { weight: 0.25, scale: 0.5, shape: 3, share: 1 },
    { weight: 0.75, scale: 1, shape: 3, share: 0.4 },
  ];
  const one = { middle: 1, low: 1, high: 1 };
  const curve = experienceCurve(SEAL, summary({ nodes, ownLife: one, ownShare: one }));
  expect(curve[24]!.own).toBeCloseTo(0.25 * (1 - 0.5 ** 8) + 0.75 * 0.4 * 0.5, 12);
  for (const { own, low, high } of curve) {
    expect(low).toBeLessThanOrEqual(own);
    expect(high).toBeGreaterThanOrEqual(own);
  }
});

test('failures alone: their median against the typical life, nothing where nothing failed', () => {
  const typical = Math.LN2 ** (1 / 3);
  expect(failuresAlone(SEAL, [])).toBeNull();
  expect(failuresAlone(SEAL, [3 * typical, typical, 2 * typical])).toBeCloseTo(2, 12);
  expect(failuresAlone(SEAL, [4 * typical, typical])).toBeCloseTo(1, 12);
});

test('an own life at the end of the published interval lies one half width apart, to either side', () => {
  const published = { middle: 1, low: 0.5, high: 2 };
  const own = (middle: number) => ({ ownLife: { middle, low: middle, high: middle }, publishedLife: published });
  expect(lifeApart(own(2))).toBeCloseTo(1, 12);
  expect(lifeApart(own(0.5))).toBeCloseTo(1, 12);
  expect(lifeApart(own(1))).toBe(0);
});
