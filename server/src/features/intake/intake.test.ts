import { FAULTS, SAID, type IntakePreview, type IntakeRun, type ProblemDetails } from '@crosspeen/contract';
import fc from 'fast-check';
import { FUZZ, testApp, type Client, type TestApp } from '../../testing/harness.ts';

let t: TestApp;
let client: Client;
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('ruta');
});
afterAll(() => t.close());

const hold = (csv: string | Buffer, name = 'sheet.csv', more = '') =>
  client.send('POST', `/api/intake?name=${encodeURIComponent(name)}${more}`, csv, {
    'content-type': 'application/octet-stream',
  });
const start = (preview: IntakePreview, formats: Partial<IntakePreview['formats']> = {}) =>
  client.send('POST', `/api/intake/${preview.fileId}/start`, {
    kind: preview.kind,
    mapping: preview.mapping,
    formats: { ...preview.formats, ...formats },
  });
async function takeIn(csv: string | Buffer, formats: Partial<IntakePreview['formats']> = {}): Promise<IntakeRun> {
  const preview = (await hold(csv)).json<IntakePreview>();
  const response = await start(preview, formats);
  expect(response.statusCode).toBe(200);
  await t.services.intake.idle();
  return (await client.get(`/api/intake/${preview.fileId}`)).json();
}
const count = async (table: string): Promise<number> =>
  Number((await t.services.source.query<{ n: string }[]>(`select count(*) as n from ${table}`))[0]!.n);
const everything = async (): Promise<number[]> =>
  Promise.all(['vehicle', 'meter_reading', 'service_record', 'finding', 'change', 'change_item'].map(count));

const VEHICLES =
  'Plate;Engine code;Model;First registered;Odometer (km);Reading date\nIT 1 A;QV20T;Corrow;12.3.2013;148.000;1.11.2026\nIT 2 B;qv16b;Tillet;2012;90.500;\n;QV20T;Corrow;;;\nIT 3 C;NOSUCH;;;;\nIT 4 D;K425N;Ostreel;31.2.2009;1;\n';

test('vehicles: what can be taken is written, the rest is handed back with its reason; again, everything is known', async () => {
  const preview = (await hold(VEHICLES, 'cars.csv')).json<IntakePreview>();
  expect(preview).toMatchObject({
    kind: 'vehicles',
    delimiter: ';',
    mapping: { plate: 0, engine: 1, model: 2, firstRegistered: 3, reading: 4, readingDate: 5 },
    formats: { date: 'dmy', unit: 'km' },
  });
  expect(preview.open).toEqual(['decimal', 'small']);
  const run = await takeIn(VEHICLES, { decimal: 'comma' });
  expect(run).toMatchObject({ state: 'done', rows: 5, written: 2, known: 0, bad: 3 });
  expect(run.faults.map(({ line, reason }) => [line, reason])).toEqual([
    [4, expect.stringContaining('plate and name are both missing')],
    [5, expect.stringContaining('no engine of the library has the code “NOSUCH”')],
    [6, expect.stringContaining('“31.2.2009” is no date; write 31.5.2024')],
  ]);
  const [vehicle] = (await client.get('/api/vehicles?q=it1a')).json<{ rows: { id: string; km: number }[] }>().rows;
  const history = (await client.get(`/api/vehicles/${vehicle!.id}/history`)).json<{
    rows: { kind: string; km: number; day: string }[];
  }>().rows;
  expect(history).toMatchObject([{ kind: 'reading', km: 148_000, day: '2026-11-01' }]);
  const trail = (await client.get(`/api/vehicles/${vehicle!.id}/changes`)).json<{
    rows: { summary: string; undoable: boolean }[];
  }>().rows;
  expect(trail).toMatchObject([{ summary: 'Imported from sheet.csv', undoable: true }]);
  const undone = await takeIn('Plate,Engine,Km\nIT 7 U,QV20T,5000\n');
  expect(undone.written).toBe(1);
  const [other] = (await client.get('/api/vehicles?q=it7u')).json<{ rows: { id: string }[] }>().rows;
  const [change] = (await client.get(`/api/vehicles/${other!.id}/changes`)).json<{ rows: { id: string }[] }>().rows;
  expect((await client.send('POST', `/api/changes/${change!.id}/undo`, {})).statusCode).toBe(200);
  expect((await client.get('/api/vehicles?q=it7u')).json<{ total: number }>().total).toBe(0);
  const before = await everything();
  expect(await takeIn(VEHICLES, { decimal: 'comma' })).toMatchObject({ written: 0, known: 2, bad: 3 });
  expect(await everything()).toEqual(before);
});

