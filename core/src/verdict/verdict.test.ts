import {
  asksForWork,
  CONSEQUENCES,
  DEFAULT_LIMITS,
  DEFAULT_PROOF,
  judge,
  leavesAlone,
  limitFor,
  VERDICT_RULES,
  VERDICTS,
  wantsProof,
  type Verdict,
  type VerdictFacts,
  type VerdictRule,
} from './verdict.ts';
import { CONSEQUENCE_WORDS, chanceWords, reasonWords, wouldChangeWords } from './words.ts';

const quiet: VerdictFacts = {
  applies: true,
  noProof: false,
  chanceIfFirst: 0.01,
  firstChance: 1,
  classLimit: 0.08,
  customPassed: false,
  canLook: true,
  lookSettlesFirst: true,
  watched: false,
  revisedFitted: false,
  chance: 0.001,
  limit: 0.08,
  consequence: 'stranded',
  safety: false,
  nature: 'defect',
  shareLeft: 1,
  foundWorn: false,
  hasFailed: false,
  warnsInTime: false,
  lookSettles: true,
  crossesSoon: false,
  schoolAsks: null,
  accessMinutes: 60,
  ridesWith: null,
};

/** One row of the table each: the least that makes it decide. */
const ROWS: readonly [rule: VerdictRule, verdict: Verdict, facts: Partial<VerdictFacts>][] = [
  ['does_not_apply', 'behind_it', { applies: false, foundWorn: true }],
  ['failed_and_grave', 'hold', { hasFailed: true, foundWorn: true }],
  ['failed', 'renew', { hasFailed: true, consequence: 'leak' }],
  ['watched_look', 'look', { watched: true, chance: 0.1, warnsInTime: true }],
  ['watched', 'watch', { watched: true, foundWorn: true, consequence: 'engine' }],
  ['worn_and_grave', 'hold', { foundWorn: true }],
  ['worn', 'renew', { foundWorn: true, consequence: 'leak' }],
  ['revised_part', 'behind_it', { revisedFitted: true, chance: 0.9 }],
  ['too_likely_to_drive', 'hold', { consequence: 'engine', chance: 0.5, limit: 0.03 }],
  ['no_proof_look', 'look', { noProof: true, chanceIfFirst: 0.08, customPassed: true }],
  ['no_proof_customary', 'renew', { noProof: true, chanceIfFirst: 0.4, customPassed: true, lookSettlesFirst: false }],
  ['no_proof_listen', 'look', { noProof: true, chanceIfFirst: 0.4, lookSettlesFirst: false }],
  ['no_proof', 'renew', { noProof: true, chanceIfFirst: 0.4, canLook: false }],
  ['safety_look', 'look', { safety: true, consequence: 'leak', chance: 0.02, limit: 0.01 }],
  ['safety_never_waits', 'renew', { safety: true, consequence: 'leak', chance: 0.02, limit: 0.01, lookSettles: false }],
  ['over_limit_warns', 'look', { chance: 0.1, warnsInTime: true }],
  ['over_limit_beyond_a_look', 'renew', { chance: 0.4, warnsInTime: true, lookSettles: false }],
  ['over_limit', 'renew', { chance: 0.08 }],
  ['school_renews', 'renew', { schoolAsks: 'renew', limit: Infinity }],
  ['school_looks', 'look', { schoolAsks: 'look', limit: Infinity }],
  ['school_beyond_a_look', 'renew', { schoolAsks: 'look', limit: Infinity, chance: 0.5, lookSettles: false }],
  ['would_have_shown', 'behind_it', { shareLeft: 0.1 }],
  ['crosses_soon_warns', 'look', { chance: 0.07, crossesSoon: true, warnsInTime: true }],
  ['crosses_soon', 'renew', { chance: 0.07, crossesSoon: true }],
  ['safety_watched', 'look', { safety: true, limit: 0.01, chance: 0.005, accessMinutes: 400 }],
  [
    'rides_along',
    'ride_along',
    { ridesWith: { weakPointId: 'b', title: 'Timing belt wears out', minutes: 55, alone: 150 } },
  ],
  ['near_limit_deep', 'ride_along', { chance: 0.04, accessMinutes: 200 }],
  ['near_limit', 'look', { chance: 0.04 }],
  ['below_limit', 'run_on', {}],
];

test('every row of the table has its case, in the order of the table', () =>
  expect(ROWS.map(([rule]) => rule)).toEqual(VERDICT_RULES.map(({ rule }) => rule)));

test.each(ROWS)('%s gives %s', (rule, verdict, facts) => {
  const all = { ...quiet, ...facts };
  expect(judge(all)).toEqual({ rule, verdict });
  expect(reasonWords(rule, all).length).toBeGreaterThan(15);
  expect(wouldChangeWords(rule, all, false, null).length).toBeGreaterThan(15);
});

