import { searchOn, type TriageSearch } from './search.ts';
import { triageNext } from './triage.ts';

/** A linkage and a chain that rattle alike; a hand tells them apart, and so does a look behind the cover. */
const asked: TriageSearch = {
  explanations: [
    { weakPointId: 'linkage', title: 'Linkage rattles', risk: 0.05 },
    { weakPointId: 'chain', title: 'Chain stretched', risk: 0.05 },
  ],
  unlistedOdds: 0.03,
  checks: [
    { about: 'symptom:rattle', minutes: 1, off: [], shows: [0.8, 0.7, 0.1] },
    { about: 'check:hand', minutes: 4, off: [], shows: [0.92, 0.04, 0.05] },
    { about: 'look:chain', minutes: 6, off: ['cover'], shows: [0.02, 0.9, 0.02] },
    { about: 'look:guide', minutes: 6, off: ['cover', 'guard'], shows: [0.02, 0.8, 0.02] },
  ],
  operations: { guard: { minutes: 5, needs: [] }, cover: { minutes: 30, needs: ['guard'] } },
  reports: [{ symptomId: 'rattle' }, { symptomId: null }],
  answers: [],
};

test('a reported symptom counts as shown; the quick check that parts them is next, with what each answer leaves', () => {
  const { explanations, next, standing } = searchOn(asked);
  expect(explanations[0]!.chance).toBeGreaterThan(explanations[0]!.prior);
  expect(explanations.map(({ chance }) => chance).reduce((sum, chance) => sum + chance, 0)).toBeCloseTo(1, 12);
  expect(next.map(({ about }) => about)).toEqual(['check:hand', 'look:chain', 'look:guide']);
  expect(next[0]).toMatchObject({ minutes: 4, yes: { weakPointId: 'linkage' }, no: { weakPointId: 'chain' } });
  // Minutes of the look: its own, and everything that must be off.
  expect(next[1]!.minutes).toBe(41);
  expect(standing).toEqual({ stands: 'open' });
});

test('what is off already costs the next look nothing', () => {
  const { next } = searchOn({ ...asked, answers: [{ about: 'look:chain', said: false }] });
  expect(next.find(({ about }) => about === 'look:guide')!.minutes).toBe(6);
});

test('the last answer to a check counts, an answer to what is no check any more is passed over', () => {
  const twice = searchOn({
    ...asked,
    answers: [
      { about: 'check:hand', said: false },
      { about: 'check:gone', said: true },
      { about: 'check:hand', said: true },
    ],
  });
  const once = triageNext({
    risks: [0.05, 0.05],
    unlistedOdds: 0.03,
    shows: [0, 1, 2].map((row) => asked.checks.map(({ shows }) => shows[row]!)),
    minutes: [1, 4, 41, 41],
    answers: new Map([
      [0, true],
      [1, true],
    ]),
  });
  expect(twice.explanations[0]).toMatchObject({ weakPointId: 'linkage', chance: once.posterior[0] });
  expect(twice.standing).toEqual({ stands: 'known', explanation: 0 });
});

test('something not listed stands among the explanations by that name', () => {
  const { explanations } = searchOn({ ...asked, answers: [{ about: 'check:hand', said: false }] });
  expect(explanations.find(({ weakPointId }) => weakPointId === null)!.title).toBe('Something not listed');
});

test('what is reported without a check of its own, and what nobody has a word for, says nothing of any check', () => {
  const quiet = searchOn({ ...asked, reports: [] });
  const odd = searchOn({
    ...asked,
    checks: [...asked.checks, { about: 'symptom:null', minutes: 1, off: [], shows: [0.9, 0.1, 0.1] }],
    reports: [{ symptomId: 'smoke' }, { symptomId: null }],
  });
  expect(odd.explanations.map(({ chance }) => chance)).toEqual(quiet.explanations.map(({ chance }) => chance));
});

test('the checks that tell most for their minutes come first, six of them, none that tells next to nothing', () => {
  const slow = { about: 'look:slow', minutes: 200, off: [], shows: [0.02, 0.95, 0.02] };
  const useless = { about: 'check:useless', minutes: 1, off: [], shows: [0.5, 0.5, 0.5] };
  const quick = Array.from({ length: 6 }, (_, i) => ({
    about: `check:quick${i}`,
    minutes: 10 - i,
    off: [],
    shows: [0.9, 0.2, 0.5],
  }));
  const { next } = searchOn({ ...asked, checks: [asked.checks[0]!, slow, useless, ...quick] });
  expect(next.map(({ about }) => about)).toEqual([5, 4, 3, 2, 1, 0].map((i) => `check:quick${i}`));
  const few = searchOn({ ...asked, checks: [asked.checks[0]!, slow, useless, quick[0]!] });
  expect(few.next.map(({ about }) => about)).toEqual(['check:quick0', 'look:slow']);
  expect(few.next[1]!.bitsPerMinute).toBeCloseTo(few.next[1]!.bits / 200, 12);
});
