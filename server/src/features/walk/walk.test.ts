import {
  type DeskNote,
  SAID,
  type LooksAt,
  type ProblemDetails,
  type WalkEntryCreate,
  type WalkSynced,
  type WalkView,
} from '@crosspeen/contract';
import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { develop } from './photos.ts';

let t: TestApp;
let tove: Client;
let anselm: Client;
beforeAll(async () => {
  t = await testApp();
  tove = await t.signIn('tove');
  anselm = await t.signIn('anselm');
});
afterAll(() => t.close());

const TODAY = '2026-11-24';
const newVehicle = (code = 'QV20T', km = 148_000, firstRegistered = '2014-04-19'): Promise<string> =>
  t.saveVehicle(tove, { code, km, firstRegistered });
const view = async (id: string, minutes?: number): Promise<WalkView> =>
  (await tove.get(`/api/vehicles/${id}/walk${minutes === undefined ? '' : `?minutes=${minutes}`}`)).json();

const walkOf = () => ({ id: randomUUID(), day: TODAY, budgetMinutes: null as number | null });
const entryOf = (key: string, result: WalkEntryCreate['result'], more: Partial<WalkEntryCreate> = {}) => ({
  id: randomUUID(),
  key,
  result,
  madeAt: '2026-11-24T09:00:00.000Z',
  ...more,
});
const sync = async (
  client: Client,
  vehicleId: string,
  walk: ReturnType<typeof walkOf>,
  entries: readonly ReturnType<typeof entryOf>[] = [],
): Promise<WalkSynced> => (await client.send('POST', `/api/vehicles/${vehicleId}/walk`, { walk, entries })).json();
const findings = async (id: string): Promise<number> =>
  Number(
    (
      await t.services.source.query<{ n: string }[]>(
        'select count(*) as n from finding where vehicle_id = $1 and retracted_at is null',
        [id],
      )
    )[0]!.n,
  );

describe('the sheet', () => {
  test('stands in the order of the hands, says how and why, and reads the measurements that go with a look', async () => {
    const sheet = await view(await newVehicle());
    const places = sheet.steps.map(({ place }) => place);
    const order = ['inside', 'top', 'front', 'rear', 'underneath', 'opened', 'road'];
    expect(places.map((place) => order.indexOf(place))).toEqual(
      places.map((place) => order.indexOf(place)).sort((a, b) => a - b),
    );
    expect(sheet.liftChanges).toBeLessThanOrEqual(2);
    expect(sheet.layout).toEqual({ shape: 'inline', cylinders: 4, timingEnd: 'right', intake: 'front' });
    const chain = sheet.steps.find(({ title }) => /tensioner/i.test(title))!;
    expect(chain).toMatchObject({ verdict: 'look', spot: 'timing_end', measure: { unit: 'teeth', worse: 'higher' } });
    expect(chain.why).not.toBe('');
    expect(chain.how).not.toBe('');
  });

  test('within twenty minutes it keeps what is worth most, says what it left out, and a safety item stays', async () => {
    const id = await newVehicle();
    const [whole, short] = [await view(id), await view(id, 20)];
    expect(short.minutes).toBeLessThanOrEqual(20 + short.steps.filter(({ safety }) => safety).length * 30);
    expect(short.steps.length).toBeLessThan(whole.steps.length);
    expect([...short.steps, ...short.leftOut].map(({ key }) => key).sort()).toEqual(
      whole.steps.map(({ key }) => key).sort(),
    );
    for (const { safety, verdict, key } of whole.steps)
      if (safety && verdict === 'look') expect(short.steps.map((step) => step.key)).toContain(key);
  });

  test('one cover off serves all that is behind it', async () => {
    const sheet = await view(await newVehicle('QV16B', 160_000, '2010-03-01'));
    const behind = sheet.steps.filter(({ component }) => /belt|idler|seal/i.test(component ?? ''));
    expect(behind.length).toBeGreaterThan(1);
    expect(sheet.steps.flatMap(({ takesOff }) => takesOff)).toEqual(['Upper timing cover off and on']);
  });

  test('minutes out of any sense are refused by name', async () => {
    const id = await newVehicle();
    for (const minutes of ['0', '601', 'soon', '2.5']) {
      const refused = await tove.get(`/api/vehicles/${id}/walk?minutes=${minutes}`);
      expect(refused.statusCode).toBe(400);
      expect(refused.json<{ fields: { path: string }[] }>().fields[0]!.path).toMatch(/minutes/);
    }
  });

  test('as a PDF', async () => {
    const response = await tove.get(`/api/vehicles/${await newVehicle()}/walk.pdf`);
    expect(response.headers['content-type']).toBe('application/pdf');
    expect(response.rawPayload.subarray(0, 5).toString()).toBe('%PDF-');
    expect(response.rawPayload.length).toBeGreaterThan(10_000);
  });
});

