import { randomFrom } from './random.ts';

/** The generator as its author put it into the public domain, in 32-bit numbers with signs. */
function published(seed: number): () => number {
  let a = seed | 0;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

test.each([0, 1, 2, 12_345, 2 ** 31, 2 ** 32 - 1, -7])('from seed %d the numbers are those of the source', (seed) => {
  const [ours, theirs] = [randomFrom(seed), published(seed)];
  for (let i = 0; i < 200; i += 1) expect(ours()).toBe(theirs());
});

test('the numbers lie evenly in [0, 1): mean, spread and neighbours as they must be', () => {
  const random = randomFrom(3);
  const all = Array.from({ length: 40_000 }, () => random());
  expect(Math.min(...all)).toBeGreaterThanOrEqual(0);
  expect(Math.max(...all)).toBeLessThan(1);
  const mean = all.reduce((sum, of) => sum + of, 0) / all.length;
  // Four standard errors each.
  expect(Math.abs(mean - 1 / 2)).toBeLessThan(4 / Math.sqrt(12 * all.length));
  const tenths = Array.from({ length: 10 }, (_, i) => all.filter((of) => Math.floor(of * 10) === i).length);
  for (const count of tenths) expect(Math.abs(count - 4000)).toBeLessThan(4 * Math.sqrt(3600));
  const along = all.slice(1).reduce((sum, of, i) => sum + (of - mean) * (all[i]! - mean), 0) / all.length;
  expect(Math.abs(along)).toBeLessThan(4 / 12 / Math.sqrt(all.length));
});
