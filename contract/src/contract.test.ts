import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  callDraft,
  ERRORS,
  historyAnswer,
  historyText,
  knownPairs,
  knownText,
  may,
  noticeDraft,
  pack,
  packJsonSchema,
  readingCreate,
  ROLES,
  sameJson,
  schoolChoiceCreate,
  serviceCreate,
  visitCreate,
  type PackInput,
} from './index.ts';
import { ERROR_CODES } from './problem.ts';
import { coverLimits } from './notice-words.ts';

const read = (path: string): string => readFileSync(join(import.meta.dirname, '../..', path), 'utf8');
const harbour = (): PackInput => JSON.parse(read('demo/packs/harbour.json')) as PackInput;

describe('errors', () => {
  const documented = [...read('docs/errors.md').matchAll(/^## `(\w+)` \((\d+)\)$/gm)].map(([, code, status]) => [
    code,
    Number(status),
  ]);
  test('every code stands in docs/errors.md with its status, and nothing else does', () => {
    expect(documented).toEqual(ERROR_CODES.map((code) => [code, ERRORS[code].status]));
  });
  test('every message is a sentence that says more than that it went wrong', () => {
    for (const code of ERROR_CODES) expect(ERRORS[code].message).toMatch(/^[A-Z].{30,}\.$/s);
  });
});

describe('packs', () => {
  test('the shipped JSON Schema is the one the code checks by', () => {
    expect(JSON.parse(read('docs/pack.schema.json'))).toEqual(packJsonSchema());
    expect(packJsonSchema()).toMatchObject({ $schema: 'https://json-schema.org/draft/2020-12/schema' });
  });

  test('the demo library holds what a demo needs: 4 makes, 6 families with variants, 40 weak points, several authorities each', () => {
    const { makers, families } = pack.parse(harbour());
    const points = families.flatMap(({ weakPoints }) => weakPoints);
    expect([makers.length, families.length, points.length >= 40]).toEqual([4, 6, true]);
    expect(families.every(({ variants }) => variants.length > 1)).toBe(true);
    expect(new Set(families.map(({ timingDrive }) => timingDrive))).toEqual(new Set(['chain', 'belt', 'belt in oil']));
    expect(points.filter(({ statements }) => statements.length > 1).length).toBeGreaterThan(20);
  });

  const broken: [string, (entry: PackInput) => void, RegExp][] = [
    [
      'a window without unit',
      (entry) => {
        entry.families[0]!.weakPoints![0]!.causes = ['90-130k'];
      },
      /needs a unit/,
    ],
    [
      'a component that is not there',
      (entry) => {
        entry.families[0]!.weakPoints![0]!.component = 'nothing';
      },
      /no component “nothing”/,
    ],
    [
      'an authority that is not there',
      (entry) => {
        entry.families[0]!.weakPoints![0]!.statements![0]!.authority = 'nobody';
      },
      /no authority “nobody”/,
    ],
    ...(
      [
        [{ doubted: true }, /an interval without exception cannot be doubted; leave “always” out/],
        [{ strength: 'hearsay' }, /cannot rest on hearsay/],
        [{ interval: undefined }, /needs the interval/],
        [{ asks: 'look' }, /asks for a renewal, not for a look/],
      ] as const
    ).map(([more, said]): [string, (entry: PackInput) => void, RegExp] => [
      `an interval without exception that is ${JSON.stringify(more)}`,
      (entry) => {
        const told = { authority: entry.authorities[0]!.key, words: 'Always.', interval: '6y', always: true };
        entry.families[0]!.weakPoints![0]!.statements = [{ ...told, ...more }];
      },
      said,
    ]),
    [
      'a variant of another engine',
      (entry) => {
        entry.families[0]!.weakPoints![0]!.appliesTo = { variants: ['steel-pump'] };
      },
      /no variant “steel-pump”/,
    ],
    [
      'an operation that is not there',
      (entry) => {
        entry.families[0]!.weakPoints![0]!.operation = 'nothing';
      },
      /no operation “nothing”/,
    ],
    [
      'an operation that needs itself',
      (entry) => {
        const [first, second] = entry.families[0]!.operations!;
        first!.needs = [second!.key];
        second!.needs = [first!.key];
      },
      /needs itself/,
    ],
    [
      'a tool that is not there',
      (entry) => {
        entry.families[0]!.operations![0]!.tools = ['wand'];
      },
      /no tool “wand”/,
    ],
    [
      'a part of two components',
      (entry) => {
        entry.components[1]!.parts = [...entry.components[0]!.parts!];
      },
      /stands twice; a part belongs to one component/,
    ],
    [
      'two weak points of one key',
      (entry) => {
        entry.families[1]!.weakPoints![0]!.key = entry.families[0]!.weakPoints![0]!.key;
      },
      /stands twice/,
    ],
    [
      'a word for how common that is none',
      (entry) => {
        (entry.families[0]!.weakPoints![0]! as { share: string }).share = 'often';
      },
      /nearly all/,
    ],
    [
      'a field nobody knows',
      (entry) => {
        (entry as unknown as Record<string, unknown>)['extra'] = 1;
      },
      /extra/,
    ],
  ];
  test.each(broken)('%s is refused with its place', (_what, spoil, message) => {
    const entry = harbour();
    spoil(entry);
    const result = pack.safeParse(entry);
    expect(result.success).toBe(false);
    expect(JSON.stringify(result.error?.issues)).toMatch(message);
  });
});

