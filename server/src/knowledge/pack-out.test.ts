import { pack, type Pack } from '@crosspeen/contract';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { testApp, type Client, type TestApp } from '../testing/harness.ts';

let t: TestApp;
let owner: Client;
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
});
afterAll(() => t.close());

const onFile = pack.parse(
  JSON.parse(readFileSync(join(import.meta.dirname, '../../../demo/packs/harbour.json'), 'utf8')),
);
const saved = async (families: readonly string[] = []): Promise<Pack> => {
  const ids = await Promise.all(families.map((code) => t.family(code)));
  return pack.parse((await owner.get(`/api/library/export?families=${ids.join(',')}`)).json());
};
const byKey = <T extends { readonly key: string }>(rows: readonly T[]): T[] =>
  [...rows].sort((a, b) => (a.key < b.key ? -1 : 1));
const keys = (rows: readonly { readonly key: string }[]): string[] => rows.map(({ key }) => key).sort();
/** Said in whichever words and order: what only one of two ways to write it tells. */
const plain = (family: Pack['families'][number]) => ({
  ...family,
  operations: byKey(family.operations).map((operation) => ({
    ...operation,
    tools: [...operation.tools].sort(),
    cautions: [...operation.cautions].sort(),
  })),
  upkeep: byKey(family.upkeep),
  weakPoints: family.weakPoints.map(({ key, title, component, statements }) => ({
    key,
    title,
    component,
    statements: statements.length,
  })),
});

/** What one engine refers to, gathered from the file that it came with. */
function referredTo(family: Pack['families'][number]) {
  const { operations, weakPoints, upkeep, checks } = family;
  const points = new Set(weakPoints.map(({ key }) => key));
  const notices = onFile.notices.filter((notice) => notice.weakPoints.some((key) => points.has(key)));
  const some = (of: readonly (string | undefined)[]): string[] =>
    [...new Set(of.filter((key) => key !== undefined))].sort();
  return {
    makers: [family.maker],
    notices: keys(notices),
    authorities: some([
      ...weakPoints.flatMap(({ statements }) => statements.map(({ authority }) => authority)),
      ...upkeep.flatMap((task) => task.statements.map(({ authority }) => authority)),
      ...notices.map(({ authority }) => authority),
    ]),
    components: some([
      ...weakPoints.map(({ component }) => component),
      ...operations.flatMap(({ renewWith }) => renewWith),
    ]),
    tools: some([...operations.flatMap(({ tools }) => tools), ...weakPoints.flatMap(({ look }) => look?.tools ?? [])]),
    cautions: some([
      ...operations.flatMap(({ cautions }) => cautions),
      ...weakPoints.flatMap(({ look }) => look?.cautions ?? []),
      ...checks.flatMap(({ cautions }) => cautions ?? []),
      ...upkeep.flatMap(({ cautions }) => cautions),
    ]),
    symptoms: some(weakPoints.flatMap(({ symptoms }) => symptoms.map(({ symptom }) => symptom))),
  };
}

test('the whole library says of makes, authorities, tools, cautions, symptoms and parts what the file said', async () => {
  const out = await saved();
  for (const table of ['makers', 'authorities', 'tools', 'cautions', 'symptoms'] as const) {
    const used = new Set(onFile.families.flatMap((family) => referredTo(family)[table]));
    expect(out[table]).toEqual(byKey(onFile[table].filter(({ key }) => used.has(key))));
  }
  const parts = (of: Pack) =>
    byKey(of.components).map((component) => ({
      ...component,
      parts: [...component.parts].sort((a, b) => (a.number < b.number ? -1 : 1)),
    }));
  expect(parts(out)).toEqual(parts(onFile));
});

test('and of its engines', async () => {
  const out = await saved();
  expect(out.families.map(plain)).toEqual(byKey(onFile.families).map(plain));
});

test.each(onFile.families.map(({ code }) => [code]))(
  '%s leaves with what it refers to, and nothing else',
  async (code) => {
    const family = onFile.families.find((one) => one.code === code)!;
    const out = await saved([code]);
    expect(out.families.map(plain)).toEqual([plain(family)]);
    expect({
      makers: keys(out.makers),
      notices: keys(out.notices),
      authorities: keys(out.authorities),
      components: keys(out.components),
      tools: keys(out.tools),
      cautions: keys(out.cautions),
      symptoms: keys(out.symptoms),
    }).toEqual(referredTo(family));
  },
);

test('two engines leave together in the order of their keys, with a name of the file that says whose and when', async () => {
  const [first, second] = byKey(onFile.families) as [Pack['families'][number], Pack['families'][number]];
  expect((await saved([second.code, first.code])).families.map(({ key }) => key)).toEqual([first.key, second.key]);
  const { headers } = await owner.get('/api/library/export');
  const out = await saved();
  expect(headers['content-disposition']).toBe(`attachment; filename="${out.key}-2026-11-24.json"`);
  expect(headers['content-type']).toBe('application/json; charset=utf-8');
  expect([out.version, out.licence]).toEqual(['2026.11.24', 'all rights with the workshop']);
});

test.each([
  ['Hafen & Söhne, Kfz.', 'hafen-so-hne-kfz', 'Hafen & Söhne, Kfz., library'],
  ['–––', 'workshop', '–––, library'],
  ['', 'our-workshop', 'Our workshop, library'],
  ['x'.repeat(80), 'x'.repeat(60), `${'x'.repeat(80)}, library`],
])('a workshop called %j saves it under that name', async (workshopName, key, title) => {
  await t.services.source.query(
    `update setting set "values" = jsonb_set("values", '{workshopName}', to_jsonb($1::text))`,
    [workshopName],
  );
  expect(await saved(['K425N'])).toMatchObject({ key, title });
});
