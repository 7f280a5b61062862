import {
  answerRows,
  type Changed,
  type HistoryEntry,
  type VehicleListRow,
  type VehicleOutlook,
  type WalkView,
  type WireTriage,
} from '@crosspeen/contract';
import { dayFromIso, searchOn, triageNext, triageStanding } from '@crosspeen/core';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { pdfPages } from '../../testing/pdf-text.ts';

let t: TestApp;
let tove: Client;
beforeAll(async () => {
  t = await testApp();
  tove = await t.signIn('tove');
});
afterAll(() => t.close());

const TODAY = '2026-11-24';
const newVehicle = (code = 'QV20T', km = 148_000, firstRegistered = '2014-04-19'): Promise<string> =>
  t.saveVehicle(tove, { code, km, firstRegistered });
const view = async (id: string): Promise<WireTriage> => (await tove.get(`/api/vehicles/${id}/triage`)).json();
async function report(id: string, words: string, more: object = {}): Promise<Changed> {
  const symptom = (await view(id)).vocabulary.find((one) => one.words === words);
  const sent = { symptomId: symptom?.id ?? null, words, day: TODAY, ...more };
  return (await tove.send('POST', `/api/vehicles/${id}/symptoms`, sent)).json<Changed>();
}
const answer = (id: string, { about, words }: WireTriage['checks'][number], said: boolean) =>
  tove.send('POST', `/api/vehicles/${id}/triage/answers`, { about, words, said });

/** As the browser reckons: reported symptoms and answers are what checks have said. */
function reckoned(asked: WireTriage) {
  const at = new Map(asked.checks.map(({ about }, i) => [about, i]));
  const answers = new Map<number, boolean>();
  for (const { symptomId } of asked.reports) {
    const check = at.get(`symptom:${symptomId}`);
    if (check !== undefined) answers.set(check, true);
  }
  for (const { about, said } of asked.answers) {
    const check = at.get(about);
    if (check !== undefined) answers.set(check, said);
  }
  const state = triageNext({
    risks: asked.explanations.map(({ risk }) => risk),
    unlistedOdds: asked.unlistedOdds,
    shows: [...asked.explanations, null].map((_, row) => asked.checks.map(({ shows }) => shows[row]!)),
    minutes: asked.checks.map(({ minutes }) => minutes),
    answers,
  });
  const chanceOf = (title: RegExp): number =>
    asked.explanations.reduce((sum, of, i) => (title.test(of.title) ? sum + state.posterior[i]! : sum), 0);
  return { state, chanceOf, next: state.best === null ? null : asked.checks[state.best]! };
}

test('a rattle at lift-off is the linkage rather than the chain, and a hand on the rod tells', async () => {
  const id = await newVehicle();
  await report(id, 'Rattle on lift-off', { condition: 'warm' });
  const first = reckoned(await view(id));
  expect(first.chanceOf(/wastegate/i)).toBeGreaterThan(3 * first.chanceOf(/chain/i));
  const hand = (await view(id)).checks.find(({ words }) => /hand on the wastegate rod/i.test(words))!;
  expect(hand).toMatchObject({ kind: 'check', minutes: 4 });
  await answer(id, hand, true);
  const after = reckoned(await view(id));
  expect(after.chanceOf(/wastegate/i)).toBeGreaterThan(0.9);
  expect(triageStanding(after.state)).toMatchObject({ stands: 'known' });
  await answer(id, hand, false);
  const refuted = reckoned(await view(id));
  expect(refuted.chanceOf(/wastegate/i)).toBeLessThan(first.chanceOf(/wastegate/i));
  expect((await view(id)).answers).toHaveLength(1);
});

test('what must not be driven on says so, with the symptom itself and in what may be picked', async () => {
  const id = await newVehicle('DN12W', 110_000, '2015-06-01');
  await report(id, 'Oil lamp at hot idle');
  const asked = await view(id);
  expect(asked.reports[0]).toMatchObject({ listed: true, stop: expect.stringMatching(/Tow it in/) as string });
  expect(asked.vocabulary.some(({ stop }) => stop === null)).toBe(true);
});

