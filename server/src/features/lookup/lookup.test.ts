import { answerRows, type LookupAnswer, type WalkView } from '@crosspeen/contract';
import fc from 'fast-check';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';
import { pdfPages } from '../../testing/pdf-text.ts';

let t: TestApp;
let client: Client;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('tove');
});
afterAll(() => t.close());

const ask = async (line: string, more = ''): Promise<LookupAnswer> =>
  (await client.get(`/api/lookup?line=${encodeURIComponent(line)}${more}`)).json();
const problems = async (line: string): Promise<string[]> => (await ask(line)).problems.map(({ code }) => code);

test('code, reading and year are answered in any order, worst first, with what does not apply and why', async () => {
  const { answer, problems: wrong } = await ask('2013 148k qv20t');
  expect(wrong).toEqual([]);
  expect(answer!.engine).toMatchObject({ code: 'QV20T', maker: 'Vellmar', interference: true });
  expect(answer!.variants.map(({ key }) => key)).toEqual(['short-ratchet']);
  expect(answerRows(answer!)[0]).toMatchObject({ key: 'qv20t-tensioner', verdict: 'look' });
  expect(
    answerRows(answer!).every(
      ({ reason, wouldChange, authorities }) => reason !== '' && wouldChange !== '' && authorities.length > 0,
    ),
  ).toBe(true);
  const late = (await ask('QV20T 90k 2018')).answer!;
  expect(late.excluded.map(({ title, because }) => [title, because])).toEqual(
    expect.arrayContaining([['Chain tensioner slackens when the engine stops', expect.stringMatching(/not affected/)]]),
  );
});

test('the same distance in miles gives the same answer', async () => {
  const [km, mi] = [await ask('OD420K 148059.648 km 2014'), await ask('osterlin 2.0 92000 mi 2014')];
  expect(answerRows(mi.answer!).map(({ key, chance }) => [key, chance.toFixed(9)])).toEqual(
    answerRows(km.answer!).map(({ key, chance }) => [key, chance.toFixed(9)]),
  );
});

test('harder use never lowers a chance', async () => {
  const [usual, hard] = [(await ask('QV16B 90k 2015')).answer!, (await ask('QV16B 90k 2015 x1.4')).answer!];
  const belt = (answer: typeof usual) => answerRows(answer).find(({ key }) => key === 'qv16-belt')!.chance;
  expect(belt(hard)).toBeGreaterThan(belt(usual));
});

test('a year between variants weighs them; choosing one settles it', async () => {
  const open = (await ask('QV20T 120k 2014')).answer!;
  expect(open.variants).toHaveLength(2);
  const tensioner = answerRows(open).find(({ key }) => key === 'qv20t-tensioner')!;
  expect(tensioner.settle).toMatch(/plain/);
  expect(tensioner.appliesWeight).toBeLessThan(1);
  const settled = (await ask('QV20T 120k 2014', '&variant=long-ratchet')).answer!;
  expect(settled.excluded.some(({ title }) => title === tensioner.title)).toBe(true);
});

describe('the words of a line', () => {
  const words = async (line: string) => (await ask(line)).words.map(({ text, kind, means }) => [text, kind, means]);

  test('a feature is said by its name, and counts as there', async () => {
    expect(await words('OD420K side cooler 120k 2012')).toEqual([
      ['OD420K', 'engine', []],
      ['side cooler', 'feature', ['the oil cooler at the side of the block']],
    ]);
    const weight = async (line: string): Promise<number> =>
      answerRows((await ask(line)).answer!).find(({ key }) => key === 'od420k-oil-cooler')!.appliesWeight;
    expect(await weight('OD420K 120k 2012')).toBeCloseTo(0.6, 9);
    expect(await weight('OD420K side cooler 120k 2012')).toBe(1);
  });
  test('a model is kept as it is called', async () =>
    expect(await words('QV20T saltmere 120k 2013')).toContainEqual(['saltmere', 'model', ['Saltmere']]));
  test('what is reported says what shows so, most of all first', async () => {
    const { words: read, reported } = await ask('QV16B howl 150k 2012');
    expect(read[1]).toMatchObject({ kind: 'symptom', keys: ['howl-revs'], means: ['Howl that follows the revs'] });
    expect(reported).toMatchObject([{ symptom: 'howl-revs', words: 'Howl that follows the revs' }]);
    const shows = reported[0]!.shownBy.map((one) => one.shows);
    expect(shows.length).toBeGreaterThan(1);
    expect(shows).toEqual([...shows].sort((a, b) => b - a));
    expect(reported[0]!.shownBy.map(({ title }) => title)).toContainEqual(expect.stringMatching(/idler/i));
    expect((await ask('QV16B 150k 2012')).reported).toEqual([]);
  });
});

