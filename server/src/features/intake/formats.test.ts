import { dayFromIso } from '@crosspeen/core';
import { Readable } from 'node:stream';
import { SHEET_LIMITS, sheetRecords, type SheetForm } from '../../spreadsheets/sheet.ts';
import fc from 'fast-check';
import { called, day, km, oneOf, registered, serialOf, short, yes, type SheetRow, type SortGround } from './cells.ts';
import { guessKind, guessMapping, harmless, unitOfHeader, unquoted } from '../../spreadsheets/columns.ts';
import {
  guessDates,
  guessDecimal,
  guessDelimiter,
  guessEncoding,
  readDate,
  readFigure,
} from '../../spreadsheets/formats.ts';
import { smallReadings, understoodCell } from '../../spreadsheets/understood.ts';

test.each([
  ['2024-05-31', 'dmy', '2024-05-31'],
  ['31.5.2024', 'dmy', '2024-05-31'],
  ['5/31/2024', 'mdy', '2024-05-31'],
  ['31/05/24', 'dmy', '2024-05-31'],
  ['1.2.98', 'dmy', '1998-02-01'],
  ['2024-05-31T10:00', 'ymd', '2024-05-31'],
  ['31.2.2024', 'dmy', null],
  ['13/13/2024', 'mdy', null],
  ['soon', 'dmy', null],
  ['1.1.202', 'dmy', null],
  ['24-5-31', 'ymd', '2024-05-31'],
  ['2024/5/31', 'mdy', '2024-05-31'],
  [' 31 . 5 . 2024 ', 'dmy', '2024-05-31'],
  ['x31.5.2024', 'dmy', null],
  ['31.5.2024x', 'dmy', null],
  ['1.2.69', 'dmy', '2069-02-01'],
  ['1.2.70', 'dmy', '1970-02-01'],
  ['1.2.1900', 'dmy', '1900-02-01'],
  ['1.2.1899', 'dmy', null],
  ['1.2.2199', 'dmy', '2199-02-01'],
  ['1.2.2200', 'dmy', null],
] as const)('the date %s read %s is %s', (cell, order, iso) => expect(readDate(cell, order)).toBe(iso));

test.each([
  ['148000', 'point', 148_000],
  ['148,000', 'point', 148_000],
  ['148.000', 'comma', 148_000],
  ['148.000,5', 'comma', 148_000.5],
  ['1,234.5 km', 'point', 1234.5],
  ["148'000", 'point', 148_000],
  ['-5', 'point', -5],
  ['12k', 'point', null],
  ['', 'point', null],
  ['1e9', 'point', null],
  [' 12 500,75 ', 'comma', 12_500.75],
  ['1.234', 'point', 1.234],
  ['3200 h', 'point', 3200],
  ['92000MILES', 'point', 92_000],
  ['5-', 'point', null],
  ['x5', 'point', null],
  ['5.', 'point', null],
] as const)('the figure %s read with a %s is %s', (cell, decimal, value) =>
  expect(readFigure(cell, decimal)).toBe(value),
);

test('the order of a date is told where the cells tell it, and asked where they do not', () => {
  expect(guessDates(['2024-01-02', '2023-12-31'])).toEqual({ order: 'ymd', open: false });
  expect(guessDates(['1/2/2024', '13/2/2024'])).toEqual({ order: 'dmy', open: false });
  expect(guessDates(['1/2/2024', '2/13/2024'])).toEqual({ order: 'mdy', open: false });
  expect(guessDates(['1.2.2024'])).toEqual({ order: 'dmy', open: false });
  expect(guessDates(['1/2/2024', '3/4/2024'])).toMatchObject({ open: true });
  expect(guessDates(['13/13/2024', '1/2/2024', '2/14/2024'])).toMatchObject({ open: true });
  expect(guessDates(['12/12/2024'])).toMatchObject({ open: true });
  expect(guessDates(['soon', ''])).toEqual({ order: 'ymd', open: false });
  expect(guessDates(['2024-01-02', '1/2/2024'])).toEqual({ order: 'dmy', open: true });
  expect(guessDates(['1.2.2024', '1/2/2024'])).toEqual({ order: 'dmy', open: true });
  expect(guessDates(['10.2.2024', '1.12.2024', '1 . 2 . 2024'])).toEqual({ order: 'dmy', open: false });
  expect(guessDates([' 2/13/2024 ', '1/2/2024'])).toEqual({ order: 'mdy', open: false });
  expect(guessDates([' 2024-01-02'])).toEqual({ order: 'ymd', open: false });
});

