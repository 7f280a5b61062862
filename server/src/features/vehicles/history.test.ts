import {
  type LookupAnswer,
  answerRows,
  type Changed,
  type HistoryEntry,
  type VehicleOutlook,
  type WireQuestion,
  type WireWhy,
} from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let client: Client;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('tove');
});
afterAll(() => t.close());

let plates = 0;
async function newVehicle(changes: object = {}): Promise<string> {
  plates += 1;
  return (
    await client.send('POST', '/api/vehicles', {
      plate: `HI ${plates}`,
      name: null,
      model: 'Tillet',
      familyId: await t.family('QV16B'),
      variantKey: 'steel-pump',
      firstRegistered: '2012-03-01',
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-11-20', km: 165_000 },
      ...changes,
    })
  ).json<Changed>().id;
}
const outlook = async (id: string): Promise<VehicleOutlook> => (await client.get(`/api/vehicles/${id}/outlook`)).json();
const row = async (id: string, key: string) =>
  answerRows((await outlook(id)).answer).find((candidate) => candidate.key === key)!;
const post = (id: string, what: string, body: object) => client.send('POST', `/api/vehicles/${id}/${what}`, body);
const questions = async (id: string): Promise<WireQuestion[]> => (await outlook(id)).questions;

describe('replaced clusters and swapped engines', () => {
  test('readings after a new cluster go on from the old one; the dash is told apart from the distance', async () => {
    const id = await newVehicle({ reading: { day: '2024-01-10', km: 140_000 } });
    await post(id, 'readings', { day: '2026-11-01', km: 9000, sure: true });
    expect((await outlook(id)).answer.usage.rejected).toHaveLength(1);
    await post(id, 'meter-changes', { day: '2026-03-01', oldKm: 160_000, newKm: 0, note: 'display dead' });
    const { answer } = await outlook(id);
    expect(answer.usage).toMatchObject({ rejected: [], meterOffsetKm: 160_000 });
    expect(answer.now.km).toBeGreaterThan(169_000);
    expect(
      (await client.get(`/api/vehicles/${id}/history`))
        .json<{ rows: HistoryEntry[] }>()
        .rows.find(({ kind }) => kind === 'cluster'),
    ).toMatchObject({ km: 160_000, newKm: 0 });
    // A bare reading may be of either cluster.
    expect(
      (
        await post(id, 'services', {
          weakPointId: await t.point('qv16-belt'),
          certainty: 'done',
          day: null,
          km: 5000,
          grade: 'original',
          partNumber: null,
          revision: null,
          note: null,
        })
      ).json(),
    ).toMatchObject({ status: 400, fields: [{ path: 'day' }] });
  });

  test('a young engine makes engine parts young, and leaves the radiator as old as the car; undo brings all back', async () => {
    const id = await newVehicle({ market: 'salted roads' });
    const [belt, radiator] = [await row(id, 'qv16-belt'), await row(id, 'qv16-radiator')];
    const swapped = (
      await post(id, 'engine-swaps', { day: '2026-01-10', engineKm: 10_000, note: null })
    ).json<Changed>();
    expect((await row(id, 'qv16-belt')).chance).toBeLessThan(belt.chance / 10);
    expect((await row(id, 'qv16-radiator')).chance).toBeCloseTo(radiator.chance, 12);
    expect((await outlook(id)).answer.usage.engine).toMatchObject({ assumed: false });
    await client.send('POST', `/api/changes/${swapped.changeId}/undo`, {});
    expect((await row(id, 'qv16-belt')).chance).toBeCloseTo(belt.chance, 12);
  });

  test('of the belt of another engine is asked anew, and what is said of it then counts', async () => {
    const id = await newVehicle();
    const weakPointId = await t.point('qv16-belt');
    const record = { weakPointId, km: null, grade: 'original', partNumber: null, revision: null, note: null };
    await post(id, 'services', { ...record, certainty: 'done', day: '2020-05-01' });
    const asked = async (): Promise<boolean> => (await questions(id)).some(({ about }) => about === 'history:vl-belt');
    expect(await asked()).toBe(false);
    await post(id, 'engine-swaps', { day: '2026-01-10', engineKm: 190_000, note: null });
    expect(await asked()).toBe(true);
    const said = (await post(id, 'services', { ...record, certainty: 'not_done', day: null })).json<Changed>();
    expect(await asked()).toBe(false);
    expect((await row(id, 'qv16-belt')).installs).toMatchObject([{ certainty: 'not_done' }]);
    await client.send('POST', `/api/changes/${said.changeId}/undo`, {});
    await post(id, 'answers', { about: 'history:vl-belt', answer: 'never' });
    expect((await row(id, 'qv16-belt')).installs).toMatchObject([{ certainty: 'not_done' }]);
  });

  test.each([
    ['meter-changes', { day: '2027-01-01', oldKm: 1, newKm: 0, note: null }, 'day'],
    ['meter-changes', { day: '2026-01-01', oldKm: -1, newKm: 0, note: null }, 'oldKm'],
    ['engine-swaps', { day: 'soon', engineKm: null, note: null }, 'day'],
    ['engine-swaps', { day: '2026-01-01', engineKm: 1e12, note: null }, 'engineKm'],
  ])('%s %j is refused, named', async (what, body, path) => {
    expect((await post(await newVehicle(), what, body)).json()).toMatchObject({ status: 400, fields: [{ path }] });
  });

  test('a machine on hours keeps hours, and windows told in hours run on them', async () => {
    const id = await newVehicle({
      familyId: await t.family('K630C'),
      variantKey: null,
      model: 'Kvern',
      serial: 500_000,
      odometerUnit: 'h',
      reading: { day: '2026-11-20', km: 4000 * 40 },
    });
    const { vehicle, answer } = await outlook(id);
    expect(vehicle.odometerUnit).toBe('h');
    expect(answer.variants.map(({ key }) => key)).toEqual(['violet-seals']);
    expect(answerRows(answer).find(({ key }) => key === 'k630c-pump')!.chance).toBeGreaterThan(0.01);
  });
});

