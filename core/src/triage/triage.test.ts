import fc from 'fast-check';
import {
  unlistedOddsBeside,
  showsHere,
  triageNext,
  triageOutcomes,
  triageStanding,
  type TriageQuestion,
} from './triage.ts';

const chance = fc.double({ min: 0.02, max: 0.98, noNaN: true });
const question = fc
  .record({ causes: fc.integer({ min: 1, max: 4 }), checks: fc.integer({ min: 1, max: 4 }) })
  .chain(({ causes, checks }) =>
    fc.record({
      risks: fc.array(fc.double({ min: 1e-6, max: 0.9, noNaN: true }), { minLength: causes, maxLength: causes }),
      unlistedOdds: fc.double({ min: 0.01, max: 2, noNaN: true }),
      shows: fc.array(fc.array(chance, { minLength: checks, maxLength: checks }), {
        minLength: causes + 1,
        maxLength: causes + 1,
      }),
      minutes: fc.array(fc.double({ min: 0, max: 60, noNaN: true }), { minLength: checks, maxLength: checks }),
      answered: fc.array(fc.tuple(fc.integer({ min: 0, max: checks - 1 }), fc.boolean()), { maxLength: 3 }),
    }),
  )
  .map(({ answered, ...rest }): TriageQuestion => ({ ...rest, answers: new Map(answered) }));

/** All worlds: which explanation is true and what every check would say, each with its chance. */
function worlds({
  risks,
  unlistedOdds,
  shows,
  minutes,
}: TriageQuestion): { cause: number; says: boolean[]; p: number }[] {
  const odds = [...risks.map((risk) => risk / (1 - risk)), unlistedOdds];
  const all = odds.reduce((sum, of) => sum + of, 0);
  return odds.flatMap((of, cause) =>
    Array.from({ length: 2 ** minutes.length }, (_, bits) => {
      const says = minutes.map((__, check) => ((bits >> check) & 1) === 1);
      const p = says.reduce(
        (so, yes, check) => so * (yes ? shows[cause]![check]! : 1 - shows[cause]![check]!),
        of / all,
      );
      return { cause, says, p };
    }),
  );
}

/** Bits between an answer and the explanation, from the joint table of what is left possible. */
function mutualInformation(left: readonly { cause: number; says: boolean[]; p: number }[], check: number): number {
  const all = left.reduce((sum, { p }) => sum + p, 0);
  const part = (keep: (world: { cause: number; says: boolean[] }) => boolean): number =>
    left.filter(keep).reduce((sum, { p }) => sum + p, 0) / all;
  const causes = [...new Set(left.map(({ cause }) => cause))];
  return causes.reduce(
    (sum, cause) =>
      sum +
      [true, false].reduce((inner, yes) => {
        const both = part((world) => world.cause === cause && world.says[check] === yes);
        if (both === 0) return inner;
        const apart = part((world) => world.cause === cause) * part((world) => world.says[check] === yes);
        return inner + both * Math.log2(both / apart);
      }, 0),
    0,
  );
}

test('explanations and what a check tells are those of a table of all worlds', () => {
  fc.assert(
    fc.property(question, (asked) => {
      const left = worlds(asked).filter(({ says }) => [...asked.answers].every(([check, yes]) => says[check] === yes));
      const all = left.reduce((sum, { p }) => sum + p, 0);
      const state = triageNext({ ...asked, epsilon: 1e-9 });
      state.posterior.forEach((got, cause) => {
        const wanted = left.filter((world) => world.cause === cause).reduce((sum, { p }) => sum + p, 0) / all;
        expect(got).toBeCloseTo(wanted, 10);
      });
      asked.minutes.forEach((_, check) => {
        const wanted = asked.answers.has(check) ? 0 : mutualInformation(left, check);
        expect(state.gainsBits[check]).toBeCloseTo(wanted, 8);
      });
      if (state.best !== null) {
        const perMinute = state.gainsBits.map((gain, check) => gain / Math.max(0.5, asked.minutes[check]!));
        expect(state.bestBitsPerMinute).toBe(Math.max(...perMinute));
        expect(asked.answers.has(state.best)).toBe(false);
      }
    }),
    { numRuns: 200 },
  );
});

