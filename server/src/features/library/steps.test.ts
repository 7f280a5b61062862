import {
  ERRORS,
  FAULTS,
  SAID,
  type Changed,
  type LibraryPoint,
  type PointDraft,
  type PointState,
  type ProblemDetails,
} from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let owner: Client;
let mechanic: Client;
let familyId: PointDraft['familyId'];
beforeAll(async () => {
  t = await testApp();
  [owner, mechanic] = [await t.signIn('ruta'), await t.signIn('tove')];
  familyId = (await t.family('QV16B')) as PointDraft['familyId'];
});
afterAll(() => t.close());

const draft = (title: string, changes: Partial<PointDraft> = {}): PointDraft => ({
  familyId,
  title,
  componentId: null,
  newComponent: { name: 'Coolant elbow', class: 'plastic', group: 'cooling' },
  consequence: 'leak',
  safety: false,
  effect: 'It drips.',
  signs: 'A crust.',
  nature: 'wear',
  share: 'some',
  causes: ['60-140k km'],
  look: null,
  renewMinutes: 20,
  variants: [],
  producedFrom: null,
  producedTo: null,
  retiredByRevision: null,
  watch: null,
  statement: null,
  ...changes,
});
const send = (who: Client, title: string, changes: Partial<PointDraft> = {}) =>
  who.send('POST', '/api/library/points', draft(title, changes));
const write = async (who: Client, title: string, changes: Partial<PointDraft> = {}): Promise<Changed> =>
  (await send(who, title, changes)).json();
const point = async (id: string): Promise<LibraryPoint> => (await owner.get(`/api/library/points/${id}`)).json();
const problem = ({ json }: { json: <T>() => T }) => {
  const { code, detail } = json<ProblemDetails>();
  return { code, detail };
};
const undo = (who: Client, changeId: string | null) => who.send('POST', `/api/changes/${changeId!}/undo`, {});

describe('steps on the way', () => {
  const STATES: readonly PointState[] = ['draft', 'review', 'published', 'superseded', 'retired'];
  const put = (id: string, state: PointState) =>
    t.services.source.query(
      `update weak_point set state = $2, retired_from = case when $2 = 'retired' then date '2012-06-01' end where id = $1`,
      [id, state],
    );
  const step = async (who: Client, id: string, state: PointState, more: object = {}) =>
    who.send('POST', `/api/library/points/${id}/step`, {
      state,
      version: (await point(id)).version,
      ...(state === 'retired' ? { retiredFrom: '2012-06-01' } : {}),
      ...(state === 'superseded' ? { supersededBy: null } : {}),
      ...more,
    });
  const allowed: Readonly<Record<PointState, Partial<Record<PointState, 'anyone' | 'owner'>>>> = {
    draft: { review: 'anyone', published: 'owner' },
    review: { draft: 'anyone', published: 'owner' },
    published: { draft: 'owner', superseded: 'owner', retired: 'owner' },
    superseded: { published: 'owner' },
    retired: { published: 'owner' },
  };
  const words: Readonly<Record<PointState, string>> = {
    draft: 'back to draft',
    review: 'put up for review',
    published: 'published',
    superseded: 'superseded',
    retired: 'retired',
  };

  test.each(STATES)('from %s: who may take which, and how it is called', async (from) => {
    const title = `Elbow from ${from}`;
    const { id } = await write(owner, title);
    for (const to of STATES) {
      const who = allowed[from][to];
      await put(id, from);
      const asked = await step(mechanic, id, to);
      if (who === undefined) {
        expect([to, asked.json<ProblemDetails>().fields]).toEqual([
          to,
          [{ path: 'state', message: FAULTS.cannotFollow(from) }],
        ]);
        continue;
      }
      if (who === 'owner') {
        expect([to, problem(asked)]).toEqual([to, SAID.publishingIsTheOwners]);
        expect((await point(id)).row.state).toBe(from);
      }
      await put(id, from);
      const done = await step(owner, id, to);
      expect([to, done.json<Changed>().summary]).toEqual([to, `“${title}” ${words[to]}`]);
      expect((await point(id)).row.state).toBe(to);
    }
  });

  test('what takes its place is kept with what is superseded, and with nothing else', async () => {
    const [{ id }, other] = [await write(owner, 'Elbow goes'), await write(owner, 'Elbow comes')];
    await put(id, 'published');
    await step(owner, id, 'superseded', { supersededBy: other.id });
    expect((await point(id)).supersededBy).toEqual({ id: other.id, title: 'Elbow comes' });
    await step(owner, id, 'published', { supersededBy: other.id });
    expect((await point(id)).supersededBy).toBeNull();
  });

  test('what is published is corrected by the owner alone', async () => {
    const { id } = await write(mechanic, 'Elbow is published');
    const correct = async (who: Client, effect: string) =>
      who.send('PUT', `/api/library/points/${id}`, {
        draft: draft('Elbow is published', { effect, componentId: (await point(id)).componentId, newComponent: null }),
        version: (await point(id)).version,
      });
    for (const state of ['draft', 'review'] as const) {
      await put(id, state);
      expect((await correct(mechanic, `As ${state}`)).json()).toMatchObject({
        summary: '“Elbow is published” corrected',
      });
    }
    for (const state of ['published', 'retired', 'superseded'] as const) {
      await put(id, state);
      expect(problem(await correct(mechanic, `As ${state}`))).toEqual(SAID.publishedIsTheOwners);
    }
    await put(id, 'published');
    expect((await correct(owner, 'By the owner')).statusCode).toBe(200);
    expect(problem(await correct(owner, 'By the owner'))).toEqual(SAID.nothingDiffers);
  });
});

