import type { IntakePreview, IntakeRun } from '@crosspeen/contract';
import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import { testApp, type Client, type TestApp } from '../../testing/harness.ts';

const UNITS = ['km', 'mi', 'h'] as const;
/** Lists that leave as CSV and can be imported, with what each is taken for. */
const LISTS = {
  'vehicles.csv': 'vehicles',
  'readings.csv': 'readings',
  'services.csv': 'services',
  'findings.csv': 'findings',
  'upkeep.csv': 'upkeep',
} as const;

/** A list as a spreadsheet program saves it again: its separator, its dates, its figures, its bytes. */
type Dialect = (csv: string) => Buffer;
const rewritten = (
  csv: string,
  {
    delimiter,
    date,
    decimal,
  }: { delimiter: string; date: (y: string, m: string, d: string) => string; decimal: string },
): string =>
  stringify(
    parse(csv, { bom: true }).map((row: string[]) =>
      row.map((cell) => {
        const day = /^(\d{4})-(\d{2})-(\d{2})$/.exec(cell);
        if (day) return date(day[1]!, day[2]!, day[3]!);
        return /^-?\d+\.\d+$/.test(cell) ? cell.replace('.', decimal) : cell;
      }),
    ),
    { delimiter, record_delimiter: 'windows' },
  );
const DIALECTS: Readonly<Record<string, Dialect>> = {
  'as it left': (csv) => Buffer.from(csv),
  'semicolons, day.month.year, comma, Windows-1252': (csv) =>
    Buffer.from(rewritten(csv, { delimiter: ';', date: (y, m, d) => `${d}.${m}.${y}`, decimal: ',' }), 'latin1'),
  'tabs, month/day/year, UTF-16': (csv) =>
    Buffer.from(
      `\uFEFF${rewritten(csv, { delimiter: '\t', date: (y, m, d) => `${Number(m)}/${Number(d)}/${y}`, decimal: '.' })}`,
      'utf16le',
    ),
};

let t: TestApp;
let owner: Client;
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
  const thermostat = await t.point('qv20t-thermostat');
  const tasks = await t.services.source.query<{ id: string }[]>(
    "select id from upkeep_task where family_id = $1 and state = 'current' order by key limit 2",
    [await t.family('QV20T')],
  );
  const sent = async (url: string, body: object): Promise<void> => {
    const answer = await owner.send('POST', url, body);
    if (answer.statusCode !== 200) throw new Error(`${url}: ${answer.body}`);
  };
  for (const odometerUnit of UNITS) {
    const id = await t.saveVehicle(owner, {
      odometerUnit,
      name: `Van, the “${odometerUnit}” one`,
      model: 'Corrow',
      reading: { day: '2026-11-20', km: 148_003.7 },
    });
    const at = `/api/vehicles/${id}`;
    for (let n = 1; n <= 12; n += 1)
      await sent(`${at}/readings`, {
        day: `20${13 + n}-0${1 + (n % 9)}-${10 + n}`,
        km: 3000 + n * 11_033.37,
        sure: true,
      });
    const renewal = { weakPointId: thermostat, certainty: 'done', grade: 'original', partNumber: null, revision: null };
    const more = { source: 'own', cameOut: null, note: null };
    await sent(`${at}/services`, { ...renewal, ...more, day: '2018-03-04', km: 61_003.3, cameOut: 'worn' });
    await sent(`${at}/services`, { ...renewal, ...more, day: '2022-12-04', km: null, partNumber: '007' });
    await sent(`${at}/findings`, {
      weakPointId: thermostat,
      day: '2024-05-06',
      result: 'sound',
      broughtIn: false,
      note: 'dry; "tight", says A. Müller',
    });
    for (const { id: taskId } of tasks)
      await sent(`${at}/upkeep`, { taskId, day: '2025-10-01', km: 140_000.49, note: '=by the owner' });
  }
  await t.services.judging.run('test');
});
afterAll(() => t.close());

const everything = async (): Promise<unknown[]> =>
  Promise.all(
    ['vehicle', 'meter_reading', 'service_record', 'finding', 'upkeep_record', 'change'].map((table) =>
      t.services.source.query(`select count(*) as n from ${table}`),
    ),
  );

describe.each(Object.entries(DIALECTS))('%s', (_words, dialect) => {
  test.each(Object.entries(LISTS))('our own %s read back changes nothing', async (name, kind) => {
    const before = await everything();
    const sheet = dialect((await owner.get(`/api/lists/${name}`)).body);
    const preview = (
      await owner.send('POST', `/api/intake?name=${name}`, sheet, { 'content-type': 'application/octet-stream' })
    ).json<IntakePreview>();
    // Strokes between small numbers fit two orders: a person says which. Nothing else is open.
    expect([preview.kind, preview.open.filter((one) => one !== 'date')]).toEqual([kind, []]);
    const { mapping } = preview;
    const formats = { ...preview.formats, ...(preview.open.includes('date') ? { date: 'mdy' as const } : {}) };
    await owner.send('POST', `/api/intake/${preview.fileId}/start`, { kind, mapping, formats });
    await t.services.intake.idle();
    const run = (await owner.get(`/api/intake/${preview.fileId}`)).json<IntakeRun>();
    expect(run).toMatchObject({ state: 'done', written: 0, bad: 0, faults: [] });
    expect([run.rows > 0, run.known]).toEqual([true, run.rows]);
    expect(await everything()).toEqual(before);
  });
});