test('a cause that is told to show what is reported forbids what would harm it, and no other cause does', async () => {
  const id = await newVehicle('QV16B', 160_000, '2010-06-01');
  const forbids = async (): Promise<string[]> =>
    (await view(id)).explanations.flatMap(({ title, forbids: states }) => states.map((state) => `${title}: ${state}`));
  expect(await forbids()).toEqual([]);
  await report(id, 'Howl that follows the revs');
  expect(await forbids()).toEqual(['Belt idler bearing dries out: driven']);
  const { reports, checks } = await view(id);
  // A symptom with which the vehicle must stop forbids driving by itself.
  expect(reports[0]).toMatchObject({ forbids: ['driven'], drive: null });
  expect(checks.find(({ words }) => /^Drive belt off/.test(words))).toMatchObject({ needs: { engine: 'running' } });
});

test('with a fast starter no check turns the engine by it; the belt is looked at first', async () => {
  const id = await newVehicle('QV16B', 160_000, '2010-06-01');
  await report(id, 'Starter spins fast, engine does not start');
  const { next, forbidden } = searchOn(await view(id));
  expect(forbidden).toEqual(expect.arrayContaining(['cranking', 'running', 'driven']));
  expect(next[0]).toMatchObject({ about: 'check:qv16-camshaft-stands', isFirst: true });
  const needs = new Map((await view(id)).checks.map((check) => [check.about, check.needs.engine]));
  expect(next.map(({ about }) => needs.get(about))).toEqual(next.map(() => 'off'));
});

describe('what a look on file has found', () => {
  const shownOf = (asked: WireTriage, about: string): number =>
    searchOn(asked).explanations.find(({ weakPointId }) => about === `look:${weakPointId}`)!.chance;
  test('answers the check of the complaint, for its page and for the row of the outlook alike', async () => {
    const id = await newVehicle();
    await report(id, 'Rattle for two or three seconds at the first start');
    const { checks } = await view(id);
    const tensioner = await t.point('qv20t-tensioner');
    const about = `look:${tensioner}`;
    expect(searchOn(await view(id)).next.map((next) => next.about)).toContain(about);
    const before = shownOf(await view(id), about);
    const suspicion = async (): Promise<number> => {
      const { answer } = (await tove.get(`/api/vehicles/${id}/outlook`)).json<VehicleOutlook>();
      return answerRows(answer).find(({ weakPointId }) => weakPointId === tensioner)!.already;
    };
    expect(await suspicion()).toBeCloseTo(before, 1);

    const look = { weakPointId: tensioner, day: TODAY, result: 'sound', note: null };
    await tove.send('POST', `/api/vehicles/${id}/findings`, look);
    const asked = await view(id);
    const { words } = checks.find((check) => check.about === about)!;
    expect(asked.answers).toEqual([{ about, words, said: false, day: TODAY, by: null, isOnFile: true }]);
    const { next } = searchOn(asked);
    expect(next.map((one) => one.about)).not.toContain(about);
    expect(shownOf(asked, about)).toBeLessThan(0.5 * before);
    expect(await suspicion()).toBeLessThan(0.5 * before);

    // What is said in the search on the same day or later takes its place.
    await answer(
      id,
      checks.find((check) => check.about === about)!,
      true,
    );
    expect((await view(id)).answers).toMatchObject([{ about, said: true, by: 'Tove', isOnFile: false }]);
  });

  test('worn last week is not asked for again; good before it was reported says nothing', async () => {
    const [worn, good] = [await newVehicle(), await newVehicle()];
    const weakPointId = await t.point('qv20t-tensioner');
    const look = (id: string, result: string) =>
      tove.send('POST', `/api/vehicles/${id}/findings`, { weakPointId, day: '2026-11-17', result, note: null });
    await look(worn, 'worn');
    await look(good, 'sound');
    for (const id of [worn, good]) await report(id, 'Rattle for two or three seconds at the first start');
    expect((await view(worn)).answers).toMatchObject([{ about: `look:${weakPointId}`, said: true, day: '2026-11-17' }]);
    expect((await view(good)).answers).toEqual([]);
  });
});