test('keys are made of the words, each once; the new one comes last on its engine', async () => {
  const made = [
    await write(owner, 'Elbow weeps, slowly'),
    await write(owner, 'Elbow weeps slowly'),
    await write(owner, 'Elbow weeps - slowly!'),
  ];
  const points = await Promise.all(made.map(({ id }) => point(id)));
  expect(points.map(({ row }) => row.key)).toEqual([
    'qv16-elbow-weeps-slowly',
    'qv16-elbow-weeps-slowly-2',
    'qv16-elbow-weeps-slowly-3',
  ]);
  expect(made[0]!.summary).toBe('“Elbow weeps, slowly” written as a draft');
  const order = await t.services.source.query<{ id: string }[]>(
    'select id from weak_point where family_id = $1 order by position desc limit 3',
    [familyId],
  );
  expect(order.map(({ id }) => id)).toEqual(made.map(({ id }) => id).reverse());
});

describe('what the workshop itself says', () => {
  const said = async (id: string) =>
    t.services.source.query<{ kind: string; position: number; words: string; interval: unknown[]; asks: string }[]>(
      `select a.kind, s.position, s.words, s.interval, s.asks
        from statement s join authority a on a.id = s.authority_id where s.weak_point_id = $1 order by s.position`,
      [id],
    );
  const own = { words: 'Press it home.', interval: '30k km', asks: 'look', strength: 'practice' } as const;
  const correct = async (id: string, statement: PointDraft['statement']) => {
    const { componentId, version, row } = await point(id);
    return owner.send('PUT', `/api/library/points/${id}`, {
      draft: draft(row.title, { componentId, newComponent: null, statement }),
      version,
    });
  };
  test('stands first where nobody else speaks, keeps its place when it is put otherwise, and goes when it is left out', async () => {
    const { id } = await write(owner, 'Elbow is spoken of', { statement: own });
    expect(await said(id)).toEqual([
      {
        kind: 'bench',
        position: 0,
        words: own.words,
        interval: [{ clock: 'distance', from: 30_000, to: 30_000 }],
        asks: 'look',
      },
    ]);
    await correct(id, { ...own, words: 'Renew it.', interval: null, asks: 'renew' });
    expect(await said(id)).toMatchObject([{ position: 0, words: 'Renew it.', interval: [], asks: 'renew' }]);
    await correct(id, null);
    expect(await said(id)).toEqual([]);
    expect(problem(await correct(id, null))).toEqual(SAID.nothingDiffers);
  });
  test('is put otherwise by the first of two who read it; the later one is told', async () => {
    const { id } = await write(owner, 'Elbow is spoken of by two', { statement: own });
    const { componentId, version } = await point(id);
    const say = (who: Client, words: string) =>
      who.send('PUT', `/api/library/points/${id}`, {
        draft: draft('Elbow is spoken of by two', { componentId, newComponent: null, statement: { ...own, words } }),
        version,
      });
    expect((await say(owner, 'First.')).statusCode).toBe(200);
    expect(problem(await say(mechanic, 'Second.')).code).toBe('changed_meanwhile');
    expect(await said(id)).toMatchObject([{ words: 'First.' }]);
    // What says nothing new leaves the version as it is, too.
    const now = await point(id);
    expect(problem(await correct(id, { ...own, words: 'First.' }))).toEqual(SAID.nothingDiffers);
    expect((await point(id)).version).toBe(now.version);
  });
  test('comes after what others say', async () => {
    const { id } = await write(owner, 'Elbow has been spoken of');
    const [other] = await t.services.source.query<[{ id: string }]>(
      "select id from authority where kind = 'book' order by key limit 1",
    );
    await t.services.source.query(
      "insert into statement (weak_point_id, authority_id, position, words, interval, asks) values ($1, $2, 4, 'Theirs.', '[]', 'renew')",
      [id, other.id],
    );
    await correct(id, own);
    expect((await said(id)).map(({ kind, position }) => [kind, position])).toEqual([
      ['book', 4],
      ['bench', 5],
    ]);
    await correct(id, null);
    expect((await said(id)).map(({ kind }) => kind)).toEqual(['book']);
  });
});

