import { FAULTS, type PeopleChange, type Person, type PersonWithLink, type SessionState } from '@crosspeen/contract';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { TestTablet } from '../../testing/tablet.ts';

let t: TestApp;
let owner: Client;
beforeEach(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
});
afterEach(() => t.close());

const people = async (): Promise<Person[]> => (await owner.get('/api/people')).json<{ rows: Person[] }>().rows;
const named = async (name: string): Promise<Person> => (await people()).find((row) => row.name === name)!;
const add = async (name: string, role = 'mechanic'): Promise<PersonWithLink> =>
  (await owner.send('POST', '/api/people', { name, displayName: `${name} Oake`, role })).json<PersonWithLink>();
const useLink = (token: string, password: string) =>
  t.app.inject({ method: 'POST', url: '/api/links/use', payload: { token, password } });
const change = ({ id, displayName, role, active, version }: Person, to: Partial<Person>) =>
  owner.send('PUT', `/api/people/${id}`, { displayName, role, active, version, ...to });
const trail = async (): Promise<PeopleChange[]> =>
  (await owner.get('/api/people/changes')).json<{ rows: PeopleChange[] }>().rows;
const code = (response: { json: <T>() => T }): string => response.json<{ code: string }>().code;

test('somebody who is added chooses a password by a link that works once', async () => {
  const { person, token } = await add('per');
  expect(person).toMatchObject({ role: 'mechanic', active: true, hasPassword: false });
  const look = await t.app.inject({ method: 'POST', url: '/api/links/look', payload: { token } });
  expect(look.json()).toMatchObject({ name: 'per', displayName: 'per Oake', workshopName: 'Our workshop' });
  const used = await useLink(token!, 'gravel tuesday mast');
  expect(used.json<SessionState>().user).toMatchObject({ name: 'per', role: 'mechanic' });
  expect(code(await useLink(token!, 'gravel tuesday mast'))).toBe('link_used');
  expect(await named('per')).toMatchObject({ hasPassword: true, linkUntil: null });
  const row = await t.services.source.query<{ all: string }[]>(
    'select string_agg(t::text, chr(10)) as all from one_time_link t',
  );
  expect(row[0]!.all).toBeNull();
});

test.each([
  ['passwordpassword', /list|guessed/],
  ['Per Oake 12', /guessed/],
  ['short', /at least 10/],
])('“%s” is refused, and the link is still good', async (password, words) => {
  const { token } = await add('per');
  const refused = await useLink(token!, password);
  expect(refused.statusCode).toBe(400);
  expect(refused.json<{ fields: { path: string; message: string }[] }>().fields[0]).toMatchObject({
    path: 'password',
    message: expect.stringMatching(words) as string,
  });
  expect((await useLink(token!, 'gravel tuesday mast')).statusCode).toBe(200);
});

test.each([
  ['t\u043eve', /two alphabets/],
  ['\u0430\u0435\u043e', /looks like “aeo”/],
  ['tov\u00e9', /looks like “tove”/],
])('a name that the eye takes for another’s, “%s”, is refused', async (name, words) => {
  await owner.send('POST', '/api/people', { name: 'aeo', displayName: 'Aeo', role: 'mechanic' });
  const refused = await owner.send('POST', '/api/people', { name, displayName: 'Other', role: 'mechanic' });
  expect(refused.statusCode).toBe(400);
  expect(refused.json<{ fields: { path: string; message: string }[] }>().fields[0]).toMatchObject({
    path: 'name',
    message: expect.stringMatching(words) as string,
  });
});

test('of one link used twice at once, one goes through', async () => {
  const { token } = await add('per');
  const answers = await Promise.all([useLink(token!, 'gravel tuesday mast'), useLink(token!, 'other gravel masts')]);
  expect(answers.map(({ statusCode }) => statusCode).sort()).toEqual([200, 410]);
});

test('a newer link, the end of its days, and leaving make a link worthless', async () => {
  const first = await add('per');
  const second = (await owner.send('POST', `/api/people/${first.person.id}/link`)).json<PersonWithLink>();
  expect(code(await useLink(first.token!, 'gravel tuesday mast'))).toBe('link_used');
  await t.services.source.query("update one_time_link set expires_at = '2026-11-23'");
  expect(code(await useLink(second.token!, 'gravel tuesday mast'))).toBe('link_used');
  const third = (await owner.send('POST', `/api/people/${first.person.id}/link`)).json<PersonWithLink>();
  expect((await change(third.person, { active: false })).statusCode).toBe(200);
  expect(code(await useLink(third.token!, 'gravel tuesday mast'))).toBe('link_used');
});

test('another role counts at once, where somebody is signed in already', async () => {
  const adviser = await t.signIn('anselm');
  const file = () =>
    adviser.send('POST', '/api/intake?name=a.csv', 'Plate,Km\nA,1\n', { 'content-type': 'application/octet-stream' });
  expect((await file()).statusCode).toBe(200);
  expect((await change(await named('anselm'), { role: 'mechanic' })).statusCode).toBe(200);
  expect(code(await file())).toBe('not_allowed');
});

