import { UNKNOWN_WEIGHT } from '../applicability/applicability.ts';
import { VERDICTS, type Verdict } from '../decision/kinds.ts';
import { BELT, done, FAULT, input, TODAY } from './belt.ts';
import { usagePath } from '../usage/path.ts';
import { outlook } from './outlook.ts';
import { ANOTHER, OLDER, openQuestions, type OpenQuestion } from './questions.ts';
import type { OutlookInput, WeakPointFact } from './types.ts';

const PUMP: WeakPointFact = {
  ...BELT,
  id: 'pump',
  key: 'pump',
  title: 'Pump',
  component: 'Water pump',
  componentKey: 'pump',
};
const renewed = [done(2200), done(100, { componentKey: 'pump' })];
const ask = (changes: Partial<OutlookInput>): OpenQuestion[] => openQuestions(input({ services: renewed, ...changes }));
const about = (questions: readonly OpenQuestion[], wanted: string): OpenQuestion | undefined =>
  questions.find((question) => question.about === wanted);
const facts = input().facts;

/** How far the answers move the belt, by judging it again as the vehicle that answers so. */
function worthOf(
  changes: Partial<OutlookInput>,
  answers: readonly (readonly [weight: number, then: Partial<OutlookInput>])[],
): number {
  const place = (more: Partial<OutlookInput>): number => {
    const found = outlook(input({ services: renewed, ...changes, ...more })).rows.find(
      ({ weakPoint }) => weakPoint.id === 'belt',
    );
    return VERDICTS.indexOf(found?.verdict ?? ('behind_it' satisfies Verdict));
  };
  const now = place({});
  // Nobody does anything about one that runs on, nor about one that is behind it.
  const idle = VERDICTS.indexOf('run_on');
  return answers.reduce((sum, [weight, then]) => {
    const to = place(then);
    return sum + (now >= idle && to >= idle ? 0 : weight * Math.abs(to - now));
  }, 0);
}

