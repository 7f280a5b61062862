import { dayFromIso } from '@crosspeen/core';
import { firstSeenDay, subjectOf, type VehicleRecords } from './records.ts';

const TODAY = dayFromIso('2026-11-24')!;
const records = (more: object = {}): VehicleRecords =>
  ({
    row: {
      firstSeen: null,
      firstRegistered: null,
      variantKey: 'early',
      model: 'Corrow',
      market: 'hot and dusty',
      serial: 7,
      features: { ac: true },
      fitted: { belt: 'B' },
      severity: 1.2,
      duty: { longOil: 'much' },
    },
    readings: [],
    services: [],
    findings: [],
    reports: [],
    upkeep: [],
    meterChanges: [],
    engineSwaps: [],
    choices: [],
    ...more,
  }) as unknown as VehicleRecords;
const row = records().row;

test('a vehicle first came on the day that is told, else with its first reading or finding, else today', () => {
  const first = (more: object) => firstSeenDay(records(more), TODAY);
  expect(first({})).toBe(TODAY);
  const readings = [
    { day: '2020-05-01', km: 1 },
    { day: '2021-05-01', km: 2 },
  ];
  const findings = [{ day: '2019-05-01' }, { day: '2022-05-01' }];
  expect(first({ readings })).toBe(dayFromIso('2020-05-01'));
  expect(first({ findings })).toBe(dayFromIso('2019-05-01'));
  expect(first({ readings, findings })).toBe(dayFromIso('2019-05-01'));
  expect(first({ readings: [{ day: '2030-01-01', km: 1 }] })).toBe(TODAY);
  expect(first({ readings, row: { ...row, firstSeen: '2023-01-01' } })).toBe(dayFromIso('2023-01-01'));
});

test('what is on file is what is asked of', () => {
  expect(subjectOf(records(), TODAY)).toEqual({
    readings: [],
    // Without any reading and registration it is as old as today.
    registeredDay: TODAY,
    registeredExact: true,
    meterChanges: [],
    engineSwaps: [],
    variantKey: 'early',
    model: 'Corrow',
    market: 'hot and dusty',
    serial: 7,
    features: { ac: true },
    fitted: { belt: 'B' },
    severity: 1.2,
    duty: { longOil: 'much' },
    counted: true,
    choices: [],
    services: [],
    upkeep: [],
    findings: [],
    reports: [],
    suspects: new Map(),
  });
  const full = subjectOf(
    records({
      row: { ...row, firstRegistered: '2014-02-03' },
      readings: [{ day: '2020-05-01', km: 90_000, id: 'r' }],
      services: [
        { componentKey: 'belt', certainty: 'done', day: '2021-01-01' },
        { componentKey: 'belt', certainty: 'unknown', day: null },
      ],
      upkeep: [{ taskId: 't', day: '2022-01-01' }],
      findings: [
        { weakPointId: 'p', day: '2023-01-01', sinceDay: '2022-12-01' },
        { weakPointId: 'p', day: '2024-01-01', sinceDay: null },
      ],
      meterChanges: [{ day: '2019-01-01', oldKm: 5, newKm: 0 }],
      engineSwaps: [{ day: '2018-01-01', engineKm: null }],
    }),
    TODAY,
  );
  const day = (iso: string) => dayFromIso(iso);
  expect(full).toMatchObject({
    readings: [{ day: day('2020-05-01'), km: 90_000 }],
    registeredDay: day('2014-02-03'),
    services: [{ day: day('2021-01-01') }, { day: null }],
    upkeep: [{ day: day('2022-01-01') }],
    findings: [{ day: day('2023-01-01'), sinceDay: day('2022-12-01') }, { sinceDay: null }],
    meterChanges: [{ day: day('2019-01-01'), oldKm: 5 }],
    engineSwaps: [{ day: day('2018-01-01') }],
  });
  const unregistered = subjectOf(records({ readings: [{ day: '2020-05-01', km: 1 }] }), TODAY);
  expect(unregistered.registeredDay).toBeNull();
});