describe('while a line is typed', () => {
  const meaning = async (query: string) =>
    (await client.get(`/api/lookup/meaning?${query}`)).json<{
      engine: { code: string } | null;
      variants: { key: string; weight: number }[];
      candidates: unknown[];
      near: boolean;
      words: unknown[];
      vehicles: unknown[];
    }>();
  test('nothing means nothing yet', async () =>
    expect(await meaning('line=148k')).toEqual({
      vehicles: [],
      engine: null,
      variants: [],
      candidates: [],
      near: false,
      words: [],
    }));
  test('a code is its engine, with the variants of the year; a near one is offered', async () => {
    const exact = await meaning('line=QV20T+2012');
    expect(exact).toMatchObject({ engine: { code: 'QV20T' }, candidates: [], near: false });
    expect(exact.variants.map(({ key }) => key)).toEqual(['short-ratchet']);
    expect(exact.words).toHaveLength(1);
    expect(await meaning('line=QV2OT')).toMatchObject({ engine: null, near: true, words: [] });
  });
  test('an engine that was picked counts without its code', async () => {
    const picked = await meaning(`line=148k&family=${await t.family('K425N')}`);
    expect(picked).toMatchObject({ engine: { code: 'K425N' }, candidates: [], near: false });
  });
});

test('an engine that is gone from the library says so', async () => {
  const gone = await ask('148k', '&family=9d34e913-67e5-4747-900f-a9e93dd2b8b1');
  expect(gone).toMatchObject({
    answer: null,
    problems: [{ code: 'unknown_engine', message: expect.stringMatching(/no longer in the library/) as string }],
  });
});

test('words that fit several engines ask for one; an engine without a reading waits for it', async () => {
  const several = await ask('vellmar 148k 2012');
  expect(several.problems).toMatchObject([
    { code: 'several_engines', message: '“vellmar” fits several engines. Pick the one in front of you.' },
  ]);
  const waiting = await ask('QV20T 2012');
  expect(waiting.candidates.map(({ code }) => code)).toEqual(['QV20T']);
  expect(waiting.answer).toBeNull();
  expect((await client.get('/api/lookup/questions?line=QV20T+2012')).json()).toEqual({ questions: [] });
});

test('what is told of a part’s history counts at once', async () => {
  const belt = async (know: string): Promise<number> =>
    answerRows((await ask('QV16B 150k 2012', `&know=${encodeURIComponent(know)}`)).answer!).find(
      ({ key }) => key === 'qv16-belt',
    )!.chance;
  const key = (
    await t.services.source.query<{ key: string }[]>(
      "select c.key from weak_point w join component c on c.id = w.component_id where w.key = 'qv16-belt'",
    )
  )[0]!.key;
  const [never, lately, odd] = [
    await belt(`history:${key}=never`),
    await belt(`history:${key}=renewed lately`),
    await belt('colour=red'),
  ];
  expect(lately).toBeLessThan(never / 10);
  expect(odd).toBeCloseTo(await belt(''), 12);
});