describe('no proof', () => {
  const open = { ...quiet, noProof: true, chanceIfFirst: 0.08 };
  test('begins at the limit of its class, whichever school is followed', () => {
    expect(judge({ ...open, limit: Infinity }).rule).toBe('no_proof_look');
    expect(judge({ ...open, chanceIfFirst: 0.0799 }).rule).toBe('below_limit');
    expect(judge({ ...open, noProof: false, chanceIfFirst: 0.9 }).rule).toBe('below_limit');
  });
  test('alone never holds a vehicle back', () => {
    for (const chanceIfFirst of [0.08, 0.5, 1])
      for (const customPassed of [true, false])
        for (const canLook of [true, false])
          for (const lookSettlesFirst of [true, false])
            expect(
              judge({ ...open, consequence: 'engine', chanceIfFirst, customPassed, canLook, lookSettlesFirst }).verdict,
            ).not.toBe('hold');
  });
  test('says what it is if it is the first one, or that nobody knows where nobody would believe that', () => {
    const said = (firstChance: number): string =>
      reasonWords('no_proof_customary', { ...open, chanceIfFirst: 0.36, firstChance });
    expect(said(0.01)).toBe(
      'Nobody can show that it was renewed; if it is the first one, 36 % before the next service.',
    );
    expect(said(0.0099)).toBe('Not known how old the part in there is: no renewal recorded.');
  });
  test('is wanted for the classes a workshop names, and for what is safety where it names that', () => {
    expect(wantsProof('engine', false, DEFAULT_PROOF)).toBe(true);
    expect(wantsProof('leak', false, DEFAULT_PROOF)).toBe(false);
    expect(wantsProof('leak', true, DEFAULT_PROOF)).toBe(true);
    expect(wantsProof('leak', true, ['engine'])).toBe(false);
  });
});

test('what a job lays open rides along with the minutes it adds; what asks for work of its own does not wait for that', () => {
  const ridesWith = { weakPointId: 'b', title: 'Timing belt wears out', minutes: 55, alone: 150 };
  expect(reasonWords('rides_along', { ...quiet, ridesWith })).toBe(
    '“Timing belt wears out” lays it open: 55 min more then, 2 h 30 by itself, and its own time would come first.',
  );
  expect(reasonWords('rides_along', { ...quiet, ridesWith: { ...ridesWith, minutes: 60, alone: 65 } })).toContain(
    '1 h more then, 1 h 05 by itself',
  );
  expect(judge({ ...quiet, ridesWith, chance: 0.04 }).verdict).toBe('ride_along');
  expect(judge({ ...quiet, ridesWith, chance: 0.08 }).verdict).toBe('renew');
  expect(judge({ ...quiet, ridesWith, safety: true }).verdict).toBe('look');
});

describe('what nobody renews before it fails', () => {
  const rings = { ...quiet, watched: true, consequence: 'engine' as const, limit: 0.03 };
  test('is watched when it is worn, near its limit or about to cross it, and otherwise left', () => {
    expect(judge({ ...rings, foundWorn: true }).verdict).toBe('watch');
    expect(judge({ ...rings, chance: 0.01 }).verdict).toBe('watch');
    expect(judge({ ...rings, crossesSoon: true }).verdict).toBe('watch');
    expect(judge({ ...rings, chance: 0.0099 }).verdict).toBe('run_on');
  });
  test('is looked at where that catches it, held when it has failed, and never renewed ahead', () => {
    expect(judge({ ...rings, chance: 0.2, warnsInTime: true }).verdict).toBe('look');
    expect(judge({ ...rings, chance: 0.2, warnsInTime: true, foundWorn: true }).verdict).toBe('watch');
    expect(judge({ ...rings, hasFailed: true }).verdict).toBe('hold');
    for (const chance of [0.02, 0.1, 0.6, 1])
      for (const lookSettles of [true, false])
        expect(judge({ ...rings, chance, lookSettles }).verdict).not.toBe('renew');
  });
});

test('a safety item is never left to run on, at any chance', () => {
  for (const chance of [0, 1e-6, 0.005, 0.05, 0.6])
    for (const warnsInTime of [true, false])
      expect(judge({ ...quiet, safety: true, limit: 0.01, chance, warnsInTime }).verdict).not.toBe('run_on');
});

test('what wears is never called faded', () =>
  expect(judge({ ...quiet, nature: 'wear', shareLeft: 0 }).rule).toBe('below_limit'));

test('a safety item over its limit is looked at only where a clean look would clear it', () => {
  const over = { ...quiet, safety: true, limit: 0.01, chance: 0.02, warnsInTime: true };
  expect(judge({ ...over, lookSettles: true }).verdict).toBe('look');
  expect(judge({ ...over, canLook: false }).verdict).toBe('renew');
  expect(judge({ ...over, lookSettles: false }).verdict).toBe('renew');
});

test('the safety limit is stricter than the class, and a cosmetic item has none', () => {
  expect(limitFor('leak', true, DEFAULT_LIMITS, 0.01)).toBe(0.01);
  expect(limitFor('leak', false, DEFAULT_LIMITS, 0.01)).toBe(0.25);
  expect(
    judge({ ...quiet, consequence: 'cosmetic', limit: limitFor('cosmetic', false, DEFAULT_LIMITS, 0.01), chance: 0.9 })
      .verdict,
  ).toBe('run_on');
});

