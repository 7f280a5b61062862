import { Readable } from 'node:stream';
import { SHEET_LIMITS, sheetRecords } from './sheet.ts';
import fc from 'fast-check';
import { guessKind, guessMapping, harmless, unitOfHeader, unquoted } from './columns.ts';
import { guessDates, guessDecimal, guessDelimiter, guessEncoding, readDate, readFigure } from './formats.ts';

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
});

test('the decimal mark is told where the cells tell it, and asked where they do not', () => {
  expect(guessDecimal(['148000', '90100'])).toEqual({ decimal: 'point', open: false });
  expect(guessDecimal(['148.000,5'])).toEqual({ decimal: 'comma', open: false });
  expect(guessDecimal(['1,234,567'])).toEqual({ decimal: 'point', open: false });
  expect(guessDecimal(['148,000'])).toMatchObject({ open: true });
});

test('delimiters outside of quotes, and encodings', () => {
  expect(guessDelimiter('a;b;c\n"1;2";3;4\n')).toBe(';');
  expect(guessDelimiter('a\tb\n1\t2')).toBe('\t');
  expect(guessDelimiter('plate\nX')).toBe(',');
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

test('no cell that leaves is run as a formula, and figures stay figures', () => {
  expect(['=1+1', '+cmd', '@SUM(A1)', '-2+3', '\t=1'].map(harmless)).toEqual([
    "'=1+1",
    "'+cmd",
    "'@SUM(A1)",
    "'-2+3",
    "'\t=1",
  ]);
  expect(['-5', '-5.25', 'PM 1', ''].map(harmless)).toEqual(['-5', '-5.25', 'PM 1', '']);
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