test('rows handed back are mended and imported; a formula in them stays text', async () => {
  const run = await takeIn('Plate,Engine,Note\nIT 9 X,QVV,=HYPERLINK("x")\n');
  const csv = (await client.get(`/api/intake/${run.id}/faults.csv`)).body;
  expect(csv.split('\n')[0]).toBe('\uFEFFreason,line,Plate,Engine,Note');
  expect(csv).toContain(`"'=HYPERLINK(""x"")"`);
  expect(await takeIn(csv.replaceAll('QVV', 'QV20T'))).toMatchObject({ written: 1, bad: 0 });
  const [note] = await t.services.source.query<{ note: string }[]>("select note from vehicle where plate_key = 'it9x'");
  expect(note!.note).toBe('=HYPERLINK("x")');
});

test('readings in miles, services and findings; each row once', async () => {
  const readings =
    'Reg,Date,Mileage (mi)\nIT 1 A,2026-11-10,"92,000"\nIT 1 A,2026-11-10,"92,000"\nIT 2 B,2027-01-01,1\nNO SUCH,2026-01-01,5\nIT 2 B,2026-10-01,-4\n';
  const run = await takeIn(readings, { decimal: 'point' });
  expect(run).toMatchObject({ kind: 'readings', written: 1, known: 1, bad: 3 });
  expect(run.faults.map(({ reason }) => reason)).toEqual([
    expect.stringContaining('has not come yet'),
    expect.stringContaining('no saved vehicle'),
    expect.stringContaining('negative'),
  ]);
  const [reading] = await t.services.source.query<{ km: number }[]>(
    `select km
      from meter_reading r
      join vehicle v on v.id = r.vehicle_id
      where plate_key = 'it1a' and day = '2026-11-10'`,
  );
  expect(reading!.km).toBeCloseTo(148_059.648, 3);
  const services =
    'Plate,Component,Date,Km,Certainty,Part no,Came out\nIT 1 A,Thermostat housing,2026-03-01,140000,,VL-1902-02,failed\nIT 1 A,Chain tensioner,,,unknown,,\nIT 1 A,Gearbox,2026-03-01,1,,,\nIT 2 B,Timing belt,,,done,,\n';
  const taken = await takeIn(services);
  expect(taken).toMatchObject({ kind: 'services', written: 2, bad: 2 });
  expect(taken.faults.map(({ reason }) => reason)).toEqual([
    expect.stringContaining('“Gearbox” is no component or weak point'),
    expect.stringContaining('the date is missing'),
  ]);
  expect(await takeIn(services)).toMatchObject({ written: 0, known: 2 });
  const findings =
    'Plate,Weak point,Date,Result\nIT 1 A,Timing chain stretched, 2026-05-01,sound\nIT 1 A,Chain tensioner slackens when the engine stops,2026-05-01,ok\nIT 1 A,qv20t-chain,2026-05-01,shiny\n';
  expect(await takeIn(findings)).toMatchObject({ kind: 'findings', written: 1, bad: 2 });
  const upkeep =
    'Plate,Task,Date,Km\nIT 1 A,engine oil and filter,2026-05-01,146000\nIT 1 A,Polish the bonnet,2026-05-01,\nIT 1 A,Spark plugs,,1\nIT 1 A,qv20t-care-coolant,2027-01-01,\n';
  const done = await takeIn(upkeep);
  expect(done).toMatchObject({ kind: 'upkeep', written: 1, bad: 3 });
  expect(done.faults.map(({ reason }) => reason)).toEqual([
    expect.stringContaining('“Polish the bonnet” is no upkeep task of this vehicle’s engine'),
    expect.stringContaining('the date is missing'),
    expect.stringContaining('has not come yet'),
  ]);
  expect(await takeIn(upkeep)).toMatchObject({ written: 0, known: 1 });
  // What the workshop has seen follows with the next round.
  await t.services.judging.run('a test');
  expect(await count('observation_due')).toBe(0);
  expect(
    Number(
      (
        await t.services.source.query<{ n: string }[]>(
          `select count(*) as n
            from observation o
            join weak_point w on w.id = o.weak_point_id
            where w.key = 'qv20t-thermostat'`,
        )
      )[0]!.n,
    ),
  ).toBeGreaterThan(0);
});