test('the decimal mark is told where the cells tell it, and asked where they do not', () => {
  expect(guessDecimal(['148000', '90100'])).toEqual({ decimal: 'point', open: false });
  expect(guessDecimal(['148.000,5'])).toEqual({ decimal: 'comma', open: false });
  expect(guessDecimal(['1,234,567'])).toEqual({ decimal: 'point', open: false });
  expect(guessDecimal(['148,000'])).toMatchObject({ open: true });
  expect(guessDecimal(['148,5'])).toEqual({ decimal: 'comma', open: false });
  expect(guessDecimal(['148.5', '148,000'])).toEqual({ decimal: 'point', open: false });
  expect(guessDecimal(['148.5', '148,5'])).toEqual({ decimal: 'point', open: true });
  expect(guessDecimal(['1.234.567'])).toEqual({ decimal: 'comma', open: false });
  expect(guessDecimal(['1,234.5'])).toEqual({ decimal: 'point', open: false });
  expect(guessDecimal([' 148,5 ', '1234,567'])).toEqual({ decimal: 'comma', open: false });
  expect(guessDecimal([',5', '12'])).toEqual({ decimal: 'comma', open: false });
});

test('delimiters outside of quotes, and encodings', () => {
  expect(guessDelimiter('a;b;c\n"1;2";3;4\n')).toBe(';');
  expect(guessDelimiter('a\tb\n1\t2')).toBe('\t');
  expect(guessDelimiter('plate\nX')).toBe(',');
  expect(guessDelimiter('a|b\r\n1|2')).toBe('|');
  expect(guessDelimiter('a;b\n\n1;2,5\n3;4,5')).toBe(';');
  expect(guessDelimiter('"a,b,c";d\n1;2')).toBe(';');
  expect(guessDelimiter('SEP=;\r\na,b\n1,2')).toBe(';');
  expect(guessDelimiter('')).toBe(',');
  // What most lines agree on, not what one has most of.
  expect(guessDelimiter('a;b,c,d,e\n1;2\n3;4\n5;6')).toBe(';');
  // What stands in quotes has no say: without it the strokes agree.
  expect(guessDelimiter('a;"x|y|z"\n1;"|"\n2;"||"')).toBe(';');
  expect(guessDelimiter('"a";"b"\n"1,2,3";"4,5,6"')).toBe(';');
  expect(guessEncoding(Buffer.from([0xff, 0xfe, 0x41, 0]))).toBe('utf-16le');
  expect(guessEncoding(Buffer.from([0x41, 0xfe]))).toBe('windows-1252');
  expect(guessEncoding(Buffer.from([0xfe, 0xff, 0, 0x41]))).toBe('utf-16be');
  expect(guessEncoding(Buffer.from([0xff]))).toBe('windows-1252');
  expect(guessEncoding(Buffer.from([0xff, 0x41]))).toBe('windows-1252');
  expect(guessEncoding(Buffer.from([0xfe, 0x41]))).toBe('windows-1252');
  expect(guessEncoding(Buffer.from([0x41, 0xff]))).toBe('windows-1252');
  expect(guessEncoding(Buffer.from('Kühler', 'utf-8'))).toBe('utf-8');
  expect(guessEncoding(Buffer.from('Kühler', 'latin1'))).toBe('windows-1252');
  expect(guessEncoding(Buffer.from('Kühler', 'utf-8').subarray(0, 2))).toBe('utf-8');
});