describe('what the vehicle is', () => {
  test('variants: as likely as they are, with how to tell; an answer leaves that one alone', () => {
    const variants = [
      { key: 'old', name: 'Old', weight: 0.7, howToTell: 'two teeth' },
      { key: 'new', name: 'New', weight: 0.3, howToTell: null },
    ];
    const changes = {
      weakPoints: [{ ...BELT, appliesTo: { variants: ['old'] } }, PUMP],
      facts: { ...facts, variants },
    };
    const question = about(ask(changes), 'variant')!;
    expect(question.ask).toBe('Which variant is it?');
    expect(question.answers).toEqual([
      { key: 'old', words: 'Old', weight: 0.7, howToTell: 'two teeth' },
      { key: 'new', words: 'New', weight: 0.3, howToTell: null },
    ]);
    const from = outlook(input({ services: renewed, ...changes })).rows.find(
      ({ weakPoint }) => weakPoint.id === 'belt',
    )!.verdict;
    const move = { weakPointId: 'belt', title: BELT.title, from };
    const settled = [0, 1].map(
      (n) =>
        outlook(
          input({ services: renewed, ...changes, facts: { ...facts, variants: [{ ...variants[n]!, weight: 1 }] } }),
        ).rows.find(({ weakPoint }) => weakPoint.id === 'belt')?.verdict ?? 'behind_it',
    );
    expect(settled[1]).toBe('behind_it');
    expect(question.moves).toEqual(
      ['Old', 'New'].map((answer, n) => ({ ...move, answer, to: settled[n]! })).filter(({ to }) => to !== from),
    );
    const only = (n: number) => ({ facts: { ...facts, variants: [{ ...variants[n]!, weight: 1 }] } });
    expect(question.worth).toBeCloseTo(
      worthOf(changes, [
        [0.7, only(0)],
        [0.3, only(1)],
      ]),
      12,
    );
    expect(about(ask({ ...changes, facts: { ...facts, variants: [variants[0]!] } }), 'variant')).toBeUndefined();
  });

  test('a model and a region that the library names are asked for where they are not known, and another one is possible', () => {
    for (const [kind, words, appliesTo] of [
      ['model', 'Which model is it in?', { models: ['Corrow', 'Corrow', 'Fennick'] }],
      ['market', 'Where was it sold?', { markets: ['Corrow', 'Fennick'] }],
    ] as const) {
      const changes = { weakPoints: [{ ...BELT, appliesTo }, PUMP] };
      const question = about(ask(changes), kind)!;
      expect(question.ask).toBe(words);
      expect(question.answers).toEqual([
        { key: 'Corrow', words: 'Corrow', weight: UNKNOWN_WEIGHT / 2, howToTell: null },
        { key: 'Fennick', words: 'Fennick', weight: UNKNOWN_WEIGHT / 2, howToTell: null },
        { key: ANOTHER, words: 'another', weight: 1 - UNKNOWN_WEIGHT, howToTell: null },
      ]);
      const is = (value: string) => ({ facts: { ...facts, [kind]: value } });
      expect(question.worth).toBeCloseTo(
        worthOf(changes, [
          [UNKNOWN_WEIGHT / 2, is('Corrow')],
          [UNKNOWN_WEIGHT / 2, is('Fennick')],
          [1 - UNKNOWN_WEIGHT, is(ANOTHER)],
        ]),
        12,
      );
      expect(new Set(question.moves.map(({ weakPointId }) => weakPointId))).toEqual(new Set(['belt']));
      expect(about(ask({ ...changes, ...is('Fennick') }), kind)).toBeUndefined();
      expect(about(ask({ weakPoints: [BELT, PUMP] }), kind)).toBeUndefined();
    }
  });

  test('a region is asked for where a book speaks otherwise there', () => {
    const policy = { ...input().policy, schools: { ...input().policy.schools, engine: 'book' as const } };
    const regional = {
      ...BELT.statements[0]!,
      authority: 'Book, hot',
      region: 'hot',
      interval: [{ clock: 'age' as const, from: 600, to: 600 }],
    };
    const belt = { ...BELT, statements: [...BELT.statements, regional] };
    const question = about(ask({ weakPoints: [belt], policy, services: [done(500)] }), 'market')!;
    expect(question.answers.map(({ key }) => key)).toEqual(['hot', ANOTHER]);
    // Until it is known the strictest speaks.
    const moves = [{ weakPointId: 'belt', title: BELT.title, answer: 'another', from: 'renew', to: 'run_on' }];
    expect(question.moves).toEqual(moves);
    // Also where nobody speaks of all regions.
    const elsewhere = { ...regional, authority: 'Book, cold', region: 'cold', interval: BELT.statements[0]!.interval };
    const both = { ...BELT, statements: [regional, elsewhere] };
    expect(about(ask({ weakPoints: [both], policy, services: [done(500)] }), 'market')!.moves).not.toEqual([]);
  });

  test('a feature: as common as the library says, with how to tell; each that is open is a question of its own', () => {
    const weakPoints = [{ ...BELT, appliesTo: { features: { cooler: true, heater: true } } }, PUMP];
    const knownFeatures = [
      { key: 'other', name: 'another', share: 0.9, howToTell: null },
      { key: 'cooler', name: 'the oil cooler', share: 0.2, howToTell: 'a plate below the filter' },
    ];
    const changes = { weakPoints, facts: { ...facts, knownFeatures, features: { heater: true } } };
    const [question, ...others] = ask(changes).filter(({ about: of }) => of.startsWith('feature:'));
    expect(others).toEqual([]);
    expect(question).toMatchObject({ about: 'feature:cooler', ask: 'Does it have the oil cooler?' });
    expect(question!.answers).toEqual([
      { key: 'yes', words: 'yes', weight: 0.2, howToTell: 'a plate below the filter' },
      { key: 'no', words: 'no', weight: 0.8, howToTell: null },
    ]);
    const has = (cooler: boolean) => ({ facts: { ...changes.facts, features: { heater: true, cooler } } });
    expect(question!.worth).toBeCloseTo(
      worthOf(changes, [
        [0.2, has(true)],
        [0.8, has(false)],
      ]),
      12,
    );
    // That it has a heater is known, and to say otherwise would move it: it is not asked for all the same.
    const heated = { weakPoints: [{ ...BELT, appliesTo: { features: { heater: true } } }] };
    expect(about(ask({ ...heated, facts: { ...facts, features: {} } }), 'feature:heater')).toBeDefined();
    expect(about(ask({ ...heated, facts: { ...facts, features: { heater: true } } }), 'feature:heater')).toBe(
      undefined,
    );
    const unnamed = about(ask({ weakPoints, facts: { ...facts, features: { heater: true } } }), 'feature:cooler')!;
    expect(unnamed.ask).toBe('Does it have cooler?');
    expect(unnamed.answers.map(({ weight, howToTell }) => [weight, howToTell])).toEqual([
      [UNKNOWN_WEIGHT, null],
      [1 - UNKNOWN_WEIGHT, null],
    ]);
  });
});