test('what needs deciding is asked, and what cannot be started says what is missing', async () => {
  const preview = (await hold('Plate,Date,Reading\nIT 1 A,1/2/2024,5000\n')).json<IntakePreview>();
  expect(preview.open).toEqual(['date', 'unit']);
  const openIn = async (csv: string) => (await hold(csv)).json<IntakePreview>().open;
  expect(await openIn('Plate,Engine,Odometer (km),Reading date\nOP 1,QV20T,5,1/2/2024\n')).toEqual(['date']);
  expect(await openIn('Plate,Engine,First registered\nOP 1,QV20T,1/2/2014\n')).toEqual(['date']);
  expect(await openIn('Plate,Engine,Odometer (km)\nOP 1,QV20T,"5,000"\n')).toEqual(['decimal']);
  expect(await openIn('Plate,Engine,Odometer\nOP 1,QV20T,5\n')).toEqual(['unit']);
  expect(await openIn('Plate,Engine,Odometer,Unit\nOP 1,QV20T,5,mi\n')).toEqual([]);
  const { fields } = (
    await client.send('POST', `/api/intake/${preview.fileId}/start`, {
      kind: 'readings',
      mapping: { vehicle: 0 },
      formats: preview.formats,
    })
  ).json<ProblemDetails>();
  expect(fields![0]).toMatchObject({ path: 'mapping.date', message: expect.stringContaining('is needed') });
  expect(
    (await client.send('POST', `/api/intake/${preview.fileId}/preview`, { kind: 'services' })).json<IntakePreview>()
      .mapping,
  ).toEqual({ vehicle: 0, date: 1, reading: 2 });
});

test('what can be started is named column by column', async () => {
  const fields = async (csv: string, kind: string, mapping: object) => {
    const preview = (await hold(csv)).json<IntakePreview>();
    const response = await client.send('POST', `/api/intake/${preview.fileId}/start`, {
      kind,
      mapping,
      formats: preview.formats,
    });
    return [response.statusCode, response.json<ProblemDetails>().fields];
  };
  const csv = 'Plate,Engine,Km\nST 1,QV20T,1\n';
  expect(await fields(csv, 'vehicles', { engine: 1 })).toEqual([
    400,
    [{ path: 'mapping.plate', message: FAULTS.plateOrName }],
  ]);
  expect(await fields(csv, 'vehicles', { plate: 0 })).toEqual([
    400,
    [{ path: 'mapping.engine', message: FAULTS.columnNeeded }],
  ]);
  expect(await fields(csv, 'vehicles', { plate: 0, engine: 1, colour: 2 })).toEqual([
    400,
    [{ path: 'mapping.colour', message: FAULTS.noColumn('vehicles') }],
  ]);
  expect((await fields('Name,Engine\nYard car,QV20T\n', 'vehicles', { name: 0, engine: 1 }))[0]).toBe(200);
  expect((await fields(csv, 'vehicles', { plate: 0, engine: 1 }))[0]).toBe(200);
  await t.services.intake.idle();
  const [{ fileId }] = [(await hold(csv)).json<IntakePreview>()];
  const again = {
    kind: 'vehicles',
    mapping: { plate: 0, engine: 1 },
    formats: (await hold(csv)).json<IntakePreview>().formats,
  };
  expect((await client.send('POST', `/api/intake/${fileId}/start`, again)).statusCode).toBe(200);
  expect((await client.send('POST', `/api/intake/${fileId}/start`, again)).json()).toMatchObject({
    detail: SAID.fileGoneOrRunning.detail,
  });
  await t.services.intake.idle();
});