test('columns are known by what people call them, each taken once', () => {
  expect(guessMapping('readings', ['Date', 'Reg. No', 'Odometer (mi)'])).toEqual({ vehicle: 1, date: 0, reading: 2 });
  expect(guessMapping('services', ['Plate', 'Job', 'Service date', 'Part no', 'Old part'])).toMatchObject({
    vehicle: 0,
    component: 1,
    date: 2,
    partNumber: 3,
    cameOut: 4,
  });
  expect(guessKind(['Plate', 'Engine code', 'Model'])).toBe('vehicles');
  expect(guessKind(['Plate', 'Date', 'Reading'])).toBe('readings');
  expect(guessKind(['Plate', 'Weak point', 'Date', 'Result'])).toBe('findings');
  expect([
    unitOfHeader('Odometer (mi)'),
    unitOfHeader('Mileage km'),
    unitOfHeader('Hours'),
    unitOfHeader('Reading'),
  ]).toEqual(['mi', 'km', 'h', null]);
});

describe('what people call a column', () => {
  test.each([
    ['vehicles', 'plate', 'Plate, Registration, Reg, Licence plate, License-plate, Number plate, Reg no'],
    ['vehicles', 'name', 'Name, Vehicle name, Called by, Nickname'],
    ['vehicles', 'engine', 'Engine, Engine code, Code, Motor'],
    ['vehicles', 'model', 'Model, Type'],
    ['vehicles', 'variant', 'Variant'],
    [
      'vehicles',
      'firstRegistered',
      'First registered, First registration, Registered, In service, Built, Year, Registered date',
    ],
    ['vehicles', 'unit', 'Unit, Odometer unit, Meter unit'],
    [
      'vehicles',
      'reading',
      'Reading, Odometer, Mileage, km, Miles, Kilometres, Kilometers, Hours, Meter, Odo, Odometer km, Reading (mi), Meter [h], Mileage: miles',
    ],
    ['vehicles', 'readingDate', 'Reading date, Read on, Date of reading, Odometer date'],
    ['vehicles', 'market', 'Market, Sold in, Region'],
    ['vehicles', 'serial', 'Serial, Engine serial, Engine no, Engine number, Serial no., Serial number'],
    ['vehicles', 'contact', 'Contact, Phone, Telephone, Tel, Mobile, Keeper, Customer, Owner, Phone number'],
    ['vehicles', 'note', 'Note, Notes, Remark, Remarks, Comment'],
    [
      'readings',
      'vehicle',
      'Plate, Vehicle, Registration, Reg, Licence plate, License plate, Number plate, Reg no, Name, Plate no.',
    ],
    ['readings', 'date', 'Date, Day, On, When, Service date'],
    ['services', 'component', 'Component, Job, Work, Item, Renewed, Service'],
    ['services', 'certainty', 'Certainty, Sure, Known, How sure'],
    ['services', 'grade', 'Grade, Quality'],
    ['services', 'partNumber', 'Part number, Part, Part no'],
    ['services', 'revision', 'Revision, Rev'],
    ['services', 'source', 'Source, Known from, By'],
    ['services', 'cameOut', 'Came out, Old part, Condition'],
    ['findings', 'weakPoint', 'Weak point, Finding, Component, What, Item'],
    ['findings', 'result', 'Result, Found, State, Condition'],
    ['findings', 'broughtIn', 'Brought in, Came because, Towed'],
    ['upkeep', 'task', 'Task, Upkeep, Maintenance, Service, Job, Work, What'],
  ] as const)('of %s: %s', (kind, column, headers) => {
    for (const header of headers.split(', '))
      expect([header, guessMapping(kind, [header])]).toEqual([header, { [column]: 0 }]);
  });
  test('what only begins so is another', () => {
    for (const header of ['Plate colour', 'Reading glasses', 'Noted', 'Dated', ''])
      expect(guessMapping('vehicles', [header])).toEqual({});
  });
  test('the exact word beats the one with a unit', () =>
    expect(guessMapping('readings', ['Odometer (mi)', 'Reading', 'Date', 'Plate'])).toEqual({
      reading: 1,
      date: 2,
      vehicle: 3,
    }));
  test('the kind whose needed columns are all there', () => {
    expect(guessKind(['Plate', 'Component', 'Grade'])).toBe('services');
    expect(guessKind(['Plate', 'Task', 'Date'])).toBe('upkeep');
    expect(guessKind(['Plate', 'Name', 'Model', 'Engine', 'Date'])).toBe('vehicles');
  });
  test.each([
    ['Mls', 'mi'],
    ['Distance in miles', 'mi'],
    ['Kilometres', 'km'],
    ['KMS', 'km'],
    ['Meter (hrs)', 'h'],
    ['h', 'h'],
    ['Hmm', null],
    ['Skimmed', null],
    ['', null],
    [undefined, null],
  ] as const)('the unit that %j names is %j', (header, unit) => expect(unitOfHeader(header)).toBe(unit));
});

