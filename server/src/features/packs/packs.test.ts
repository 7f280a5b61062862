import { pack, type LibraryPack, type PackInput, type PackPreview, type ProblemDetails } from '@crosspeen/contract';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FUZZ, testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { deeperThan } from '../../knowledge/pack-text.ts';

let t: TestApp;
let owner: Client;
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
});
afterAll(() => t.close());

const harbour = (): PackInput =>
  JSON.parse(readFileSync(join(import.meta.dirname, '../../../../demo/packs/harbour.json'), 'utf8')) as PackInput;
const point = (from: PackInput, key: string) =>
  from.families.flatMap(({ weakPoints }) => weakPoints ?? []).find((candidate) => candidate.key === key)!;
const sendText = (text: string) =>
  owner.send('POST', '/api/library/packs/preview?name=a.json', text, { 'content-type': 'application/json' });
const preview = async (file: PackInput): Promise<PackPreview> => {
  const response = await sendText(JSON.stringify(file));
  expect(response.statusCode).toBe(200);
  return response.json();
};
const take = (uploadId: string, choices: Record<string, string> = {}) =>
  owner.send('POST', '/api/library/packs/import', { uploadId, choices });
const undo = (changeId: string) => owner.send('POST', `/api/changes/${changeId}/undo`, {});
const whole = async (): Promise<unknown> =>
  t.services.source.query<unknown[]>(`
  select (select jsonb_agg(to_jsonb(w) - 'version' order by w.key) from weak_point w) as points,
    (select jsonb_agg(to_jsonb(s) - 'id' order by s.weak_point_id, s.position) from statement s) as said,
    (select jsonb_agg(to_jsonb(p) order by p.number) from part p) as parts,
      (select jsonb_agg(to_jsonb(o) order by o.key) from labour_operation o) as operations,
      (select jsonb_agg(to_jsonb(u) - 'version' order by u.key) from upkeep_task u) as upkeep,
      (select jsonb_agg(to_jsonb(p) - 'loaded_at' order by p.key) from library_pack p) as packs`);

test('the pack on file differs from the library in nothing; taking it in changes nothing', async () => {
  const shown = await preview(harbour());
  expect(shown.rows).toEqual([]);
  expect(shown.counts.same).toBeGreaterThan(200);
  const before = await whole();
  expect((await take(shown.uploadId)).json()).toMatchObject({ summary: expect.stringContaining('nothing changed') });
  expect(await whole()).toEqual(before);
});

test('the whole library saved as a pack says what the pack it came from says', async () => {
  const response = await owner.get('/api/library/export');
  expect(response.headers['content-disposition']).toMatch(/attachment; filename=".*\.json"/);
  const saved = pack.parse(response.json());
  const was = pack.parse(harbour());
  const bare = <T extends { readonly key: string }>(list: readonly T[]): T[] =>
    [...list].sort((a, b) => a.key.localeCompare(b.key));
  const sorted = <T extends { readonly tools: readonly string[]; readonly cautions: readonly string[] }>(
    operation: T,
  ) => ({ ...operation, tools: [...operation.tools].sort(), cautions: [...operation.cautions].sort() });
  expect(bare(saved.families).map(({ key }) => key)).toEqual(bare(was.families).map(({ key }) => key));
  for (const family of saved.families) {
    const from = was.families.find(({ key }) => key === family.key)!;
    expect(
      family.weakPoints.map((own) => ({ ...own, causes: [], look: null, statements: own.statements.length })),
    ).toEqual(from.weakPoints.map((own) => ({ ...own, causes: [], look: null, statements: own.statements.length })));
    expect(bare(family.upkeep)).toEqual(bare(from.upkeep));
    expect(bare(family.operations).map(sorted)).toEqual(bare(from.operations).map(sorted));
  }
  // Shown against the library it came from, under its own name: nothing of it is new, and no life differs.
  const shown = await preview({ ...saved, key: was.key });
  expect(shown.rows).toEqual([]);
});