test('every role may edit vehicles; only the owner the settings', () => {
  expect(ROLES.filter((role) => may(role, 'editVehicles'))).toEqual([...ROLES]);
  expect(ROLES.filter((role) => may(role, 'editSettings'))).toEqual(['owner']);
});

test('a record of work done needs a date or a reading; that nobody knows needs neither', () => {
  const record = {
    weakPointId: '9d34e913-67e5-4747-900f-a9e93dd2b8b1',
    day: null,
    km: null,
    grade: 'original',
    partNumber: null,
    revision: null,
    note: null,
  };
  expect(serviceCreate.safeParse({ ...record, certainty: 'done' }).success).toBe(false);
  expect(serviceCreate.safeParse({ ...record, certainty: 'done', km: 90_000 }).success).toBe(true);
  expect(serviceCreate.safeParse({ ...record, certainty: 'unknown' }).success).toBe(true);
});

test('a weak point stands on a visit once', () => {
  const job = { weakPointId: '9d34e913-67e5-4747-900f-a9e93dd2b8b1', action: 'renew' };
  expect(
    visitCreate.safeParse({ day: '2027-01-01', km: null, note: null, jobs: [job, job] }).error?.issues[0]?.message,
  ).toMatch(/once/);
});

test('JSON values say the same whatever the order of their keys, and a missing one is null', () => {
  expect(sameJson({ a: 1, b: { c: [1, 2], d: 2 } }, { b: { d: 2, c: [1, 2] }, a: 1 })).toBe(true);
  expect(sameJson([1, 2], [2, 1])).toBe(false);
  expect(sameJson(undefined, null)).toBe(true);
  expect(sameJson({ a: 1 }, { a: 2 })).toBe(false);
});

describe('what is known beside the line', () => {
  test.each([
    [
      'market=hot and dusty;feature:ac=yes',
      [
        { about: 'market', answer: 'hot and dusty' },
        { about: 'feature:ac', answer: 'yes' },
      ],
    ],
    [' variant = early ; ', [{ about: 'variant', answer: 'early' }]],
    ['a=b=c', [{ about: 'a', answer: 'b=c' }]],
    ['=nothing;nobody;', []],
    ['', []],
  ])('%j tells %j', (text, pairs) => expect(knownPairs(text)).toEqual(pairs));
  test('an answer given again replaces the earlier one, the others stay', () => {
    const once = knownText(knownText('', { about: 'market', answer: 'north' }), { about: 'feature:ac', answer: 'no' });
    expect(once).toBe('market=north;feature:ac=no');
    expect(knownText(once, { about: 'market', answer: 'south' })).toBe('feature:ac=no;market=south');
  });
  test.each([
    ['never', { kind: 'never' }],
    ['unknown', { kind: 'unknown' }],
    ['renewed lately', { kind: 'renewed', day: null, km: null, grade: 'original' }],
    ['renewed 2024-05-14 cheap', { kind: 'renewed', day: '2024-05-14', km: null, grade: 'cheap' }],
    ['renewed 150000km equivalent', { kind: 'renewed', day: null, km: 150_000, grade: 'equivalent' }],
  ] as const)('a part’s history told as %j', (text, answer) => {
    expect(historyAnswer(text)).toEqual(answer);
    expect(historyAnswer(historyText(answer))).toEqual(answer);
  });
  test.each([
    '',
    'perhaps',
    'renewed',
    'renewed 2024-13-40',
    'renewed 12345678km',
    'renewed lately gold',
    'never ever',
  ])('%j tells nothing of it', (text) => expect(historyAnswer(text)).toBeNull());
  test('an answer is cut at what a screen holds', () =>
    expect(knownPairs(`market=${'x'.repeat(500)}`)[0]!.answer).toHaveLength(120));
});

