import type { Changed, IntakeFormats, IntakeKind } from '@crosspeen/contract';
import { dayFromIso, toKm } from '@crosspeen/core';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import type { Sorted } from './cells.ts';
import { sortRows } from './rows.ts';

const TODAY = dayFromIso('2026-11-24')!;
let t: TestApp;
let owner: Client;
const ids: Record<string, string> = {};
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn();
  const put = async (called: { plate?: string; name?: string }, family: string, odometerUnit = 'km'): Promise<void> => {
    const made = await owner.send('POST', '/api/vehicles', {
      plate: called.plate ?? null,
      name: called.name ?? null,
      model: null,
      familyId: await t.family(family),
      variantKey: null,
      firstRegistered: '2013-05-01',
      odometerUnit,
      severity: 1,
      note: null,
      reading: { day: '2020-01-01', km: 80_000 },
    });
    ids[called.plate ?? called.name!] = made.json<Changed>().id;
  };
  await put({ plate: 'RO 1' }, 'QV20T');
  await put({ plate: 'RO 2' }, 'QV16B', 'mi');
  await put({ name: 'Quay tractor' }, 'K630C', 'h');
  await put({ plate: 'RO 4', name: 'The twin' }, 'QV20T');
  await put({ plate: 'RO 5', name: 'The twin' }, 'QV20T');
});
afterAll(() => t.close());

const FORMATS: IntakeFormats = { date: 'dmy', decimal: 'point', unit: 'own' };
const sort = (
  kind: IntakeKind,
  cells: readonly Record<string, string>[],
  formats: Partial<IntakeFormats> = {},
): Promise<Sorted> =>
  sortRows(
    t.services.source.manager,
    cells.map((row, i) => ({ line: i + 2, cells: row, raw: Object.values(row) })),
    { kind, formats: { ...FORMATS, ...formats }, today: TODAY },
  );
/** Why one row is handed back; null when it can be taken. */
const refused = async (
  kind: IntakeKind,
  row: Record<string, string>,
  formats: Partial<IntakeFormats> = {},
): Promise<string | null> => (await sort(kind, [row], formats)).faults[0]?.reason ?? null;

describe('vehicles', () => {
  const row = {
    plate: 'NEW 1',
    engine: 'qv 20-t',
    model: 'Corrow',
    firstRegistered: '31.5.2014',
    reading: '148,000',
    readingDate: '1.10.2026',
  };
  test('one as it stands: its engine whatever its spelling, its dates as read, its reading in km', async () => {
    const { rows, written, known, faults } = await sort('vehicles', [row]);
    expect([written, known, faults]).toEqual([1, 0, []]);
    expect(rows.vehicles![0]).toMatchObject({
      plate: 'NEW 1',
      plateKey: 'new1',
      familyId: await t.family('QV20T'),
      firstRegistered: '2014-05-31',
      odometerUnit: 'km',
      variantKey: null,
      severity: 1,
    });
    expect(rows.readings).toEqual([{ vehicleId: rows.vehicles![0]!.id, day: '2026-10-01', km: 148_000 }]);
  });
  test('a bare year is its middle; a reading without a day was read today; a variant is known by its name', async () => {
    const { rows } = await sort('vehicles', [
      { ...row, firstRegistered: '2014', readingDate: '', variant: 'Short-ratchet', unit: 'Miles', reading: '92000' },
    ]);
    expect(rows.vehicles![0]).toMatchObject({
      firstRegistered: '2014-07-01',
      odometerUnit: 'mi',
      variantKey: 'short-ratchet',
    });
    expect(rows.readings![0]).toMatchObject({ day: '2026-11-24' });
    expect(rows.readings![0]!.km).toBeCloseTo(toKm(92_000, 'mi'), 6);
  });
  test('the unit said in the cell beats that of the vehicle, and that beats the file’s', async () => {
    const km = async (cells: Record<string, string>, formats: Partial<IntakeFormats> = {}): Promise<number> =>
      (await sort('vehicles', [{ ...row, ...cells }], formats)).rows.readings![0]!.km;
    expect(await km({ reading: '92000 mi' })).toBeCloseTo(toKm(92_000, 'mi'), 6);
    expect(await km({ reading: '92000 km', unit: 'mi' })).toBe(92_000);
    expect(await km({ reading: '92000' }, { unit: 'mi' })).toBeCloseTo(toKm(92_000, 'mi'), 6);
    expect(await km({ reading: '4,200 h' })).toBeCloseTo(toKm(4200, 'h'), 6);
    expect(await km({ reading: '92.000,5' }, { decimal: 'comma' })).toBe(92_000.5);
  });
  test('one on file, and one that stands twice in the file, is written once', async () => {
    expect(await sort('vehicles', [{ ...row, plate: 'ro-1' }, row, { ...row, plate: 'new 1' }])).toMatchObject({
      written: 1,
      known: 2,
      faults: [],
    });
    expect(await sort('vehicles', [{ ...row, plate: '', name: 'quay TRACTOR' }])).toMatchObject({
      written: 0,
      known: 1,
    });
  });
  test.each<[string, Record<string, string>, RegExp]>([
    ['nothing to find it by', { plate: '' }, /plate and name are both missing/],
    ['a plate of signs', { plate: '-- --' }, /no letters or digits/],
    ['a plate too long', { plate: 'X'.repeat(21) }, /21 characters; at most 20/],
    ['no engine', { engine: '' }, /engine code is missing; it stands on the block/],
    ['an engine nobody knows', { engine: 'ZZ99' }, /no engine of the library has the code “ZZ99”/],
    ['a variant of another engine', { variant: 'steel-pump' }, /no variant of QV20T; leave it empty, or write .+ or /],
    ['a unit nobody counts in', { unit: 'leagues' }, /not understood under unit; write km, mi, h/],
    ['a day that does not exist', { firstRegistered: '31.2.2014' }, /“31\.2\.2014” is no date; write 31\.5\.2024/],
    ['a day to come', { readingDate: '1.12.2026' }, /has not come yet/],
    ['words for a reading', { reading: 'many' }, /“many” is no figure; write digits only/],
    ['a reading below nothing', { reading: '-5' }, /negative; a meter never is/],
    ['more than any vehicle runs', { reading: '99999999' }, /check the number of digits/],
    ['a serial of letters', { serial: 'ABC' }, /no engine serial; write its digits/],
    ['a contact too long', { contact: 'x'.repeat(121) }, /contact has 121 characters; at most 120/],
    ['a note too long', { note: 'x'.repeat(301) }, /301 characters; at most 300/],
  ])('%s is handed back with the mend', async (_what, changes, reason) =>
    expect(await refused('vehicles', { ...row, ...changes })).toMatch(reason),
  );
  test('one bad row keeps none of the others back, and is told by its line', async () => {
    const { written, faults } = await sort('vehicles', [
      row,
      { ...row, plate: 'NEW 2', engine: 'ZZ99' },
      { ...row, plate: 'NEW 3' },
    ]);
    expect(written).toBe(2);
    expect(faults.map(({ line, raw }) => [line, raw[0]])).toEqual([[3, 'NEW 2']]);
  });
});