describe('a cell', () => {
  const row = (cells: Record<string, string>): SheetRow => ({ line: 2, cells, raw: [] });
  const ground = (formats: Partial<SortGround['formats']> = {}): SortGround => ({
    kind: 'vehicles',
    formats: { date: 'dmy', decimal: 'point', unit: 'own', ...formats },
    today: dayFromIso('2026-11-24')!,
  });

  test('of a date: as decided, none where it is empty, not one to come', () => {
    const on = (date: string, formats = {}) => day(row({ date }), 'date', ground(formats));
    expect(on(' 1.2.2024 ')).toBe('2024-02-01');
    expect(on('24.11.2026')).toBe('2026-11-24');
    expect(on('')).toBeNull();
    expect(() => on('25.11.2026')).toThrow('25.11.2026 has not come yet');
    expect(() => on('soon')).toThrow('“soon” is no date; write 31.5.2024');
    expect(() => on('soon', { date: 'ymd' })).toThrow('write 2024-05-31');
    expect(() => on('soon', { date: 'mdy' })).toThrow('write 5/31/2024');
  });
  test('of a reading: in the unit it says, else the one decided, else the vehicle’s own', () => {
    const at = (reading: string, unit: SortGround['formats']['unit'] = 'own') =>
      km(row({ reading }), 'reading', ground({ unit }), 'mi');
    expect(at('100')).toBeCloseTo(160.9344, 9);
    expect(at('100', 'km')).toBe(100);
    expect(at('100 km')).toBe(100);
    expect(at('100mi', 'km')).toBeCloseTo(160.9344, 9);
    expect(at('100 miles', 'km')).toBeCloseTo(160.9344, 9);
    expect(at('100 h', 'km')).toBe(4000);
    expect(at('0')).toBe(0);
    expect(at('')).toBeNull();
    expect(() => at('many')).toThrow('“many” is no figure; write digits only');
    expect(() => at('-1')).toThrow('“-1” is negative');
    expect(() => at('99999999 km')).toThrow('more than any vehicle runs');
  });
  test('of a word: whatever its spaces, strokes and letters, also by another word', () => {
    const said = (grade: string) =>
      oneOf(row({ grade }), 'grade', ['ride_along', 'sound'] as const, { also: { good: 'sound' } });
    expect(['Ride along', 'ride-along', ' SOUND ', 'Good', ''].map(said)).toEqual([
      'ride_along',
      'ride_along',
      'sound',
      'sound',
      null,
    ]);
    expect(() => said('so so')).toThrow('“so so” is not understood under grade; write ride along, sound');
  });
  test('of a text: none where it is empty, at most so long, without the mark that kept it harmless', () => {
    expect(short(row({ revision: ' B ' }), 'revision')).toBe('B');
    expect(short(row({}), 'revision')).toBeNull();
    expect(short(row({ revision: "'=B" }), 'revision')).toBe('=B');
    expect(short(row({ revision: 'x'.repeat(10) }), 'revision')).toHaveLength(10);
    expect(() => short(row({ revision: 'x'.repeat(11) }), 'revision')).toThrow(
      'revision has 11 characters; at most 10 can be kept',
    );
    expect(called('partNumber')).toBe('part number');
  });
  test('of a serial: its digits, however they are parted', () => {
    const serial = (text: string) => serialOf(row({ serial: text }));
    expect(['12 345', '12.345', '12,345', '12/345', '12-345', ''].map(serial)).toEqual([
      12_345,
      12_345,
      12_345,
      12_345,
      12_345,
      null,
    ]);
    expect(() => serial('A12')).toThrow('“A12” is no engine serial');
    expect(() => serial('9'.repeat(17))).toThrow('more digits than an engine serial');
  });
  test('of a first registration: a day, or the middle of a year; of this year its beginning', () => {
    const first = (firstRegistered: string) => registered(row({ firstRegistered }), ground());
    expect(['1.2.2014', '2014', '1900', '2026', ''].map(first)).toEqual([
      '2014-02-01',
      '2014-07-01',
      '1900-07-01',
      '2026-01-01',
      null,
    ]);
    expect(() => first('1899')).toThrow('is no year a vehicle was registered in; write a year up to 2026');
    expect(() => first('2027')).toThrow('is no year');
  });
  test('that says yes', () => {
    const said = (towed: string) => yes(row({ towed }), 'towed');
    expect(['y', 'Yes', 'TRUE', '1', 'x', 'ja', 'no', '', 'yesterday', 'maybe y'].map(said)).toEqual([
      ...Array.from({ length: 6 }, () => true),
      ...Array.from({ length: 4 }, () => false),
    ]);
  });
});