describe('entries', () => {
  test('a good look lowers the chance, a worn one raises it, and both stand on the sheet; undo brings it back', async () => {
    const id = await newVehicle();
    const walk = walkOf();
    const begun = await sync(tove, id, walk);
    const flange = begun.view.steps.find(({ title }) => /flange/i.test(title))!;
    const breather = begun.view.steps.find(({ title }) => /breather/i.test(title))!;
    const good = entryOf(breather.key, 'sound');
    const worn = entryOf(flange.key, 'worn', { grade: 'crust', note: 'at the lower edge' });
    const after = await sync(tove, id, walk, [good, worn]);
    expect(after.entries).toMatchObject([{ state: 'stands' }, { state: 'stands' }]);
    const now = (key: string) => after.view.steps.find((step) => step.key === key)!;
    expect(now(breather.key).chance!).toBeLessThan(now(breather.key).chanceThen!);
    expect(now(flange.key).chance!).toBeGreaterThan(now(flange.key).chanceThen!);
    expect(now(flange.key).chanceThen).toBe(flange.chance);
    await tove.send('POST', `/api/changes/${after.entries[1]!.changeId}/undo`, {});
    const back = await view(id);
    expect(back.steps.find(({ key }) => key === flange.key)!.chance).toBe(flange.chance);
    expect(back.entries.map(({ state }) => state)).toEqual(['stands', 'dropped']);
  });

  test('sent again, at once or later, each counts once', async () => {
    const id = await newVehicle();
    const walk = walkOf();
    const { view: sheet } = await sync(tove, id, walk);
    const entries = sheet.steps.slice(0, 4).map(({ key, kind }) => entryOf(key, kind === 'task' ? 'done' : 'sound'));
    await Promise.all([sync(tove, id, walk, entries), sync(tove, id, walk, entries), sync(tove, id, walk, entries)]);
    const last = await sync(tove, id, walk, entries);
    expect(last.entries.every(({ state }) => state === 'stands')).toBe(true);
    expect(last.view.entries).toHaveLength(4);
    expect(await findings(id)).toBe(sheet.steps.slice(0, 4).filter(({ kind }) => kind === 'point').length);
  });

  test('a second device that had not seen the first waits beside it, and somebody decides', async () => {
    const id = await newVehicle();
    const walk = walkOf();
    const { view: sheet } = await sync(tove, id, walk);
    const { key } = sheet.steps.find(({ kind }) => kind === 'point')!;
    const [first, second] = [entryOf(key, 'sound'), entryOf(key, 'worn')];
    await sync(tove, id, walk, [first]);
    const joined = await sync(anselm, id, walkOf(), [second]);
    expect(joined.view.walk!.id).toBe(walk.id);
    expect(joined.entries[0]).toMatchObject({ state: 'held' });
    expect(joined.view.entries[1]).toMatchObject({ heldBecause: 'another_entry', result: 'worn', by: 'Anselm' });
    expect(await findings(id)).toBe(1);
    const settled = await anselm.send('POST', `/api/vehicles/${id}/walk/entries/${second.id}`, { take: true });
    expect(settled.json<WalkView>().entries.map(({ state }) => state)).toEqual(['dropped', 'stands']);
    expect(await findings(id)).toBe(1);
    // What agrees with what stands needs no decision; a correction by somebody who saw it takes its place.
    const agrees = await sync(tove, id, walk, [entryOf(key, 'worn')]);
    expect(agrees.entries[0]).toMatchObject({ state: 'stands' });
    const corrected = await sync(tove, id, walk, [entryOf(key, 'failed', { seen: agrees.entries[0]!.id })]);
    expect(corrected.entries[0]).toMatchObject({ state: 'stands' });
    expect(await findings(id)).toBe(1);
  });

  test('a finding for a part that was renewed meanwhile is shown, and not applied', async () => {
    const id = await newVehicle();
    const walk = walkOf();
    const { view: sheet } = await sync(tove, id, walk);
    const step = sheet.steps.find(({ kind }) => kind === 'point')!;
    await tove.send('POST', `/api/vehicles/${id}/services`, {
      weakPointId: step.key.slice('point:'.length),
      certainty: 'done',
      day: TODAY,
      km: null,
      grade: 'original',
      partNumber: null,
      revision: null,
      note: null,
    });
    const late = await sync(tove, id, walk, [entryOf(step.key, 'worn')]);
    expect(late.entries[0]).toMatchObject({ state: 'held' });
    expect(late.view.entries[0]).toMatchObject({ heldBecause: 'renewed_meanwhile' });
    expect(await findings(id)).toBe(0);
    const dropped = await tove.send('POST', `/api/vehicles/${id}/walk/entries/${late.entries[0]!.id}`, { take: false });
    expect(dropped.json<WalkView>().entries[0]).toMatchObject({ state: 'dropped', heldBecause: null });
    expect(
      (await tove.send('POST', `/api/vehicles/${id}/walk/entries/${late.entries[0]!.id}`, { take: true })).statusCode,
    ).toBe(404);
  });

  test('what one entry has wrong does not keep the others back; another engine’s point is refused in words', async () => {
    const id = await newVehicle();
    const walk = walkOf();
    const { view: sheet } = await sync(tove, id, walk);
    const other = await t.point('qv16-belt');
    const sent = await sync(tove, id, walk, [
      entryOf(`point:${other}`, 'sound'),
      entryOf(sheet.steps.find(({ kind }) => kind === 'point')!.key, 'unseen'),
    ]);
    expect(sent.entries).toMatchObject([
      { state: null, refused: expect.stringContaining('no weak point of this engine') as string },
      { state: 'stands', refused: null },
    ]);
    expect(await findings(id)).toBe(0);
  });

  test.each([
    [{ key: 'valve:1' }, 'entries.0.key'],
    [{ result: 'fine' }, 'entries.0.result'],
    [{ measured: 1e9 }, 'entries.0.measured'],
    [{ note: 'x'.repeat(301) }, 'entries.0.note'],
    [{ madeAt: 'today' }, 'entries.0.madeAt'],
    [{ id: '1' }, 'entries.0.id'],
    [{ result: 'done' }, 'entries.0.result'],
  ])('%j is refused by name', async (wrong, field) => {
    const id = await newVehicle();
    const refused = await tove.send('POST', `/api/vehicles/${id}/walk`, {
      walk: walkOf(),
      entries: [{ ...entryOf(`point:${await t.point('qv20t-chain')}`, 'sound'), ...wrong }],
    });
    expect(refused.statusCode).toBe(400);
    expect(refused.json<{ fields: { path: string }[] }>().fields.map(({ path }) => path)).toContain(field);
  });

  test('a worn belt calls for a look at what it harms', async () => {
    const id = await newVehicle('QV16B', 90_000, '2015-03-01');
    const walk = walkOf();
    const begun = await sync(tove, id, walk);
    const seal = `point:${await t.point('qv16-cam-seal')}`;
    const belt = `point:${await t.point('qv16-belt')}`;
    const after = await sync(tove, id, walk, [entryOf(seal, 'worn')]);
    const linked = after.view.steps.find(({ key }) => key === belt)!;
    expect(linked.linked).toEqual([expect.stringMatching(/seal/i)]);
    expect(begun.view.steps.every(({ linked: of }) => of.length === 0)).toBe(true);
  });

  test('a walk that was ended takes what comes late, and another begins', async () => {
    const id = await newVehicle();
    const walk = walkOf();
    const { view: sheet } = await sync(tove, id, walk);
    const ended = await tove.send('POST', `/api/vehicles/${id}/walks/${walk.id}/end`, {});
    expect(ended.json<WalkView>().walk!.endedAt).not.toBeNull();
    const { key } = sheet.steps.find(({ kind }) => kind === 'point')!;
    expect((await sync(tove, id, walk, [entryOf(key, 'sound')])).entries[0]).toMatchObject({ state: 'stands' });
    expect((await view(id)).walk).toBeNull();
    const next = walkOf();
    expect((await sync(tove, id, next)).view.walk!.id).toBe(next.id);
    expect((await tove.send('POST', `/api/vehicles/${id}/walks/${randomUUID()}/end`, {})).statusCode).toBe(404);
  });
});

