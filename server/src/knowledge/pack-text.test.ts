import { SAID } from '@crosspeen/contract';
import { Problem } from '../platform/problem.ts';
import { deeperThan, readPack } from './pack-text.ts';

function refused(text: string): Problem {
  try {
    readPack(text);
  } catch (error) {
    if (error instanceof Problem) return error;
    throw error;
  }
  throw new Error('it was read');
}

test.each([
  ['{\n"a": oops\n}', 'line 2', 'a word stands here that is no value; put text in quotation marks, near “oops”'],
  ['{\n"a": 1e\n}', 'line 2', 'this is no number, near “1e”'],
  ['{\n1: 2\n}', 'line 2', 'the name of a field is missing, in quotation marks, near “1: 2”'],
  ['{\n"a": ,\n"b": 1\n}', 'line 2', 'a value is missing, or a comma is too many, near “,”'],
  ['[1,\n]', 'line 2', 'a value is missing, or a comma is too many, near “]”'],
  ['{\n"a" 1\n}', 'line 2', 'a colon is missing after the name of the field, near “1”'],
  ['[1\n2]', 'line 2', 'a comma is missing, near “2]”'],
  ['{"a": 1\n', 'line 2', 'a closing brace } is missing'],
  ['[1\n', 'line 2', 'a closing bracket ] is missing'],
  ['{}\n1', 'line 2', 'something stands after the end of the pack, near “1”'],
  ['{\n// why\n}', 'line 2', 'comments cannot be used here; take it out, near “// why”'],
  ['{}\n/* why', 'line 2', 'comments cannot be used here; take it out, near “/* why”'],
  ['{\n"a": "b\n}', 'line 2', 'a quotation mark is opened and never closed, near “"b”'],
  ['["\\uZZ"]', 'line 1', 'the character after \\u is not written as four digits, near “"\\uZZ"]”'],
  ['["\\q"]', 'line 1', 'this cannot stand after a backslash, near “"\\q"]”'],
  ['["\u0007"]', 'line 1', 'a character stands here that cannot be kept; take it out, near “"\u0007"]”'],
])('%j is told with its line, its mend and what stands there', (text, path, message) => {
  const problem = refused(text);
  expect(problem.said).toEqual(SAID.noJson);
  expect(problem.extra.fields).toContainEqual({ path, message });
});

test('of what stands there twenty signs of its line are enough, and no more faults are listed than anybody reads', () => {
  expect(refused(`[${'x'.repeat(40)}]`).extra.fields![0]!.message).toContain(`near “${'x'.repeat(20)}”`);
  expect(refused(`[${'oops,\n'.repeat(80)}1]`).extra.fields).toHaveLength(30);
  expect(
    refused(`{"format": 1, ${Array.from({ length: 80 }, (_, i) => `"x${i}": 1`).join(',')}}`).extra.fields!.length,
  ).toBeLessThanOrEqual(30);
});

test('what is JSON and no pack is told with the place of each fault, the nearest that is there', () => {
  const problem = refused('{\n"format": "crosspeen-pack",\n"key": 7,\n"families": [\n{ "key": "a" }\n]\n}');
  const said = new Map(problem.extra.fields!.map(({ path, message }) => [path, message]));
  expect(said.get('line 3, key')).toMatch(/text/);
  expect([...said.keys()]).toContain('line 5, families.0.code');
  expect([...said.keys()]).toContain('line 1, title');
  expect(refused('7').extra.fields![0]!.path).toBe('line 1, whole file');
  expect(problem.message).toBe(SAID.invalidPack(said.size).detail);
});

test('brackets are counted outside of words, whatever is written in these', () => {
  expect(deeperThan('[[1], [2]]', 2)).toBe(-1);
  expect(deeperThan('[{"a": [1]}]', 2)).toBe(7);
  expect(deeperThan('{"[[[": "{{{"}', 1)).toBe(-1);
  // A quotation mark after a backslash ends no word, a backslash before that one does.
  expect(deeperThan('["\\"[[", "\\\\", 1]', 1)).toBe(-1);
  expect(deeperThan('["\\\\", [1]]', 1)).toBe(7);
  expect(deeperThan('["a\\n[", "b"]', 1)).toBe(-1);
  const deep = (depth: number) => `\n${'['.repeat(depth)}${']'.repeat(depth)}`;
  expect(refused(deep(33))).toMatchObject({
    said: SAID.noPack,
    extra: { fields: [{ path: 'line 2', message: 'brackets are nested more than 32 deep; no pack is' }] },
  });
  expect(refused(deep(32)).said).not.toEqual(SAID.noPack);
});