test('a later edition: what is new, what changed and what is gone is shown first, then written in one change that is taken back whole', async () => {
  const before = await whole();
  const later = harbour();
  later.version = '2.0.0';
  const care = later.families.find(({ key }) => key === 'k425n')!.upkeep!;
  care[0]!.minutes = 40;
  const [left] = care.splice(-1);
  point(later, 'k425n-pump').share = 'nearly all';
  point(later, 'k425n-pump').statements![0]!.words = 'Renew it with the belt.';
  const family = later.families.find(({ key }) => key === 'k425n')!;
  family.weakPoints = [
    ...family.weakPoints!.filter(({ key }) => key !== 'k425n-knock'),
    { ...point(later, 'k425n-pump'), key: 'k425n-new', title: 'Something new', operation: undefined },
  ];
  const shown = await preview(later);
  expect(shown.counts).toMatchObject({ new: 1, changed: 2, conflict: 0, gone: 2 });
  expect(shown.rows.find(({ id }) => id === 'weak_point:k425n-pump')).toMatchObject({
    what: 'changed',
    proposed: 'take',
    columns: expect.arrayContaining([{ column: 'share', before: '50 %', after: '95 %' }]),
  });
  expect(await whole()).toEqual(before);
  const done = (
    await take(shown.uploadId, { 'weak_point:k425n-knock': 'retire', [`upkeep_task:${left!.key}`]: 'retire' })
  ).json<{ changeId: string }>();
  expect(
    await t.services.source.query('select minutes, state from upkeep_task where key = any($1) order by position', [
      [care[0]!.key, left!.key],
    ]),
  ).toEqual([
    { minutes: 40, state: 'current' },
    { minutes: expect.any(Number), state: 'withdrawn' },
  ]);
  const rows = await t.services.source.query<{ key: string; share: number; state: string }[]>(
    "select key, share, state from weak_point where key in ('k425n-pump', 'k425n-new', 'k425n-knock') order by key",
  );
  expect(rows).toEqual([
    { key: 'k425n-knock', share: 0.5, state: 'superseded' },
    { key: 'k425n-new', share: 0.95, state: 'published' },
    { key: 'k425n-pump', share: 0.95, state: 'published' },
  ]);
  expect((await undo(done.changeId)).statusCode).toBe(200);
  expect(await whole()).toEqual(before);
  expect((await undo(done.changeId)).json<ProblemDetails>().code).toBe('already_undone');
});

test('what nobody tells of a life is stood in for, said to be not told, and left out again of nothing', async () => {
  const later = harbour();
  later.version = '2.2.0';
  const told = point(later, 'k425n-pump');
  delete told.share;
  delete told.causes;
  const open = point(later, 'k425n-knock');
  open.causes = ['60k+ mi'];
  const before = await whole();
  const shown = await preview(later);
  const done = (await take(shown.uploadId)).json<{ changeId: string }>();
  const [row] = await t.services.source.query<{ share: number; not_told: string[]; causes: { from: number }[][] }[]>(
    "select share, not_told, causes from weak_point where key = 'k425n-pump'",
  );
  expect(row).toMatchObject({ share: 0.5, not_told: ['share', 'window'] });
  expect(row!.causes[0]![0]).toMatchObject({ clock: 'distance', from: 90_000, to: 260_000 });
  const saved = pack.parse((await owner.get('/api/library/export')).json());
  const out = saved.families.flatMap(({ weakPoints }) => weakPoints);
  expect(out.find(({ key }) => key === 'k425n-pump')).toMatchObject({ share: 'many', notTold: ['share', 'window'] });
  expect(out.find(({ key }) => key === 'k425n-knock')!.causes).toEqual(['60k+ mi']);
  expect((await undo(done.changeId)).statusCode).toBe(200);
  expect(await whole()).toEqual(before);
});

test('bulletins and coverages of a later edition are shown, written and taken back with it', async () => {
  const notices = () =>
    t.services.source.query<unknown[]>(
      `select n.key, n.kind, n.title, n.covered_days, n.covered_km, n.ends_on, n.state,
          array(
            select w.key
            from notice_point p
            join weak_point w on w.id = p.weak_point_id
            where p.notice_id = n.id
            order by w.key
          ) as points
        from notice n
        order by n.key`,
    );
  const before = await notices();
  const later = harbour();
  later.version = '2.1.0';
  const [first, second] = later.notices as [
    NonNullable<PackInput['notices']>[number],
    NonNullable<PackInput['notices']>[number],
  ];
  const coverage = later.notices!.find(({ kind }) => kind === 'coverage')!;
  coverage.covers = '15y | 300k km';
  const gone = first === coverage ? second : first;
  later.notices = [
    ...later.notices!.filter((notice) => notice !== gone),
    { ...gone, key: 'brand-new', number: 'N 99', title: 'Something to look at', weakPoints: ['k425n-pump'] },
  ];
  const shown = await preview(later);
  expect(shown.counts).toMatchObject({ new: 1, changed: 1, gone: 1 });
  const said = new Map(
    shown.rows.map(({ id, what, columns }) => [id, { what, columns: columns.map(({ column }) => column) }]),
  );
  expect(said.get('notice:brand-new')).toMatchObject({ what: 'new' });
  expect(said.get(`notice:${coverage.key}`)!.columns.length).toBeGreaterThan(0);
  expect(await notices()).toEqual(before);
  const done = (await take(shown.uploadId, { [`notice:${gone.key}`]: 'retire' })).json<{ changeId: string }>();
  const after = await t.services.source.query<{ key: string; state: string; covered_km: number | null }[]>(
    'select key, state, covered_km from notice order by key',
  );
  expect(after.find(({ key }) => key === 'brand-new')).toMatchObject({ state: 'current' });
  expect(after.find(({ key }) => key === coverage.key)!.covered_km).toBe(300_000);
  expect(after.find(({ key }) => key === gone.key)!.state).toBe('withdrawn');
  expect((await undo(done.changeId)).statusCode).toBe(200);
  expect(await notices()).toEqual(before);
});