describe('taking back', () => {
  test('what somebody else wrote is the owner’s to take back; an undo is not undone', async () => {
    const adviser = await t.signIn('anselm');
    const written = await write(mechanic, 'Elbow is taken back');
    expect(problem(await undo(adviser, written.changeId))).toEqual(SAID.writtenBySomebodyElse);
    const undone = (await undo(mechanic, written.changeId)).json<Changed>();
    expect(undone.summary).toBe('Undone: “Elbow is taken back” written as a draft');
    expect((await owner.get(`/api/library/points/${written.id}`)).statusCode).toBe(404);
    expect(problem(await undo(owner, undone.changeId))).toEqual(SAID.undoIsNotUndone);
    expect(problem(await undo(owner, written.changeId)).code).toBe('already_undone');
    const another = await write(mechanic, 'Elbow is taken back by the owner');
    expect((await undo(owner, another.changeId)).statusCode).toBe(200);
  });
  test('a pack, and the settings, are the owner’s alone', async () => {
    const [pack] = await t.services.source.query<[{ id: string }]>(
      "select id from library_change where kind = 'pack' limit 1",
    );
    expect(problem(await undo(mechanic, pack.id))).toEqual({ code: 'not_allowed', detail: ERRORS.not_allowed.message });
    const settings = (await owner.get('/api/settings')).json<object & { labourRateMinor: number }>();
    await owner.send('PUT', '/api/settings', { ...settings, labourRateMinor: settings.labourRateMinor + 1 });
    const [saved] = await t.services.source.query<[{ id: string }]>(
      "select change_id as id from change_item where entity = 'setting' order by change_id desc limit 1",
    );
    expect(problem(await undo(mechanic, saved.id)).code).toBe('not_allowed');
    expect((await undo(owner, saved.id)).statusCode).toBe(200);
    expect((await owner.get('/api/settings')).json()).toMatchObject({ labourRateMinor: settings.labourRateMinor });
  });
});