describe('what an entry comes to', () => {
  interface Kept {
    readonly kind: string;
    readonly result?: string;
    readonly grade?: string | null;
    readonly measured?: number | null;
    readonly unit?: string | null;
    readonly note?: string | null;
    readonly certainty?: string;
  }
  const history = async (id: string): Promise<Kept[]> =>
    (await tove.get(`/api/vehicles/${id}/history`)).json<{ rows: Kept[] }>().rows;
  const summaries = async (id: string): Promise<string[]> =>
    (await tove.get(`/api/vehicles/${id}/changes?pageSize=50`))
      .json<{ rows: { summary: string }[] }>()
      .rows.map(({ summary }) => summary);
  const begun = async () => {
    const id = await newVehicle();
    const walk = walkOf();
    const { steps } = (await sync(tove, id, walk)).view;
    const points = steps.filter(({ kind }) => kind === 'point');
    const tasks = steps.filter(({ kind }) => kind === 'task');
    return { id, walk, points, tasks };
  };

  test('of a weak point: a finding of that day with all that was entered, and nothing where it could not be seen', async () => {
    const { id, walk, points } = await begun();
    const [first, second, third, fourth] = points as [
      (typeof points)[0],
      (typeof points)[0],
      (typeof points)[0],
      (typeof points)[0],
    ];
    const full = { grade: 'crust', measured: 1.5, unit: 'mm', note: 'at the lower edge' };
    const sent = await sync(tove, id, walk, [
      entryOf(first.key, 'worn', full),
      entryOf(second.key, 'sound'),
      entryOf(third.key, 'unseen'),
      entryOf(fourth.key, 'failed'),
    ]);
    expect(
      sent.view.entries.map(({ id: _, madeAt, changeId, ...entry }) => ({
        ...entry,
        madeAt,
        undoable: changeId !== null,
      })),
    ).toEqual(
      [
        { key: first.key, result: 'worn', ...full, undoable: true },
        { key: second.key, result: 'sound', grade: null, measured: null, unit: null, note: null, undoable: true },
        { key: third.key, result: 'unseen', grade: null, measured: null, unit: null, note: null, undoable: false },
        { key: fourth.key, result: 'failed', grade: null, measured: null, unit: null, note: null, undoable: true },
      ].map((entry) => ({
        ...entry,
        by: 'Tove',
        heldBecause: null,
        state: 'stands',
        madeAt: '2026-11-24T09:00:00.000Z',
      })),
    );
    const found = (await history(id)).filter(({ kind }) => kind === 'finding');
    expect(found).toHaveLength(3);
    expect(found.find(({ result }) => result === 'worn')).toMatchObject({ ...full, day: TODAY, title: first.title });
    expect(found.find(({ result }) => result === 'sound')).toMatchObject({ grade: null, measured: null, note: null });
    expect((await summaries(id)).slice(0, 4)).toEqual([
      `${fourth.title}: failed`,
      `${third.title}: could not be seen`,
      `${second.title}: looked at, good`,
      `${first.title}: looked at, worn`,
    ]);
  });

  test('of a task: that it was done that day, with what was found', async () => {
    const results = ['done', 'sound', 'worn', 'failed', 'unseen'] as const;
    const kept = await Promise.all(
      results.map(async (result) => {
        const { id, walk, tasks } = await begun();
        const note = result === 'failed' ? { note: 'black' } : {};
        await sync(tove, id, walk, [entryOf(tasks[0]!.key, result, note)]);
        const [entry] = (await history(id)).filter(({ kind }) => kind === 'upkeep');
        return [entry?.certainty, entry?.note, (await summaries(id))[0]!.split(': ').at(-1)];
      }),
    );
    expect(kept).toEqual([
      ['done', null, 'done'],
      ['done', null, 'done'],
      ['done', 'Found worn.', 'done'],
      ['done', 'Found failed. black', 'done'],
      [undefined, undefined, 'could not be seen'],
    ]);
  });

  test('two that agree in result, measure and grade are one; in any of them otherwise, the later waits', async () => {
    const { id, walk, points } = await begun();
    const { key } = points[0]!;
    const full = { grade: 'crust', measured: 1.5, unit: 'mm' };
    await sync(tove, id, walk, [entryOf(key, 'worn', full)]);
    const state = async (result: WalkEntryCreate['result'], more: Partial<WalkEntryCreate>) =>
      (await sync(anselm, id, walk, [entryOf(key, result, more)])).entries[0]!.state;
    expect(await state('worn', full)).toBe('stands');
    expect(await state('worn', { ...full, note: 'seen as well' })).toBe('stands');
    expect(await state('sound', full)).toBe('held');
    expect(await state('worn', { ...full, measured: 1.6 })).toBe('held');
    expect(await state('worn', { ...full, grade: 'dry' })).toBe('held');
    expect(await state('worn', {})).toBe('held');
    expect(await findings(id)).toBe(1);
    expect((await summaries(id))[0]).toBe(`${points[0]!.title}: entered, and waits for a decision`);
    // Of another thing nothing stands against it.
    const other = await sync(anselm, id, walk, [entryOf(points[1]!.key, 'worn')]);
    expect(other.entries[0]!.state).toBe('stands');
  });

  test('a correction by who saw the first takes its place, and is taken back with what it wrote', async () => {
    const { id, walk, points, tasks } = await begun();
    for (const { key } of [points[0]!, tasks[0]!]) {
      const first = entryOf(key, 'sound');
      await sync(tove, id, walk, [first]);
      const then = await sync(tove, id, walk, [entryOf(key, 'unseen', { seen: first.id })]);
      const states = then.view.entries.filter((entry) => entry.key === key).map(({ result, state }) => [result, state]);
      expect(states).toEqual([
        ['sound', 'dropped'],
        ['unseen', 'stands'],
      ]);
    }
    expect((await history(id)).filter(({ kind }) => kind === 'finding' || kind === 'upkeep')).toEqual([]);
  });

  test('one that waits is settled once, by what it says and for who entered it', async () => {
    const { id, walk, points } = await begun();
    const { key, title } = points[0]!;
    await sync(tove, id, walk, [entryOf(key, 'sound')]);
    const held = entryOf(key, 'worn', { grade: 'crust', note: 'from below' });
    await sync(anselm, id, walk, [held]);
    const settle = (take: boolean, who: Client = tove) =>
      who.send('POST', `/api/vehicles/${id}/walk/entries/${held.id}`, { take });
    const other = await newVehicle();
    expect((await tove.send('POST', `/api/vehicles/${other}/walk/entries/${held.id}`, { take: true })).statusCode).toBe(
      404,
    );
    const settled = (await settle(true)).json<WalkView>();
    expect(settled.entries.find((entry) => entry.id === held.id)).toMatchObject({ state: 'stands', heldBecause: null });
    expect(settled.entries.find((entry) => entry.id === held.id)!.changeId).not.toBeNull();
    expect((await settle(true)).statusCode).toBe(404);
    const [found] = (await history(id)).filter(({ kind }) => kind === 'finding');
    expect(found).toMatchObject({ result: 'worn', grade: 'crust', note: 'from below', title });
    expect((await summaries(id))[0]).toBe('An entry of the walk counts now');
    const late = entryOf(key, 'failed');
    await sync(anselm, id, walk, [late]);
    await tove.send('POST', `/api/vehicles/${id}/walk/entries/${late.id}`, { take: false });
    expect((await summaries(id))[0]).toBe('An entry of the walk was put aside');
    expect(await findings(id)).toBe(1);
  });
});