describe('what was done to it', () => {
  const open = { services: [done(100, { componentKey: 'pump' })] };
  const lone: WeakPointFact = { ...BELT, retiredByRevision: null };
  const originalOf = (changes: Partial<OutlookInput>): number => outlook(input(changes)).rows[0]!.originalChance;

  test('never, or lately: as likely as the process has it, and each judged as such', () => {
    const changes = { ...open, weakPoints: [lone, PUMP] };
    const question = about(ask(changes), 'history:belt')!;
    const original = originalOf({ ...open, weakPoints: [lone] });
    expect(question.ask).toBe('Timing belt: was it ever renewed?');
    expect(question.answers).toEqual([
      { key: 'never', words: 'never', weight: original, howToTell: null },
      { key: 'renewed', words: 'yes, lately', weight: 1 - original, howToTell: null },
    ]);
    const lately = 0.15 * 3650;
    expect(question.worth).toBeCloseTo(
      worthOf(changes, [
        [original, { services: [...open.services, done(0, { certainty: 'not_done', day: null })] }],
        [1 - original, { services: [...open.services, done(lately)] }],
      ]),
      12,
    );
    expect(about(ask(changes), 'fitted:belt')).toBeUndefined();
  });

  test('each part is asked for by its own name', () => {
    const weakPoints = [lone, { ...PUMP, retiredByRevision: null }];
    expect(
      ask({ services: [], weakPoints })
        .map(({ about: what, ask: words }) => [what, words])
        .sort(),
    ).toEqual([
      ['history:belt', 'Timing belt: was it ever renewed?'],
      ['history:pump', 'Water pump: was it ever renewed?'],
    ]);
  });

  test('of another engine that was put in nothing that was done before is on record', () => {
    const engine = { path: input().path, fittedDay: TODAY - 500, assumed: false };
    const asked = (services: OutlookInput['services'], more: Partial<OutlookInput> = {}) =>
      about(ask({ engine, services, weakPoints: [lone], ...more }), 'history:belt');
    for (const certainty of ['done', 'not_done', 'unknown'] as const) {
      expect(asked([done(501, { certainty })])).toBeDefined();
      expect(asked([done(500, { certainty })])).toBeUndefined();
    }
    const ofVehicle: Partial<OutlookInput> = { weakPoints: [{ ...lone, fittedTo: 'vehicle' }] };
    expect(asked([done(501)], ofVehicle)).toBeUndefined();
    // What is renewed lately is renewed late in the life of that engine, not in that of the vehicle.
    const young = usagePath([{ day: TODAY, km: 250_000 }], TODAY - 1000, 250);
    const late = asked([], { engine: { ...engine, path: young } })!;
    const then = outlook(input({ engine: { ...engine, path: young }, services: [done(150)], weakPoints: [lone] }));
    expect(late.moves.find(({ answer }) => answer === 'yes, lately')?.to ?? late.moves[0]!.from).toBe(
      then.rows[0]!.verdict,
    );
  });

  test('what is on record of it is not asked for again, nor that nobody knows; what is only believed is', () => {
    for (const certainty of ['done', 'not_done', 'unknown'] as const)
      expect(about(ask({ services: [done(3000, { certainty })], weakPoints: [lone] }), 'history:belt')).toBeUndefined();
    const believed = [done(3000, { certainty: 'believed', day: null })];
    expect(about(ask({ services: believed, weakPoints: [lone] }), 'history:belt')).toBeDefined();
  });

  test('of several without proof the most pressing stands first, however they are told', () => {
    const sooner = { ...PUMP, causes: [[{ clock: 'distance' as const, from: 60_000, to: 130_000 }]], statements: [] };
    for (const weakPoints of [
      [lone, sooner],
      [sooner, lone],
    ]) {
      const changes: Partial<OutlookInput> = {
        services: [],
        path: usagePath([{ day: TODAY, km: 200_000 }], TODAY - 3650, 41),
        weakPoints,
        policy: { ...input().policy, proofFor: ['engine'] },
      };
      const ranked = outlook(input(changes)).rows.map(({ weakPoint }) => `history:${weakPoint.componentKey}`);
      const asked = openQuestions(input(changes)).filter(({ proof }) => proof);
      expect(asked.length).toBeGreaterThan(1);
      expect(asked.map(({ about: what }) => what)).toEqual(ranked);
    }
  });

  test('where a verdict rests on there being no proof, its question stands first, whatever others are worth', () => {
    const features = { known: true };
    const often = { ...PUMP, appliesTo: { features: { ac: true } }, share: 1 };
    const changes: Partial<OutlookInput> = {
      services: [],
      path: usagePath([{ day: TODAY, km: 200_000 }], TODAY - 3650, 41),
      weakPoints: [often, { ...lone }],
      facts: { ...facts, features },
      policy: { ...input().policy, proofFor: ['engine'] },
    };
    const questions = openQuestions(input(changes));
    const first = questions.findIndex(({ proof }) => !proof);
    expect(questions[0]).toMatchObject({ proof: true });
    expect(questions.slice(first).every(({ proof }) => !proof)).toBe(true);
    expect(openQuestions(input({ ...changes, policy: input().policy })).some(({ proof }) => proof)).toBe(false);
  });

  test('which part is in there: the revised one as often as it was renewed and then by a coin, with how to tell', () => {
    const revised = { ...BELT, revisedHowToTell: 'a green stripe' };
    const changes = { ...open, weakPoints: [lone, { ...revised, id: 'belt', key: 'second' }] };
    const question = about(ask({ ...open, weakPoints: [revised] }), 'fitted:belt')!;
    const original = originalOf({ ...open, weakPoints: [revised] });
    expect(question.ask).toBe('Timing belt: which part is in there?');
    expect(question.answers).toEqual([
      { key: 'B', words: 'revision B', weight: (1 - original) * 0.5, howToTell: 'a green stripe' },
      { key: OLDER, words: 'an older one', weight: 1 - (1 - original) * 0.5, howToTell: null },
    ]);
    expect(question.moves[0]).toMatchObject({ answer: 'revision B', to: 'behind_it' });
    expect(about(ask(changes), 'fitted:belt')).toBeDefined();
    for (const fitted of ['B', ''])
      expect(
        about(ask({ ...open, weakPoints: [revised], facts: { ...facts, fitted: { belt: fitted } } }), 'fitted:belt'),
      ).toBeUndefined();
  });
});