test('a walk round an engine of which nothing is saved', async () => {
  const walk = (query: string) => client.get(`/api/lookup/walk?${query}`);
  const whole = (await walk('line=QV20T+148k+2014')).json<WalkView>();
  expect(whole).toMatchObject({
    engine: { code: 'QV20T' },
    vehicle: null,
    walk: null,
    entries: [],
    photos: [],
    budgetMinutes: null,
    odometerUnit: 'km',
    leftOut: [],
  });
  expect(whole.steps.length).toBeGreaterThan(5);
  const short = (await walk('line=QV20T+148k+2014&minutes=20')).json<WalkView>();
  expect(short.budgetMinutes).toBe(20);
  expect(short.steps.length + short.leftOut.length).toBe(whole.steps.length);
  expect(short.leftOut.length).toBeGreaterThan(0);
  expect((await walk('line=nothing')).json()).toMatchObject({ status: 422, code: 'line_incomplete' });
  const sheet = await client.get('/api/lookup/walk.pdf?line=QV20T+148k+2014');
  const pages = await pdfPages(sheet.rawPayload);
  expect(pages[0]).toMatch(/^Walk QV20T Vellmar QV20T .*History not known/);
});

test('a wrong code gets near matches, an unknown one the way on', async () => {
  const near = await ask('QV2OT 148k');
  expect(near).toMatchObject({ near: true, answer: null, problems: [{ code: 'unknown_engine' }] });
  expect(near.candidates[0]!.code).toBe('QV20T');
  expect((await ask('wxyzzy 148k')).problems[0]!.message).toMatch(/Check the code/);
  expect((await ask('vellmar 148k')).candidates.map(({ code }) => code)).toEqual(['QV16B', 'QV20T']);
});

test('a vehicle on file is found by plate and by name', async () => {
  await client.send('POST', '/api/vehicles', {
    plate: 'LL 48 K',
    name: 'Slip tractor',
    model: null,
    familyId: await t.family('K630C'),
    variantKey: null,
    firstRegistered: null,
    odometerUnit: 'km',
    severity: 1,
    note: null,
    reading: null,
  });
  for (const line of ['ll48k', 'LL 48 K', 'slip TRACTOR', 'll-48-k 120k'])
    expect((await ask(line)).vehicles.map(({ plate }) => plate)).toEqual(['LL 48 K']);
});

test.each([
  ['', 'empty'],
  ['QV20T', 'no_reading'],
  ['QV20T 148k 92k mi', 'two_readings'],
  ['QV20T -3', 'negative_reading'],
  ['QV20T 148k 2040', 'future'],
  ['q'.repeat(10_000), 'too_long'],
  ["'; drop table vehicle; --", 'unknown_engine'],
])('wrong input %j says what to change', async (line, code) => {
  expect(await problems(line)).toContain(code);
});