test('words that no symptom has are kept, and explain nothing', async () => {
  const id = await newVehicle();
  const before = reckoned(await view(id));
  const done = await report(id, 'Squeaks when it rains', { goodDay: '2026-09-01' });
  const asked = await view(id);
  expect(asked.reports).toMatchObject([{ words: 'Squeaks when it rains', listed: false, stop: null }]);
  expect(reckoned(asked).state.posterior).toHaveLength(before.state.posterior.length);
  const { rows } = (await tove.get(`/api/vehicles/${id}/history`)).json<{ rows: HistoryEntry[] }>();
  expect(rows[0]).toMatchObject({ kind: 'symptom', words: 'Squeaks when it rains' });
  await tove.send('POST', `/api/changes/${done.changeId}/undo`, {});
  expect((await view(id)).reports).toEqual([]);
});

test('longer unknown whether it was good, the likelier every cause', async () => {
  const id = await newVehicle();
  await report(id, 'Misfire', { goodDay: '2024-11-24' });
  const long = await view(id);
  const other = await newVehicle();
  await report(other, 'Misfire', { goodDay: '2026-11-01' });
  const short = await view(other);
  const risk = (asked: WireTriage): number => asked.explanations.find(({ title }) => /coil/i.test(title))!.risk;
  expect(risk(long)).toBeGreaterThan(2 * risk(short));
});

test('what the repair said ends the search, and counts for the next vehicle with that symptom', async () => {
  const id = await newVehicle();
  await report(id, 'Whistle at idle');
  const asked = await view(id);
  const cause = asked.explanations.find(({ title }) => /breather/i.test(title))!;
  const shows = (of: WireTriage): number =>
    of.checks.find(({ words }) => words === 'Whistle at idle')!.shows[
      of.explanations.findIndex(({ weakPointId }) => weakPointId === cause.weakPointId)
    ]!;
  expect(shows(asked)).toBeCloseTo(0.85, 12);
  const ended = await tove.send('POST', `/api/vehicles/${id}/triage/end`, {
    weakPointId: cause.weakPointId,
    outcome: 'proved',
    note: null,
  });
  const done = await view(id);
  expect([done.reports, done.answers]).toEqual([[], []]);
  expect(done.ends).toMatchObject([{ title: cause.title, outcome: 'proved', symptoms: ['Whistle at idle'] }]);
  const other = await newVehicle();
  await report(other, 'Whistle at idle');
  const next = await view(other);
  expect(shows(next)).toBeCloseTo((8.5 + 1) / 11, 12);
  expect(next.explanations.find(({ weakPointId }) => weakPointId === cause.weakPointId)!.here).toEqual({
    proved: 1,
    of: 1,
  });
  await tove.send('POST', `/api/changes/${ended.json<Changed>().changeId}/undo`, {});
  expect(shows(await view(other))).toBeCloseTo(0.85, 12);
  expect((await view(id)).reports).toHaveLength(1);
});

