import { pack, type Pack, type PackInput, type PackPreview } from '@crosspeen/contract';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let owner: Client;
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
});
afterAll(() => t.close());

const harbour = () =>
  JSON.parse(readFileSync(join(import.meta.dirname, '../../../../demo/packs/harbour.json'), 'utf8')) as Pack &
    PackInput;
const preview = async (file: PackInput): Promise<PackPreview> => {
  const response = await owner.send('POST', '/api/library/packs/preview?name=a.json', JSON.stringify(file), {
    'content-type': 'application/json',
  });
  expect([response.statusCode, response.statusCode === 200 || response.json<object>()]).toEqual([200, true]);
  return response.json();
};
const take = (uploadId: string, choices: Record<string, string> = {}) =>
  owner.send('POST', '/api/library/packs/import', { uploadId, choices });
const rowsOf = async (file: PackInput) => new Map((await preview(file)).rows.map(({ id, ...row }) => [id, row]));

/** The file with one of everything said otherwise, and what a person is to be shown of each. */
function otherwise() {
  const file = harbour();
  const family = file.families.find(({ key }) => key === 'od420k')!;
  const [operation, point, task] = [family.operations[0]!, family.weakPoints[0]!, family.upkeep[0]!];
  const component = file.components.find(({ parts }) => (parts ?? []).length > 0)!;
  const part = component.parts[0]!;
  const shown = new Map<string, { entity: string; name: string; column: string; before: string; after: string }>();
  const say = <T extends object, K extends keyof T & string>(
    id: string,
    entity: string,
    name: string,
    row: T,
    [key, column, value]: readonly [K, string, T[K]],
  ): void => {
    shown.set(id, { entity, name, column, before: String(row[key] ?? 'nothing'), after: String(value) });
    row[key] = value;
  };
  const [maker, authority, tool, caution, symptom] = [
    file.makers[0]!,
    file.authorities[0]!,
    file.tools[0]!,
    file.cautions[0]!,
    file.symptoms[0]!,
  ];
  say(`maker:${maker.key}`, 'make', 'Velmar', maker, ['name', 'name', 'Velmar']);
  say(`authority:${authority.key}`, 'authority', 'A book', authority, ['name', 'name', 'A book']);
  say(`tool:${tool.key}`, 'tool', tool.name, tool, ['without', 'without it', 'It slips.']);
  say(`caution:${caution.key}`, 'caution', 'Mind it.', caution, ['words', 'words', 'Mind it.']);
  say(`symptom:${symptom.key}`, 'symptom', symptom.words, symptom, ['tells', 'tells', 'A tick goes on.']);
  say(`component:${component.key}`, 'component', 'Chain', component, ['name', 'name', 'Chain']);
  say(`part:${part.number}`, 'part', part.name, part, ['howToTell', 'how to tell', 'a red dot']);
  say(`engine_family:${family.key}`, 'engine', family.name, family, ['note', 'note', 'Look twice.']);
  const variant = family.variants[0]!;
  say(`engine_variant:${variant.key}`, 'variant', 'The first', variant, ['name', 'name', 'The first']);
  const feature = family.features[0]!;
  say(`family_feature:${feature.key}`, 'feature', 'a cooler', feature, ['name', 'name', 'a cooler']);
  say(`labour_operation:${operation.key}`, 'operation', operation.name, operation, ['minutes', 'minutes', 123]);
  say(`weak_point:${point.key}`, 'weak point', 'It leaks', point, ['title', 'title', 'It leaks']);
  say(`upkeep_task:${task.key}`, 'upkeep task', 'Do it', task, ['title', 'title', 'Do it']);
  const notice = file.notices[0]!;
  say(`notice:${notice.key}`, 'notice', 'About it', notice, ['title', 'title', 'About it']);
  return { file, shown };
}