describe('findings and records', () => {
  test('a failure holds the vehicle until the renewal is on record', async () => {
    const id = await newVehicle();
    const weakPointId = await t.point('qv16-belt');
    await post(id, 'findings', {
      weakPointId,
      day: '2026-11-10',
      result: 'failed',
      sinceDay: '2026-10-01',
      note: null,
    });
    expect(await row(id, 'qv16-belt')).toMatchObject({
      verdict: 'hold',
      rule: 'failed_and_grave',
      looks: [{ result: 'failed' }],
    });
    await post(id, 'services', {
      weakPointId,
      certainty: 'done',
      day: '2026-11-12',
      km: null,
      grade: 'original',
      partNumber: null,
      revision: null,
      source: 'own',
      cameOut: null,
      note: null,
    });
    expect((await row(id, 'qv16-belt')).verdict).not.toBe('hold');
  });
  test.each([
    [{ result: 'sound', broughtIn: true }, 200],
    [{ result: 'failed', sinceDay: '2026-11-10' }, 400],
    [{ result: 'broken' }, 400],
  ])('a finding %j answers %d', async (body, status) => {
    expect(
      (
        await post(await newVehicle(), 'findings', {
          weakPointId: await t.point('qv16-belt'),
          day: '2026-11-10',
          note: null,
          ...body,
        })
      ).statusCode,
    ).toBe(status);
  });
  test('where a record comes from decides how far a belief is believed', async () => {
    const believed = async (source: string) => {
      const id = await newVehicle();
      await post(id, 'services', {
        weakPointId: await t.point('qv16-belt'),
        certainty: 'believed',
        day: '2023-05-01',
        km: null,
        grade: 'original',
        partNumber: null,
        revision: null,
        source,
        cameOut: null,
        note: null,
      });
      return (await row(id, 'qv16-belt')).installs[0]!.weight;
    };
    expect(await believed('invoice')).toBeGreaterThan(await believed('seller'));
  });
});

describe('schools for one vehicle', () => {
  const choose = async (id: string, body: object) =>
    post(id, 'school', { weakPointId: null, school: 'book', reason: 'fleet contract', ...body });
  test('a choice needs its reason, stands on the page, gives way to another, and goes back to the workshop’s', async () => {
    const id = await newVehicle();
    expect((await choose(id, { reason: ' ' })).json()).toMatchObject({ status: 400, fields: [{ path: 'reason' }] });
    await choose(id, {});
    expect(await row(id, 'qv16-belt')).toMatchObject({
      followed: 'book',
      followedBecause: { by: 'vehicle', reason: 'fleet contract' },
    });
    await choose(id, { weakPointId: await t.point('qv16-belt'), school: 'cost', reason: 'sold in spring' });
    expect(await row(id, 'qv16-belt')).toMatchObject({ followedBecause: { by: 'row', reason: 'sold in spring' } });
    await choose(id, { weakPointId: await t.point('qv16-belt'), school: null, reason: null });
    await choose(id, { school: null, reason: null });
    expect(await row(id, 'qv16-belt')).toMatchObject({ followed: 'early', followedBecause: { by: 'shop' } });
    expect((await choose(id, { school: null, reason: null })).statusCode).toBe(400);
  });
});