test('two packs that disagree stand beside each other as two authorities', async () => {
  const before = await whole();
  const other = harbour();
  Object.assign(other, { key: 'other-shop', title: 'The other shop', version: '1.0.0' });
  point(other, 'k425n-pump').share = 'rare';
  const harbourSays = point(harbour(), 'k425n-pump').statements!.length;
  const shown = await preview(other);
  expect(shown.rows).toHaveLength(1);
  expect(shown.rows[0]).toMatchObject({
    id: 'weak_point:k425n-pump',
    what: 'conflict',
    owner: 'Harbour demo library',
    proposed: 'both',
    choices: ['both', 'take', 'keep'],
  });
  const done = (await take(shown.uploadId)).json<{ changeId: string }>();
  const [ours] = await t.services.source.query<{ share: number; said: string[] }[]>(
    `select share,
        array(
          select a.name || ': ' || s.words
          from statement s
          join authority a on a.id = s.authority_id
          where s.weak_point_id = w.id
        ) as said
      from weak_point w
      where key = 'k425n-pump'`,
  );
  expect(ours!.share).toBe(0.5);
  expect(ours!.said).toContainEqual('The other shop: Says: rare of them, at 120-220k km | 11-20y.');
  // After all that stood there, and before nothing of it.
  const places = await t.services.source.query<{ position: number; own: boolean }[]>(
    `select s.position, a.key = 'pack-other-shop' as own
      from statement s
      join authority a on a.id = s.authority_id
      join weak_point w on w.id = s.weak_point_id
      where w.key = 'k425n-pump'
      order by s.position`,
  );
  expect(places.map(({ position }) => position)).toEqual(places.map((_, at) => at));
  expect(places.findIndex(({ own }) => own)).toBe(harbourSays);
  await undo(done.changeId);
  expect(await whole()).toEqual(before);
});

test('a change that something built on is not taken back, and says so', async () => {
  const later = harbour();
  later.version = '3.0.0';
  point(later, 'k425n-pump').title = 'Water pump leaks early';
  const done = (await take((await preview(later)).uploadId)).json<{ changeId: string }>();
  await t.services.source.query("update weak_point set title = 'Renamed since' where key = 'k425n-pump'");
  expect((await undo(done.changeId)).json<ProblemDetails>().code).toBe('changed_since');
  const back = await preview(harbour());
  await take(back.uploadId);
});

test('a file held too long against a library that has moved on is not imported as it was shown', async () => {
  const later = harbour();
  point(later, 'k425n-pump').title = 'Another title';
  const shown = await preview(later);
  await t.services.source.query("update weak_point set title = 'Another title' where key = 'k425n-pump'");
  expect((await take(shown.uploadId, { 'weak_point:k425n-pump': 'take' })).json<ProblemDetails>().code).toBe(
    'changed_meanwhile',
  );
  await take((await preview(harbour())).uploadId);
});

test.each([
  ['{\n  "format": "crosspeen-pack",\n  oops\n}', /^line 3$/, /a word stands here that is no value/],
  ['', /./, /./],
  ['[]', /line 1/, /must be a group of fields, not a list/],
])('what is no pack is refused with its line: %j', async (text, path, message) => {
  const response = await sendText(text);
  expect(response.statusCode).toBe(400);
  const { fields = [], detail } = response.json<ProblemDetails>();
  if (text !== '') {
    expect(fields[0]!.path).toMatch(path);
    expect(fields[0]!.message).toMatch(message);
  } else expect(detail).toContain('empty');
});