test('all rows that could not be taken leave in one file, in their order, called by the sheet they came from', async () => {
  const lines = Array.from({ length: 2300 }, (_, i) => `NO ${i},2020-01-01,${i}`);
  const preview = (await hold(`Plate,Date,Km\n${lines.join('\n')}\n`, 'Old cards (1).v2.csv')).json<IntakePreview>();
  await start(preview);
  await t.services.intake.idle();
  const run = (await client.get(`/api/intake/${preview.fileId}`)).json<IntakeRun>();
  expect(run).toMatchObject({ state: 'done', rows: 2300, bad: 2300, bytesDone: run.bytes });
  expect(run.faults).toHaveLength(20);
  const file = await client.get(`/api/intake/${preview.fileId}/faults.csv`);
  expect(file.headers['content-disposition']).toBe('attachment; filename="Old-cards-1-v2-to-mend.csv"');
  const [head, ...rows] = file.body.trimEnd().split('\n');
  expect(head).toBe('\uFEFFreason,line,Plate,Date,Km');
  expect(rows.map((row) => row.split(',').slice(-4).join(','))).toEqual(lines.map((line, i) => `${i + 2},${line}`));
  const nameless = (await hold('Plate,Date,Km\nNO,2020-01-01,1\n', '.csv')).json<IntakePreview>();
  await start(nameless);
  await t.services.intake.idle();
  expect((await client.get(`/api/intake/${nameless.fileId}/faults.csv`)).headers['content-disposition']).toBe(
    'attachment; filename="sheet-to-mend.csv"',
  );
});

test('stopped, what is written stays; imported again it is passed over; a run left by another process is gone on with', async () => {
  const lines = Array.from(
    { length: 2500 },
    (_, i) => `IT 1 A,${new Date(Date.UTC(2015, 0, 1 + i)).toISOString().slice(0, 10)},${10_000 + i * 10}`,
  );
  const csv = `Plate,Date,Km\n${lines.join('\n')}\n`;
  const preview = (await hold(csv)).json<IntakePreview>();
  await start(preview);
  const stopped = (await client.send('POST', `/api/intake/${preview.fileId}/stop`, {})).json<IntakeRun>();
  expect(['stopped', 'done']).toContain(stopped.state);
  expect(stopped.rows % 1000 === 0 || stopped.state === 'done').toBe(true);
  const again = await takeIn(csv);
  expect(again.written + again.known).toBe(2500);
  expect(again.known).toBe(stopped.written);
  const left = (await hold(csv.replaceAll('2015', '2014'))).json<IntakePreview>();
  await t.services.source.query(
    `update intake_file
      set kind = 'readings', mapping = $2, formats = $3, state = 'running', started_at = now(),
        touched_at = now() - interval '5 minutes'
      where id = $1`,
    [left.fileId, JSON.stringify(left.mapping), JSON.stringify(left.formats)],
  );
  await t.services.intake.resume();
  await t.services.intake.idle();
  expect((await client.get(`/api/intake/${left.fileId}`)).json<IntakeRun>()).toMatchObject({
    state: 'done',
    rows: 2500,
  });
});

test('a file that breaks half-way is refused whole', async () => {
  const before = await everything();
  const rows = Array.from({ length: 1500 }, (_, i) => `IT 2 B,2020-01-01,${i}`).join('\n');
  const preview = (await hold(`Plate,Date,Km\n${rows}\nIT 2 B,"2020-01-02,7\n`)).json<IntakePreview>();
  await start(preview);
  await t.services.intake.idle();
  expect((await client.get(`/api/intake/${preview.fileId}`)).json<IntakeRun>()).toMatchObject({
    state: 'failed',
    written: 0,
    reason: expect.stringContaining('never closed'),
  });
  expect(await everything()).toEqual(before);
});

test.each([
  ['', 'empty'],
  ['\n\n', 'name the columns'],
  [' ,,\nIT 9,QV20T,\n', 'name the columns'],
  ['a,b\n', 'nothing below'],
  ['PK\u0003\u0004\u0000\u0000', 'no text'],
])('%j is refused with the mend', async (file, words) => {
  const response = await hold(file);
  expect(response.statusCode).toBe(400);
  expect(response.json<ProblemDetails>().detail).toContain(words);
});