describe('whom a draft touches', () => {
  let own: string;
  beforeAll(async () => {
    own = await t.family('K630C');
    const save = (plate: string, firstRegistered: string | null, variantKey: string | null) =>
      t.saveVehicle(owner, {
        plate,
        code: 'K630C',
        km: 90_000,
        firstRegistered: firstRegistered as string,
        variantKey,
      });
    const [{ key }] = await t.services.source.query<[{ key: string }]>(
      'select key from engine_variant where family_id = $1 order by position limit 1',
      [own],
    );
    await save('TO 1', '2012-05-01', key);
    await save('TO 2', '2018-05-01', null);
    await save('TO 3', null, null);
    variant = key;
  });
  let variant: string;
  const touches = async (query: string) =>
    (await owner.get(`/api/library/touches?familyId=${own}&${query}`)).json<{
      vehicles: number;
      open: number;
      similar: { title: string; component: string; state: string }[];
    }>();
  test('all of the engine, those of its variants and of its years; of whom nobody knows it is said', async () => {
    const counts = async (query: string) => {
      const { vehicles, open } = await touches(query);
      return [vehicles, open];
    };
    expect(await counts('')).toEqual([3, 0]);
    expect(await counts(`variants=${variant}`)).toEqual([3, 2]);
    expect(await counts('variants=another')).toEqual([2, 2]);
    expect(await counts('producedFrom=2017-01-01')).toEqual([2, 1]);
    expect(await counts('producedTo=2013-01-01')).toEqual([2, 1]);
    expect(await counts(`variants=${variant}&producedTo=2013-01-01`)).toEqual([2, 1]);
  });
  test('and what it resembles: by its title, or more loosely by its component', async () => {
    const [{ id, title, component_id, name }] = await t.services.source.query<
      [{ id: string; title: string; component_id: string; name: string }]
    >(
      'select w.id, w.title, w.component_id, c.name from weak_point w join component c on c.id = w.component_id where w.family_id = $1 order by w.position limit 1',
      [own],
    );
    const named = encodeURIComponent(title);
    expect((await touches(`title=${named}`)).similar[0]).toEqual({ id, title, component: name, state: 'published' });
    expect((await touches(`title=${named}&not=${id}`)).similar.map((one) => one.title)).not.toContain(title);
    expect((await touches('title=abc')).similar).toEqual([]);
    const part = encodeURIComponent(title.split(' ').slice(0, 2).join(' '));
    expect((await touches(`title=${part}&componentId=${component_id}`)).similar.map((one) => one.title)).toContain(
      title,
    );
  });
});

test('where the workshop has not spoken yet it is written down as somebody who speaks', async () => {
  await t.services.source.query("update authority set kind = 'specialist' where kind = 'bench'");
  const statement = { words: 'Press it home.', interval: null, asks: 'look', strength: 'practice' } as const;
  const { id } = await write(owner, 'Elbow is spoken of first', { statement });
  expect((await point(id)).statements).toMatchObject([
    { authority: 'Our own bench', kind: 'bench', words: 'Press it home.' },
  ]);
});

test('the trail of the library says of each row whether it is new, changed or gone', async () => {
  const { id, changeId } = await write(owner, 'Elbow leaves a trail');
  const { componentId, version } = await point(id);
  await owner.send('PUT', `/api/library/points/${id}`, {
    draft: draft('Elbow leaves a trail', { componentId, newComponent: null, effect: 'It pours.' }),
    version,
  });
  const trail = async () =>
    (await owner.get(`/api/library/changes?entityId=${id}`))
      .json<{ rows: { summary: string; items: { entity: string; name: string; what: string }[] }[] }>()
      .rows.map(({ summary, items }) => [summary, items.map(({ entity, name, what }) => [entity, name, what])]);
  expect(await trail()).toEqual([
    ['“Elbow leaves a trail” corrected', [['weak point', 'Elbow leaves a trail', 'changed']]],
    [
      '“Elbow leaves a trail” written as a draft',
      expect.arrayContaining([['weak point', 'Elbow leaves a trail', 'new']]),
    ],
  ]);
  expect(problem(await undo(owner, changeId)).code).toBe('changed_since');
  const [latest] = (await owner.get(`/api/library/changes?entityId=${id}`)).json<{ rows: { id: string }[] }>().rows;
  await undo(owner, latest!.id);
  await undo(owner, changeId);
  expect((await trail())[0]).toEqual([
    'Undone: “Elbow leaves a trail” written as a draft',
    expect.arrayContaining([['weak point', 'Elbow leaves a trail', 'gone']]),
  ]);
});