test('a fault deep in the file is told by its own line and the mend', async () => {
  const text = readFileSync(join(import.meta.dirname, '../../../../demo/packs/harbour.json'), 'utf8').replace(
    '"90-180k km | 7-14y"',
    '"90-180k"',
  );
  const line = text.split('\n').findIndex((each) => each.includes('"90-180k"')) + 1;
  const { fields } = (await sendText(text)).json<ProblemDetails>();
  expect(fields![0]!.path).toMatch(new RegExp(`^line ${line}, families\\.0\\.weakPoints\\.0\\.causes\\.0`));
  expect(fields![0]!.message).toContain('needs a unit');
});

test('files broken in any way never give a 500 and never write', async () => {
  const before = await whole();
  const text = JSON.stringify(harbour());
  const broken = fc.oneof(
    fc.string({ maxLength: 400 }),
    fc.json(),
    fc.uint8Array({ maxLength: 300 }).map((bytes) => Buffer.from(bytes).toString('latin1')),
    fc
      .tuple(fc.nat(text.length - 1), fc.string({ minLength: 1, maxLength: 6 }))
      .map(([at, put]) => text.slice(0, at) + put + text.slice(at + put.length)),
    fc.nat(text.length - 1).map((at) => text.slice(0, at)),
  );
  await fc.assert(
    fc.asyncProperty(broken, async (file) => {
      const response = await sendText(file);
      expect([200, 400, 413]).toContain(response.statusCode);
      if (response.statusCode !== 200) expect(response.json<ProblemDetails>().detail.length).toBeGreaterThan(10);
    }),
    { numRuns: FUZZ },
  );
  expect(await whole()).toEqual(before);
}, 3_600_000);

test('packs on file are listed with what is still as they brought it', async () => {
  const list = async () => (await owner.get('/api/library/packs')).json<{ total: number; rows: LibraryPack[] }>();
  const { families, notices = [], title } = harbour();
  const [first] = (await list()).rows;
  expect(first).toMatchObject({ title, engines: families.length, notices: notices.length });
  expect(first!.points).toBe(families.reduce((sum, { weakPoints = [] }) => sum + weakPoints.length, 0));
  const other = { ...harbour(), key: 'other-shop', title: 'Another shop', version: '0.1.0' };
  other.families[0]!.weakPoints!.push({
    ...other.families[0]!.weakPoints![0]!,
    key: 'other-new',
    title: 'Something new',
    operation: undefined,
  });
  const done = (await take((await preview(other)).uploadId)).json<{ changeId: string }>();
  expect((await list()).rows.map((row) => [row.title, row.version, row.engines, row.points])).toEqual([
    ['Another shop', '0.1.0', 0, 1],
    [title, first!.version, families.length, first!.points],
  ]);
  await undo(done.changeId);
  expect((await list()).rows.map((row) => row.title)).toEqual([title]);
});

test('only the owner takes packs in', async () => {
  const mechanic = await t.signIn('tove');
  expect(
    (await mechanic.send('POST', '/api/library/packs/preview', '{}', { 'content-type': 'application/json' }))
      .statusCode,
  ).toBe(403);
});

test('a pack’s own export, imported again, differs in nothing: miles, months, shares between two words and days inside a month are what they were', async () => {
  await t.services.source.query(
    `update weak_point
      set share = 0.47,
        causes = '[[{"clock": "distance", "from": 144840.96, "to": 241401.6, "unit": "mi"}, {"clock": "age", "from": 1217.5, "to": 1461, "unit": "m"}]]',
        applies_to = applies_to || '{"producedFromDay": 15010, "producedToDay": 16010, "markets": ["hot and dusty"], "serialFrom": 5, "serialTo": 9}'
      where key = 'k425n-knock'`,
  );
  await t.services.source.query(
    `update weak_point
      set causes = '[[{"clock": "distance", "from": 123456.78901234, "to": 234567.8901}]]'
      where key = 'k425n-pump'`,
  );
  const out = (await owner.get('/api/library/export')).json<PackInput>();
  expect(point(out, 'k425n-knock').causes).toEqual(['90-150k mi | 40-48m']);
  const before = await whole();
  const shown = await preview(out);
  expect(shown.rows).toEqual([]);
  expect(shown.counts).toMatchObject({ new: 0, changed: 0, conflict: 0, gone: 0 });
  expect(await whole()).toEqual(before);
  await take((await preview(harbour())).uploadId);
});