test('what both outcomes leave, weighed by how likely they are, is what stands now', () => {
  fc.assert(
    fc.property(question, (asked) => {
      const state = triageNext(asked);
      const check = asked.minutes.findIndex((_, of) => !asked.answers.has(of));
      fc.pre(check >= 0);
      const { yes, no } = triageOutcomes(asked, check);
      const said = state.posterior.reduce((sum, weight, i) => sum + weight * asked.shows[i]![check]!, 0);
      state.posterior.forEach((now, i) => expect(said * yes[i]! + (1 - said) * no[i]!).toBeCloseTo(now, 9));
    }),
    { numRuns: 100 },
  );
});

const two: TriageQuestion = {
  risks: [0.2, 0.2],
  unlistedOdds: 0.05,
  shows: [
    [0.95, 0.5],
    [0.05, 0.5],
    [0.5, 0.5],
  ],
  minutes: [10, 1],
  answers: new Map(),
};

test('of two that sound alike the check that parts them is next, though another is quicker', () => {
  expect(triageNext(two).best).toBe(0);
  expect(triageStanding(triageNext(two))).toEqual({ stands: 'open' });
});

test('knows enough at nine in ten, and says so when nothing left tells anything', () => {
  const known = triageNext({ ...two, risks: [0.5, 0.01], answers: new Map([[0, true]]) });
  expect(known.posterior[0]).toBeGreaterThan(0.9);
  expect(triageStanding(known)).toEqual({ stands: 'known', explanation: 0 });
  const useless = triageNext({ ...two, shows: two.shows.map(() => [0.5, 0.5]) });
  expect(useless.best).toBeNull();
  expect(triageStanding(useless)).toEqual({ stands: 'stuck' });
  expect(triageStanding(triageNext({ ...two, risks: [0.001, 0.001], unlistedOdds: 1 }))).toEqual({
    stands: 'unlisted',
  });
});

test.each([
  [{ risks: [1, 0.2] }, 'risks must be at least 0 and under 1'],
  [{ risks: [0.2, -0.1] }, 'risks must be at least 0 and under 1'],
  [{ shows: [[0.95, 0.5], [0.05, 0.5], [0.5]] }, 'shows needs one chance for each check in every row'],
  [
    {
      shows: [
        [0.95, 0.5],
        [0.05, -0.1],
        [0.5, 0.5],
      ],
    },
    'shows must be chances between 0 and 1',
  ],
  [{ unlistedOdds: 0 }, 'unlistedOdds must be positive'],
  [{ shows: two.shows.slice(1) }, 'shows needs one row for each risk, and one for the rest'],
  [{ shows: two.shows.map((row) => row.slice(1)) }, 'shows needs one chance for each check in every row'],
  [{ shows: two.shows.map(() => [2, 0.5]) }, 'shows must be chances between 0 and 1'],
  [{ minutes: [-1, 1] }, 'minutes must not be negative'],
  [{ answers: new Map([[7, true]]) }, 'answers: there is no check 7'],
])('%j is refused by name', (wrong, said) => {
  expect(() => triageNext({ ...two, ...wrong })).toThrow(new RangeError(said));
});

test('what cannot fail, and what takes no time, may be asked about', () => {
  const state = triageNext({ ...two, risks: [0.2, 0], minutes: [0, 1] });
  expect(state.posterior[1]).toBe(0);
  expect(state.entropyBits).toBeGreaterThan(0);
  expect(state.best).toBe(0);
});

test('three in ten beside what is listed is something else, and never nothing', () => {
  expect(unlistedOddsBeside([0.5, 0.2])).toBeCloseTo(0.3 * 1.25, 12);
  expect(unlistedOddsBeside([])).toBe(1e-3);
});

test('repairs of our own move a told share, slowly at first', () => {
  expect(showsHere(0.6, { proved: 0, refuted: 0 })).toBe(0.6);
  expect(showsHere(0.6, { proved: 10, refuted: 0 })).toBeCloseTo(0.8, 12);
  expect(showsHere(0.6, { proved: 0, refuted: 10 })).toBeCloseTo(0.3, 12);
});
