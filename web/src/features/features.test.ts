import { vehicleUpdate, type AnswerRow } from '@crosspeen/contract';
import type { Answer } from '../api/answer.ts';
import { dayFromIso, DEFAULT_DUTY_FACTORS } from '@crosspeen/core';
import { pageOf, pageParam } from '../ui/list-params.ts';
import { isoTyped, kmTyped, distanceTyped } from '../ui/typed-fields.tsx';
import { keptNotes, mapped, runWords } from './intake/words.ts';
import { restsOn } from '../parts/answer/rests-on.ts';
import { vehicleFields, type VehicleValues } from '../parts/vehicle/vehicle-values.ts';
import { settingsOf, valuesOf } from './settings/values.ts';
import { byWeek } from './visits/weeks.ts';

const TODAY = dayFromIso('2026-11-24')!;
const FAMILY = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';

describe('what is typed', () => {
  test.each([
    ['148k', 'km', 148_000],
    ['92000 mi', 'km', 148_059.648],
    ['92,000', 'mi', 148_059.648],
    ['60 km', 'mi', 60],
  ] as const)('%s on a clock in %s', (text, unit, km) => expect(kmTyped(text, unit)).toBeCloseTo(km, 6));
  test.each(['', 'many', 'km', '12 furlongs'])('%j is no distance', (text) => expect(kmTyped(text, 'km')).toBeNull());
  test('a distance put into a field and read back is the same to the unit', () => {
    for (const unit of ['km', 'mi'] as const)
      expect(Math.abs(kmTyped(distanceTyped(148_249.6, unit), unit)! - 148_249.6)).toBeLessThan(1);
  });
  test('dates', () => {
    expect(isoTyped('+2w', TODAY)).toBe('2026-12-08');
    expect(isoTyped('someday', TODAY)).toBeNull();
  });
});

describe('vehicle form', () => {
  const typed: VehicleValues = {
    plate: ' PM 1 ',
    name: '',
    model: 'Corrow ',
    variantKey: '',
    registered: '05/2014',
    firstSeen: '',
    market: '',
    serial: '',
    features: {},
    odometerUnit: 'mi',
    severity: 'x1,3',
    contact: '',
    note: '',
  };
  test('gives what the server takes: blanks are unknown, dates are dates, x1,3 is 1.3', () => {
    const body = { ...vehicleFields(typed, FAMILY, TODAY), version: 1 };
    expect(body).toMatchObject({
      plate: 'PM 1',
      name: null,
      model: 'Corrow',
      variantKey: null,
      firstRegistered: '2014-05-01',
      odometerUnit: 'mi',
      severity: 1.3,
      note: null,
    });
    expect(vehicleUpdate.safeParse(body).success).toBe(true);
  });
  test('an empty date is unknown, not an error', () =>
    expect(vehicleFields({ ...typed, registered: ' ' }, FAMILY, TODAY).firstRegistered).toBeNull());
});

describe('settings form', () => {
  const each = <T>(value: T) => ({
    engine: value,
    stranded: value,
    damage: value,
    leak: value,
    drivability: value,
    emissions: value,
    cosmetic: value,
  });
  const settings = {
    workshopName: 'W',
    distanceUnit: 'mi' as const,
    currency: 'EUR',
    labourRateMinor: 9600,
    weekMinutes: 4800,
    taxRate: 0.2,
    serviceKm: 16_093.44,
    serviceDays: 365,
    holdDays: 14,
    visitOwnerMinor: 8000,
    usualKmPerYear: 16_093.44,
    limits: { ...each<number | null>(0.08), cosmetic: null },
    proofFor: ['engine' as const, 'safety' as const],
    schools: each('early' as const),
    failureCostMinor: each(60_000),
    dutyFactors: DEFAULT_DUTY_FACTORS,
    safetyLimit: 0.01,
    firstWeekday: 1,
    timeZone: 'Europe/Lisbon',
    numberFormat: 'en-GB' as const,
    dateFormat: 'sv-SE' as const,
    backupAt: '02:30',
    backupsKept: 14,
    version: 3,
  };
  test('shown and read back it is the same', () => expect(settingsOf(valuesOf(settings), 'mi', 3)).toEqual(settings));
  test('is shown as people say it', () =>
    expect(valuesOf(settings)).toMatchObject({
      labourRate: '96',
      taxPercent: '20',
      serviceDistance: '10000',
      safetyPercent: '1',
      limits: { engine: '8', cosmetic: '' },
      failureCost: { leak: '600' },
    }));
  test('a decimal comma counts, words do not', () => {
    expect(settingsOf({ ...valuesOf(settings), taxPercent: '19,6' }, 'mi', 3).taxRate).toBeCloseTo(0.196, 12);
    expect(settingsOf({ ...valuesOf(settings), labourRate: 'ninety' }, 'mi', 3).labourRateMinor).toBeNaN();
  });
});

