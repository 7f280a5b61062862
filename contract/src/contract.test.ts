import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ERROR_CODES, ERRORS, may, pack, packJsonSchema, ROLES, sameJson, serviceCreate, visitCreate, type PackInput } from './index.ts';

const read = (path: string): string => readFileSync(join(__dirname, '../..', path), 'utf8');
const harbour = (): PackInput => JSON.parse(read('demo/packs/harbour.json')) as PackInput;

describe('errors', () => {
  const documented = [...read('docs/errors.md').matchAll(/^## `(\w+)` \((\d+)\)$/gm)].map(([, code, status]) => [code, Number(status)]);
  test('every code stands in docs/errors.md with its status, and nothing else does', () => {
    expect(documented).toEqual(ERROR_CODES.map((code) => [code, ERRORS[code].status]));
  });
  test('every message is a sentence that says more than that it went wrong', () => {
    for (const code of ERROR_CODES) expect(ERRORS[code].message).toMatch(/^[A-Z].{30,}\.$/s);
  });
});

describe('packs', () => {
  test('the shipped JSON Schema is the one the code checks by', () => {
    expect(JSON.parse(read('docs/pack.schema.json'))).toEqual(packJsonSchema());
    expect(packJsonSchema()).toMatchObject({ $schema: 'https://json-schema.org/draft/2020-12/schema' });
  });

  test('the demo library holds what a demo needs: 4 makes, 6 families with variants, 40 weak points, several authorities each', () => {
    const { makers, families } = pack.parse(harbour());
    const points = families.flatMap(({ weakPoints }) => weakPoints);
    expect([makers.length, families.length, points.length >= 40]).toEqual([4, 6, true]);
    expect(families.every(({ variants }) => variants.length > 1)).toBe(true);
    expect(new Set(families.map(({ timingDrive }) => timingDrive))).toEqual(new Set(['chain', 'belt', 'belt in oil']));
    expect(points.filter(({ statements }) => statements.length > 1).length).toBeGreaterThan(20);
  });

  const broken: [string, (entry: PackInput) => void, RegExp][] = [
    ['a window without unit', (entry) => { entry.families[0]!.weakPoints![0]!.causes = ['90-130k']; }, /needs a unit/],
    ['a component that is not there', (entry) => { entry.families[0]!.weakPoints![0]!.component = 'nothing'; }, /no component “nothing”/],
    ['an authority that is not there', (entry) => { entry.families[0]!.weakPoints![0]!.statements![0]!.authority = 'nobody'; }, /no authority “nobody”/],
    ['a variant of another engine', (entry) => { entry.families[0]!.weakPoints![0]!.appliesTo = { variants: ['steel-pump'] }; }, /no variant “steel-pump”/],
    ['an operation that is not there', (entry) => { entry.families[0]!.weakPoints![0]!.operation = 'nothing'; }, /no operation “nothing”/],
    ['an operation that needs itself', (entry) => { const [first, second] = entry.families[0]!.operations!; first!.needs = [second!.key]; second!.needs = [first!.key]; }, /needs itself/],
    ['a tool that is not there', (entry) => { entry.families[0]!.operations![0]!.tools = ['wand']; }, /no tool “wand”/],
    ['a part of two components', (entry) => { entry.components[1]!.parts = [...entry.components[0]!.parts!]; }, /stands twice; a part belongs to one component/],
    ['two weak points of one key', (entry) => { entry.families[1]!.weakPoints![0]!.key = entry.families[0]!.weakPoints![0]!.key; }, /stands twice/],
    ['a word for how common that is none', (entry) => { (entry.families[0]!.weakPoints![0]! as { share: string }).share = 'often'; }, /nearly all/],
    ['a field nobody knows', (entry) => { (entry as unknown as Record<string, unknown>)['extra'] = 1; }, /extra/],
  ];
  test.each(broken)('%s is refused with its place', (_what, spoil, message) => {
    const entry = harbour();
    spoil(entry);
    const result = pack.safeParse(entry);
    expect(result.success).toBe(false);
    expect(JSON.stringify(result.error?.issues)).toMatch(message);
  });
});

test('every role may edit vehicles; only the owner the settings', () => {
  expect(ROLES.filter((role) => may(role, 'editVehicles'))).toEqual([...ROLES]);
  expect(ROLES.filter((role) => may(role, 'editSettings'))).toEqual(['owner']);
});

test('a record of work done needs a date or a reading; that nobody knows needs neither', () => {
  const record = { weakPointId: '9d34e913-67e5-4747-900f-a9e93dd2b8b1', day: null, km: null, grade: 'original', partNumber: null, revision: null, note: null };
  expect(serviceCreate.safeParse({ ...record, certainty: 'done' }).success).toBe(false);
  expect(serviceCreate.safeParse({ ...record, certainty: 'done', km: 90_000 }).success).toBe(true);
  expect(serviceCreate.safeParse({ ...record, certainty: 'unknown' }).success).toBe(true);
});

test('a weak point stands on a visit once', () => {
  const job = { weakPointId: '9d34e913-67e5-4747-900f-a9e93dd2b8b1', action: 'renew' };
  expect(visitCreate.safeParse({ day: '2027-01-01', km: null, note: null, jobs: [job, job] }).error?.issues[0]?.message).toMatch(/once/);
});

test('JSON values say the same whatever the order of their keys, and a missing one is null', () => {
  expect(sameJson({ a: 1, b: { c: [1, 2], d: 2 } }, { b: { d: 2, c: [1, 2] }, a: 1 })).toBe(true);
  expect(sameJson([1, 2], [2, 1])).toBe(false);
  expect(sameJson(undefined, null)).toBe(true);
  expect(sameJson({ a: 1 }, { a: 2 })).toBe(false);
});
