import {
  pack,
  type Answer,
  type Changed,
  type Notice,
  type NoticeCampaignRow,
  type NoticeDraft,
  type NoticeRow,
  type Pack,
  type VehicleOutlook,
} from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { exportPack } from '../../knowledge/pack-out.ts';

let t: TestApp;
let owner: Client;
let mechanic: Client;
const ids: Record<string, string> = {};
const file = async (
  plate: string,
  firstRegistered: string,
  kms: readonly [day: string, km: number][],
): Promise<void> => {
  const made = (
    await owner.send('POST', '/api/vehicles', {
      plate,
      name: null,
      model: null,
      familyId: await t.family('QV16B'),
      variantKey: null,
      firstRegistered,
      odometerUnit: 'km',
      severity: 1,
      note: null,
      contact: 'Maud Venn, Harbour 2000',
      reading: null,
    })
  ).json<Changed>();
  ids[plate] = made.id;
  for (const [day, km] of kms) await owner.send('POST', `/api/vehicles/${made.id}/readings`, { day, km });
};
beforeAll(async () => {
  t = await testApp();
  [owner, mechanic] = [await t.signIn('ruta'), await t.signIn('tove')];
  await file('NB 1', '2014-05-01', [
    ['2024-11-24', 80_000],
    ['2026-11-24', 100_000],
  ]);
  await file('NB 2', '2018-05-01', [
    ['2024-11-24', 170_000],
    ['2026-11-24', 198_000],
  ]);
  await file('NB 3', '2019-05-01', [['2026-11-24', 230_000]]);
});
afterAll(() => t.close());

const draft = async (changes: Partial<NoticeDraft> = {}): Promise<NoticeDraft> => ({
  kind: 'bulletin',
  authorityId: null,
  newAuthority: { name: 'Harbour letters', kind: 'bulletin' },
  number: 'H 1',
  title: 'Belts older than they look',
  words: 'Look at the back of the belt.',
  issued: '2026-10-01',
  asks: 'look',
  points: [(await t.point('qv16-belt')) as never],
  producedFrom: null,
  producedTo: null,
  covers: null,
  endsOn: null,
  ...changes,
});
const create = async (changes: Partial<NoticeDraft> = {}, client = owner) =>
  client.send('POST', '/api/library/notices', await draft(changes));
const made = async (changes: Partial<NoticeDraft> = {}): Promise<Changed> => {
  const response = await create(changes);
  expect(response.statusCode).toBe(200);
  return response.json();
};
const touched = async (id: string, left: 'all' | 'left'): Promise<NoticeCampaignRow[]> =>
  (await owner.get(`/api/library/notices/${id}/vehicles?left=${left}`)).json<{ rows: NoticeCampaignRow[] }>().rows;
const plates = (rows: readonly NoticeCampaignRow[]): (string | null)[] => rows.map(({ plate }) => plate).sort();

test('a bulletin shows whom it touches; a look since, a visit planned and a refusal each take one off the list of calls', async () => {
  const { id } = await made();
  expect(plates(await touched(id, 'left'))).toEqual(['NB 1', 'NB 2', 'NB 3']);
  expect((await touched(id, 'left'))[0]).toMatchObject({
    contact: 'Maud Venn, Harbour 2000',
    answered: false,
    covered: null,
    lastCall: null,
  });
  const point = await t.point('qv16-belt');
  await owner.send('POST', `/api/vehicles/${ids['NB 1']}/findings`, {
    weakPointId: point,
    day: '2026-09-30',
    result: 'sound',
    note: null,
  });
  expect(plates(await touched(id, 'left'))).toContain('NB 1');
  await owner.send('POST', `/api/vehicles/${ids['NB 1']}/findings`, {
    weakPointId: point,
    day: '2026-10-02',
    result: 'sound',
    note: null,
  });
  expect(plates(await touched(id, 'left'))).toEqual(['NB 2', 'NB 3']);
  expect((await touched(id, 'all')).find(({ plate }) => plate === 'NB 1')).toMatchObject({
    answered: true,
    lastLook: '2026-10-02',
    lastResult: 'sound',
  });
  await owner.send('POST', `/api/vehicles/${ids['NB 2']}/visits`, {
    day: '2026-12-10',
    km: null,
    note: null,
    jobs: [{ weakPointId: point, action: 'look' }],
  });
  expect(plates(await touched(id, 'left'))).toEqual(['NB 3']);
  const call = (outcome: string, day = '2026-11-24') =>
    owner.send('POST', '/api/library/calls', {
      vehicleId: ids['NB 3'],
      weakPointId: null,
      noticeId: id,
      day,
      outcome,
      note: 'after the holidays',
    });
  await call('thinking');
  expect((await touched(id, 'left'))[0]).toMatchObject({
    plate: 'NB 3',
    lastCall: { day: '2026-11-24', outcome: 'thinking', note: 'after the holidays' },
  });
  const declined = (await call('declined')).json<Changed>();
  expect(await touched(id, 'left')).toEqual([]);
  expect(
    (await owner.get(`/api/vehicles/${ids['NB 3']}/changes`)).json<{ rows: { summary: string }[] }>().rows[0]!.summary,
  ).toBe('Called about “Belts older than they look”');
  await owner.send('POST', `/api/changes/${declined.changeId}/undo`, {});
  expect(plates(await touched(id, 'left'))).toEqual(['NB 3']);
  expect((await call('coming', '2026-11-25')).json()).toMatchObject({ status: 400, fields: [{ path: 'day' }] });
});