test('what leaves everything as it is, or only moves between two that nobody does anything about, is not asked', () => {
  const quiet = { ...input().policy, limits: { ...input().policy.limits, engine: 0.999 } };
  const variants = [
    { key: 'old', name: 'Old', weight: 0.7, howToTell: null },
    { key: 'new', name: 'New', weight: 0.3, howToTell: null },
  ];
  const weakPoints = [{ ...FAULT, appliesTo: { variants: ['old'] } }];
  expect(ask({ policy: quiet, weakPoints, facts: { ...facts, variants }, services: [done(100)] })).toEqual([]);
  // An answer that cannot be is worth nothing.
  const never = variants.map((variant, i) => ({ ...variant, weight: i === 0 ? 1 : 0 }));
  expect(about(ask({ weakPoints, facts: { ...facts, variants: never }, services: [] }), 'variant')).toBeUndefined();
});

test('the words of answers that addresses keep', () => expect([ANOTHER, OLDER]).toEqual(['another', 'older']));

test('a renewal lately lies a seventh of its life back: what is worn out by then moves nothing', () => {
  const lone: WeakPointFact = { ...BELT, retiredByRevision: null };
  const used = (km: number) => ({
    weakPoints: [lone],
    services: [],
    path: usagePath([{ day: TODAY, km }], TODAY - 3650, 41),
  });
  const late = (km: number) =>
    about(ask(used(km)), 'history:belt')?.moves.find(({ answer }) => answer === 'yes, lately');
  // 0.15 of 300,000 km is 45,000 km: young. Of 900,000 km it is 135,000: in its window again.
  expect(late(300_000)?.to).toBe('run_on');
  expect(late(900_000)?.to).not.toBe('run_on');
});

