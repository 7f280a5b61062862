import fc from 'fast-check';
import { decide, isSerious, OWN_ROWS, RIDES_ALONG, wornLimit } from './decide.ts';
import type { DecisionFacts, LookStanding, RideFact } from './facts.ts';
import {
  asksForWork,
  CONSEQUENCES,
  DECISION_RULES,
  DEFAULT_LIMITS,
  DEFAULT_PROOF,
  leavesAlone,
  limitFor,
  VERDICTS,
  wantsProof,
  type DecisionRule,
  type Verdict,
} from './kinds.ts';
import { CONSEQUENCE_WORDS, chanceWords, reasonWords, wouldChangeWords } from './words.ts';

const LOOK: LookStanding = {
  detection: 0.8,
  isReachable: true,
  isOnFile: false,
  isDue: false,
  settles: () => true,
  settlesFirst: () => true,
};
const UNSETTLED: LookStanding = { ...LOOK, settles: () => false, settlesFirst: () => false };
const ON_FILE: LookStanding = { ...LOOK, isOnFile: true };

const RENEWS = { asks: 'renew' as const, by: 'A note 7' };

/** A part that stops the vehicle, known not to be renewed, of which nothing is to be feared. */
const quiet: DecisionFacts = {
  consequence: 'stranded',
  safety: false,
  nature: 'wear',
  isBelt: false,
  revisedFitted: false,
  watched: false,
  hasFailed: false,
  foundWorn: false,
  notice: null,
  chance: 0.001,
  soon: () => 0,
  classLimit: 0.08,
  limit: 0.08,
  isOpen: false,
  noProof: false,
  chanceIfFirst: 0.001,
  firstChance: 1,
  customPassed: false,
  hasCustom: true,
  suspicion: 0,
  harmedBy: [],
  customBy: () => [],
  middlePassed: false,
  look: LOOK,
  crossesAtOnce: () => false,
  helps: () => true,
  pays: () => true,
  shareLeft: 1,
  byCondition: false,
  schoolAsks: null,
  ridesWith: null,
};
const engine = { consequence: 'engine', classLimit: 0.03, limit: 0.03 } as const;
const leak = { consequence: 'leak', classLimit: 0.25, limit: 0.25 } as const;
const safety = { safety: true, classLimit: 0.01, limit: 0.01 } as const;
const stain = { consequence: 'cosmetic', classLimit: Infinity, limit: Infinity } as const;
const open = { isOpen: true, noProof: true, chanceIfFirst: 0.4 } as const;

/** Each rule, and the least that makes it decide. */
const CASES: readonly [rule: DecisionRule, verdict: Verdict, facts: Partial<DecisionFacts>][] = [
  ['failed_and_grave', 'hold', { hasFailed: true }],
  ['stain', 'run_on', { ...stain, hasFailed: true }],
  ['failed', 'renew', { ...leak, hasFailed: true }],
  ['watched_look', 'look', { watched: true, chance: 0.1 }],
  ['watched', 'watch', { watched: true, foundWorn: true, ...engine }],
  ['watched_left', 'run_on', { watched: true }],
  ['worn_and_grave', 'hold', { foundWorn: true, soon: () => 0.08 }],
  ['worn', 'renew', { foundWorn: true }],
  ['revised_part', 'behind_it', { revisedFitted: true, chance: 0.9 }],
  ['too_likely_to_drive', 'hold', { chance: 0.6, soon: () => 0.08 }],
  ['would_have_shown', 'behind_it', { nature: 'defect', shareLeft: 0.1 }],
  ['customary_condition', 'look', { customPassed: true, byCondition: true }],
  ['customary', 'renew', { customPassed: true }],
  ['notice_renews', 'renew', { notice: RENEWS }],
  ['no_proof_look', 'look', { ...open, customPassed: true }],
  ['no_proof_customary', 'renew', { ...open, ...engine, customPassed: true }],
  ['no_proof_listen', 'look', { ...open, look: UNSETTLED }],
  ['no_proof', 'renew', { ...open, look: null }],
  ['looked_at', 'look', { chance: 0.1, look: ON_FILE }],
  ['safety_look', 'look', { ...safety, chance: 0.02 }],
  ['safety_never_waits', 'renew', { ...safety, chance: 0.02, look: UNSETTLED }],
  ['over_limit_warns', 'look', { chance: 0.1 }],
  ['over_limit_beyond_a_look', 'renew', { chance: 0.4, look: UNSETTLED }],
  ['over_limit', 'renew', { chance: 0.08, look: null }],
  ['no_better', 'watch', { chance: 0.08, look: null, helps: () => false }],
  ['left_until_it_fails', 'watch', { chance: 0.08, look: null, pays: () => false }],
  ['school_renews', 'renew', { schoolAsks: 'renew', limit: Infinity }],
  ['school_looks', 'look', { schoolAsks: 'look', limit: Infinity }],
  ['school_beyond_a_look', 'renew', { schoolAsks: 'look', limit: Infinity, chance: 0.5, look: UNSETTLED }],
  ['notice_looks', 'look', { notice: { ...RENEWS, asks: 'look' } }],
  ['interval_look', 'look', { look: { ...LOOK, isDue: true } }],
  ['customary_look', 'look', { ...leak, customPassed: true }],
  ['customary_unseen', 'renew', { ...leak, customPassed: true, look: null }],
  ['customary_left', 'watch', { ...leak, customPassed: true, look: null, pays: () => false }],
  ['safety_watched', 'look', { ...safety, chance: 0.005, limit: Infinity }],
  ['near_limit', 'look', { chance: 0.04 }],
  ['below_limit', 'run_on', {}],
];