test('a coverage runs out at the nearest of its limits: by age, by distance at the forecast use, on its last day', async () => {
  const { id } = await made({
    kind: 'coverage',
    number: 'H 2',
    title: 'Belts are paid for',
    asks: 'renew',
    covers: '13y | 210k km',
    endsOn: '2030-12-31',
  });
  const rows = new Map((await touched(id, 'all')).map((row) => [row.plate, row]));
  // Its thirteenth birthday.
  expect(rows.get('NB 1')).toMatchObject({ covered: true, coveredUntil: '2027-05-01' });
  expect(rows.get('NB 3')).toMatchObject({ covered: false });
  // 12,000 km left; the forecast lies between the 23,100 km a year of its life and the 14,000 of its last two years.
  const { coveredUntil } = rows.get('NB 2')!;
  expect(coveredUntil! > '2027-06-01' && coveredUntil! < '2027-10-04').toBe(true);
  expect((await touched(id, 'all')).map(({ plate }) => plate)).toEqual(['NB 3', 'NB 1', 'NB 2']);
  expect(plates(await touched(id, 'left'))).not.toContain('NB 3');
});

test('the list of all vehicles and the page of each say the same of what is covered, and until when', async () => {
  const limits: Partial<NoticeDraft>[] = [
    { covers: '8y' },
    { covers: '9y | 150k km' },
    { covers: '200k km' },
    { covers: '15y | 240k km', endsOn: '2028-06-30' },
    { covers: '90k km' },
    { covers: null, endsOn: '2026-11-24' },
    { covers: null, endsOn: '2026-11-23' },
    { covers: '20y', producedFrom: '2017-01-01', producedTo: '2018-12-31' },
  ];
  let compared = 0;
  for (const [i, changes] of limits.entries()) {
    const { id, changeId } = await made({ kind: 'coverage', number: `H 2${i}`, ...changes });
    const listed = new Map((await touched(id, 'all')).map((row) => [row.vehicleId, row]));
    for (const vehicleId of Object.values(ids)) {
      const { answer } = (await owner.get(`/api/vehicles/${vehicleId}/outlook`)).json<VehicleOutlook>();
      const shown = answer.judgements.flatMap(({ notices }) => notices).find((notice) => (notice.id as string) === id);
      const row = listed.get(vehicleId);
      expect({ i, vehicleId, listed: row !== undefined }).toEqual({ i, vehicleId, listed: shown !== undefined });
      if (row === undefined || shown === undefined) continue;
      expect({ i, vehicleId, covered: row.covered }).toEqual({ i, vehicleId, covered: shown.covered });
      const until = row.coveredUntil === null ? null : dayFromIso(row.coveredUntil)!;
      // What has run out by distance did so on some day before the reading that shows it.
      if (!row.covered) continue;
      expect(Math.abs(until! - shown.coveredUntil!)).toBeLessThanOrEqual(1);
      compared += 1;
    }
    await owner.send('POST', `/api/changes/${changeId}/undo`, {});
  }
  expect(compared).toBeGreaterThan(8);
});

test('production dates keep out what was made before or after them', async () => {
  const { id } = await made({ number: 'H 3', producedFrom: '2017-01-01', producedTo: '2018-01-01' });
  expect(plates(await touched(id, 'all'))).toEqual(['NB 2']);
});