test('a part of which another fault does not apply here rests on no missing proof', () => {
  const lone: WeakPointFact = { ...BELT, retiredByRevision: null };
  const other = { ...lone, id: 'other', key: 'other', appliesTo: { models: ['Fennick'] } };
  const corrow = { ...facts, model: 'Corrow' };
  const question = about(ask({ weakPoints: [other, lone], services: [], facts: corrow }), 'history:belt')!;
  expect(question.proof).toBe(false);
  const engine = { ...input().policy, proofFor: ['engine' as const] };
  const one = { ...lone, id: 'leak', key: 'leak', consequence: 'leak' as const };
  const path = usagePath([{ day: TODAY, km: 200_000 }], TODAY - 3650, 41);
  const asked = about(ask({ weakPoints: [one, lone], services: [], policy: engine, path }), 'history:belt')!;
  expect(asked.proof).toBe(true);
});

test('of two without proof the more pressing is first, and both before what is worth more', () => {
  const lone: WeakPointFact = { ...BELT, retiredByRevision: null };
  const later = (id: string): WeakPointFact => ({
    ...PUMP,
    id,
    key: id,
    retiredByRevision: null,
    causes: [[{ clock: 'distance', from: 170_000, to: 300_000 }]],
  });
  const many = Array.from({ length: 9 }, (_, i): WeakPointFact => ({
    ...BELT,
    id: `fan${i}`,
    key: `fan${i}`,
    component: 'Fan',
    componentKey: 'fan',
    appliesTo: { models: ['Corrow'] },
  }));
  const questions = ask({
    services: [done(2600, { componentKey: 'fan' })],
    path: usagePath([{ day: TODAY, km: 200_000 }], TODAY - 3650, 41),
    weakPoints: [
      later('pump'),
      later('pump2'),
      later('pump3'),
      later('pump4'),
      // The belt presses by the worst that is known of it.
      {
        ...later('tooth'),
        component: 'Timing belt',
        componentKey: 'belt',
        causes: [[{ clock: 'distance', from: 190_000, to: 400_000 }]],
      },
      lone,
      ...many,
    ],
    policy: { ...input().policy, proofFor: ['engine'] },
  });
  const [first, second, third] = questions;
  expect([first!.about, second!.about, third!.about]).toEqual(['history:belt', 'history:pump', 'model']);
  expect(second!.ask).toBe('Water pump: was it ever renewed?');
  expect(second!.worth).toBeGreaterThan(first!.worth);
  expect(third!.worth).toBeGreaterThan(second!.worth);
});

test('the most worthwhile is asked first', () => {
  const worths = ask({
    services: [],
    weakPoints: [{ ...BELT, appliesTo: { models: ['Corrow'], features: { cooler: true } } }, PUMP],
  }).map(({ worth }) => worth);
  expect(worths.length).toBeGreaterThan(2);
  expect(worths).toEqual([...worths].sort((a, b) => b - a));
});