test('of everything that a later edition says otherwise: what it is, what it is called, what it said and says', async () => {
  const { file, shown } = otherwise();
  const rows = await rowsOf({ ...file, version: '8.0.0' });
  expect([...rows.keys()].sort()).toEqual([...shown.keys()].sort());
  for (const [id, { entity, name, ...column }] of shown)
    expect([id, rows.get(id)]).toEqual([
      id,
      {
        entity,
        name,
        what: 'changed',
        columns: [column],
        owner: 'Harbour demo library',
        choices: ['take', 'keep'],
        proposed: 'take',
      },
    ]);
});

test('what another pack says otherwise is kept unless somebody wants it; of a weak point both may stand', async () => {
  const { file, shown } = otherwise();
  const rows = await rowsOf({ ...file, key: 'other-shop', title: 'The other shop', version: '1.0.0' });
  expect([...rows.keys()].sort()).toEqual([...shown.keys()].sort());
  for (const [id, { entity, name, ...column }] of shown)
    expect([id, rows.get(id)]).toEqual([
      id,
      {
        entity,
        name,
        what: 'conflict',
        columns: [column],
        owner: 'Harbour demo library',
        ...(entity === 'weak point'
          ? { choices: ['both', 'take', 'keep'], proposed: 'both' }
          : { choices: ['keep', 'take'], proposed: 'keep' }),
      },
    ]);
});

test('what is new can only be taken; of what belongs to it nothing is asked', async () => {
  const file = harbour();
  const family = file.families.find(({ key }) => key === 'od420k')!;
  const point = { ...family.weakPoints[0]!, key: 'od420k-new', title: 'Something new' };
  family.weakPoints.push(point);
  file.tools.push({ key: 'long-bar', name: 'Long bar' });
  const rows = await rowsOf({ ...file, version: '8.1.0' });
  const fresh = { what: 'new', columns: [], owner: null, choices: ['take'], proposed: 'take' };
  expect(Object.fromEntries(rows)).toEqual({
    'tool:long-bar': { entity: 'tool', name: 'Long bar', ...fresh },
    'weak_point:od420k-new': { entity: 'weak point', name: 'Something new', ...fresh },
  });
});

test('what is said of a weak point, and what a notice is about, is shown with what it belongs to', async () => {
  const file = harbour();
  const family = file.families.find(({ key }) => key === 'k425n')!;
  const point = family.weakPoints.find(({ statements }) => statements.length > 1)!;
  const [first, last] = [point.statements[0]!, point.statements.at(-1)!];
  const [was, gone] = [first.words, last.words];
  first.words = 'Renew it early.';
  point.statements.pop();
  const notice = file.notices[0]!;
  const about = new Map(file.families.flatMap(({ weakPoints }) => weakPoints).map(({ key, title }) => [key, title]));
  const [left] = notice.weakPoints as [string];
  const joined = point.key;
  notice.weakPoints = [joined];
  const rows = await rowsOf({ ...file, version: '8.2.0' });
  const changed = { what: 'changed', owner: 'Harbour demo library', choices: ['take', 'keep'], proposed: 'take' };
  expect(rows.size).toBe(2);
  expect(rows.get(`weak_point:${point.key}`)).toEqual({
    entity: 'weak point',
    name: point.title,
    ...changed,
    columns: expect.arrayContaining([
      { column: 'statement', before: was, after: 'Renew it early.' },
      { column: 'statement', before: gone, after: 'nothing' },
    ]),
  });
  expect(rows.get(`weak_point:${point.key}`)!.columns).toHaveLength(2);
  expect(rows.get(`notice:${notice.key}`)).toEqual({
    entity: 'notice',
    name: notice.title,
    ...changed,
    columns: expect.arrayContaining([
      { column: 'about', before: about.get(left), after: 'nothing' },
      { column: 'about', before: 'nothing', after: about.get(joined) },
    ]),
  });
});

