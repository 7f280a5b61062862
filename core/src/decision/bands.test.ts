import { bandOf } from './bands.ts';

test('a chance at a limit is in the band that it begins', () => {
  expect([0, 0.0099, 0.01, 0.0299, 0.03, 0.0799, 0.08, 0.2499, 0.25, 1].map(bandOf)).toEqual([
    0, 0, 1, 1, 2, 2, 3, 3, 4, 4,
  ]);
});