test('broken files of every kind never give a 500 and never write half', async () => {
  const before = await everything();
  const cell = fc.oneof(
    fc.string({ maxLength: 12 }),
    fc.constantFrom(
      'IT 1 A',
      '2024-01-02',
      '31.12.2020',
      '148,000',
      '"',
      '""',
      '=1+1',
      '\u{1F697}',
      'unknown',
      'sound',
      '-1',
      '9'.repeat(40),
    ),
  );
  const sheet = fc
    .tuple(
      fc.constantFrom(
        'Plate,Date,Reading',
        'Plate;Engine;Km',
        'Plate,Component,Date',
        'Plate,Weak point,Date,Result',
        'a,b',
      ),
      fc.array(fc.array(cell, { maxLength: 5 }), { maxLength: 6 }),
      fc.constantFrom(',', ';', '\t'),
      fc.constantFrom('\n', '\r\n', '\r'),
    )
    .map(([head, rows, mark, end]) => Buffer.from([head, ...rows.map((row) => row.join(mark))].join(end)));
  const broken = fc.oneof(
    sheet,
    fc.uint8Array({ maxLength: 300 }).map((bytes) => Buffer.from(bytes)),
    fc.string({ maxLength: 300 }).map((text) => Buffer.from(text, 'utf16le')),
    fc.string({ maxLength: 200 }).map((text) => Buffer.from(`Plate,Date,Km\n${text}`, 'latin1')),
  );
  await fc.assert(
    fc.asyncProperty(broken, async (file) => {
      const response = await hold(file);
      expect([200, 400]).toContain(response.statusCode);
      if (response.statusCode === 400) {
        expect(response.json<ProblemDetails>().detail.length).toBeGreaterThan(10);
        return;
      }
      const preview = response.json<IntakePreview>();
      const begun = await start(preview);
      expect([200, 400]).toContain(begun.statusCode);
      if (begun.statusCode !== 200) return;
      await t.services.intake.idle();
      const run = (await client.get(`/api/intake/${preview.fileId}`)).json<IntakeRun>();
      expect(['done', 'failed']).toContain(run.state);
      // Every row is answered for: written, known, or handed back; and what failed as a file wrote nothing.
      if (run.state === 'done') expect(run.written + run.known + run.bad).toBe(run.rows);
      else expect(run.written).toBe(0);
    }),
    { numRuns: FUZZ },
  );
  const after = await everything();
  expect(after[0]).toBe(before[0]);
}, 3_600_000);