test('both what it says itself and what is said of it: in one row', async () => {
  const file = harbour();
  const point = file.families
    .find(({ key }) => key === 'k425n')!
    .weakPoints.find(({ statements }) => statements.length > 0)!;
  const was = point.statements[0]!.words;
  point.title = 'It gives way';
  point.statements[0]!.words = 'Renew it early.';
  const other = { ...file, key: 'other-shop', title: 'The other shop', version: '1.0.0' };
  const title = { column: 'title', before: expect.any(String), after: 'It gives way' };
  const said = { column: 'statement', before: was, after: 'Renew it early.' };
  expect((await rowsOf({ ...file, version: '8.3.0' })).get(`weak_point:${point.key}`)!.columns).toEqual([title, said]);
  point.title = harbour()
    .families.flatMap(({ weakPoints }) => weakPoints)
    .find(({ key }) => key === point.key)!.title;
  expect((await rowsOf(other)).get(`weak_point:${point.key}`)).toEqual({
    entity: 'weak point',
    name: point.title,
    what: 'conflict',
    columns: [said],
    owner: 'Harbour demo library',
    choices: ['both', 'take', 'keep'],
    proposed: 'both',
  });
});

test('what stays as it is is counted too: everything there is, less what is new or said otherwise', async () => {
  const file = pack.parse(harbour());
  const rows = [
    ...file.notices,
    ...file.makers,
    ...file.authorities,
    ...file.components,
    ...file.components.flatMap(({ parts }) => parts),
    ...file.tools,
    ...file.cautions,
    ...file.symptoms,
    ...file.families,
    ...file.families.flatMap(({ variants, features, operations, weakPoints, upkeep }) => [
      ...variants,
      ...features,
      ...operations,
      ...weakPoints,
      ...upkeep,
    ]),
  ];
  expect((await preview(harbour())).counts).toEqual({ new: 0, changed: 0, conflict: 0, gone: 0, same: rows.length });
  const { file: changed, shown } = otherwise();
  changed.tools.push({ key: 'long-bar', name: 'Long bar' });
  expect((await preview({ ...changed, version: '8.5.0' })).counts).toEqual({
    new: 1,
    changed: shown.size,
    conflict: 0,
    gone: 0,
    same: rows.length - shown.size,
  });
});

test('what a later edition no longer has: kept, unless somebody takes it out of use', async () => {
  const file = harbour();
  const family = file.families.find(({ key }) => key === 'k425n')!;
  family.checks = [];
  const [point] = family.weakPoints.splice(-1);
  const [task] = family.upkeep.splice(-1);
  const component = file.components.find(({ parts }) => (parts ?? []).length > 1)!;
  const [part] = component.parts.splice(-1);
  file.notices = file.notices.filter((notice) => !notice.weakPoints.includes(point!.key));
  const [notice] = file.notices.splice(-1);
  const shown = await preview({ ...file, version: '9.0.0' });
  const left = { what: 'gone', columns: [], owner: null, choices: ['keep', 'retire'], proposed: 'keep' };
  expect(shown.rows.filter(({ what }) => what === 'gone')).toEqual(
    expect.arrayContaining([
      { id: `weak_point:${point!.key}`, entity: 'weak point', name: point!.title, ...left },
      { id: `upkeep_task:${task!.key}`, entity: 'upkeep task', name: task!.title, ...left },
      { id: `part:${part!.number}`, entity: 'part', name: `${part!.number}, ${part!.name}`, ...left },
      { id: `notice:${notice!.key}`, entity: 'notice', name: notice!.title, ...left },
    ]),
  );
  // Kept, all of it stands as it was; a pack of another shop leaves nothing behind.
  await take(shown.uploadId);
  const states = await t.services.source.query<{ state: string }[]>(
    `select state from weak_point where key = $1
     union all select state from upkeep_task where key = $2
     union all select state from notice where key = $3`,
    [point!.key, task!.key, notice!.key],
  );
  expect(states.map(({ state }) => state)).toEqual(['published', 'current', 'current']);
  const other = await preview({ ...file, key: 'other-shop', title: 'The other shop', version: '1.0.0' });
  expect(other.rows.filter(({ what }) => what === 'gone')).toEqual([]);
});
