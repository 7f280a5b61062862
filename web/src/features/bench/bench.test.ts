import type { BenchRow } from '@crosspeen/contract';
import { ratioX } from './interval.tsx';
import { enoughShort, enoughWords, lifeText, shortLifeText } from './words.ts';

const row = {
  componentClass: 'early',
  nature: 'defect',
  share: 0.5,
  causes: [
    [
      { clock: 'distance', from: 90_000, to: 160_000 },
      { clock: 'age', from: 2922, to: 5844 },
    ],
    [{ clock: 'hours', from: 2000, to: 4500 }],
  ],
  enough: 'yes',
  failures: 5,
  parts: 20,
  publishedLife: { middle: 1, low: 0.7, high: 1.4 },
  ownLife: { middle: 0.8, low: 0.7, high: 0.92 },
} as unknown as BenchRow;

describe('a life in the weak point’s own clocks', () => {
  // Medians by hand: shape = ln(ln 10 / -ln 0.9) / ln(to / from), scale = from (-ln 0.9)^(-1/shape), median = scale (ln
  // 2)^(1/shape).
  test('typical is by when half of those that fail have failed, times the ratio', () => {
    expect(lifeText(row, 1, 'km')).toBe('128,000\u00a0km or 12.2\u00a0years; 3,282\u00a0engine hours');
    expect(shortLifeText(row, 0.5, 'km')).toBe('64,000\u00a0km');
    expect(shortLifeText(row, 1, 'mi')).toBe('79,000\u00a0mi');
  });
  test('of what wears half of all count, so that few by the end of the window is a long life', () => {
    expect(shortLifeText({ ...row, componentClass: 'bearing', nature: 'wear', share: 1 }, 1, 'km')).toBe(
      '128,000\u00a0km',
    );
    expect(shortLifeText({ ...row, componentClass: 'bearing', nature: 'wear', share: 0.25 }, 1, 'km')).toBe(
      '205,000\u00a0km',
    );
  });
});

describe('whether it is enough', () => {
  const said = (changes: Partial<BenchRow>): string => enoughWords({ ...row, ...changes });
  test('earlier, later and agreeing are told apart by the interval, not by its middle', () => {
    expect(said({})).toContain('Fails earlier');
    expect(said({ ownLife: { middle: 1.3, low: 1.1, high: 1.5 } })).toContain('Lasts longer');
    expect(said({ ownLife: { middle: 0.9, low: 0.7, high: 1.1 } })).toContain('agree');
  });
  test('too few failures are counted out', () => {
    expect(said({ enough: 'few_failures', failures: 0, parts: 4 })).toContain('none has failed among 4');
    expect(said({ enough: 'few_failures', failures: 1 })).toContain('one has failed');
    expect(said({ enough: 'hardly_narrower' })).toContain('hardly narrow');
  });
  test('a list says it short', () =>
    expect([enoughShort({ ...row, enough: 'few_failures' }), enoughShort(row)]).toEqual(['Not enough yet', said({})]));
});

test('equal factors are equally far apart, and nothing leaves the picture', () => {
  expect(ratioX(2) - ratioX(1)).toBeCloseTo(ratioX(1) - ratioX(0.5), 9);
  expect([ratioX(0.001), ratioX(99)]).toEqual([ratioX(0.4), ratioX(2.5)]);
});