describe('a file', () => {
  const form: SheetForm = { encoding: 'utf-8', delimiter: ',' };
  const read = async (...pieces: (string | Buffer)[]) => {
    const rows: [number, ...string[]][] = [];
    for await (const { line, record } of sheetRecords(Readable.from(pieces.map((piece) => Buffer.from(piece))), form))
      rows.push([line, ...record]);
    return rows;
  };
  test('is read row by row with its lines, whatever the pieces it comes in; empty lines count but are none', async () => {
    const text = 'a,b\n"c,\nd",é\n\ne,f\n';
    const wanted = [
      [1, 'a', 'b'],
      [3, 'c,\nd', 'é'],
      [5, 'e', 'f'],
    ];
    expect(await read(text)).toEqual(wanted);
    expect(await read(...[...Buffer.from(text)].map((byte) => Buffer.from([byte])))).toEqual(wanted);
  });
  test('that names its mark keeps the numbers of its lines', async () =>
    expect(await read('sep=,\na,b\n')).toEqual([[2, 'a', 'b']]));
  test('with a quotation mark that is never closed, or too many columns, says where', async () => {
    await expect(read('a,b\n"c,d\n')).rejects.toThrow(/line \d+: a quotation mark is opened and never closed/);
    await expect(read(`a\n${','.repeat(200)}\n`)).rejects.toThrow(
      'line 2: there are 201 columns; at most 200 are read',
    );
    expect((await read(`${','.repeat(199)}\n`))[0]).toHaveLength(201);
    await expect(read(`a\n${','.repeat(2001)}`)).rejects.toThrow('line 2: there are more than 200 columns');
  });
  test('with a row longer than any says so', async () =>
    expect(read(`a,b\n"${'x'.repeat(250_000)}",c\n`)).rejects.toThrow(
      /one row is longer than 200,000 characters; a quotation mark may be missing/,
    ));
});