test('a walk says who began it, when and within how many minutes; later nobody’s minutes change it', async () => {
  const id = await newVehicle();
  const walk = { ...walkOf(), budgetMinutes: 15 };
  const begun = await sync(tove, id, walk);
  expect(begun.view).toMatchObject({
    budgetMinutes: 15,
    walk: { id: walk.id, day: TODAY, by: 'Tove', endedAt: null },
    vehicle: { id, model: null },
  });
  expect((await view(id, 40)).steps.map(({ key }) => key)).toEqual(begun.view.steps.map(({ key }) => key));
  expect((await view(id, 40)).budgetMinutes).toBe(15);
  expect(await view(await newVehicle(), 40)).toMatchObject({ budgetMinutes: 40, walk: null, entries: [] });
  const joined = await sync(anselm, id, walkOf());
  expect(joined.view.walk).toMatchObject({ id: walk.id, by: 'Tove' });
});

describe('photos', () => {
  const picture = (options: { width?: number; height?: number } = {}): Promise<Buffer> =>
    sharp({
      create: { width: options.width ?? 640, height: options.height ?? 400, channels: 3, background: '#886644' },
    })
      .withExif({ IFD0: { Make: 'Nobody', Copyright: 'a place and a time' } })
      .jpeg()
      .toBuffer();
  const put = (vehicleId: string, bytes: Buffer, { id = randomUUID(), key = '' } = {}) =>
    tove.send('PUT', `/api/photos/${id}?vehicleId=${vehicleId}&day=${TODAY}${key && `&key=${key}`}`, bytes, {
      'content-type': 'image/jpeg',
    });

  test('kept once, small enough to look at, and without what the camera wrote', async () => {
    const vehicleId = await newVehicle();
    const key = `point:${await t.point('qv20t-flange')}`;
    const id = randomUUID();
    const sent = await picture({ width: 4200, height: 2800 });
    expect((await sharp(sent).metadata()).exif).toBeDefined();
    const answers = await Promise.all([put(vehicleId, sent, { id, key }), put(vehicleId, sent, { id, key })]);
    expect(answers.map(({ statusCode }) => statusCode)).toEqual([200, 200]);
    const whole = await tove.get(`/api/photos/${id}`);
    const kept = await sharp(whole.rawPayload).metadata();
    expect([kept.width, kept.height, kept.format]).toEqual([2000, 1333, 'jpeg']);
    expect(kept.exif).toBeUndefined();
    const small = await sharp((await tove.get(`/api/photos/${id}?size=small`)).rawPayload).metadata();
    expect(small.width).toBe(320);
    const looks = (await tove.get(`/api/vehicles/${vehicleId}/looks/${key.slice(6)}`)).json<LooksAt>();
    expect(looks.photos).toMatchObject([{ id, width: 2000, day: TODAY, by: 'Tove' }]);
  });

  test('what is all noise is kept coarser than what is not, and what cannot be read half is no photo', async () => {
    const noise = await sharp({
      create: {
        width: 300,
        height: 200,
        channels: 3,
        background: '#888888',
        noise: { type: 'gaussian', mean: 128, sigma: 90 },
      },
    })
      .png()
      .toBuffer();
    const [fine, coarse] = [await develop(noise), await develop(noise, 20_000)];
    expect([coarse.width, coarse.height]).toEqual([300, 200]);
    expect(fine.picture.length).toBeGreaterThan(20_000);
    expect(coarse.picture.length).toBeLessThan(0.75 * fine.picture.length);
    expect((await develop(noise, fine.picture.length)).picture.equals(fine.picture)).toBe(true);
    const plain = await picture({ width: 1000, height: 700 });
    const kept = await sharp(plain).rotate().jpeg({ quality: 80, mozjpeg: true }).toBuffer();
    expect((await develop(plain)).picture.equals(kept)).toBe(true);
    await expect(develop(plain.subarray(0, plain.length / 2))).rejects.toMatchObject({ said: SAID.noPhoto });
  });

  test.each([
    ['nothing', Buffer.alloc(0), 400, /Take it again/],
    ['text', Buffer.from('a photo'), 400, /JPEG, PNG or WebP/],
    ['a picture of lines', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'), 400, /JPEG, PNG or WebP/],
    ['60 MB', Buffer.alloc(60_000_000), 413, /more than 15 MB/],
  ])('%s is refused with the mend', async (_what, bytes, status, words) => {
    const refused = await put(await newVehicle(), bytes);
    expect(refused.statusCode).toBe(status);
    expect(refused.json<ProblemDetails>().detail).toMatch(words);
  });

  test('an undone photo is not shown any more, and another vehicle’s id is refused', async () => {
    const [vehicleId, other] = [await newVehicle(), await newVehicle()];
    const id = randomUUID();
    await put(vehicleId, await picture(), { id });
    expect((await put(other, await picture(), { id })).statusCode).toBe(409);
    const { rows } = (await tove.get(`/api/vehicles/${vehicleId}/changes`)).json<{ rows: { id: string }[] }>();
    await tove.send('POST', `/api/changes/${rows[0]!.id}/undo`, {});
    expect((await tove.get(`/api/photos/${id}`)).statusCode).toBe(404);
  });
});

test('measurements of one weak point stand in their order, against its limit', async () => {
  const id = await newVehicle();
  const point = await t.point('qv20t-chain');
  const walk = walkOf();
  await sync(tove, id, walk, [entryOf(`point:${point}`, 'sound', { measured: 0.8, unit: '°' })]);
  const looks = (await tove.get(`/api/vehicles/${id}/looks/${point}`)).json<LooksAt>();
  expect(looks).toMatchObject({
    measure: { limit: 2, unit: '°' },
    findings: [{ measured: 0.8, unit: '°', result: 'sound', day: TODAY }],
  });
  expect((await tove.get(`/api/vehicles/${id}/looks/${await t.point('qv16-belt')}`)).statusCode).toBe(404);
});

describe('what a device sends late or wrongly', () => {
  const daysOf = (id: string) =>
    t.services.source.query<{ day: string }[]>(
      'select day from finding where vehicle_id = $1 and retracted_at is null order by day',
      [id],
    );

  test('an entry keeps the day it was made on, whatever walk it joins', async () => {
    const id = await newVehicle();
    const [first, second] = (await view(id)).steps.filter(({ kind }) => kind === 'point');
    const walk = walkOf();
    await sync(tove, id, walk, [entryOf(first!.key, 'sound')]);
    await sync(anselm, id, walkOf(), [entryOf(second!.key, 'sound', { madeAt: '2026-11-20T09:00:00.000Z' })]);
    expect(await daysOf(id)).toEqual([{ day: '2026-11-20' }, { day: TODAY }]);
  });
  test('a device whose clock is ahead enters today; one whose clock is years behind is told', async () => {
    const id = await newVehicle();
    const [first, second] = (await view(id)).steps.filter(({ kind }) => kind === 'point');
    const sent = await sync(tove, id, walkOf(), [
      entryOf(first!.key, 'sound', { madeAt: '2027-03-01T09:00:00.000Z' }),
      entryOf(second!.key, 'sound', { madeAt: '2010-01-01T09:00:00.000Z' }),
    ]);
    expect(sent.entries.map(({ refused }) => refused)).toEqual([null, expect.stringContaining('set the clock')]);
    expect(await daysOf(id)).toEqual([{ day: TODAY }]);
  });
  test('an entry under the id of another vehicle’s entry is refused', async () => {
    const [one, other] = [await newVehicle(), await newVehicle()];
    const [step] = (await view(one)).steps.filter(({ kind }) => kind === 'point');
    const entry = entryOf(step!.key, 'sound');
    await sync(tove, one, walkOf(), [entry]);
    const [refused] = (await sync(tove, other, walkOf(), [entry])).entries;
    expect(refused).toMatchObject({ state: null, refused: expect.any(String) });
    expect(await findings(other)).toBe(0);
  });
  test('a photo of a day to come, or of an entry that is not there, is refused with its field', async () => {
    const id = await newVehicle();
    const picture = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#888' } })
      .jpeg()
      .toBuffer();
    const send = async (query: string): Promise<ProblemDetails> =>
      (
        await tove.send('PUT', `/api/photos/${randomUUID()}?vehicleId=${id}&${query}`, picture, {
          'content-type': 'image/jpeg',
        })
      ).json();
    expect((await send('day=2199-01-01')).fields).toEqual([{ path: 'day', message: expect.stringContaining('clock') }]);
    expect((await send(`day=${TODAY}&entryId=${randomUUID()}`)).fields![0]!.path).toBe('entryId');
  });
});

describe('notes to the desk', () => {
  const note = (vehicleId: string, more: object = {}) => ({
    id: randomUUID(),
    vehicleId,
    about: 'Water pump',
    words: 'Reads 2,000,000 on the gauge: look at it again.',
    madeAt: '2026-11-23T15:00:00.000Z',
    ...more,
  });
  const list = async (query = ''): Promise<{ total: number; rows: DeskNote[] }> =>
    (await tove.get(`/api/desk-notes${query}`)).json();

  test('are kept once however often they are sent, with their day, and settled by somebody', async () => {
    const vehicleId = await newVehicle();
    const sent = note(vehicleId);
    for (let i = 0; i < 3; i += 1) expect((await anselm.send('POST', '/api/desk-notes', sent)).statusCode).toBe(200);
    const [row] = (await list(`?vehicleId=${vehicleId}`)).rows;
    expect(row).toMatchObject({ words: sent.words, about: 'Water pump', day: '2026-11-23', settledBy: null });
    const settled = await tove.send('POST', `/api/desk-notes/${sent.id}`, { settled: true });
    expect(settled.json<DeskNote>().settledBy).toBeTruthy();
    expect((await list(`?vehicleId=${vehicleId}`)).total).toBe(0);
    expect((await list(`?vehicleId=${vehicleId}&which=all`)).total).toBe(1);
    await tove.send('POST', `/api/desk-notes/${sent.id}`, { settled: false });
    expect((await list(`?vehicleId=${vehicleId}`)).total).toBe(1);
  });
  test('of no vehicle, without words, or under another vehicle’s id are refused', async () => {
    const [one, other] = [await newVehicle(), await newVehicle()];
    const sent = note(one);
    await tove.send('POST', '/api/desk-notes', sent);
    const status = async (body: object) => (await tove.send('POST', '/api/desk-notes', body)).statusCode;
    expect(await status({ ...sent, vehicleId: other })).toBe(409);
    expect(await status(note(randomUUID()))).toBe(404);
    expect(await status(note(one, { words: '  ' }))).toBe(400);
    expect((await tove.send('POST', `/api/desk-notes/${randomUUID()}`, { settled: true })).statusCode).toBe(404);
  });
});

test('a dozen pictures of fifty million pixels at once are refused with the mend, and health is asked meanwhile', async () => {
  const bomb = await sharp({ create: { width: 10_000, height: 5000, channels: 3, background: '#123' } })
    .png({ compressionLevel: 9 })
    .toBuffer();
  const id = await newVehicle();
  const sent = Array.from({ length: 12 }, () =>
    tove.send('PUT', `/api/photos/${randomUUID()}?vehicleId=${id}&day=${TODAY}`, bomb, { 'content-type': 'image/png' }),
  );
  expect((await t.app.inject({ method: 'GET', url: '/api/health' })).statusCode).toBe(200);
  const answers = await Promise.all(sent);
  expect(new Set(answers.map((answer) => answer.statusCode))).toEqual(new Set([400]));
  expect(answers[0]!.json<ProblemDetails>().detail).toContain('40 million pixels');
});
