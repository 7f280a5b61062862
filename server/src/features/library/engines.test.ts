import type { Changed } from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let owner: Client;
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
});
afterAll(() => t.close());

const draft = (changes: object = {}) => ({
  maker: 'Vellmar',
  code: 'ZX-19',
  name: '1.9 diesel',
  displacementL: 1.9,
  fuel: 'diesel',
  aspiration: 'turbo',
  timingDrive: 'belt',
  interference: true,
  models: [{ model: 'Brisk', from: 2001, to: 2006 }],
  ...changes,
});

test('an engine is added under the make that is there, found by its code and model, and taken back', async () => {
  const makers = async (): Promise<number> =>
    Number((await t.services.source.query<{ n: number }[]>('select count(*) as n from maker'))[0]!.n);
  const before = await makers();
  const added = (await owner.send('POST', '/api/library/engines', draft({ maker: 'vellmar' }))).json<Changed>();
  expect(added.summary).toBe('Engine ZX-19 added');
  expect(await makers()).toBe(before);
  const found = await owner.get('/api/library/families?pageSize=100');
  expect(
    found
      .json<{ rows: { engine: { code: string; maker: string } }[] }>()
      .rows.map(({ engine }) => engine)
      .find(({ code }) => code === 'ZX-19'),
  ).toMatchObject({ maker: 'Vellmar', timingDrive: 'belt' });
  const answer = await owner.get('/api/lookup?line=ZX19%20120k%202004');
  expect(answer.json<{ answer: { engine: { code: string } } }>().answer.engine.code).toBe('ZX-19');
  // By make, name and model as well, in whichever words.
  for (const line of ['vellmar brisk 120k 2004', 'vellmar 1.9 diesel 120k 2004', 'brisk diesel 120k 2004'])
    expect([
      line,
      (await owner.get(`/api/lookup?line=${encodeURIComponent(line)}`)).json<{
        answer: { engine: { code: string } } | null;
      }>().answer?.engine.code,
    ]).toEqual([line, 'ZX-19']);
  expect((await owner.send('POST', `/api/changes/${added.changeId}/undo`, {})).statusCode).toBe(200);
});

test('a code is one engine’s, however it is written', async () => {
  expect((await owner.send('POST', '/api/library/engines', draft({ code: 'qv 20-t' }))).json()).toMatchObject({
    code: 'bad_input',
    fields: [{ path: 'code' }],
  });
});

test.each([
  ['code', { code: '--' }],
  ['maker', { maker: ' ' }],
  ['displacementL', { displacementL: 0 }],
  ['models.0.from', { models: [{ model: 'Brisk', from: 18, to: 2006 }] }],
])('%s that cannot be is refused', async (path, changes) => {
  expect((await owner.send('POST', '/api/library/engines', draft(changes))).json()).toMatchObject({
    fields: [{ path }],
  });
});
