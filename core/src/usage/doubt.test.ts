import fc from 'fast-check';
import { readingDoubt, type ReadingTyped } from './doubt.ts';

const typed = (changes: Partial<ReadingTyped> = {}): ReadingTyped => ({
  day: 20_000,
  km: 148_000,
  expectedKm: 147_000,
  earlierKm: 140_000,
  laterKm: null,
  registeredDay: 16_000,
  ...changes,
});

test.each([
  [{}, null],
  [{ km: 1_480_000 }, 'many_times'],
  [{ km: 14_800 }, 'small_part'],
  [{ km: 139_000 }, 'below_earlier'],
  [{ km: 139_990 }, null],
  [{ laterKm: 147_000 }, 'above_later'],
  [{ day: 15_999 }, 'before_registration'],
  [{ expectedKm: null, earlierKm: null, km: 3 }, null],
  [{ expectedKm: 200, earlierKm: 100, km: 5000 }, null],
] as const)('%j is asked about as %s', (changes, doubt) => expect(readingDoubt(typed(changes))).toBe(doubt));

test('a reading between its neighbours and near what is expected is never asked about', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 900_000, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (at, up) =>
        expect(
          readingDoubt(typed({ km: at, expectedKm: at * (0.5 + up), earlierKm: at * up, laterKm: at / (up || 1) })),
        ).toBeNull(),
    ),
  );
});
