import fc from 'fast-check';
import { ENGINE_STATES, FORBIDDABLE, forbiddenWith, isAllowed, STANDING_STILL } from '../look/needs.ts';
import { searchOn, type TriageSearch } from './search.ts';
import { triageNext } from './triage.ts';

type Check = TriageSearch['checks'][number];
/** A check that is made standing still and comes in its turn. */
const plain = (check: Omit<Check, 'needs' | 'firstFor'>): Check => ({ ...check, needs: STANDING_STILL, firstFor: [] });

/** A linkage and a chain that rattle alike; a hand tells them apart, and so does a look behind the cover. */
const asked: TriageSearch = {
  explanations: [
    { weakPointId: 'linkage', title: 'Linkage rattles', risk: 0.05, forbids: [] },
    { weakPointId: 'chain', title: 'Chain stretched', risk: 0.05, forbids: [] },
  ],
  unlistedOdds: 0.03,
  checks: [
    plain({ about: 'symptom:rattle', minutes: 1, off: [], shows: [0.8, 0.7, 0.1] }),
    plain({ about: 'check:hand', minutes: 4, off: [], shows: [0.92, 0.04, 0.05] }),
    plain({ about: 'look:chain', minutes: 6, off: ['cover'], shows: [0.02, 0.9, 0.02] }),
    plain({ about: 'look:guide', minutes: 6, off: ['cover', 'guard'], shows: [0.02, 0.8, 0.02] }),
  ],
  operations: { guard: { minutes: 5, needs: [] }, cover: { minutes: 30, needs: ['guard'] } },
  reports: [
    { symptomId: 'rattle', forbids: [] },
    { symptomId: null, forbids: [] },
  ],
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
    checks: [...asked.checks, plain({ about: 'symptom:null', minutes: 1, off: [], shows: [0.9, 0.1, 0.1] })],
    reports: [
      { symptomId: 'smoke', forbids: [] },
      { symptomId: null, forbids: [] },
    ],
  });
  expect(odd.explanations.map(({ chance }) => chance)).toEqual(quiet.explanations.map(({ chance }) => chance));
});

test('the checks that tell most for their minutes come first, six of them, none that tells next to nothing', () => {
  const slow = plain({ about: 'look:slow', minutes: 200, off: [], shows: [0.02, 0.95, 0.02] });
  const useless = plain({ about: 'check:useless', minutes: 1, off: [], shows: [0.5, 0.5, 0.5] });
  const quick = Array.from({ length: 6 }, (_, i) =>
    plain({ about: `check:quick${i}`, minutes: 10 - i, off: [], shows: [0.9, 0.2, 0.5] }),
  );
  const { next } = searchOn({ ...asked, checks: [asked.checks[0]!, slow, useless, ...quick] });
  expect(next.map(({ about }) => about)).toEqual([5, 4, 3, 2, 1, 0].map((i) => `check:quick${i}`));
  const few = searchOn({ ...asked, checks: [asked.checks[0]!, slow, useless, quick[0]!] });
  expect(few.next.map(({ about }) => about)).toEqual(['check:quick0', 'look:slow']);
  expect(few.next[1]!.bitsPerMinute).toBeCloseTo(few.next[1]!.bits / 200, 12);
});

describe('before information comes harm', () => {
  const belt: TriageSearch = {
    ...asked,
    explanations: [
      { weakPointId: 'belt', title: 'Belt jumped', risk: 0.2, forbids: ['cranking', 'running'] },
      { weakPointId: 'fuel', title: 'Pump stands still', risk: 0.2, forbids: [] },
    ],
    checks: [
      plain({ about: 'symptom:spins', minutes: 1, off: [], shows: [0.9, 0.3, 0.1] }),
      {
        ...plain({ about: 'check:starter', minutes: 1, off: [], shows: [0.97, 0.02, 0.05] }),
        needs: { engine: 'cranking' },
      },
      plain({ about: 'check:by-hand', minutes: 12, off: [], shows: [0.9, 0.05, 0.05] }),
    ],
    reports: [{ symptomId: 'spins', forbids: [] }],
  };

  test('a check that a suspect forbids is not offered, however much it tells; the search is not done for it', () => {
    const { next, forbidden, leftOut, standing } = searchOn(belt);
    expect(next.map(({ about }) => about)).toEqual(['check:by-hand']);
    expect([forbidden, leftOut, standing]).toEqual([
      ['cranking', 'running', 'driven'],
      ['cranking'],
      { stands: 'open' },
    ]);
  });

  test('once the suspect is ruled out it is offered; a report forbids it all the same', () => {
    const ruledOut = {
      ...belt,
      checks: [...belt.checks, plain({ about: 'check:pins', minutes: 3, off: [], shows: [0.999, 0.01, 0.01] })],
      answers: [{ about: 'check:pins', said: false }],
    };
    expect(searchOn(ruledOut).next.map(({ about }) => about)).toContain('check:starter');
    const reported = { ...ruledOut, reports: [{ symptomId: 'spins', forbids: ['cranking' as const] }] };
    expect(searchOn(reported).next.map(({ about }) => about)).not.toContain('check:starter');
  });

  test('where only a forbidden check would tell more, the search is stuck and says so', () => {
    const { next, standing, leftOut } = searchOn({ ...belt, checks: belt.checks.slice(0, 2) });
    expect([next, standing.stands, leftOut]).toEqual([[], 'stuck', ['cranking']]);
  });

  test('the check that finds a leak comes first with what it is first for, whatever its bits', () => {
    const paper = {
      ...plain({ about: 'check:paper', minutes: 60, off: [], shows: [0.3, 0.32, 0.3] }),
      firstFor: ['spins'],
    };
    expect(searchOn({ ...belt, checks: [...belt.checks, paper] }).next[0]).toMatchObject({
      about: 'check:paper',
      isFirst: true,
    });
    const answered = searchOn({
      ...belt,
      checks: [...belt.checks, paper],
      answers: [{ about: 'check:paper', said: false }],
    });
    expect(answered.next.map(({ about }) => about)).not.toContain('check:paper');
  });

  test('over any search, nothing that is forbidden is ever offered, and what nobody forbids is not left out', () => {
    const state = fc.constantFrom(...ENGINE_STATES);
    const forbids = fc.subarray([...FORBIDDABLE]);
    const chance = fc.double({ min: 0.01, max: 0.95, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.record({ risk: chance, forbids }), { minLength: 1, maxLength: 4 }),
        fc.array(fc.record({ engine: state, shows: fc.array(chance, { minLength: 5, maxLength: 5 }) }), {
          maxLength: 6,
        }),
        forbids,
        (causes, checks, reported) => {
          const found = searchOn({
            ...asked,
            explanations: causes.map((cause, i) => ({ ...cause, weakPointId: `${i}`, title: `${i}` })),
            checks: checks.map(({ engine, shows }, i) => ({
              ...plain({ about: `check:${i}`, minutes: 5, off: [], shows: shows.slice(0, causes.length + 1) }),
              needs: { engine },
            })),
            reports: [{ symptomId: null, forbids: reported }],
          });
          const forbidden = forbiddenWith(found.forbidden);
          expect([...reported].every((one) => forbidden.has(one))).toBe(true);
          for (const { about } of found.next)
            expect(isAllowed({ engine: checks[Number(about.slice(6))]!.engine }, forbidden)).toBe(true);
          if (found.forbidden.length === 0) expect(found.leftOut).toEqual([]);
          for (const state of found.leftOut) expect(isAllowed({ engine: state }, forbidden)).toBe(false);
        },
      ),
    );
  });
});