describe('questions and their answers', () => {
  test('an open variant is asked for where it changes a verdict; its answer is kept, and taken back by undo', async () => {
    const id = await newVehicle({
      familyId: await t.family('QV20T'),
      variantKey: null,
      model: 'Corrow',
      firstRegistered: '2014-11-01',
      reading: { day: '2026-11-20', km: 150_000 },
    });
    const variant = (await questions(id)).find(({ about }) => about === 'variant')!;
    expect(variant.moves.length).toBeGreaterThan(0);
    const answered = (await post(id, 'answers', { about: 'variant', answer: 'long-ratchet' })).json<Changed>();
    expect((await outlook(id)).vehicle.variantKey).toBe('long-ratchet');
    expect((await questions(id)).map(({ about }) => about)).not.toContain('variant');
    await client.send('POST', `/api/changes/${answered.changeId}/undo`, {});
    expect((await outlook(id)).vehicle.variantKey).toBeNull();
  });
  test('that a part was never renewed is a record; that the revised one is in there ends the weak point', async () => {
    const id = await newVehicle({
      familyId: await t.family('QV20T'),
      variantKey: 'short-ratchet',
      model: 'Corrow',
      firstRegistered: '2013-05-01',
      reading: { day: '2026-11-20', km: 150_000 },
    });
    await post(id, 'answers', { about: 'history:qv-pump', answer: 'never' });
    expect((await row(id, 'qv20t-pump')).installs[0]!.certainty).toBe('not_done');
    await post(id, 'answers', { about: 'fitted:qv-tensioner', answer: 'E' });
    expect(await row(id, 'qv20t-tensioner')).toMatchObject({ verdict: 'behind_it', rule: 'revised_part' });
  });
  test('renewed about then is believed as far as an owner’s word is, at a reading, on a day or lately, with its part', async () => {
    const belt = async (answer: string) => {
      const id = await newVehicle();
      const asked = (await questions(id)).find(({ about }) => about === 'history:vl-belt')!;
      expect(asked.proof).toBe(true);
      expect((await post(id, 'answers', { about: 'history:vl-belt', answer })).statusCode).toBe(200);
      const [install] = (await row(id, 'qv16-belt')).installs;
      return { id, ...install!, chance: (await row(id, 'qv16-belt')).chance };
    };
    const at = await belt('renewed 150000km original');
    expect(at.certainty).toBe('believed');
    const cheap = await belt('renewed 150000km cheap');
    expect(cheap.day).toBe(at.day);
    expect(cheap.chance).toBeGreaterThan(at.chance);
    const on = await belt('renewed 2024-05-14');
    expect(on.day).toBe(dayFromIso('2024-05-14'));
    const lately = await belt('renewed lately');
    expect(lately.day).toBe(dayFromIso('2025-11-24'));
    for (const [answer, path] of [
      ['renewed 2027-01-01', 'day'],
      ['renewed 400000km', 'km'],
    ] as const)
      expect((await post(at.id, 'answers', { about: 'history:vl-belt', answer })).json()).toMatchObject({
        status: 400,
        fields: [{ path }],
      });
  });

  test('that nobody knows is an answer: it is not asked again, and the part is judged as before', async () => {
    const id = await newVehicle();
    const before = await row(id, 'qv16-belt');
    expect(before).toMatchObject({ rule: expect.stringMatching(/^no_proof/) as string });
    expect(before.ifFirst).toBeGreaterThan(before.chance);
    await post(id, 'answers', { about: 'history:vl-belt', answer: 'unknown' });
    expect(await row(id, 'qv16-belt')).toMatchObject({ rule: before.rule, chance: before.chance });
    expect((await questions(id)).map(({ about }) => about)).not.toContain('history:vl-belt');
    await post(id, 'answers', { about: 'history:vl-belt', answer: 'never' });
    expect((await row(id, 'qv16-belt')).ifFirst).toBeNull();
  });

  test('what was answered on a lookup goes on file with the vehicle, all of it or nothing', async () => {
    const history = [
      { about: 'history:vl-belt', answer: 'renewed 150000km cheap' },
      { about: 'history:vl-seal', answer: 'unknown' },
    ];
    const parts = (await client.get('/api/lookup?line=QV16B%20165k%202012')).json<LookupAnswer>().answer!.points;
    const known = history.filter(({ about }) => parts.some(({ componentKey }) => `history:${componentKey}` === about));
    const id = await newVehicle({ history: known });
    expect((await row(id, 'qv16-belt')).installs[0]!.certainty).toBe('believed');
    plates += 1;
    const refused = await client.send('POST', '/api/vehicles', {
      plate: `HI ${plates}`,
      name: null,
      model: null,
      familyId: await t.family('QV16B'),
      variantKey: null,
      firstRegistered: null,
      odometerUnit: 'km',
      severity: 1,
      note: null,
      reading: { day: '2026-11-20', km: 165_000 },
      history: [{ about: 'history:vl-belt', answer: 'perhaps' }],
    });
    expect(refused.json()).toMatchObject({ status: 400, fields: [{ path: 'history' }] });
    const found = (await client.get(`/api/vehicles?q=HI+${plates}`)).json<{ total: number }>();
    expect(found.total).toBe(0);
  });

  test('a feature is weighed until it is known', async () => {
    const id = await newVehicle({ familyId: await t.family('OD420K'), variantKey: 'auto-tensioner', model: 'Ardholm' });
    expect((await row(id, 'od420k-oil-cooler')).appliesWeight).toBeCloseTo(0.6, 9);
    await post(id, 'answers', { about: 'feature:side-cooler', answer: 'no' });
    expect(await row(id, 'od420k-oil-cooler')).toBeUndefined();
  });
  test.each([
    ['variant', 'nope'],
    ['feature:wings', 'yes'],
    ['fitted:nothing', 'A'],
    ['history:nothing', 'never'],
    ['colour', 'red'],
    ['feature:side-cooler', 'perhaps'],
  ])('%s answered %s is refused', async (about, answer) => {
    expect((await post(await newVehicle(), 'answers', { about, answer })).json()).toMatchObject({
      status: 400,
      code: 'bad_input',
    });
  });
});