test('who no longer works here is signed out, cannot sign in, and stays in what he wrote', async () => {
  const mechanic = await t.signIn('tove');
  const familyId = await t.family('QV20T');
  const made = await mechanic.send('POST', '/api/vehicles', {
    plate: 'PE 1',
    name: null,
    model: null,
    familyId,
    variantKey: null,
    firstRegistered: null,
    odometerUnit: 'km',
    severity: 1,
    note: null,
    reading: { day: '2026-11-01', km: 90_000 },
  });
  const { id } = made.json<{ id: string }>();
  await change(await named('tove'), { active: false });
  expect(code(await mechanic.get('/api/vehicles'))).toBe('sign_in_required');
  const again = await t.app.inject({ method: 'POST', url: '/api/session', payload: { name: 'tove', password: 'one' } });
  expect(code(again)).toBe('wrong_sign_in');
  expect((await owner.get(`/api/vehicles/${id}/changes`)).json<{ rows: { by: string }[] }>().rows[0]!.by).toBe('Tove');
  await change(await named('tove'), { active: true });
  expect((await (await t.signIn('tove')).get('/api/vehicles')).statusCode).toBe(200);
});

test('the last owner can neither leave, nor become something else, nor lose his password', async () => {
  const ruta = await named('ruta');
  expect(code(await change(ruta, { active: false }))).toBe('last_owner');
  expect(code(await change(ruta, { role: 'adviser' }))).toBe('last_owner');
  expect(code(await owner.send('POST', `/api/people/${ruta.id}/link`))).toBe('last_owner');
  // An owner who has no password yet could not come in: he does not count.
  const { token } = await add('per', 'owner');
  expect(code(await change(ruta, { active: false }))).toBe('last_owner');
  await useLink(token!, 'gravel tuesday mast');
  expect((await change(ruta, { role: 'adviser' })).statusCode).toBe(200);
});

test('two owners who let each other go at once: one stays', async () => {
  const { token } = await add('per', 'owner');
  await useLink(token!, 'gravel tuesday mast');
  const [ruta, per] = [await named('ruta'), await named('per')];
  const answers = await Promise.all([
    t.services.people.update(per.id, ruta.id, { ...ruta, active: false }).then(
      () => 'gone',
      (error: unknown) => (error as { code: string }).code,
    ),
    t.services.people.update(ruta.id, per.id, { ...per, active: false }).then(
      () => 'gone',
      (error: unknown) => (error as { code: string }).code,
    ),
  ]);
  expect(answers.sort()).toEqual(['gone', 'last_owner']);
});

test('a name is one person’s; two at once are told', async () => {
  const answers = await Promise.all(
    [1, 2].map(() => owner.send('POST', '/api/people', { name: 'Per', displayName: 'Per', role: 'adviser' })),
  );
  expect(answers.map(({ statusCode }) => statusCode).sort()).toEqual([200, 409]);
  expect(answers.find(({ statusCode }) => statusCode === 409)!.json()).toMatchObject({
    code: 'taken',
    fields: [{ path: 'name', message: FAULTS.nameTaken }],
  });
  expect((await people()).filter(({ name }) => name === 'per')).toHaveLength(1);
  expect(
    (await owner.send('POST', '/api/people', { name: 'two words', displayName: 'x', role: 'owner' })).json(),
  ).toMatchObject({ fields: [{ path: 'name' }] });
});

test('the later of two who edit somebody is told', async () => {
  const tove = await named('tove');
  await change(tove, { displayName: 'Tove L' });
  const late = await change(tove, { role: 'adviser' });
  expect(late.json()).toMatchObject({ code: 'changed_meanwhile', current: { displayName: 'Tove L' } });
});

test('a reset makes password, PIN and sign-ins worthless at once', async () => {
  const mechanic = await t.signIn('tove');
  expect((await mechanic.send('PUT', '/api/me/pin', { current: 'one', pin: '4821' })).statusCode).toBe(200);
  const tove = await named('tove');
  expect(tove).toMatchObject({ hasPin: true, hasPassword: true });
  await owner.send('POST', `/api/people/${tove.id}/link`);
  expect(await named('tove')).toMatchObject({ hasPin: false, hasPassword: false });
  expect(code(await mechanic.get('/api/vehicles'))).toBe('sign_in_required');
});

test('every change of people and rights is in the trail, with who did it', async () => {
  const { person, token } = await add('per');
  await useLink(token!, 'gravel tuesday mast');
  await change(await named('per'), { displayName: 'Per', role: 'adviser' });
  await change(await named('per'), { active: false });
  await change(await named('per'), { active: true });
  await owner.send('POST', `/api/people/${person.id}/link`);
  await TestTablet.made(t.app, owner, 'Bay 1');
  expect((await trail()).map(({ kind, by, before, after }) => [kind, by, before, after])).toEqual([
    ['tablet_added', 'Ruta', null, 'Bay 1'],
    ['link_made', 'Ruta', null, null],
    ['reactivated', 'Ruta', null, null],
    ['deactivated', 'Ruta', null, null],
    ['role', 'Ruta', 'mechanic', 'adviser'],
    ['renamed', 'Ruta', 'per Oake', 'Per'],
    ['password_set', null, null, null],
    ['link_made', 'Ruta', null, null],
    ['added', 'Ruta', null, 'mechanic'],
  ]);
  // Who asked for nothing to change is not in it.
  const before = (await trail()).length;
  await change(await named('per'), {});
  expect((await trail()).length).toBe(before);
});

test('a whole crew comes in by its links from one address, without a wait', async () => {
  for (let at = 0; at < 9; at += 1) {
    const { token } = await add(`crew${at}`);
    expect((await useLink(token!, `gravel tuesday mast ${at}`)).statusCode).toBe(200);
  }
});