test('what cannot be used is named with its field; nothing is half-written', async () => {
  const before = (await owner.get('/api/library/notices')).json<{ total: number }>().total;
  const cases: [Partial<NoticeDraft>, RegExp][] = [
    [{ number: 'H 9', kind: 'coverage' }, /covers/],
    [{ number: 'H 9', covers: '10y' }, /kind/],
    [{ number: 'H 9', kind: 'coverage', covers: '9-10y' }, /covers/],
    [{ number: 'H 9', kind: 'coverage', covers: '900h' }, /covers/],
    [{ number: '' }, /number/],
    [{ number: 'H 9', points: [] }, /points/],
    [{ number: 'H 9', points: ['00000000-0000-4000-8000-000000000000' as never] }, /points/],
    [{ number: 'H 9', issued: '2026-02-30' }, /issued/],
    [{ number: 'H 9', newAuthority: null }, /authorityId/],
    [{ number: 'H 9', producedFrom: '2020-01-01', producedTo: '2019-01-01' }, /producedTo/],
    [
      { number: 'H 9', newAuthority: null, authorityId: '00000000-0000-4000-8000-000000000000' as never },
      /authorityId/,
    ],
  ];
  for (const [changes, field] of cases) {
    const response = await create(changes);
    expect(response.statusCode).toBe(400);
    expect(
      response
        .json<{ fields: { path: string }[] }>()
        .fields.map(({ path }) => path)
        .join(' '),
    ).toMatch(field);
  }
  const [row] = (await owner.get('/api/library/notices?q=H+1')).json<{ rows: NoticeRow[] }>().rows;
  const known = (await owner.get(`/api/library/notices/${row!.id}`)).json<Notice>();
  expect((await create({ number: 'h 1', newAuthority: null, authorityId: known.authorityId })).json()).toMatchObject({
    status: 400,
    fields: [{ path: 'number' }],
  });
  expect((await owner.get('/api/library/notices')).json<{ total: number }>().total).toBe(before);
});

test('the later of two corrections is told; withdrawing can be taken back; others’ notices are the owner’s to change', async () => {
  const { id } = await made({ number: 'H 4' });
  const { title } = await draft({ number: 'H 4' });
  const saved = (await create({ number: 'H 4 b' })).json<Changed>();
  expect(saved.summary).toBe(`H 4 b “${title}” saved`);
  const body = { draft: await draft({ number: 'H 4', title: 'Belts, second edition' }), version: 1 };
  expect((await owner.send('PUT', `/api/library/notices/${id}`, body)).json<Changed>().summary).toBe(
    'H 4 “Belts, second edition” corrected',
  );
  expect((await owner.send('PUT', `/api/library/notices/${id}`, body)).json()).toMatchObject({
    status: 409,
    code: 'changed_meanwhile',
    current: { title: 'Belts, second edition', version: 2 },
  });
  expect(
    (await mechanic.send('POST', `/api/library/notices/${id}/step`, { state: 'withdrawn', version: 2 })).statusCode,
  ).toBe(403);
  const withdrawn = (
    await owner.send('POST', `/api/library/notices/${id}/step`, { state: 'withdrawn', version: 2 })
  ).json<Changed>();
  expect((await owner.get(`/api/library/notices/${id}`)).json()).toMatchObject({ row: { state: 'withdrawn' } });
  expect(withdrawn.summary).toBe('H 4 “Belts, second edition” withdrawn');
  const again = { state: 'current', version: 3 };
  expect((await owner.send('POST', `/api/library/notices/${id}/step`, again)).json<Changed>().summary).toBe(
    'H 4 “Belts, second edition” taken up again',
  );
  const last = (
    await owner.send('POST', `/api/library/notices/${id}/step`, { state: 'withdrawn', version: 4 })
  ).json<Changed>();
  expect((await owner.get(`/api/library/notices/${id}`)).json()).toMatchObject({ row: { state: 'withdrawn' } });
  await owner.send('POST', `/api/changes/${last.changeId}/undo`, {});
  expect((await owner.get(`/api/library/notices/${id}`)).json()).toMatchObject({ row: { state: 'current' } });
  const own = (await create({ number: 'H 5' }, mechanic)).json<Changed>();
  expect(
    (
      await mechanic.send('PUT', `/api/library/notices/${own.id}`, {
        draft: await draft({ number: 'H 5b' }),
        version: 1,
      })
    ).statusCode,
  ).toBe(200);
});

