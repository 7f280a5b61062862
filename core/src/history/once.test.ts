import { normalCdf } from '../numeric/normal.ts';
import { onceRenewed } from './once.ts';

const base = { life: { shape: 1, scale: 100 }, share: 1, followChance: 0.6, custom: 1, customSd: 1, nodes: 1 };
const below = normalCdf(-1);
const came = (now: number): number => (normalCdf(now - 1) - below) / (1 - below);

test('nothing fails: the original is there unless its vehicle came to the custom', () => {
  const { risk, originalChance } = onceRenewed({ ...base, share: 0 }, 1.5, 2);
  expect(risk).toBeCloseTo(0, 15);
  expect(originalChance).toBeCloseTo(1 - 0.6 * came(1.5), 12);
});

test('a constant hazard forgets which part is in: 1 - e^(-dz / scale)', () => {
  expect(onceRenewed({ ...base, nodes: 7 }, 50, 60).risk).toBeCloseTo(-Math.expm1(-0.1), 12);
});

test('the interval is cut at 0: what lies below is shared out over the rest', () => {
  const cut = normalCdf(-2 / 1.5);
  const { originalChance } = onceRenewed({ ...base, share: 0, custom: 2, customSd: 1.5 }, 3, 4);
  expect(originalChance).toBeCloseTo(1 - (0.6 * (normalCdf(1 / 1.5) - cut)) / (1 - cut), 12);
});

test('renewals lie in equal parts of the interval that is left of the normal one', () => {
  const { renewedAt } = onceRenewed({ ...base, nodes: 4 }, 1.5, 2);
  expect(renewedAt).toHaveLength(4);
  renewedAt.forEach((at, i) => expect(came(at) / came(1.5)).toBeCloseTo((i + 0.5) / 4, 9));
  const narrow = (now: number): number => normalCdf((now - 1) / 0.5) - normalCdf(-1 / 0.5);
  onceRenewed({ ...base, customSd: 0.5, nodes: 4 }, 1.5, 2).renewedAt.forEach((at, i) =>
    expect(narrow(at) / narrow(1.5)).toBeCloseTo((i + 0.5) / 4, 9),
  );
});

test('the one renewal of an interval that is seen to both sides lies at its middle, never beyond', () => {
  const { renewedAt } = onceRenewed(base, 2, 3);
  expect(renewedAt[0]).toBeCloseTo(1, 12);
  expect(renewedAt[0]).toBeLessThan(1);
});

test('several nodes are weighed alike: each a part of those that were renewed', () => {
  const life = { shape: 3, scale: 2 };
  const lived = (z: number): number => Math.exp(-((z / 2) ** 3));
  const { originalChance, renewedAt } = onceRenewed({ ...base, life, nodes: 3 }, 1.5, 2);
  const renewed = 0.6 * came(1.5);
  const old = (1 - renewed) * lived(1.5);
  const young = renewedAt.reduce((sum, at) => sum + (renewed / 3) * lived(at) * lived(1.5 - at), 0);
  expect(originalChance).toBeCloseTo(old / (old + young), 10);
});

test('the original is old, the renewed young: with one node both are weighed by what they lived through', () => {
  const life = { shape: 3, scale: 2 };
  const hazard = (z: number): number => (z / 2) ** 3;
  const {
    risk,
    originalChance,
    renewedAt: [at],
  } = onceRenewed({ ...base, life }, 1.5, 2);
  const renewed = 0.6 * came(1.5);
  const [old, young] = [(1 - renewed) * Math.exp(-hazard(1.5)), renewed * Math.exp(-hazard(at!) - hazard(1.5 - at!))];
  const fails = (age: number): number => -Math.expm1(hazard(age) - hazard(age + 0.5));
  expect(originalChance).toBeCloseTo(old / (old + young), 10);
  expect(risk).toBeCloseTo((old * fails(1.5) + young * fails(1.5 - at!)) / (old + young), 10);
});

test('a clock that stands, runs back or begins at nothing is refused', () => {
  for (const [now, next] of [
    [0, 1],
    [-1, 1],
    [2, 2],
    [2, 1],
  ] as const)
    expect(() => onceRenewed(base, now, next)).toThrow(
      `the clock must run forward from above 0, got ${now} to ${next}`,
    );
});