describe('readings', () => {
  const row = { vehicle: 'RO 2', date: '1.10.2026', reading: '92000' };
  test('are in the vehicle’s own unit where the file says none', async () => {
    expect((await sort('readings', [row])).rows.readings![0]!.km).toBeCloseTo(toKm(92_000, 'mi'), 6);
    expect(
      (await sort('readings', [{ ...row, vehicle: 'Quay tractor', reading: '4200' }])).rows.readings![0]!.km,
    ).toBeCloseTo(toKm(4200, 'h'), 6);
    expect((await sort('readings', [row], { unit: 'km' })).rows.readings![0]!.km).toBe(92_000);
  });
  test('one on file is passed over, another of the same day is not', async () => {
    expect(
      await sort('readings', [
        { vehicle: 'RO 1', date: '1.1.2020', reading: '80000' },
        { vehicle: 'RO 1', date: '1.1.2020', reading: '80100' },
      ]),
    ).toMatchObject({ written: 1, known: 1 });
  });
  test.each<[string, Record<string, string>, RegExp]>([
    ['no vehicle', { vehicle: ' ' }, /vehicle is missing; write its plate or name/],
    ['a vehicle nobody knows', { vehicle: 'RO 99' }, /import the vehicles first/],
    ['a name that two have', { vehicle: 'the twin' }, /several vehicles are called “the twin”; write the plate/],
    ['no date', { date: '' }, /date is missing; a reading is what the meter showed on a day/],
    ['no reading', { reading: '' }, /reading is missing/],
  ])('%s is handed back with the mend', async (_what, changes, reason) =>
    expect(await refused('readings', { ...row, ...changes })).toMatch(reason),
  );
});

