import type { WeakPointFact } from '@crosspeen/core';
import type { FamilyKnowledge } from '../knowledge/family.ts';
import { countKey, searchOf, type SearchGrounds, type SymptomOut } from './complaint.ts';

const symptom = (id: string, more: Partial<SymptomOut> = {}): SymptomOut => ({
  id,
  key: `key-${id}`,
  words: `Words of ${id}`,
  codes: [],
  stop: null,
  tells: null,
  drive: null,
  forbids: [],
  ...more,
});
const [rattle, lamp, misfire, smell] = [
  symptom('rattle', { tells: 'A lifter ticks on' }),
  symptom('lamp', { codes: ['P0011', 'P0016'] }),
  symptom('misfire'),
  symptom('smell'),
] as const;
const point = (id: string, shows: Readonly<Record<string, number>>, more: Partial<WeakPointFact> = {}): WeakPointFact =>
  ({
    id,
    key: `point-${id}`,
    title: `Title of ${id}`,
    component: `Part of ${id}`,
    look: null,
    symptoms: Object.entries(shows).map(([key, often]) => ({ symptom: `key-${key}`, shows: often })),
    ...more,
  }) as WeakPointFact;
const chain = point(
  'chain',
  { rattle: 0.8, lamp: 0.4 },
  {
    look: {
      how: 'Through the plug',
      minutes: 20,
      detection: 0.7,
      falseAlarm: 0.05,
      warning: [],
      off: ['cover', 'unheard-of'],
      cautions: ['Hot oil.'],
    },
  },
);
const coil = point(
  'coil',
  { misfire: 0.9 },
  { look: { how: 'Swap it', minutes: 5, detection: 0.9, falseAlarm: 0.01, warning: [] } },
);
const plug = point('plug', { misfire: 0.5 });
const left = point('left', { rattle: 0.9, smell: 1 });

const knowledge = {
  weakPoints: [chain, coil, plug, left],
  operations: [{ key: 'cover' }, { key: 'belt' }],
  checks: [
    {
      key: 'listen',
      ask: 'Listen at the cover',
      minutes: 3,
      off: ['belt', 'gone'],
      cautions: ['Mind the belt.'],
      otherwise: 0.2,
      shows: [{ weakPoint: 'point-chain', yes: 0.95 }],
    },
    { key: 'spark', ask: 'A spark?', minutes: 2, otherwise: 0.01, shows: [{ weakPoint: 'point-coil', yes: 0.1 }] },
    {
      key: 'nobody',
      ask: 'Of what is left out',
      minutes: 2,
      otherwise: 0,
      shows: [{ weakPoint: 'point-left', yes: 1 }],
    },
  ],
} as unknown as FamilyKnowledge;

const search = (changes: Partial<SearchGrounds> = {}) =>
  searchOf({
    knowledge,
    risks: new Map([
      ['chain', 0.2],
      ['coil', 0.1],
      ['plug', 1],
    ]),
    symptoms: [rattle, lamp, misfire, smell],
    listed: [rattle],
    counts: new Map(),
    ...changes,
  });
const closeTo = (value: number): number => expect.closeTo(value, 12) as number;

test('what may explain it is what may have failed here, none of it for certain', () => {
  expect(search().explanations).toEqual([
    {
      weakPointId: 'chain',
      title: 'Title of chain',
      component: 'Part of chain',
      risk: 0.2,
      forbids: [],
      here: { proved: 0, of: 0 },
    },
    {
      weakPointId: 'coil',
      title: 'Title of coil',
      component: 'Part of coil',
      risk: 0.1,
      forbids: [],
      here: { proved: 0, of: 0 },
    },
    {
      weakPointId: 'plug',
      title: 'Title of plug',
      component: 'Part of plug',
      risk: 0.999,
      forbids: [],
      here: { proved: 0, of: 0 },
    },
  ]);
  // Three listed failures in ten are not listed.
  expect(search().unlistedOdds).toBeCloseTo(0.3 * (0.2 / 0.8 + 0.1 / 0.9 + 0.999 / 0.001), 9);
});