const ruleOf = (facts: Partial<DecisionFacts>): DecisionRule => decide({ ...quiet, ...facts }).rule;
const verdictOf = (facts: Partial<DecisionFacts>): Verdict => decide({ ...quiet, ...facts }).verdict;

const ownNames = DECISION_RULES.filter((rule) => rule !== RIDES_ALONG.rule);
test('every name is a rule, in its order, and every rule but the ride has its case', () => {
  expect(OWN_ROWS.map(({ rule }) => rule)).toEqual(ownNames);
  expect(CASES.map(([rule]) => rule)).toEqual(ownNames);
  expect(DECISION_RULES).toContain(RIDES_ALONG.rule);
});

test.each(CASES)('%s gives %s', (rule, verdict, facts) => {
  const all = { ...quiet, ...facts };
  expect(decide(all)).toEqual({ rule, verdict });
  expect(reasonWords(rule, all).length).toBeGreaterThan(15);
  expect(wouldChangeWords(rule, all, false, null).length).toBeGreaterThan(15);
});

/** Facts of any kind that may stand together. */
const anyFacts = fc
  .record({
    consequence: fc.constantFrom(...CONSEQUENCES),
    safety: fc.boolean(),
    nature: fc.constantFrom('wear' as const, 'defect' as const),
    isBelt: fc.boolean(),
    revisedFitted: fc.boolean(),
    watched: fc.boolean(),
    chance: fc.double({ min: 0, max: 1, noNaN: true }),
    soonPart: fc.double({ min: 0, max: 0.5, noNaN: true }),
    isOpen: fc.boolean(),
    wantsProof: fc.boolean(),
    firstMore: fc.double({ min: 1, max: 4, noNaN: true }),
    customPassed: fc.boolean(),
    middlePassed: fc.boolean(),
    hasLook: fc.boolean(),
    detection: fc.double({ min: 0.1, max: 0.99, noNaN: true }),
    isReachable: fc.boolean(),
    isDue: fc.boolean(),
    helps: fc.boolean(),
    pays: fc.boolean(),
    shareLeft: fc.double({ min: 0, max: 1, noNaN: true }),
    byCondition: fc.boolean(),
  })
  .map(({ soonPart, wantsProof: wanted, firstMore, hasLook, detection, isReachable, isDue, helps, pays, ...told }) => {
    const classLimit = limitFor(told.consequence, told.safety, DEFAULT_LIMITS, 0.01);
    const chanceIfFirst = Math.min(1, told.chance * firstMore);
    const settles = (chance: number) => (): boolean => chance * (1 - detection) < classLimit;
    const facts: DecisionFacts = {
      ...quiet,
      ...told,
      classLimit,
      limit: classLimit,
      soon: () => told.chance * soonPart,
      noProof: told.isOpen && wanted,
      chanceIfFirst,
      hasCustom: told.customPassed || told.shareLeft > 0.5,
      look: hasLook
        ? {
            ...LOOK,
            detection,
            isReachable,
            isDue,
            settles: settles(told.chance),
            settlesFirst: settles(chanceIfFirst),
          }
        : null,
      helps: () => helps,
      pays: () => pays,
    };
    return facts;
  });