test.each([
  ['symptoms', { symptomId: null, words: ' ', day: TODAY }, 'words'],
  ['symptoms', { symptomId: null, words: 'Rattle', day: '2027-01-01' }, 'day'],
  ['symptoms', { symptomId: null, words: 'Rattle', day: TODAY, goodDay: '2026-11-25' }, 'goodDay'],
  ['symptoms', { symptomId: 'rattle', words: 'Rattle', day: TODAY }, 'symptomId'],
  ['triage/answers', { about: '', words: 'x', said: true }, 'about'],
  ['triage/answers', { about: 'check:x', words: 'x', said: 'perhaps' }, 'said'],
  ['triage/end', { weakPointId: null, outcome: 'refuted' }, 'weakPointId'],
  ['triage/end', { weakPointId: null, outcome: 'solved' }, 'outcome'],
])('%s with %j is refused by name, and nothing is written', async (path, body, field) => {
  const id = await newVehicle();
  const refused = await tove.send('POST', `/api/vehicles/${id}/${path}`, body);
  expect(refused.statusCode).toBe(400);
  expect(refused.json<{ fields: { path: string }[] }>().fields.map((fault) => fault.path)).toContain(field);
  expect(await view(id)).toMatchObject({ reports: [], answers: [], ends: [] });
});

test('what to take care of beside a check is said in words, not by the key it is kept by', async () => {
  const id = await newVehicle();
  await report(id, 'Rattle on lift-off');
  const cautions = (await view(id)).checks.filter(({ kind }) => kind === 'check').flatMap(({ cautions: told }) => told);
  expect(cautions.length).toBeGreaterThan(0);
  for (const words of cautions) expect(words).toMatch(/^\p{Lu}.* .*\.?$/u);
});

test('what is reported and what explains it goes on a sheet', async () => {
  const id = await t.saveVehicle(tove, { plate: 'CS 7', code: 'QV20T', km: 148_000, firstRegistered: '2014-04-19' });
  await report(id, 'Rattle on lift-off', { condition: 'warm' });
  const sheet = await tove.get(`/api/vehicles/${id}/complaint.pdf`);
  expect(sheet.headers['content-type']).toBe('application/pdf');
  const [page] = await pdfPages(sheet.rawPayload);
  expect(page).toMatch(/^Complaint CS 7 Vellmar QV20T/);
  expect(page).toContain('Rattle on lift-off, warm');
  expect(page).toMatch(/What explains it on this vehicle .*%/);
  expect(page).toContain('What to check next');
});

describe('how a search ends is said', () => {
  const ended = async (id: string, sent: object) =>
    (await tove.send('POST', `/api/vehicles/${id}/triage/end`, { note: null, ...sent })).json<Changed>().summary;
  test('by what the cause was, or that it was not found', async () => {
    const id = await newVehicle();
    await report(id, 'Whistle at idle');
    const { weakPointId, title } = (await view(id)).explanations[0]!;
    expect(await ended(id, { weakPointId, outcome: 'refuted' })).toBe(`${title}: was not the cause`);
    // What was ruled out ends no search.
    expect((await view(id)).reports).toHaveLength(1);
    expect(await ended(id, { weakPointId, outcome: 'proved', note: 'split hose' })).toBe(`${title}: was the cause`);
    expect((await view(id)).reports).toEqual([]);
    await report(id, 'Misfire');
    expect(await ended(id, { weakPointId: null, outcome: 'proved' })).toBe(
      'something that is not listed: was the cause',
    );
    await report(id, 'Misfire');
    expect(await ended(id, { weakPointId: null, outcome: 'given_up' })).toBe('The search for the cause was given up');
    expect(
      (await view(id)).ends.map(({ title: of, outcome, symptoms, note, by }) => [of, outcome, symptoms, note, by]),
    ).toEqual([
      [null, 'given_up', ['Misfire'], null, 'Tove'],
      [null, 'proved', ['Misfire'], null, 'Tove'],
      [title, 'proved', ['Whistle at idle'], 'split hose', 'Tove'],
      [title, 'refuted', ['Whistle at idle'], null, 'Tove'],
    ]);
  });

  test('what is reported and answered is said with its day, and in the order of the days', async () => {
    const id = await newVehicle();
    await report(id, 'Misfire', { day: '2026-11-20', condition: 'cold', goodDay: '2026-11-01' });
    const first = await report(id, 'Whistle at idle', { day: '2026-11-10' });
    expect(first.summary).toBe('Reported: Whistle at idle');
    const asked = await view(id);
    expect(asked.reports).toMatchObject([
      { words: 'Whistle at idle', condition: null, day: '2026-11-10', goodDay: null, by: 'Tove' },
      {
        words: 'Misfire',
        condition: 'cold',
        day: '2026-11-20',
        goodDay: '2026-11-01',
        codes: expect.arrayContaining(['P0300', 'P0308']) as string[],
      },
    ]);
    const check = asked.checks.find(({ kind }) => kind === 'check')!;
    const said = (await answer(id, check, false)).json<Changed>();
    expect(said.summary).toBe(`${check.words}: no`);
    expect((await answer(id, check, true)).json<Changed>().summary).toBe(`${check.words}: yes`);
    expect((await view(id)).answers).toMatchObject([
      { about: check.about, words: check.words, said: true, day: TODAY },
    ]);
  });

  test('how far back is looked: a quarter of a year at least, or to the day on which all was good', async () => {
    const back = async (more: object): Promise<number> => {
      const id = await newVehicle();
      await report(id, 'Misfire', more);
      return dayFromIso(TODAY)! - (await view(id)).sinceDay;
    };
    expect(await back({ day: '2026-11-20' })).toBe(90);
    expect(await back({ day: '2026-11-20', goodDay: '2026-08-01' })).toBe(115);
    expect(await back({ day: '2026-05-28' })).toBe(180);
  });
});