test('notices and what statements rest on leave with the pack and come in again word for word', async () => {
  const head = { key: 'round-trip', title: 'Round trip', version: '1.0.0', licence: 'CC0-1.0' };
  const out = await exportPack(t.services.source.manager, head, null);
  expect(out.notices.find(({ number }) => number === 'C 27')).toMatchObject({
    kind: 'coverage',
    covers: '12y | 200k km',
    endsOn: '2028-12-31',
    weakPoints: ['qv20t-thermostat'],
  });
  expect(
    out.families
      .flatMap(({ weakPoints }) => weakPoints)
      .flatMap(({ statements }) => statements)
      .filter(({ strength }) => strength === 'counted').length,
  ).toBeGreaterThan(2);
  const shown = await owner.send('POST', '/api/library/packs/preview?name=a.json', JSON.stringify(out), {
    'content-type': 'application/json',
  });
  expect(shown.json<{ rows: unknown[] }>().rows).toEqual([]);
  // Only what it is about differs: still shown before it is written.
  const other: Pack = pack.parse({
    ...out,
    notices: out.notices.map((notice) =>
      notice.number === 'C 27' ? { ...notice, weakPoints: ['qv20t-thermostat', 'qv20t-pump'] } : notice,
    ),
  });
  const { rows } = (
    await owner.send('POST', '/api/library/packs/preview?name=a.json', JSON.stringify(other), {
      'content-type': 'application/json',
    })
  ).json<{ rows: { name: string; what: string; columns: { column: string; after: string }[] }[] }>();
  expect(rows).toMatchObject([
    {
      name: 'Thermostat housings that crack are paid for',
      what: 'conflict',
      columns: [{ column: 'about', after: 'Water pump leaks at the shaft' }],
    },
  ]);
});

test('the list is cut off at any chance, on a bound of the indexed bands or between two: as by the chances themselves', async () => {
  for (const least of [0, 0.005, 0.01, 0.02, 0.03, 0.08, 0.2, 0.25, 0.9, 1]) {
    const [own] = await t.services.source.query<{ count: number }[]>(
      "select count(distinct vehicle_id)::int as count from judgement where verdict <> 'behind_it' and chance >= $1",
      [least],
    );
    expect((await owner.get(`/api/vehicles?least=${least}`)).json<{ total: number }>().total).toBe(own!.count);
  }
});

test('a pack with a notice that is saved under another key, or twice in itself, is refused with its place', async () => {
  const out = await exportPack(
    t.services.source.manager,
    { key: 'twice', title: 'Twice', version: '1.0.0', licence: 'CC0-1.0' },
    null,
  );
  const send = (notices: Pack['notices']) =>
    owner.send('POST', '/api/library/packs/preview?name=a.json', JSON.stringify({ ...out, notices }), {
      'content-type': 'application/json',
    });
  const [first] = out.notices;
  expect((await send([{ ...first!, key: 'renamed' }])).json()).toMatchObject({
    status: 400,
    code: 'bad_file',
    fields: [{ path: 'notices.renamed' }],
  });
  expect((await send([first!, { ...first!, key: 'again' }])).json()).toMatchObject({ status: 400, code: 'bad_file' });
});

test('what a notice asks for is decided at once, on the line and on the page of a vehicle, until it is answered or withdrawn', async () => {
  const mounts = await t.point('qv16-mount');
  const rules = async (): Promise<readonly string[]> => {
    const lookup = (await owner.get(`/api/lookup?line=${encodeURIComponent('QV16B 60k 2019')}`)).json<{
      answer: Answer;
    }>();
    const vehicle = (await owner.get(`/api/vehicles/${ids['NB 1']}/outlook`)).json<VehicleOutlook>();
    return [lookup.answer, vehicle.answer].map(
      ({ judgements }) => judgements.find(({ weakPointId }) => weakPointId === mounts)!.rule,
    );
  };
  expect(await rules()).not.toContain('notice_looks');
  const { id } = await made({ number: 'H 9', points: [mounts as never] });
  expect(await rules()).toEqual(['notice_looks', 'notice_looks']);
  // The list to call from is answered by the same records as the decision.
  const answered = async () => (await touched(id, 'all')).find(({ plate }) => plate === 'NB 1')!.answered;
  expect(await answered()).toBe(false);
  await owner.send('POST', `/api/vehicles/${ids['NB 1']}/findings`, {
    weakPointId: mounts,
    day: '2026-11-20',
    result: 'sound',
    note: null,
  });
  expect((await rules())[1]).not.toBe('notice_looks');
  expect(await answered()).toBe(true);
  // Who asks is told by the name that the authority has now.
  const asking = async (): Promise<readonly string[]> =>
    (await owner.get(`/api/vehicles/${ids['NB 2']}/outlook`))
      .json<VehicleOutlook>()
      .answer.judgements.filter(({ weakPointId }) => weakPointId === mounts)
      .flatMap(({ notices }) => notices.map(({ authority }) => authority));
  expect(await asking()).toEqual(['Harbour letters']);
  const rename = (name: string, to: string): Promise<unknown> =>
    t.services.source.query('update authority set name = $2 where name = $1', [name, to]);
  await rename('Harbour letters', 'Quay letters');
  expect(await asking()).toEqual(['Quay letters']);
  await rename('Quay letters', 'Harbour letters');
  await owner.send('POST', `/api/library/notices/${id}/step`, { state: 'withdrawn', version: 1 });
  expect(await rules()).not.toContain('notice_looks');
});