const ASKS: Readonly<Record<Verdict, number>> = {
  hold: 3,
  renew: 2,
  look: 1,
  ride_along: 1,
  watch: 1,
  run_on: 0,
  behind_it: 0,
};
const asks = (facts: DecisionFacts): number => ASKS[decide(facts).verdict];

describe('whatever the facts', () => {
  test('a look is asked for only where there is one that can be reached', () =>
    fc.assert(
      fc.property(anyFacts, (facts) => {
        if (decide(facts).verdict === 'look') expect(facts.look?.isReachable).toBe(true);
      }),
      { numRuns: 3000 },
    ));

  test('a good look never asks for more: what is left of the chance is what it left', () =>
    fc.assert(
      fc.property(anyFacts, (facts) => {
        const { look } = facts;
        if (look === null) return;
        const left = (chance: number): number => chance * (1 - look.detection);
        const good: DecisionFacts = {
          ...facts,
          chance: left(facts.chance),
          chanceIfFirst: left(facts.chanceIfFirst),
          soon: () => left(facts.soon()),
          look: { ...look, isOnFile: true, isDue: false },
          crossesAtOnce: () => left(facts.soon()) >= facts.classLimit,
        };
        // One that could be reached: nobody makes any other.
        if (look.isReachable) expect(asks(good)).toBeLessThanOrEqual(asks(facts));
      }),
      { numRuns: 3000 },
    ));

  test('a worn or failed part never asks for less, but for a stain and what is only watched', () =>
    fc.assert(
      fc.property(anyFacts, fc.boolean(), (facts, failed) => {
        if (facts.watched || (facts.consequence === 'cosmetic' && !facts.safety)) return;
        expect(asks({ ...facts, hasFailed: failed, foundWorn: !failed })).toBeGreaterThanOrEqual(asks(facts));
      }),
      { numRuns: 3000 },
    ));

  test('the same part with a higher chance never asks for less', () =>
    fc.assert(
      fc.property(anyFacts, fc.double({ min: 1, max: 5, noNaN: true }), (facts, more) => {
        if (facts.nature === 'defect') return;
        const at = (chance: number): number => Math.min(1, chance * more);
        const { look } = facts;
        const settles = (chance: number) => (): boolean => at(chance) * (1 - look!.detection) < facts.classLimit;
        const worse: DecisionFacts = {
          ...facts,
          chance: at(facts.chance),
          chanceIfFirst: at(facts.chanceIfFirst),
          soon: () => at(facts.soon()),
          look: look && { ...look, settles: settles(facts.chance), settlesFirst: settles(facts.chanceIfFirst) },
        };
        expect(asks(worse)).toBeGreaterThanOrEqual(asks(facts));
      }),
      { numRuns: 3000 },
    ));

  test('no proof alone never holds a vehicle back', () =>
    fc.assert(
      fc.property(anyFacts, (facts) => {
        if (facts.isOpen) expect(decide(facts).verdict).not.toBe('hold');
      }),
      { numRuns: 3000 },
    ));

  test('a renewal by chance alone helps, and where a failure is only money, pays', () =>
    fc.assert(
      fc.property(anyFacts, (facts) => {
        const { rule } = decide(facts);
        if (rule !== 'over_limit' && rule !== 'over_limit_beyond_a_look' && rule !== 'safety_never_waits') return;
        expect(facts.helps()).toBe(true);
        if (!facts.safety && facts.consequence !== 'engine') expect(facts.pays()).toBe(true);
      }),
      { numRuns: 3000 },
    ));
});