describe('a file that is imported', () => {
  const run = { state: 'done', rows: 1240, written: 1200, known: 30, bad: 10, reason: null } as const;
  test.each([
    [{}, '1,240 rows: 1,200 imported, 30 saved already, 10 to be mended'],
    [{ known: 0, bad: 0 }, '1,240 rows: 1,200 imported'],
    [{ state: 'running' }, '1,240 rows so far: 1,200 imported, 30 saved already, 10 to be mended'],
    [
      { state: 'stopped' },
      'Stopped after 1,240 rows: 1,200 imported, 30 saved already, 10 to be mended. Imported again, it goes on where it stopped.',
    ],
    [
      { state: 'failed', reason: 'line 7 has a quote that never ends' },
      'Not imported: line 7 has a quote that never ends',
    ],
    [{ state: 'failed' }, 'Not imported: the file could not be read'],
  ] as const)('%j reads as it is', (changes, words) => expect(runWords({ ...run, ...changes })).toBe(words));
  test('what it wrote, left out and gave back is told', () => {
    expect(keptNotes({ kept: {}, notTaken: [], undone: null })).toEqual([]);
    expect(
      keptNotes({
        kept: { vehicle: 1, meter_reading: 1200 },
        notTaken: ['Colour'],
        undone: { at: '2026-11-24T10:00:00Z', by: 'Ruta', left: 2 },
      }),
    ).toEqual([
      'Saved: 1 vehicle, 1,200 readings.',
      'Column not taken: “Colour”.',
      expect.stringMatching(/^Taken back by Ruta on /) as string,
      '2 vehicles stay: they were worked on since.',
    ]);
  });
  test('a column of the file serves one thing at a time, and is taken away again', () => {
    const mapping = { plate: 0, reading: 2 };
    expect(mapped(mapping, 3, 'reading')).toEqual({ plate: 0, reading: 3 });
    expect(mapped(mapping, 0, 'vehicle')).toEqual({ reading: 2, vehicle: 0 });
    expect(mapped(mapping, 2, null)).toEqual({ plate: 0 });
    expect(mapping).toEqual({ plate: 0, reading: 2 });
  });
});

describe('an address', () => {
  test.each([
    ['', 1],
    ['page=3', 3],
    ['page=0', 1],
    ['page=-4', 1],
    ['page=2.9', 2],
    ['page=many', 1],
    ['page=', 1],
  ])('%j asks for page %d', (query, page) => expect(pageOf(new URLSearchParams(query), 'page')).toBe(page));
  test('the first page is not named', () => expect([pageParam(1), pageParam(2)]).toEqual([null, '2']));
});

describe('weeks', () => {
  const visit = (day: string) => ({ day });
  test('Monday begins the week, or Sunday where the workshop says so', () => {
    const visits = [visit('2026-11-29'), visit('2026-11-30'), visit('2026-12-06')];
    expect([...byWeek(visits, 1)].map(([, list]) => list.map(({ day }) => day))).toEqual([
      ['2026-11-29'],
      ['2026-11-30', '2026-12-06'],
    ]);
    expect([...byWeek(visits, 0)].map(([, list]) => list.map(({ day }) => day))).toEqual([
      ['2026-11-29', '2026-11-30'],
      ['2026-12-06'],
    ]);
  });
  test('a week is named by its first day', () =>
    expect([...byWeek([visit('2026-12-03')], 1).keys()]).toEqual([dayFromIso('2026-11-30')]));
});

describe('what a chance rests on', () => {
  const row = {
    nature: 'defect',
    share: 0.75,
    shareLeft: 0.9,
    causes: [
      [
        { clock: 'distance', from: 90_000, to: 180_000 },
        { clock: 'age', from: 2557, to: 5113 },
      ],
    ],
    installs: [{ certainty: 'assumed', day: TODAY - 4000, weight: 0.3 }],
    originalChance: 0.31,
    looks: [],
    settle: null,
    appliesWeight: 1,
    verdict: 'renew',
    dutyOn: { distance: 1, age: 1 },
    fittedTo: 'engine',
    experience: null,
    notTold: [],
  } as unknown as AnswerRow;
  const answer = { severity: 1, usage: { startAssumed: false, engine: null } } as unknown as Answer;
  const said = (changes: object, more: object = {}): string =>
    restsOn({ ...row, ...changes }, { ...answer, ...more }, 'km').join(' ');
  test('what nobody told of its life is said to be not told', () => {
    expect(said({})).not.toContain('not told');
    expect(said({ notTold: ['window'] })).toContain('When it fails is not told');
    expect(said({ notTold: ['share'] })).toContain('How many have it is not told');
  });
  test('share, window and history stand in plain words with their figures', () => {
    expect(said({})).toContain('75 % of these engines have this weak point; after this distance, still 68 %.');
    expect(said({})).toContain('90,000 to 180,000 km or 7 to 14 years, whichever comes first');
    expect(said({})).toContain('31 % that it is the original part');
    expect(said({ nature: 'wear', shareLeft: 1 })).toContain(
      'It wears: 75 % of these have failed by the end of 90,000 to 180,000 km or 7 to 14 years, whichever comes first; the others fail later.',
    );
  });
  test.each([
    ['done', 'Renewed on'],
    ['believed', 'Believed renewed about'],
    ['not_done', 'Known never to have been renewed'],
    ['unknown', 'Not known whether'],
  ])('%s is said as such', (certainty, words) =>
    expect(said({ installs: [{ certainty, day: TODAY - 100, weight: 0.8 }] })).toContain(words),
  );
  test('looks, hard use, an assumed year and an open variant are named only where they count', () => {
    expect(said({})).not.toMatch(/looked at|harder|year is not known|To settle it/);
    expect(said({ looks: [{ day: TODAY, result: 'sound' }] })).toContain('Last looked at on 24 Nov 2026: good.');
    expect(said({ dutyOn: { distance: 1.3, age: 1 } })).toContain(
      'Distance counts x1.3 on this part: the use is harder',
    );
    expect(said({ experience: { parts: 9, failures: 2 } })).toContain('9 parts observed, 2 failed');
    expect(said({}, { usage: { startAssumed: true, engine: null } })).toContain('The year is not known');
    expect(said({ settle: 'count the teeth', appliesWeight: 0.4 })).toContain('40 %');
  });
});