test.each(['vehicles', 'visits', 'bench', 'weak-points', 'engines'])(
  'the list of %s leaves as CSV, whole, and no cell of it runs',
  async (name) => {
    await t.services.source.query("update vehicle set note = '=1+1', model = '@SUM(A1)' where plate_key = 'it1a'");
    const response = await client.get(`/api/lists/${name}.csv`);
    expect(response.statusCode).toBe(200);
    expect(response.headers['content-type']).toMatch(/^text\/csv/);
    const rows = response.body.split('\r\n').filter(Boolean);
    const tables: Readonly<Record<string, string>> = {
      vehicles: 'vehicle where retracted_at is null',
      visits: "visit where state = 'planned' and retracted_at is null",
      bench: 'experience where parts + brought_in > 0',
      'weak-points': "weak_point where state <> 'superseded'",
      engines: 'engine_family',
    };
    expect(rows).toHaveLength(1 + (await count(tables[name]!)));
    expect(response.body).not.toMatch(/(^|,|")[=@]/m);
  },
);

test('a vehicle’s own lists leave as CSV too', async () => {
  const [vehicle] = (await client.get('/api/vehicles?q=it1a')).json<{ rows: { id: string }[] }>().rows;
  const history = (await client.get(`/api/lists/history/${vehicle!.id}.csv`)).body;
  expect(history).toContain('Thermostat housing');
  expect((await client.get(`/api/lists/changes/${vehicle!.id}.csv`)).body).toContain('Imported from sheet.csv');
  const point = await t.point('qv20t-thermostat');
  expect((await client.get(`/api/lists/campaign/${point}.csv?left=all`)).body).toContain('IT 1 A');
  expect((await client.get(`/api/lists/bench-parts/${point}.csv`)).body.split('\r\n')[0]).toContain('became');
});

describe('files that would end a server', () => {
  const alive = async (): Promise<void> => expect((await client.get('/api/health')).statusCode).toBe(200);
  afterEach(alive);

  test.each([
    ['0000', 'is no year'],
    ['9999', 'is no year'],
    ['1.1.0000', 'is no date'],
    ['12345-01-01', 'is no date'],
  ])('first registered %s is handed back with its reason, and the others are written', async (cell, reason) => {
    const plate = `PO ${cell}`;
    const run = await takeIn(`Plate,Engine,First registered\n${plate} a,QV20T,${cell}\n${plate} b,QV20T,2012\n`);
    expect(run).toMatchObject({ state: 'done', written: 1, bad: 1 });
    expect(run.faults[0]!.reason).toContain(reason);
  });

  test.each([
    ['1'.repeat(40), 'more digits'],
    ['-5 x', 'is no engine serial'],
    ['12.345.678', null],
    ['9007199254740991', null],
  ])('a serial of %s', async (cell, reason) => {
    const run = await takeIn(`Plate;Engine;Serial\nSE ${cell.slice(0, 9)};QV20T;${cell}\n`);
    expect(run).toMatchObject({ state: 'done', written: reason === null ? 1 : 0, bad: reason === null ? 0 : 1 });
    if (reason !== null) expect(run.faults[0]!.reason).toContain(reason);
  });

  test('a row that only the database refuses is found among a thousand, and the rest is written', async () => {
    await t.services.source.query(
      "alter table vehicle add constraint only_here check (note is distinct from 'poison')",
    );
    const rows = Array.from({ length: 700 }, (_, i) => `BI ${i},QV20T,${i === 437 ? 'poison' : 'fine'}`);
    const run = await takeIn(`Plate,Engine,Note\n${rows.join('\n')}\n`);
    await t.services.source.query('alter table vehicle drop constraint only_here');
    expect(run).toMatchObject({ state: 'done', rows: 700, written: 699, bad: 1 });
    expect(run.faults).toEqual([{ line: 439, reason: expect.stringContaining('cannot be kept') }]);
  });

  test('a fault of ours ends the run, with its line and what is written, and not again and again', async () => {
    await t.services.source.query('alter table vehicle rename column search_text to hidden_away');
    const run = await takeIn('Plate,Engine\nFA 1,QV20T\n');
    await t.services.source.query('alter table vehicle rename column hidden_away to search_text');
    expect(run).toMatchObject({ state: 'failed', written: 0, reason: expect.stringMatching(/^line 2: .*our side/) });
    await t.services.intake.resume();
    await t.services.intake.idle();
    expect((await client.get(`/api/intake/${run.id}`)).json()).toMatchObject({ state: 'failed' });
  });

  test('the database going away in the middle is waited for', async () => {
    const preview = (
      await hold(`Plate,Engine\n${Array.from({ length: 3000 }, (_, i) => `AW ${i},QV20T`).join('\n')}\n`)
    ).json<IntakePreview>();
    expect((await start(preview)).statusCode).toBe(200);
    await new Promise((later) => {
      setTimeout(later, 120);
    });
    await t.services.source
      .query(
        `select pg_terminate_backend(pid)
          from pg_stat_activity
          where datname = current_database() and pid <> pg_backend_pid()`,
      )
      .catch(() => undefined);
    await t.services.intake.idle();
    expect((await client.get(`/api/intake/${preview.fileId}`)).json()).toMatchObject({
      state: 'done',
      written: 3000,
      bad: 0,
    });
  });

  test.each([
    [
      'a NUL far behind',
      Buffer.concat([
        Buffer.from('Plate,Engine\n'),
        Buffer.from('NU 1,QV20T\n'.repeat(130_000)),
        Buffer.from('NU 2,QV\u000020T\n'),
      ]),
      /no text/,
    ],
    ['three megabytes of semicolons', Buffer.alloc(3_000_000, ';'), /more than 200 columns/],
    ['a row of 300 columns', `${Array.from({ length: 300 }, (_, i) => `c${i}`).join(',')}\n1\n`, /300 columns/],
  ])('%s is refused in words', async (_what, file, words) => {
    const response = await hold(file);
    expect(response.statusCode).toBe(400);
    expect(response.json<ProblemDetails>().detail).toMatch(words);
  });

  test('a row too wide further down fails the run with its line, and nothing is written', async () => {
    const before = await everything();
    const run = await takeIn(`Plate,Engine\n${'WI 1,QV20T\n'.repeat(9000)}${','.repeat(2500)}\n`);
    expect(run).toMatchObject({
      state: 'failed',
      written: 0,
      reason: expect.stringMatching(/^line 9002: .*columns.*Nothing was written/),
    });
    expect(await everything()).toEqual(before);
  });
});

describe('files as spreadsheets write them', () => {
  test.each([
    [
      'UTF-16, big end first',
      Buffer.concat([
        Buffer.from([0xfe, 0xff]),
        Buffer.from('Plate\tEngine\tNote\nUB 1\tQV20T\tgrün\n', 'utf16le').swap16(),
      ]),
      'utf-16be',
      'UB 1',
    ],
    ['a first line that names the mark', 'sep=;\r\nPlate;Engine;Note\r\nSP 1;QV20T;grün\r\n', 'utf-8', 'SP 1'],
    ['UTF-8 with its mark', '\uFEFFPlate,Engine,Note\nBM 1,QV20T,grün\n', 'utf-8', 'BM 1'],
  ])('%s', async (_what, file, encoding, plate) => {
    expect((await hold(file)).json<IntakePreview>()).toMatchObject({
      encoding,
      headers: ['Plate', 'Engine', 'Note'],
      kind: 'vehicles',
    });
    expect(await takeIn(file)).toMatchObject({ state: 'done', written: 1, bad: 0 });
    expect(await t.services.source.query('select note from vehicle where plate = $1', [plate])).toEqual([
      { note: 'grün' },
    ]);
  });
});

test('with another column for the reading the file is read anew, and what fits two readings is asked', async () => {
  const text = 'plate;stand;note\nLOOK 1;60.000;12\nLOOK 2;148.500;13\nLOOK 3;90.100;14\n';
  const sent = await client.send('POST', '/api/intake?name=a.csv&kind=readings', text, { 'content-type': 'text/csv' });
  const { fileId } = sent.json<IntakePreview>();
  const look = async (body: object): Promise<IntakePreview> =>
    (await client.send('POST', `/api/intake/${fileId}/preview`, { kind: 'readings', ...body })).json();
  const mapping = { vehicle: 0, reading: 1 };
  const asked = await look({ mapping });
  expect(asked.open).toEqual(expect.arrayContaining(['decimal', 'small']));
  expect(asked.understood[0]).toEqual([null, '60', null]);
  const decided = await look({ mapping, formats: { ...asked.formats, decimal: 'comma', unit: 'km' } });
  expect(decided.understood.map((row) => row[1])).toEqual(['60,000 km', '148,500 km', '90,100 km']);
  expect(decided.open).not.toContain('small');
});

test('one old van that has hardly run is asked about, with its line', async () => {
  const sheet = 'Plate,Engine,First registered,Km\nOV 1,QV20T,2009,60\nOV 2,QV20T,2012,148500\nOV 3,QV20T,2026,40\n';
  const preview = (await hold(sheet)).json<IntakePreview>();
  expect([preview.open, preview.smallLines]).toEqual([['small'], [2]]);
});

test.each(['km', 'mi', 'h'] as const)(
  'our own list of readings read back changes nothing, on a meter in %s',
  async (unit) => {
    const id = await t.saveVehicle(client);
    await t.services.source.query('update vehicle set odometer_unit = $2 where id = $1', [id, unit]);
    await t.services.source.query(
      `insert into meter_reading (vehicle_id, day, km, user_id)
      select $1, '2024-01-01'::date + n, 60000 + n * 33.3, (select id from app_user limit 1)
      from generate_series(1, 40) as n`,
      [id],
    );
    const before = await count('meter_reading');
    const list = (await client.get(`/api/lists/readings.csv?vehicle=${id}`)).body;
    const preview = (await hold(list, 'readings.csv', '&kind=readings')).json<IntakePreview>();
    await start(preview);
    await t.services.intake.idle();
    const run = (await client.get(`/api/intake/${preview.fileId}`)).json<IntakeRun>();
    expect({ ...run, after: await count('meter_reading') }).toMatchObject({
      written: 0,
      known: 41,
      bad: 0,
      after: before,
    });
  },
);

describe('an import is one change', () => {
  /** The highest reading that counts for a vehicle. */
  const lastKm = async (plate: string): Promise<number> => {
    const [row] = await t.services.source.query<{ km: number }[]>(
      `select max(m.km) as km
        from meter_reading m
        join vehicle v on v.id = m.vehicle_id
        where v.plate = $1 and m.retracted_at is null and v.retracted_at is null`,
      [plate],
    );
    return row!.km;
  };
  const undo = (id: string) => client.send('POST', `/api/intake/${id}/undo`, {});
  const standing = async (plates: string): Promise<number> =>
    (await client.get(`/api/vehicles?q=${plates}`)).json<{ total: number }>().total;
  const sheet = (plates: readonly string[]): string =>
    `Plate,Engine,Km,Reading date,Colour\n${plates.map((plate) => `${plate},QV20T,120000,2026-10-01,red`).join('\n')}\n`;

  test('it says what it wrote and which columns it left, and is taken back as one', async () => {
    const run = await takeIn(sheet(['UNA 1', 'UNA 2', 'UNA 3']));
    expect(run).toMatchObject({
      written: 3,
      kept: { vehicle: 3, meter_reading: 3 },
      notTaken: ['Colour'],
      undone: null,
    });
    expect(await standing('una')).toBe(3);
    const back = await undo(run.id);
    expect(back.json<IntakeRun>()).toMatchObject({ state: 'done', undone: { by: 'Ruta', left: 0 } });
    expect(await standing('una')).toBe(0);
    const rows = await t.services.source.query<{ n: number }[]>(
      `select count(*) as n from meter_reading m
        join vehicle v on v.id = m.vehicle_id
        where v.plate like 'UNA%' and m.retracted_at is null`,
    );
    expect(rows[0]!.n).toBe(0);
    expect((await undo(run.id)).json<ProblemDetails>().code).toBe('already_undone');
    // Taken in again, they are all new.
    expect(await takeIn(sheet(['UNA 1', 'UNA 2', 'UNA 3']))).toMatchObject({ written: 3, known: 0 });
    expect(await standing('una')).toBe(3);
  });

  test('a vehicle that was worked on since stays whole; one that was undone by itself is not undone twice', async () => {
    const run = await takeIn(sheet(['UNB 1', 'UNB 2', 'UNB 3']));
    const idOf = async (plate: string): Promise<string> =>
      (await client.get(`/api/vehicles?q=${plate}`)).json<{ rows: { id: string }[] }>().rows[0]!.id;
    const [worked, alone] = [await idOf('unb1'), await idOf('unb2')];
    await client.send('POST', `/api/vehicles/${worked}/readings`, { day: '2026-11-10', km: 121_000 });
    const [change] = (await client.get(`/api/vehicles/${alone}/changes`)).json<{ rows: { id: string }[] }>().rows;
    await client.send('POST', `/api/changes/${change!.id}/undo`, {});
    expect((await undo(run.id)).json<IntakeRun>()).toMatchObject({ undone: { left: 1 } });
    expect(await standing('unb')).toBe(1);
    expect(await lastKm('UNB 1')).toBe(121_000);
    const undos = await t.services.source.query<{ n: number }[]>(
      "select count(*) as n from change where summary like 'Undone: Imported%' and vehicle_id = $1",
      [alone],
    );
    expect(undos[0]!.n).toBe(1);
  });

  test('readings that came in onto vehicles on file go again, and what stood before stands', async () => {
    await takeIn(sheet(['UNC 1', 'UNC 2']));
    const readings = await takeIn('Plate,Reading,Date\nUNC 1,125000,2026-11-01\nUNC 2,126000,2026-11-01\n');
    expect(readings).toMatchObject({ kind: 'readings', kept: { meter_reading: 2 } });
    expect(await lastKm('UNC 1')).toBe(125_000);
    expect((await undo(readings.id)).json<IntakeRun>()).toMatchObject({ undone: { left: 0 } });
    expect([await lastKm('UNC 1'), await lastKm('UNC 2'), await standing('unc')]).toEqual([120_000, 120_000, 2]);
  });

  test('a file that is only held, or that nobody knows, is not undone', async () => {
    const held = (await hold(sheet(['UND 1']))).json<IntakePreview>();
    expect((await undo(held.fileId)).statusCode).toBe(404);
    expect((await undo('6f9619ff-8b86-4d01-b42d-00c04fc964ff')).statusCode).toBe(404);
    const mechanic = await t.signIn('tove');
    expect((await mechanic.send('POST', `/api/intake/${held.fileId}/undo`, {})).statusCode).toBe(403);
  });
});
