import { dayFromIso } from '@crosspeen/core';
import type { FamilyKnowledge, NoticeFact, VariantRow } from '../knowledge/family.ts';
import { DEFAULT_SETTINGS } from '../ledger/settings.ts';
import { answerFor, fittingVariants, UNKNOWN_SUBJECT, type Subject } from './answer.ts';

const TODAY = dayFromIso('2026-11-24')!;
const variant = (key: string, producedFrom: string | null, producedTo: string | null): VariantRow => ({
  id: key,
  key,
  name: key,
  howToTell: null,
  serialFrom: null,
  serialTo: null,
  producedFrom,
  producedTo,
  models: [],
});
const VARIANTS = [variant('early', '2011-03-01', '2014-08-31'), variant('late', '2014-09-01', null)];
const fitting = (iso: string | null, exact: boolean, variantKey: string | null = null) =>
  fittingVariants(VARIANTS, {
    registeredDay: iso === null ? null : dayFromIso(iso),
    registeredExact: exact,
    variantKey,
    serial: null,
  }).map(({ key, weight }) => [key, Math.round(weight * 100)]);

describe('variants that fit a registration', () => {
  test('a vehicle is made before it is registered, by half a year at most', () => {
    expect(fitting('2014-12-01', true)).toEqual([
      ['early', 50],
      ['late', 50],
    ]);
    expect(fitting('2014-08-31', true)).toEqual([['early', 100]]);
    expect(fitting('2015-04-01', true)).toEqual([['late', 100]]);
  });
  test('a bare year may be any day of it', () => {
    const [early, late] = fitting('2014-07-01', false) as [[string, number], [string, number]];
    expect([early[0], late[0]]).toEqual(['early', 'late']);
    expect(early[1]).toBeGreaterThan(late[1]);
  });
  test('a chosen variant stands alone, whatever the year', () =>
    expect(fitting('2012-01-01', true, 'late')).toEqual([['late', 100]]));
  test('nothing known weighs all; a year outside every run does too, rather than answering nothing', () => {
    expect(fitting(null, false)).toHaveLength(2);
    expect(fitting('1999-01-01', true)).toHaveLength(2);
  });
});

describe('notices beside a row', () => {
  const knowledge: FamilyKnowledge = {
    engine: { familyId: 'f' } as FamilyKnowledge['engine'],
    variants: VARIANTS,
    features: [],
    layout: null,
    checks: [],
    operations: [],
    tasks: [],
    weakPoints: [
      {
        id: 'p',
        key: 'pump',
        title: 'Pump',
        component: 'Water pump',
        componentKey: 'pump',
        componentClass: 'bearing',
        nature: 'wear',
        group: 'cooling',
        consequence: 'leak',
        safety: false,
        effect: '',
        signs: '',
        share: 0.5,
        causes: [[{ clock: 'distance', from: 90_000, to: 160_000 }]],
        look: null,
        renewMinutes: 60,
        access: [],
        partPrice: null,
        appliesTo: {},
        retiredByRevision: null,
        watch: null,
        damages: [],
        symptoms: [],
        failure: null,
        hastens: [],
        revisions: [],
        fittedTo: 'engine',
        revisedHowToTell: null,
        experience: null,
        statements: [],
      },
    ],
  };
  const subject: Subject = {
    ...UNKNOWN_SUBJECT,
    readings: [
      { day: TODAY - 730, km: 80_000 },
      { day: TODAY, km: 100_000 },
    ],
    registeredDay: TODAY - 4000,
    registeredExact: true,
  };
  const notice = (changes: Partial<NoticeFact>): NoticeFact => ({
    id: 'n',
    weakPointId: 'p',
    kind: 'coverage',
    number: 'C 1',
    title: 'Pumps',
    authority: 'Maker',
    producedFrom: null,
    producedTo: null,
    coveredDays: null,
    coveredKm: null,
    endsOn: null,
    models: [],
    pays: null,
    ...changes,
  });
  const beside = (facts: readonly NoticeFact[], about: Subject = subject) =>
    answerFor({ knowledge, subject: about, settings: DEFAULT_SETTINGS, today: TODAY }, { notices: facts, drawn: false })
      .judgements[0]!.notices;
  test('a bulletin is there, and pays for nothing', () =>
    expect(beside([notice({ kind: 'bulletin' })])).toMatchObject([
      { kind: 'bulletin', covered: null, coveredUntil: null },
    ]));
  test('a coverage ends at the nearest of its limits: age, last day, or where the path reaches its distance', () => {
    expect(beside([notice({ coveredDays: 4300 })])).toMatchObject([{ covered: true, coveredUntil: TODAY + 300 }]);
    expect(beside([notice({ coveredDays: 4300, endsOn: '2026-12-01' })])).toMatchObject([
      { covered: true, coveredUntil: dayFromIso('2026-12-01') },
    ]);
    expect(beside([notice({ coveredDays: 3999 })])).toMatchObject([{ covered: false }]);
    // 27.4 km a day in its last two years, 25 over its life: 5,000 km last between 182 and 200 days.
    const { coveredUntil } = beside([notice({ coveredKm: 105_000 })])[0]!;
    expect(coveredUntil).toBeGreaterThanOrEqual(TODAY + 182);
    expect(coveredUntil).toBeLessThan(TODAY + 200);
  });
  test('a limit that cannot be told ends nothing: without the day of registration there is no age', () => {
    expect(beside([notice({ coveredDays: 4300 })], { ...subject, registeredDay: null })).toMatchObject([
      { covered: true, coveredUntil: null },
    ]);
  });
  test('what is about another weak point, or was made at another time, is not there', () => {
    expect(beside([notice({ weakPointId: 'other' }), notice({ producedTo: '2010-01-01' })])).toEqual([]);
  });
});