describe('how long a coverage pays', () => {
  test.each(['10y', '200k km', '10y | 200k km', '120k mi'])('%s is a limit', (text) =>
    expect(coverLimits.safeParse(text).success).toBe(true),
  );
  test.each([
    ['9-10y', /one limit each/],
    ['900h', /one limit each/],
    ['10', /unit/],
    ['', /./],
    ['for ever', /./],
  ])('%j is none, and says what would be', (text, message) =>
    expect(coverLimits.safeParse(text).error!.issues[0]!.message).toMatch(message),
  );
});

describe('a notice', () => {
  const draft = {
    kind: 'bulletin',
    authorityId: null,
    newAuthority: { name: 'Letters', kind: 'bulletin' },
    number: 'H 1',
    title: 'T',
    words: 'W',
    issued: '2026-10-01',
    asks: 'look',
    points: ['9d34e913-67e5-4747-900f-a9e93dd2b8b1'],
    producedFrom: null,
    producedTo: null,
    covers: null,
    endsOn: null,
  };
  const faults = (changes: object): (string | number | symbol)[] =>
    noticeDraft.safeParse({ ...draft, ...changes }).error?.issues.map(({ path }) => path[0]!) ?? [];
  test.each([
    [{}, []],
    [{ kind: 'coverage', covers: '10y' }, []],
    [{ kind: 'coverage', endsOn: '2030-01-01' }, []],
    [{ newAuthority: null }, ['authorityId']],
    [{ authorityId: '9d34e913-67e5-4747-900f-a9e93dd2b8b1' }, ['authorityId']],
    [{ kind: 'coverage' }, ['covers']],
    [{ covers: '10y' }, ['kind']],
    [{ endsOn: '2030-01-01' }, ['kind']],
    [{ producedFrom: '2015-01-01', producedTo: '2014-01-01' }, ['producedTo']],
    [{ points: [] }, ['points']],
    [{ issued: '2026-02-30' }, ['issued']],
    [{ number: '  ' }, ['number']],
  ])('with %j has faults in %j', (changes, paths) => expect(faults(changes)).toEqual(paths));
  test('a call is about one weak point or one notice, never both', () => {
    const id = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';
    const call = (weakPointId: string | null, noticeId: string | null): boolean =>
      callDraft.safeParse({ vehicleId: id, weakPointId, noticeId, day: '2026-11-24', outcome: 'coming', note: null })
        .success;
    expect([call(id, null), call(null, id), call(id, id), call(null, null)]).toEqual([true, true, false, false]);
  });
});

test('distances and days that cannot be are refused in the words of the trade', () => {
  const say = (km: number): string | undefined =>
    readingCreate.safeParse({ day: '2026-11-24', km }).error?.issues[0]?.message;
  expect([say(0), say(-1), say(5_000_000)]).toEqual([
    undefined,
    'must not be negative',
    'is more than any vehicle runs; check the number of digits',
  ]);
  expect(readingCreate.safeParse({ day: '2026-02-29', km: 1 }).error!.issues[0]!.message).toContain(
    'a date that exists',
  );
});

test('a school of one’s own needs a reason; going back to the workshop’s needs none', () => {
  const choice = (school: string | null, reason: string | null): boolean =>
    schoolChoiceCreate.safeParse({ weakPointId: null, school, reason }).success;
  expect([choice('cost', 'sold in spring'), choice('cost', null), choice('cost', ' '), choice(null, null)]).toEqual([
    true,
    false,
    false,
    true,
  ]);
});