test('what happens when it goes is said of every consequence, each in words of its own', () => {
  const said = CONSEQUENCES.map((consequence) => CONSEQUENCE_WORDS[consequence]);
  expect(said.every((words) => words.trim() !== '')).toBe(true);
  expect(new Set(said).size).toBe(CONSEQUENCES.length);
});

test('chances in words', () =>
  expect([0.0004, 0.001, 0.004, 0.0095, 0.12, 0.9949, 0.995, 0.999].map(chanceWords)).toEqual([
    'under 0.1 %',
    '0.1 %',
    '0.4 %',
    '1 %',
    '12 %',
    '99 %',
    'over 99 %',
    'over 99 %',
  ]));

test('a reason names the limit it was held against, or says that there is none', () => {
  const over = { ...quiet, chance: 0.12 };
  expect(reasonWords('over_limit', over)).toBe(
    '12 % before the next service is over the workshop’s limit of 8 %. It gives no early sign.',
  );
  expect(reasonWords('below_limit', { ...over, limit: Infinity })).toBe(
    '12 % before the next service, under no limit.',
  );
});

test('what would change a verdict: what settles it first, then what the row says, then the history, then the chance', () => {
  const at = (chance: number): VerdictFacts => ({ ...quiet, chance });
  expect(wouldChangeWords('worn', at(0.1), true, 'the part number')).toBe('To be sure, find out: the part number.');
  expect(wouldChangeWords('worn', at(0.1), true, null)).toMatch(/second look/);
  expect(wouldChangeWords('below_limit', at(0.1), true, null)).toBe('A record of when it was last renewed.');
  expect(wouldChangeWords('over_limit', at(0.08), false, null)).toMatch(/^Renewing it/);
  expect(wouldChangeWords('below_limit', at(0.0799), false, null)).toMatch(/^More distance and age/);
});

describe('each row begins exactly at its edge', () => {
  const at = (facts: Partial<VerdictFacts>): string => judge({ ...quiet, ...facts }).rule;
  const under = (value: number): number => value * (1 - 1e-12);
  test.each<[string, Partial<VerdictFacts>, Partial<VerdictFacts>, string]>([
    ['too_likely_to_drive', { consequence: 'engine', chance: 0.5 }, { chance: under(0.5) }, 'over_limit'],
    ['safety_look', { safety: true, limit: 0.01, chance: 0.01 }, { chance: under(0.01) }, 'safety_watched'],
    [
      'safety_never_waits',
      { safety: true, limit: 0.01, chance: 0.01, lookSettles: false },
      { chance: under(0.01) },
      'safety_watched',
    ],
    ['over_limit_warns', { chance: 0.08, warnsInTime: true }, { chance: under(0.08) }, 'near_limit'],
    ['over_limit', { chance: 0.08 }, { chance: under(0.08) }, 'near_limit'],
    ['would_have_shown', { shareLeft: 0.15 }, { shareLeft: 0.15 * (1 + 1e-12) }, 'below_limit'],
    ['would_have_shown', { shareLeft: 0.1, chance: under(0.08 / 3) }, { chance: 0.08 / 3 }, 'near_limit'],
    ['near_limit', { chance: 0.08 / 3 }, { chance: under(0.08 / 3) }, 'below_limit'],
    ['near_limit', { limit: 0.75, chance: 0.25 }, { chance: under(0.25) }, 'below_limit'],
    ['near_limit_deep', { chance: 0.04, accessMinutes: 120 }, { accessMinutes: 119 }, 'near_limit'],
  ])('%s', (rule, facts, changed, other) => {
    expect(at(facts)).toBe(rule);
    expect(at({ ...facts, ...changed })).toBe(other);
  });
  test.each<[string, Partial<VerdictFacts>, string]>([
    ['damage', { hasFailed: true, consequence: 'damage' }, 'failed_and_grave'],
    ['drivability', { hasFailed: true, consequence: 'drivability' }, 'failed'],
    ['safety makes it grave', { hasFailed: true, consequence: 'leak', safety: true }, 'failed_and_grave'],
    ['damage found worn', { foundWorn: true, consequence: 'damage' }, 'worn'],
    ['stranded at even odds is driven on', { chance: 0.6, limit: 1, consequence: 'stranded' }, 'near_limit'],
    ['a revised part that is worn', { revisedFitted: true, foundWorn: true }, 'worn_and_grave'],
    [
      'a look that settles nothing catches nothing',
      { chance: 0.09, warnsInTime: false, lookSettles: true },
      'over_limit',
    ],
  ])('%s', (_, facts, rule) => expect(at(facts)).toBe(rule));
});

test('holding, renewing and looking ask for work; riding along and watching for something else; the others for nothing', () => {
  expect(VERDICTS.map(asksForWork)).toEqual([true, true, true, false, false, false, false]);
  expect(VERDICTS.map(leavesAlone)).toEqual([false, false, false, false, false, true, true]);
});