test('a part that a later edition dropped is shown as gone, goes when that is chosen, and comes back with one action', async () => {
  const parts = async (): Promise<string[]> =>
    (
      await t.services.source.query<{ number: string }[]>(
        "select number from part where pack_key = 'harbour-demo' order by number",
      )
    ).map(({ number }) => number);
  const all = await parts();
  const later = harbour();
  later.version = '4.0.0';
  const component = later.components.find(({ parts: own }) => (own?.length ?? 0) > 1)!;
  const [dropped] = component.parts!.splice(0, 1);
  const shown = await preview(later);
  expect(shown.rows.filter(({ what }) => what === 'gone')).toMatchObject([
    { id: `part:${dropped!.number}`, choices: ['keep', 'retire'], proposed: 'keep' },
  ]);
  const done = (await take(shown.uploadId, { [`part:${dropped!.number}`]: 'retire' })).json<{ changeId: string }>();
  expect(await parts()).toEqual(all.filter((number) => number !== dropped!.number));
  await undo(done.changeId);
  expect(await parts()).toEqual(all);
});

test('one engine code under two keys is refused with its place, within a file and beside what is on file', async () => {
  const twice = harbour();
  twice.families[1]!.code = twice.families[0]!.code.toLowerCase();
  const inFile = (await sendText(JSON.stringify(twice, null, 1))).json<ProblemDetails>();
  expect(inFile.fields![0]).toMatchObject({
    path: expect.stringMatching(/^line \d+, families\.1\.code$/),
    message: expect.stringContaining('is the code of'),
  });
  const other = harbour();
  Object.assign(other, { key: 'other-shop' });
  other.families[0]!.key = 'another-key';
  const beside = (await sendText(JSON.stringify(other))).json<ProblemDetails>();
  expect(beside).toMatchObject({
    code: 'bad_file',
    fields: expect.arrayContaining([expect.objectContaining({ message: expect.stringContaining('is saved as') })]),
  });
});

test('ranges the wrong way round are refused, each with its place', async () => {
  const wrong = harbour();
  const [family] = wrong.families;
  Object.assign(family!.variants[0]!, { producedFrom: '2015-01', producedTo: '2014-01', serialFrom: 9, serialTo: 5 });
  family!.variants[0]!.models![0] = { model: 'X', from: 2014, to: 2012 };
  family!.weakPoints![0]!.appliesTo = { producedFrom: '2015-01', producedTo: '2014-01', serialFrom: 9, serialTo: 5 };
  const { fields } = (await sendText(JSON.stringify(wrong))).json<ProblemDetails>();
  expect(fields!.map(({ path }) => path.replace(/^line \d+, families\.0\./, '')).sort()).toEqual([
    'variants.0.models.0.to',
    'variants.0.producedTo',
    'variants.0.serialTo',
    'weakPoints.0.appliesTo.producedTo',
    'weakPoints.0.appliesTo.serialTo',
  ]);
});

test.each([3000, 200_000])('brackets nested %i deep are refused in words', async (depth) => {
  const { code, fields } = (await sendText(`${'['.repeat(depth)}${']'.repeat(depth)}`)).json<ProblemDetails>();
  expect(code).toBe('bad_file');
  expect(fields![0]!.message).toMatch(/nested more than/);
});

test('brackets inside of words are no nesting', () =>
  expect(deeperThan(JSON.stringify({ a: '[[[[{{{{', b: '\\"[[[[' }), 2)).toBe(-1));

describe('keys that stand in another engine', () => {
  test.each(['operations', 'weakPoints', 'upkeep'] as const)(
    'of %s are refused at preview, each with its place',
    async (list) => {
      const file = harbour();
      const [first, second] = file.families.filter((family) => (family[list] ?? []).length > 0);
      // A pack of the second engine alone, with a key of the first.
      const theirs = first![list]![0]!.key;
      const own = second![list]![0]!.key;
      const text = JSON.stringify({ ...file, key: 'other-pack', families: [second], notices: [] }).replaceAll(
        `"${own}"`,
        `"${theirs}"`,
      );
      const refused = await sendText(text);
      expect([refused.statusCode, refused.json<ProblemDetails>().code]).toEqual([400, 'bad_file']);
      expect(refused.json<ProblemDetails>().fields).toContainEqual({
        path: `families.${second!.key}.${list}.${theirs}`,
        message: expect.stringContaining(first!.key) as string,
      });
    },
  );
});