test('no cell that leaves is run as a formula, and figures stay figures', () => {
  expect(['=1+1', '+cmd', '@SUM(A1)', '-2+3', '\t=1'].map(harmless)).toEqual([
    "'=1+1",
    "'+cmd",
    "'@SUM(A1)",
    "'-2+3",
    "'\t=1",
  ]);
  expect(['-5', '-15.25', '-5,5', '+44 (0) 20/7946.0', 'PM 1', ''].map(harmless)).toEqual([
    '-5',
    '-15.25',
    '-5,5',
    '+44 (0) 20/7946.0',
    'PM 1',
    '',
  ]);
  expect(['-5=', '+4=4', '\r=1'].map(harmless)).toEqual(["'-5=", "'+4=4", "'\r=1"]);
  fc.assert(
    fc.property(fc.string(), (cell) => {
      fc.pre(!/^'[=+\-@\t\r]/.test(cell));
      expect(unquoted(harmless(cell))).toBe(cell);
    }),
  );
});

test('however short its rows are, a file leaves others their turn', async () => {
  const rows = 20_000;
  let [reading, turns] = [true, 0];
  const turn = (): void => {
    turns += 1;
    if (reading) setImmediate(turn);
  };
  setImmediate(turn);
  const body = Buffer.from(`Plate,Engine code\n${',\n'.repeat(rows)}`);
  for await (const _row of sheetRecords(Readable.from([body]), { encoding: 'utf-8', delimiter: ',' }));
  reading = false;
  expect(turns).toBeGreaterThanOrEqual(rows / SHEET_LIMITS.sliceLines);
});

describe('a figure that fits two readings', () => {
  test('60.000 beside 148.5 is asked about; beside 148,000,5 or 1.234.567 it is read', () => {
    expect(guessDecimal(['148.5', '60.000'])).toEqual({ decimal: 'point', open: true });
    expect(guessDecimal(['148,5', '60.000'])).toEqual({ decimal: 'comma', open: false });
    expect(guessDecimal(['1.234.567', '60.000'])).toEqual({ decimal: 'comma', open: false });
  });
  test('is shown as it is read: a date, a reading with its unit, text as it is', () => {
    const formats = { date: 'dmy', decimal: 'comma', unit: 'km' } as const;
    expect(understoodCell('reading', '60.000', formats)).toBe('60,000 km');
    expect(understoodCell('reading', '60.000', { ...formats, decimal: 'point' })).toBe('60 km');
    expect(understoodCell('reading', '900 h', { ...formats, unit: 'own' })).toBe('900 h');
    expect(understoodCell('date', '03/04/2026', formats)).toBe('2026-04-03');
    expect(understoodCell('date', '03/04/2026', { ...formats, date: 'mdy' })).toBe('2026-03-04');
    expect([understoodCell('plate', 'AB 1', formats), understoodCell('reading', 'x', formats)]).toEqual([null, null]);
  });
  test('a whole fleet with tens of km is asked about', () => {
    const formats = { date: 'dmy', decimal: 'point', unit: 'km' } as const;
    const cells = ['60.000', '148.500', '90.100', '12.000'];
    const rows = (readings: readonly string[], firstRegistered = '') =>
      readings.map((reading, at) => ({ line: at + 2, reading, unit: '', firstRegistered }));
    expect(smallReadings(rows(cells), formats, 2026)).not.toEqual([]);
    expect(smallReadings(rows(cells), { ...formats, decimal: 'comma' }, 2026)).toEqual([]);
    expect(smallReadings(rows(['60.000', '1.000']), formats, 2026)).toEqual([]);
    // One van of 2009 with 60 km is enough to be asked about; a new one is not.
    expect(smallReadings(rows(['60.000'], '2009'), formats, 2026)).toEqual([2]);
    expect(smallReadings(rows(['60.000'], '2009-04-19'), formats, 2026)).toEqual([2]);
    expect(smallReadings(rows(['60.000'], '2025'), formats, 2026)).toEqual([]);
    // Nine hundred hours are no nine hundred km, whether the cell or the column says so.
    const [machine] = rows(['900'], '2014');
    expect(smallReadings([machine!], formats, 2026)).toEqual([2]);
    expect(smallReadings([{ ...machine!, unit: 'hours' }], formats, 2026)).toEqual([]);
    expect(smallReadings([{ ...machine!, reading: '900 h' }], formats, 2026)).toEqual([]);
  });
});