describe('what is not answered yet', () => {
  const bare = { vehicles: [], candidates: [], near: false, words: [], reported: [], answer: null };
  const codes = (answer: LookupAnswer) => answer.candidates.map(({ code }) => code);
  const rest = async (line: string, more = '') => {
    const { problems: said, ...asked } = await ask(line, more);
    return { ...asked, problems: said.map(({ code }) => code), candidates: codes({ ...asked, problems: said }) };
  };

  test('nothing typed, or no engine in it, is nothing found', async () => {
    expect(await rest('')).toEqual({ ...bare, problems: ['empty'] });
    expect(await rest('148k 2012')).toEqual({ ...bare, problems: ['no_engine'] });
  });
  test('a size alone, or with a make, is the engine of that size, or one of several', async () => {
    expect((await ask('1.6 148k')).answer!.engine.code).toBe('QV16B');
    expect((await ask('vellmar 2.0 148k')).answer!.engine.code).toBe('QV20T');
    const two = await ask('2.0 148k');
    expect([two.problems, codes(two), two.near, two.answer]).toEqual([
      [{ code: 'several_engines', message: '“2.0” fits several engines. Pick the one in front of you.' }],
      ['OD420K', 'QV20T'],
      false,
      null,
    ]);
    expect((await ask('vellmar 9.9 148k')).problems).toEqual([
      {
        code: 'unknown_engine',
        message: expect.stringMatching(/^No engine or saved vehicle is called “vellmar 9\.9”/),
      },
    ]);
  });
  test('two codes are two engines', async () => {
    const two = await rest('QV20T QV16B 148k');
    expect(two).toMatchObject({ problems: ['several_engines'], near: false, answer: null });
    expect([...two.candidates].sort()).toEqual(['QV16B', 'QV20T']);
  });
  test('what is near to a code is asked back, what is near to nothing is said with the way on', async () => {
    const near = await ask('QV2OT 148k');
    expect(near.problems).toEqual([
      {
        code: 'unknown_engine',
        message:
          'No engine or saved vehicle is called “QV2OT”. Did you mean one of these? Otherwise check the code on the ' +
          'engine block or in the papers; an engine that is new to the library comes as a pack: ask the owner to import it.',
      },
    ]);
    const none = await ask('wxyzzy 148k');
    expect([codes(none), none.problems]).toEqual([
      [],
      [
        {
          code: 'unknown_engine',
          message:
            'No engine or saved vehicle is called “wxyzzy”. Check the code on the engine block or in the papers; an ' +
            'engine that is new to the library comes as a pack: ask the owner to import it.',
        },
      ],
    ]);
  });
  test('a saved vehicle that is named is enough: no engine is missed', async () => {
    await t.saveVehicle(client, { plate: 'ZZ 9 LONG', code: 'QV20T', km: 90_000, firstRegistered: '2016-01-01' });
    const found = await rest('zz9long');
    expect(found).toMatchObject({ vehicles: [{ plate: 'ZZ 9 LONG', engineCode: 'QV20T', maker: 'Vellmar' }] });
    expect(found.problems).toEqual([]);
    // Written in more words than a code is looked for in.
    await t.saveVehicle(client, { plate: 'A B C D E F', code: 'QV20T', km: 90_000, firstRegistered: '2016-01-01' });
    expect((await rest('a b c d e f')).vehicles.map(({ plate }) => plate)).toEqual(['A B C D E F']);
    const many = await rest('A B C D E F QV20T 120k');
    expect(many.answer?.engine.code).toBe('QV20T');
  });
  test('an engine that waits for a reading is shown with what was understood', async () => {
    const waiting = await ask('QV16B howl 2012');
    expect([
      codes(waiting),
      waiting.words.map(({ kind }) => kind),
      waiting.reported.map(({ symptom }) => symptom),
    ]).toEqual([['QV16B'], ['engine', 'symptom'], ['howl-revs']]);
    expect(waiting.problems).toEqual([
      {
        code: 'no_reading',
        message:
          'There is no reading in the line. Add what the dash shows, for example 148k or 92000 mi; on a machine its ' +
          'hours, 4200 h.',
      },
    ]);
    // What is wrong with a reading is said once.
    expect((await ask('QV16B -3')).problems.map(({ code }) => code)).toEqual(['negative_reading']);
    const picked = `&family=${await t.family('K425N')}`;
    expect((await rest('', picked)).problems).toEqual(['empty', 'no_reading']);
    expect(await rest('2012', picked)).toMatchObject({ problems: ['no_reading'], candidates: ['K425N'] });
    expect((await ask('148k', picked)).answer!.engine.code).toBe('K425N');
  });
});

test('what is reported names the check that tells look-alikes apart; a symptom that nobody shows is said by its words', async () => {
  const { reported } = await ask('QV20T rattle lift-off 150k 2013');
  const told = reported.find(({ symptom }) => symptom === 'rattle-lift-off')!;
  expect(told.tells).toMatch(/^Heat shield first/);
  expect(told.words).toBe('Rattle on lift-off');
  expect(told.shownBy[0]).toMatchObject({ title: expect.stringMatching(/wastegate/i) as string, shows: 0.8 });
});

test('the model that is in the line is the vehicle’s, and its registration is exact where the day is', async () => {
  const asked = async (line: string): Promise<string[]> =>
    (await client.get(`/api/lookup/questions?line=${encodeURIComponent(line)}`))
      .json<{ questions: { about: string }[] }>()
      .questions.map(({ about }) => about);
  const [open, told] = [await asked('QV20T 150k 2013'), await asked('QV20T saltmere 150k 2013')];
  expect(told.filter((about) => about === 'model')).toEqual([]);
  expect(told.length).toBeLessThanOrEqual(open.length);
  const weights = async (line: string) => (await ask(line)).answer!.variants.map(({ key }) => key);
  expect(await weights('QV20T 150k 2014')).toEqual(['short-ratchet', 'long-ratchet']);
  expect(await weights('QV20T 150k 1.6.2014')).toEqual(['short-ratchet']);
});