describe('what is past its custom without proof', () => {
  const past = { ...open, ...engine, customPassed: true };
  test('is cleared by a look only where it finds nine in ten, before and after the look', () => {
    const seeing = (detection: number): Partial<DecisionFacts> => ({ look: { ...LOOK, detection } });
    expect(ruleOf({ ...past, ...seeing(0.89) })).toBe('no_proof_customary');
    expect(ruleOf({ ...past, ...seeing(0.9) })).toBe('no_proof_look');
    expect(ruleOf({ ...past, look: { ...ON_FILE, detection: 0.89 } })).toBe('no_proof_customary');
    expect(ruleOf({ ...past, chanceIfFirst: 0.001, look: { ...ON_FILE, detection: 0.9 } })).toBe('below_limit');
    expect(ruleOf({ ...past, look: { ...UNSETTLED, detection: 0.95 } })).toBe('no_proof_customary');
  });
  test('a belt asks for such a look whatever becomes of the engine; a thermostat does not', () => {
    const stops = { ...open, noProof: false, customPassed: true };
    expect(ruleOf({ ...stops, isBelt: true })).toBe('no_proof_customary');
    expect(ruleOf(stops)).toBe('no_proof_look');
  });
  test('a look for which more comes off than for the renewal is none', () =>
    expect(ruleOf({ ...open, look: { ...LOOK, isReachable: false } })).toBe('no_proof'));
});