describe('what was renewed', () => {
  const row = {
    vehicle: 'RO 1',
    component: 'thermostat housing',
    date: '3.4.2023',
    reading: '121000',
    cameOut: 'Broken',
    partNumber: 'VL-1902-02',
    source: 'own',
  };
  test('goes to the component; what came out failed is a finding of the same day', async () => {
    const { rows } = await sort('services', [row]);
    expect(rows.services![0]).toMatchObject({
      vehicleId: ids['RO 1'],
      certainty: 'done',
      day: '2023-04-03',
      km: 121_000,
      grade: 'original',
      source: 'own',
      cameOut: 'failed',
      partNumber: 'VL-1902-02',
    });
    expect(rows.services![0]).not.toHaveProperty('weakPointId');
    expect(rows.findings).toEqual([
      expect.objectContaining({
        vehicleId: ids['RO 1'],
        weakPointId: await t.point('qv20t-thermostat'),
        day: '2023-04-03',
        result: 'failed',
        broughtIn: false,
      }),
    ]);
  });
  test.each([
    ['yes', 'done'],
    ['maybe', 'believed'],
    ['Not done', 'not_done'],
    ['never', 'not_done'],
    ['unknown', 'unknown'],
    ['', 'done'],
  ])('how sure: %j is %s', async (certainty, kept) => {
    const { rows } = await sort('services', [{ ...row, certainty }]);
    expect(rows.services![0]!.certainty).toBe(kept);
    expect(rows.services![0]!.day).toBe('2023-04-03');
    expect(rows.findings!).toHaveLength(kept === 'done' ? 1 : 0);
  });
  test('what is stated without a day is said today, of the part that is in: once, on the screen or off it', async () => {
    const never = { vehicle: 'RO 4', component: 'thermostat housing', certainty: 'never' };
    const { rows } = await sort('services', [never, never]);
    expect(rows.services).toEqual([expect.objectContaining({ certainty: 'not_done', day: '2026-11-24', km: null })]);
    const id = ids['RO 4']!;
    const weakPointId = await t.point('qv20t-thermostat');
    const post = async (path: string, body: object): Promise<void> =>
      expect((await owner.send('POST', `/api/vehicles/${id}/${path}`, body)).statusCode).toBeLessThan(300);
    const said = { certainty: 'not_done', grade: 'original', day: null, km: null };
    await post('services', { ...said, weakPointId, partNumber: null, revision: null, note: null });
    expect(await sort('services', [never])).toMatchObject({ written: 0, known: 1 });
    expect(await sort('services', [{ ...never, certainty: 'unknown' }])).toMatchObject({ written: 1, known: 0 });
    // Another engine's part is another part.
    await post('engine-swaps', { day: '2026-11-24', engineKm: 20_000, note: null });
    expect(await sort('services', [never])).toMatchObject({ written: 0, known: 1 });
    await t.services.source.query(
      `update service_record set day = '2026-10-01' where vehicle_id = $1 and certainty = 'not_done'`,
      [id],
    );
    expect(await sort('services', [never])).toMatchObject({ written: 1, known: 0 });
  });
  test.each<[string, Record<string, string>, RegExp]>([
    ['no component', { component: '' }, /component is missing; write what was renewed/],
    [
      'a component of another engine',
      { component: 'timing belt' },
      /no component or weak point of this vehicle’s engine/,
    ],
    ['no date for what is done', { date: '' }, /write when it was done, or “unknown” under certainty/],
    ['a certainty nobody has', { certainty: 'perhaps' }, /not understood under certainty; write done, believed/],
    ['a part number too long', { partNumber: '1'.repeat(41) }, /part number has 41 characters; at most 40/],
    ['a grade nobody sells', { grade: 'golden' }, /under grade; write original/],
    ['a source nobody is', { source: 'a bird' }, /under source/],
    ['a state no part comes out in', { cameOut: 'sad' }, /under came out; write good, worn, failed/],
  ])('%s is handed back with the mend', async (_what, changes, reason) =>
    expect(await refused('services', { ...row, ...changes })).toMatch(reason),
  );
});

describe('what was found', () => {
  const row = { vehicle: 'RO 1', weakPoint: 'qv20t-thermostat', date: '6.5.2026', result: 'OK' };
  test('is sound, worn or failed, and only a failure brings a car in', async () => {
    expect((await sort('findings', [row])).rows.findings![0]).toMatchObject({ result: 'sound', broughtIn: false });
    expect((await sort('findings', [{ ...row, result: 'broke', broughtIn: 'x' }])).rows.findings![0]).toMatchObject({
      result: 'failed',
      broughtIn: true,
    });
    expect((await sort('findings', [{ ...row, result: 'worn', broughtIn: 'yes' }])).rows.findings![0]).toMatchObject({
      result: 'worn',
      broughtIn: false,
    });
  });
  test.each<[string, Record<string, string>, RegExp]>([
    ['no weak point', { weakPoint: '' }, /weak point is missing; write what was looked at/],
    ['one of another engine', { weakPoint: 'qv16-belt' }, /no weak point of this vehicle’s engine/],
    ['no date', { date: '' }, /write when it was found/],
    ['no result', { result: '' }, /write good, worn or failed/],
    ['a result that is none', { result: 'so so' }, /under result; write good, worn, failed/],
  ])('%s is handed back with the mend', async (_what, changes, reason) =>
    expect(await refused('findings', { ...row, ...changes })).toMatch(reason),
  );
  test.each([
    ['good', 'sound'],
    ['OK', 'sound'],
    ['clean', 'sound'],
    ['broken', 'failed'],
    ['broke', 'failed'],
  ])('%s is %s', async (said, result) => {
    const { rows } = await sort('findings', [
      { vehicle: 'RO 1', weakPoint: 'qv20t-thermostat', date: '1.2.2024', result: said },
    ]);
    expect(rows.findings![0]).toMatchObject({ result });
  });
  test('a cell that was kept harmless is read as it was meant', async () => {
    expect((await sort('findings', [{ ...row, note: "'=1+1" }])).rows.findings![0]!.note).toBe('=1+1');
  });
});