test('what is told of a part’s history at a reading lies on the day of that reading', async () => {
  const [{ key }] = await t.services.source.query<[{ key: string }]>(
    "select c.key from weak_point w join component c on c.id = w.component_id where w.key = 'qv16-belt'",
  );
  const day = async (words: string): Promise<number> =>
    answerRows((await ask('QV16B 150k 2012', `&know=${encodeURIComponent(`history:${key}=${words}`)}`)).answer!).find(
      (row) => row.key === 'qv16-belt',
    )!.installs[0]!.day;
  const today = (await ask('QV16B 150k 2012')).answer!.today;
  expect(await day('renewed 150000km original')).toBe(today);
  expect(today - (await day('renewed 100000km original'))).toBeGreaterThan(3 * 365);
});

test('looking up saves nothing', async () => {
  const counts = async () =>
    (
      await t.services.source.query<unknown[]>(
        'select (select count(*) from vehicle) v, (select count(*) from change) c',
      )
    )[0];
  const before = await counts();
  await ask('QV20T 148k 2013');
  expect(await counts()).toEqual(before);
});

test('nothing that can be typed gives a 500, and every answer says something', async () => {
  const token = fc.constantFrom(
    'QV20T',
    'qv16',
    'vellmar',
    'PM 482 KX',
    '148k',
    '-3',
    '92000 mi',
    '9999999999999',
    '2016',
    '2099',
    '1.6',
    '2.0l',
    'x1.3',
    'x99',
    '31.2.2020',
    "'",
    '%',
    '_',
    '\\',
    '🚗',
    '\u0000',
    '\ud800',
    'null',
    '{}',
    '../..',
    '１２３k',
  );
  const line = fc.oneof(
    { weight: 3, arbitrary: fc.array(token, { maxLength: 8 }).map((parts) => parts.join(' ')) },
    { weight: 2, arbitrary: fc.string({ unit: 'grapheme', maxLength: 250 }) },
    { weight: 1, arbitrary: fc.string({ unit: 'binary', maxLength: 60 }) },
  );
  await fc.assert(
    fc.asyncProperty(
      line,
      fc.constantFrom('/api/lookup', '/api/lookup/meaning', '/api/vehicles'),
      async (typed, path) => {
        const text = encodeURIComponent(Buffer.from(typed).toString());
        const response = await client.get(`${path}?${path === '/api/vehicles' ? 'q' : 'line'}=${text}`);
        expect({ typed, status: response.statusCode }).toEqual({
          typed,
          status: response.statusCode === 400 ? 400 : 200,
        });
        if (path === '/api/lookup' && response.statusCode === 200) {
          const { answer, problems: said, candidates, vehicles } = response.json<LookupAnswer>();
          expect(answer !== null || said.length > 0 || candidates.length > 0 || vehicles.length > 0).toBe(true);
        }
      },
    ),
    { numRuns: 250 },
  );
});

test('no body, parameter or type of content gives a 500', async () => {
  const url = fc.constantFrom(
    '/api/vehicles',
    '/api/session',
    '/api/settings',
    '/api/changes/x/undo',
    `/api/vehicles/${'9d34e913-67e5-4747-900f-a9e93dd2b8b1'}/readings`,
    '/api/visits/x/done',
  );
  await fc.assert(
    fc.asyncProperty(
      url,
      fc.constantFrom('POST' as const, 'PUT' as const),
      fc.oneof(fc.json(), fc.string()),
      fc.constantFrom('application/json', 'text/plain', 'application/octet-stream', 'multipart/form-data'),
      async (path, method, body, type) => {
        const response = await client.send(method, path, body, { 'content-type': type });
        expect({ path, body, status: response.statusCode < 500 }).toEqual({ path, body, status: true });
      },
    ),
    { numRuns: 150 },
  );
});