describe('no proof', () => {
  test('begins at the limit of its class, whichever school is followed', () => {
    expect(ruleOf({ ...open, chanceIfFirst: 0.08, limit: Infinity })).toBe('no_proof_listen');
    expect(ruleOf({ ...open, chanceIfFirst: 0.0799 })).toBe('below_limit');
    expect(ruleOf({ ...open, noProof: false, chanceIfFirst: 0.9 })).toBe('below_limit');
  });
  test('says what it is if it is the first one, or that nobody knows where nobody would believe that', () => {
    const said = (firstChance: number): string =>
      reasonWords('no_proof_customary', { ...quiet, ...open, chanceIfFirst: 0.36, firstChance });
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

describe('a poor look that comes first', () => {
  const first = { ...engine, isOpen: true, hasCustom: false, chance: 0.067, crossesAtOnce: () => true };
  test('leads to no renewal by its good result, however soon the limit is crossed', () => {
    expect(ruleOf({ ...first, look: UNSETTLED })).toBe('over_limit_warns');
    expect(ruleOf({ ...first, look: { ...UNSETTLED, isOnFile: true } })).toBe('looked_at');
  });
  test('is none where an interval asks: then the work follows before and after it', () => {
    const asked = { ...first, hasCustom: true };
    expect(ruleOf({ ...asked, look: UNSETTLED })).toBe('over_limit_beyond_a_look');
    expect(ruleOf({ ...asked, look: { ...UNSETTLED, isOnFile: true } })).toBe('over_limit_beyond_a_look');
  });
});

describe('what cannot be looked at and is past its interval', () => {
  const passed = { ...leak, customPassed: true, look: null, chance: 0.07 };
  const words = (facts: Partial<DecisionFacts>): string => {
    const all = { ...quiet, ...passed, ...facts };
    return reasonWords(decide(all).rule, all);
  };
  test('is not renewed where a new part is as likely to fail, at any chance, and says that', () => {
    expect(verdictOf({ ...passed, helps: () => false })).toBe('watch');
    expect(verdictOf({ ...passed, helps: () => false, chance: 0.3 })).toBe('watch');
    expect(words({ helps: () => false })).toContain('a new part would be hardly any safer');
    expect(words({ pays: () => false })).toContain('costs more than waiting for it');
  });
});

describe('worn', () => {
  test('is a renewal by a date; a hold only where it may not last until it is brought in', () => {
    expect(verdictOf({ foundWorn: true, soon: () => 0.0799 })).toBe('renew');
    expect(verdictOf({ foundWorn: true, soon: () => 0.08 })).toBe('hold');
    expect(verdictOf({ ...leak, foundWorn: true, soon: () => 0.9 })).toBe('renew');
  });
  test('a third of the limit counts where it takes the engine or is a matter of safety', () => {
    expect(wornLimit({ ...quiet, ...engine })).toBeCloseTo(0.01, 12);
    expect(wornLimit({ ...quiet, ...safety })).toBeCloseTo(0.01 / 3, 12);
    expect(wornLimit(quiet)).toBe(0.08);
    expect(verdictOf({ ...engine, foundWorn: true, soon: () => 0.0101 })).toBe('hold');
  });
});

describe('what nobody renews before it fails', () => {
  const rings = { ...engine, watched: true };
  test('is watched when it is worn or near its limit, and otherwise left', () => {
    expect(verdictOf({ ...rings, foundWorn: true })).toBe('watch');
    expect(verdictOf({ ...rings, chance: 0.01 })).toBe('watch');
    expect(verdictOf({ ...rings, chance: 0.0099 })).toBe('run_on');
  });
  test('is looked at where that settles it, held when it has failed, and never renewed ahead', () => {
    expect(verdictOf({ ...rings, chance: 0.2 })).toBe('look');
    expect(verdictOf({ ...rings, chance: 0.2, look: UNSETTLED })).toBe('watch');
    expect(verdictOf({ ...rings, hasFailed: true })).toBe('hold');
    for (const chance of [0.02, 0.1, 0.6, 1])
      for (const look of [LOOK, UNSETTLED, null]) expect(verdictOf({ ...rings, chance, look })).not.toBe('renew');
  });
});

test('a stain is never work, and what wears is never called faded', () => {
  for (const facts of [{}, { hasFailed: true }, { foundWorn: true }, { chance: 0.9 }, { customPassed: true }])
    expect(verdictOf({ ...stain, ...facts })).toBe('run_on');
  expect(ruleOf({ shareLeft: 0 })).toBe('below_limit');
});

test('serious is what costs the engine, somebody’s safety, or leaves the vehicle on the road', () =>
  expect(
    CONSEQUENCES.filter((consequence) => isSerious({ consequence, safety: false })).concat(
      isSerious({ consequence: 'leak', safety: true }) ? 'leak' : [],
    ),
  ).toEqual(['engine', 'stranded', 'leak']));

test('the safety limit is stricter than the class, and a cosmetic item has none', () => {
  expect(limitFor('leak', true, DEFAULT_LIMITS, 0.01)).toBe(0.01);
  expect(limitFor('leak', false, DEFAULT_LIMITS, 0.01)).toBe(0.25);
  expect(limitFor('cosmetic', false, DEFAULT_LIMITS, 0.01)).toBe(Infinity);
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

describe('a reason', () => {
  test('names the limit it was held against, or says that there is none', () => {
    expect(reasonWords('over_limit', { ...quiet, chance: 0.12, look: null })).toBe(
      '12 % before the next service is over the workshop’s limit of 8 %. No look is told for it.',
    );
    expect(reasonWords('below_limit', { ...quiet, chance: 0.12, classLimit: Infinity })).toBe(
      '12 % before the next service, under no limit.',
    );
  });
  test('says that there is no look only where none is told', () => {
    const said = (look: DecisionFacts['look']): string => reasonWords('no_proof', { ...quiet, ...open, look });
    expect(said(null)).toContain('No look is told');
    expect(said({ ...LOOK, isReachable: false })).toContain('takes more off');
  });
  test('names who asks for an interval that has passed, and nobody where none has', () => {
    const said = (facts: Partial<DecisionFacts>): string =>
      reasonWords('customary_look', { ...quiet, ...leak, ...facts });
    expect(said({ customPassed: true, customBy: () => ['Book', 'Shed'] })).toContain('has passed (Book, Shed)');
    expect(said({ middlePassed: true })).toContain('Half of such parts have failed by now');
  });
  test('of a part on record does not say that no renewal is recorded', () => {
    const said = (isOpen: boolean): string =>
      reasonWords('customary_look', { ...quiet, ...leak, customPassed: true, customBy: () => ['Book'], isOpen });
    expect(said(true)).toContain('no renewal is recorded');
    expect(said(false)).not.toContain('no renewal is recorded');
  });
  test('of what a new part would not mend says so, and nothing of money', () => {
    const said = reasonWords('no_better', { ...quiet, ...safety, chance: 0.02, look: null, helps: () => false });
    expect(said).toContain('hardly any safer');
    expect(said).not.toContain('costs');
  });
  test('of a good look that was not enough says what it finds', () => {
    const said = (look: LookStanding): string => reasonWords('no_proof_customary', { ...quiet, ...open, look });
    expect(said({ ...ON_FILE, detection: 0.55 })).toContain('finds only 55 %');
    expect(said(LOOK)).not.toContain('finds only');
  });
  test('of a ride names the job, the minutes it adds and those by itself', () => {
    const ride: RideFact = {
      weakPointId: 'b',
      title: 'Timing belt',
      minutes: 55,
      alone: 150,
      partPrice: 6200,
      saves: 31_000,
      because: 'cheaper',
    };
    const said = (more: Partial<RideFact>): string =>
      reasonWords('rides_along', { ...quiet, ridesWith: { ...ride, ...more } });
    expect(said({})).toBe(
      'Renewing the timing belt opens it: 55 min more then, 2 h 30 by itself. That costs less than waiting.',
    );
    expect(said({ because: 'named', minutes: 60 })).toBe(
      'Goes in new with the timing belt: 1 h more then, 2 h 30 by itself.',
    );
    expect(said({ because: 'same_part' })).toBe('“Timing belt” renews this very part.');
  });
});

test('what would change a decision: what settles it first, then what the rule says, then the history, then the chance', () => {
  const at = (chance: number): DecisionFacts => ({ ...quiet, chance });
  expect(wouldChangeWords('worn', at(0.1), true, 'the part number')).toBe('To be sure, find out: the part number.');
  expect(wouldChangeWords('worn', at(0.1), true, null)).toMatch(/second look/);
  expect(wouldChangeWords('below_limit', at(0.1), true, null)).toBe('A record of when it was last renewed.');
  expect(wouldChangeWords('over_limit', at(0.08), false, null)).toMatch(/^Renewing it/);
  expect(wouldChangeWords('below_limit', at(0.0799), false, null)).toMatch(/^More distance and age/);
});

describe('each rule begins exactly at its edge', () => {
  const under = (value: number): number => value * (1 - 1e-12);
  test.each<[DecisionRule, Partial<DecisionFacts>, Partial<DecisionFacts>, DecisionRule]>([
    ['too_likely_to_drive', { chance: 0.5, soon: () => 0.08 }, { soon: () => under(0.08) }, 'over_limit_warns'],
    ['safety_look', { ...safety, chance: 0.01 }, { chance: under(0.01) }, 'safety_watched'],
    ['safety_watched', { ...safety, chance: 0.001 }, { chance: under(0.001) }, 'below_limit'],
    ['over_limit_warns', { chance: 0.08 }, { chance: under(0.08) }, 'near_limit'],
    ['over_limit', { chance: 0.08, look: null }, { chance: under(0.08) }, 'below_limit'],
    ['looked_at', { chance: 0.08, look: ON_FILE }, { chance: under(0.08) }, 'below_limit'],
    ['would_have_shown', { nature: 'defect', shareLeft: 0.15 }, { shareLeft: 0.15 * (1 + 1e-12) }, 'below_limit'],
    ['near_limit', { chance: 0.08 / 3 }, { chance: under(0.08 / 3) }, 'below_limit'],
  ])('%s', (rule, facts, changed, other) => {
    expect(ruleOf(facts)).toBe(rule);
    expect(ruleOf({ ...facts, ...changed })).toBe(other);
  });
  test.each<[string, Partial<DecisionFacts>, DecisionRule]>([
    ['what harms its neighbour is renewed, not held', { hasFailed: true, consequence: 'damage' }, 'failed'],
    ['safety makes it grave', { ...leak, ...safety, hasFailed: true }, 'failed_and_grave'],
    ['a revised part that is worn', { revisedFitted: true, foundWorn: true }, 'worn'],
    [
      'good, but over its limit at once',
      { chance: 0.2, look: { ...ON_FILE, settles: () => false }, crossesAtOnce: () => true },
      'over_limit_beyond_a_look',
    ],
    [
      'nobody renews it by an interval: a look first',
      { chance: 0.4, hasCustom: false, look: UNSETTLED },
      'over_limit_warns',
    ],
    ['a new one would be no better', { ...engine, chance: 0.4, look: null, helps: () => false }, 'no_better'],
  ])('%s', (_, facts, rule) => expect(ruleOf(facts)).toBe(rule));
});

test('holding, renewing and looking ask for work; riding along and watching for something else; the others for nothing', () => {
  expect(VERDICTS.map(asksForWork)).toEqual([true, true, true, false, false, false, false]);
  expect(VERDICTS.map(leavesAlone)).toEqual([false, false, false, false, false, true, true]);
});