describe('a complaint that must stop', () => {
  const outlookOf = async (id: string): Promise<VehicleOutlook> =>
    (await tove.get(`/api/vehicles/${id}/outlook`)).json<VehicleOutlook>();
  const listed = async (id: string): Promise<VehicleListRow> =>
    (await tove.get('/api/vehicles?q=&pageSize=100'))
      .json<{ rows: VehicleListRow[] }>()
      .rows.find((row) => row.id === id)!;

  test('holds the vehicle on its page, on the walk and in the list until the cause is proved', async () => {
    const id = await newVehicle('QV16B', 60_000, '2021-06-01');
    const quiet = await outlookOf(id);
    expect(quiet.answer.holds).toEqual([]);
    expect((await listed(id)).pressing?.verdict).not.toBe('hold');
    const walk = async (): Promise<WalkView> => (await tove.get(`/api/vehicles/${id}/walk`)).json<WalkView>();
    const before = await walk();
    expect(before.forbidden).toEqual([]);

    const words = (await view(id)).vocabulary.find(({ stop, words: of }) => stop !== null && /spins/i.test(of))!.words;
    await report(id, words);
    const held = await outlookOf(id);
    expect(held.answer.holds).toMatchObject([{ words, stop: expect.stringMatching(/crank/i) as string }]);
    expect((await listed(id)).pressing).toMatchObject({ verdict: 'hold', title: `Reported: ${words}`, chance: null });
    const during = await walk();
    expect(during.holds).toEqual(held.answer.holds);
    // Nothing that turns the engine is on the sheet.
    for (const step of during.steps) expect(step.needs).not.toMatch(/running|starter|start|driven/);

    const [cause] = (await view(id)).explanations;
    const end = { weakPointId: cause!.weakPointId, outcome: 'proved', note: '' };
    expect((await tove.send('POST', `/api/vehicles/${id}/triage/end`, end)).statusCode).toBeLessThan(300);
    expect((await outlookOf(id)).answer.holds).toEqual([]);
    expect((await listed(id)).pressing?.title ?? '').not.toMatch(/^Reported/);
  });

  test('taken back by whoever made it, it holds nothing any more', async () => {
    const id = await newVehicle('QV16B', 60_000, '2021-06-01');
    const { vocabulary } = await view(id);
    const made = await report(id, vocabulary.find(({ stop }) => stop !== null)!.words);
    expect((await outlookOf(id)).answer.holds).toHaveLength(1);
    await tove.send('POST', `/api/changes/${made.changeId!}/undo`, {});
    expect((await outlookOf(id)).answer.holds).toEqual([]);
  });
});