test('what is reported comes first, then the checks, the looks at what may be the cause, and what else it may show', () => {
  expect(search().checks.map(({ about, kind, words, more, minutes }) => [about, kind, words, more, minutes])).toEqual([
    ['symptom:rattle', 'symptom', 'Words of rattle', 'A lifter ticks on', 1],
    ['check:listen', 'check', 'Listen at the cover', null, 3],
    ['check:spark', 'check', 'A spark?', null, 2],
    ['look:chain', 'look', 'Part of chain: worn or failed?', 'Through the plug', 20],
    ['symptom:lamp', 'symptom', 'Words of lamp', 'Code P0011, P0016', 1],
  ]);
  expect(search({ listed: [misfire] }).checks.map(({ about }) => about)).toEqual([
    'symptom:misfire',
    'check:listen',
    'check:spark',
    'look:coil',
  ]);
  expect(search({ listed: [] }).checks.map(({ about }) => about)).toEqual(['check:listen', 'check:spark']);
  // Both are reported: neither is asked for again.
  expect(search({ listed: [rattle, misfire] }).checks.map(({ about, more }) => [about, more])).toEqual([
    ['symptom:rattle', 'A lifter ticks on'],
    ['symptom:misfire', null],
    ['check:listen', null],
    ['check:spark', null],
    ['look:chain', 'Through the plug'],
    ['look:coil', 'Swap it'],
    ['symptom:lamp', 'Code P0011, P0016'],
  ]);
});

test('what has to be off is what the engine knows to take off; what to take care of is said', () => {
  const checks = new Map(search({ listed: [rattle, misfire] }).checks.map((check) => [check.about, check]));
  const care = (about: string) => {
    const { off, cautions, weakPointId } = checks.get(about)!;
    return [off, cautions, weakPointId];
  };
  expect(care('check:listen')).toEqual([['belt'], ['Mind the belt.'], null]);
  expect(care('check:spark')).toEqual([[], [], null]);
  expect(care('look:chain')).toEqual([['cover'], ['Hot oil.'], 'chain']);
  expect(care('look:coil')).toEqual([[], [], 'coil']);
  expect(care('symptom:lamp')).toEqual([[], [], null]);
});

test('how often each would show it: under every explanation in its order, and last under what nobody listed', () => {
  const shows = (changes: Partial<SearchGrounds> = {}) =>
    Object.fromEntries(search(changes).checks.map((check) => [check.about, check.shows]));
  expect(shows({ listed: [rattle, misfire] })).toEqual({
    'symptom:rattle': [0.8, 0.02, 0.02, 0.1].map(closeTo),
    'symptom:misfire': [0.02, 0.9, 0.5, 0.1].map(closeTo),
    'symptom:lamp': [0.4, 0.02, 0.02, 0.1].map(closeTo),
    'check:listen': [0.95, 0.2, 0.2, 0.2],
    'check:spark': [0.01, 0.1, 0.01, 0.05],
    'look:chain': [0.7, 0.05, 0.05, 0.05],
    'look:coil': [0.01, 0.9, 0.01, 0.01],
  });
});

test('what repairs said before is counted with it, of the same symptom and weak point', () => {
  const counts = new Map([
    [countKey('rattle', 'point-chain'), { proved: 3, refuted: 1 }],
    [countKey('misfire', 'point-chain'), { proved: 9, refuted: 9 }],
  ]);
  const { explanations, checks } = search({ counts });
  expect(explanations.map(({ here }) => here)).toEqual([
    { proved: 3, of: 4 },
    { proved: 0, of: 0 },
    { proved: 0, of: 0 },
  ]);
  // What is told weighs as ten repairs.
  expect(checks[0]!.shows[0]).toBeCloseTo((0.8 * 10 + 3) / 14, 12);
  expect(search({ counts, listed: [rattle, misfire] }).explanations[0]!.here).toEqual({ proved: 12, of: 22 });
});
