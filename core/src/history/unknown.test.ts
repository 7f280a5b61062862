import fc from 'fast-check';
import { normalCdf } from '../numeric/normal.ts';
import { unknownInstall } from './unknown.ts';

test.each([[0, 0.5], [1.96, 0.9750021048517795], [-1, 0.15865525393145707], [-6, 9.865876450376946e-10], [5, 0.9999997133484281], [-8, 6.220960574271786e-16]])(
  'normal distribution at %d against published values', (z, wanted) => {
    expect(Math.abs(normalCdf(z) - wanted)).toBeLessThan(1e-13 + 1e-10 * Math.min(wanted, 1 - wanted));
  });

const base = { lives: [{ shape: 3, scale: 150_000 }], clocksNow: [120_000], share: 0.5, custom: 90_000, customSpread: 0.2, followChance: 0.6, knownFailureChance: 0, bins: 40 };

test('with failures that may go unknown, all the weight is somewhere', () => {
  fc.assert(fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 1000, max: 400_000, noNaN: true }), (share, km) => {
    const sum = unknownInstall({ ...base, share, clocksNow: [km] }).reduce((total, node) => total + node.susceptible + node.immune, 0);
    expect(sum).toBeCloseTo(1, 9);
  }));
});

test('nobody follows a custom and nothing fails: it is the original part', () => {
  const nodes = unknownInstall({ ...base, share: 0, followChance: 0 });
  expect(nodes[0]!.immune).toBeCloseTo(1, 12);
});

test('kept strictly to the custom, half are renewed once the customary distance is reached', () => {
  const nodes = unknownInstall({ ...base, share: 0, followChance: 1, clocksNow: [90_000] });
  expect(nodes[0]!.immune).toBeCloseTo(0.5, 6);
});

test('chances outside 0 to 1 and bins that are none are refused', () => {
  expect(() => unknownInstall({ ...base, followChance: 1.2 })).toThrow(/followChance/);
  expect(() => unknownInstall({ ...base, bins: 0 })).toThrow(/bins/);
});