test('why a chance is what it is: each ground taken away in turn', async () => {
  const id = await newVehicle({ duty: { longOil: 'much' } });
  const weakPointId = await t.point('qv16-belt');
  await post(id, 'findings', { weakPointId, day: '2026-11-01', result: 'sound', note: null });
  const why = (await client.get(`/api/vehicles/${id}/why/${weakPointId}`)).json<WireWhy>();
  expect(why.chance).toBeCloseTo((await row(id, 'qv16-belt')).chance, 12);
  expect(why.steps.map(({ ground }) => ground)).toEqual(
    expect.arrayContaining(['clock:distance', 'clock:age', 'duty', 'original', 'looks']),
  );
  expect(why.steps.find(({ ground }) => ground === 'looks')!.otherwise).toBeGreaterThan(why.chance);
  expect((await client.get(`/api/vehicles/${id}/why/${await t.point('k425n-belt')}`)).json()).toMatchObject({
    status: 404,
  });
});

test('a lookup keeps nothing, and knows what its address says', async () => {
  const ask = async (know: string) =>
    answerRows(
      (
        await client.get(`/api/lookup?line=${encodeURIComponent('OD420K 160k 2014')}&know=${encodeURIComponent(know)}`)
      ).json<LookupAnswer>().answer!,
    );
  const open = (await client.get(`/api/lookup/questions?line=${encodeURIComponent('QV20T 150k 2014')}`)).json<{
    questions: WireQuestion[];
  }>().questions;
  expect(open.map(({ about }) => about)).toContain('variant');
  expect((await ask('')).map(({ key }) => key)).toContain('od420k-oil-cooler');
  expect((await ask('feature:side-cooler=no')).map(({ key }) => key)).not.toContain('od420k-oil-cooler');
  expect((await ask(';;=;feature:side-cooler=perhaps;🚗=🚗')).map(({ key }) => key)).toContain('od420k-oil-cooler');
  const why = await client.get(
    `/api/lookup/why/${await t.point('od420k-belt')}?line=${encodeURIComponent('OD420K 160k 2014')}`,
  );
  expect(why.json<WireWhy>().steps.length).toBeGreaterThan(2);
});
