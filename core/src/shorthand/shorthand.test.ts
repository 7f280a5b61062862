import fc from 'fast-check';
import { dayFromIso, isoFromDay } from '../units/day.ts';
import { parseDay } from './date.ts';
import { parseFigure } from './figure.ts';
import { compactKey, understandLine } from './lookupLine.ts';
import { formatSpans, parseSpans, type Span } from './window.ts';

const TODAY = dayFromIso('2026-11-24')!;
const understand = (line: string, unit: 'km' | 'mi' = 'km') => understandLine(line, TODAY, unit);
const codes = (line: string): string[] => understand(line).problems.map(({ code }) => code);

test.each([
  ['148k', 148_000],
  ['148.5k', 148_500],
  ['148,000', 148_000],
  ['148.000', 148_000],
  ["1'480", 1480],
  ['148 000', 148_000],
  ['92000', 92_000],
  ['-5', -5],
  ['2.5', 2.5],
  ['2,5', 2.5],
  [' 2.5 ', 2.5],
  ['1.234.567', 1_234_567],
  ['1234.567', 1234.567],
  ['148.500k', 148_500],
  ['-1.5k', -1500],
])('figure %s', (text, value) => expect(parseFigure(text)).toBe(value));
test.each(['', 'k', 'abc', '1.2.3', '12e5', '١٢'])('no figure: %j', (text) => expect(parseFigure(text)).toBeNull());

test.each([
  ['2016-05-14', '2016-05-14'],
  ['14.5.2016', '2016-05-14'],
  ['14/05/16', '2016-05-14'],
  ['05/2016', '2016-05-01'],
  ['2016', '2016-07-01'],
  ['today', '2026-11-24'],
  ['+14d', '2026-12-08'],
  ['-3w', '2026-11-03'],
  ['+3m', '2027-02-24'],
  ['-1y', '2025-11-24'],
  ['+2y', '2028-11-24'],
  [' 2016-05-14 ', '2016-05-14'],
  ['2016-05', '2016-05-01'],
  ['14/05/98', '1998-05-14'],
  ['14/05/69', '2069-05-14'],
  ['14/05/70', '1970-05-14'],
])('date %s', (text, iso) => expect(isoFromDay(parseDay(text, TODAY)!)).toBe(iso));
test('a month added to the 31st stays in the month that is reached', () =>
  expect(isoFromDay(parseDay('+1m', dayFromIso('2027-01-31')!)!)).toBe('2027-02-28'));
test.each([
  ...['31.2.2020', '2016-13-01', 'soon', '+d', ''],
  ...['1+14d', '+14dx', '+14xd', 'x2016-05-14', '2016-05-14x', '114.5.2016', '14.5.2016x'],
  ...['105/2016', '05/2016x', '12016', '20161'],
])('no date: %j', (text) => expect(parseDay(text, TODAY)).toBeNull());

test('a window in shorthand, the k shared by both ends', () => {
  expect(parseSpans('90-130k km | 8y')).toEqual({
    ok: true,
    value: [
      { clock: 'distance', from: 90_000, to: 130_000 },
      { clock: 'age', from: 2922, to: 2922 },
    ],
  });
  expect(parseSpans('2000 h')).toEqual({ ok: true, value: [{ clock: 'hours', from: 2000, to: 2000 }] });
  expect(parseSpans('100 mi')).toEqual({
    ok: true,
    value: [{ clock: 'distance', from: 160.9344, to: 160.9344, unit: 'mi' }],
  });
});
test.each([
  ['150-0.2k km', 150, 200],
  ['2-0.2k km', 2, 200],
  ['5000k km', 5_000_000, 5_000_000],
])('window %s: the k is its own end’s where it would turn it round; the longest is still one', (text, from, to) =>
  expect(parseSpans(text)).toEqual({ ok: true, value: [{ clock: 'distance', from, to }] }),
);
test.each([
  ['90-130k', /unit/],
  ['8yx', /unit/],
  [' 8 ', /^“8” needs/],
  [' x km ', /^“x km” is no/],
  ['x-9k km', /no span/],
  ['9k-x km', /no span/],
  [' 130-90k km ', /^“130-90k km” must/],
  ['0 km', /start above zero/],
  ['0-5 km', /start above zero/],
  [' 900 y ', /^“900 y” is longer/],
  [' 5y | 6y ', /^“5y | 6y” names/],
  ['130-90k km', /start above zero/],
  ['5y | 6y', /twice/],
  ['x km', /no span/],
  ['900 y', /longer than anything lasts/],
  ['99999999 km', /longer than anything lasts/],
])('window %s says its mend', (text, mend) => {
  const parsed = parseSpans(text);
  expect(parsed.ok ? '' : parsed.problem).toMatch(mend);
});

describe('the lookup line', () => {
  test('any order, spaces and case give the same', () => {
    const wanted = { compact: 'qv20t', km: 148_000, registered: '2016-07-01' };
    for (const line of [
      'QV20T 148k 2016',
      '2016 148K qv20t',
      '  148k   QV20T 2016 ',
      '148 000 km qv20t 2016',
      '148,000km 2016 QV20T',
      'qv 20t 148k 2016',
    ]) {
      const { compact, reading, registered, problems } = understand(line);
      expect({
        line,
        compact,
        km: reading?.km,
        registered: registered && isoFromDay(registered.day),
        problems,
      }).toEqual({ line, ...wanted, problems: [] });
    }
  });

  test('miles are the international mile, typed or taken from the settings', () => {
    expect(understand('OD420K 92000 mi').reading?.km).toBeCloseTo(148_059.648, 6);
    expect(understand('OD420K 92000', 'mi').reading).toMatchObject({ unit: 'mi', unitTyped: false });
  });

  test('displacement, severity, date and make', () => {
    expect(understand('osterlin 2.0 92000 mi x1.3 14.05.2016')).toMatchObject({
      words: ['osterlin'],
      displacementL: 2,
      severity: 1.3,
      registered: { exact: true },
    });
  });

  test.each(['mi', 'mls', 'mile', 'miles', 'MILES', 'mi,'])('%s are miles', (word) =>
    expect(understand(`OD420K 92000 ${word} 2014`).reading).toMatchObject({
      value: 92_000,
      unit: 'mi',
      unitTyped: true,
    }),
  );
  test.each(['h', 'hrs', 'hours'])('%s are engine hours', (word) =>
    expect(understand(`BR36M 3200 ${word}`).reading).toMatchObject({ value: 3200, unit: 'h', unitTyped: true }),
  );
  test.each(['km', 'kms', 'kilometres', 'kilometers'])('%s are kilometres whatever is usual', (word) =>
    expect(understand(`QV20T 148000 ${word}`, 'mi').reading).toMatchObject({ km: 148_000, unit: 'km' }),
  );
  test('thousands stand apart from each other, but not from a third figure', () => {
    expect(understand('QV20T 148 000').reading).toMatchObject({ value: 148_000, unitTyped: false });
    expect(understand('QV20T 148 0000').reading?.value).not.toBe(1_480_000);
    expect(understand('QV20T 148 000 km 2016')).toMatchObject({ problems: [], reading: { unitTyped: true } });
  });
  test('what is nearly a date or a year is none', () => {
    expect(understand('QV20T 20161').registered).toBeNull();
    expect(understand('QV20T 2016x').words).toContain('2016x');
    expect(understand('QV20T x14.5.2016').words).toContain('x14.5.2016');
    expect(understand('QV20T 14.5.2016x').words).toContain('14.5.2016x');
    expect(understand('QV20T 2016 km').reading).toMatchObject({ value: 2016 });
  });
  test('a car registered today has come; one of tomorrow has not', () => {
    const today = isoFromDay(TODAY);
    expect(understand(`QV20T ${today}`).problems).toEqual([]);
    expect(codes(`QV20T ${isoFromDay(TODAY + 1)}`)).toContain('future');
    expect(understand(`QV20T ${today.slice(0, 4)}`).registered).toMatchObject({ exact: false });
  });
  test('litres are litres unless a unit makes them a reading; figures glued to words stay words', () => {
    expect(understand('osterlin 2l').displacementL).toBe(2);
    expect(understand('osterlin 2lx').words).toContain('2lx');
    expect(understand('osterlin 2.0 km').displacementL).toBeNull();
    expect(understand('km 2.0 osterlin').displacementL).toBe(2);
    expect(understand('QV20T 90k').reading).toMatchObject({ value: 90_000, unitTyped: false });
    expect(understand('QV20T 90 km').reading).toMatchObject({ value: 90, unitTyped: true });
    expect(understand('QV20T - ...').words).toEqual(['QV20T']);
  });

  test.each([
    ['2016-05', '2016-05-01'],
    ['2016-05-14', '2016-05-14'],
    ['14.5.16', '2016-05-14'],
    ['05.2016', '2016-05-01'],
    ['5/1998', '1998-05-01'],
    ['1950', '1950-07-01'],
  ])('registered %s', (typed, iso) => {
    const { registered, problems } = understand(`QV20T ${typed}`);
    expect(isoFromDay(registered!.day)).toBe(iso);
    expect(problems).toEqual([]);
  });
  test('this year is the middle of it, once that has come', () => {
    expect(isoFromDay(understand('QV20T 2026').registered!.day)).toBe('2026-07-01');
    const march = dayFromIso('2026-03-01')!;
    expect(understandLine('QV20T 2026', march, 'km').registered).toEqual({ day: march, exact: false });
  });
  test.each([
    ['x1.25', 1.25],
    ['x1,3', 1.3],
    ['×2', 2],
    ['x0.2', 0.2],
    ['x5', 5],
  ])('severity %s', (typed, factor) => {
    const { severity, chips, problems } = understand(`QV20T ${typed}`);
    expect({ severity, kind: chips[1]!.kind, problems }).toEqual({ severity: factor, kind: 'severity', problems: [] });
  });
  test.each(['x0.1', 'x12'])('severity %s is out of sense, and not used', (typed) => {
    expect(codes(`QV20T ${typed}`)).toEqual(['severity']);
    expect(understand(`QV20T ${typed}`).severity).toBe(1);
  });
  test.each([
    ['2,0l', 2],
    ['12.5', 12.5],
    ['12l', 12],
  ])('displacement %s', (typed, litres) => {
    const { displacementL, chips } = understand(`osterlin ${typed}`);
    expect([displacementL, chips[1]!.kind]).toEqual([litres, 'displacement']);
  });
  test('a displacement alone names engines', () => expect(codes('2.0l 148k')).toEqual([]));
  test.each(['ax2', 'a2.0', 'x12l', '90kmx', 'x90km', '0.1'])('%s is a word', (typed) => {
    const { words, reading, severity, displacementL } = understand(`QV20T ${typed}`);
    expect({ words, reading, severity, displacementL }).toEqual({
      words: ['QV20T', typed],
      reading: null,
      severity: 1,
      displacementL: null,
    });
  });
  test('what ends a word does not belong to it, what stands in it does', () =>
    expect(understand('QV20T;; ab,cd 148k,').words).toEqual(['QV20T', 'ab,cd']));
  test('thousands stand apart where just one group of them does', () => {
    expect(understand('QV20T +148 000').reading).toMatchObject({ value: 148_000 });
    for (const third of ['0001', '5', 'abc'])
      expect(understand(`QV20T 148 000 ${third}`).reading).toMatchObject({ value: 148_000 });
    for (const line of ['x48 000', '148x 000', '148 000 000']) expect(understand(`QV20T ${line}`).reading).toBeNull();
  });
  test('readings at the edge of sense', () => {
    expect(understand('QV20T 0 km').reading).toMatchObject({ value: 0, km: 0 });
    expect(understand('QV20T 0').reading).toBeNull();
    expect(understand('QV20T 1000').reading).toMatchObject({ value: 1000 });
    expect(understand('QV20T 3000000 km').reading).toMatchObject({ km: 3_000_000 });
    expect(codes('QV20T -5')).toEqual(['negative_reading']);
    expect(codes('QV20T -5000km')).toEqual(['negative_reading']);
  });
  test('what is said of a reading names its own unit', () => {
    expect(understand('QV20T 148k 92000 mi').problems[0]!.message).toMatch(/148,000 km and 92,000 mi\./);
    expect(understand('QV20T 9999999 mi').problems[0]!.message).toMatch(/9,999,999 mi /);
  });
  test('a line of 200 characters is read, a longer one is not', () => {
    expect(codes('QV20T'.padEnd(200))).toEqual([]);
    expect(codes('QV20T'.padEnd(201))).toEqual(['too_long']);
  });

  test('a plate keeps its digits', () =>
    expect(understand('PM 482 KX')).toMatchObject({ compact: 'pm482kx', reading: null, problems: [] }));

  test('chips tell where each thing stands', () => {
    const line = 'QV20T 148k km 2016';
    expect(understand(line).chips.map(({ kind, start, end }) => [kind, line.slice(start, end)])).toEqual([
      ['words', 'QV20T'],
      ['reading', '148k km'],
      ['registered', '2016'],
    ]);
  });

  test.each([
    ['', 'empty'],
    ['   ', 'empty'],
    ['148k 2016', 'no_engine'],
    ['🚗 🚗 🚗', 'no_engine'],
    ['QV20T 148k 92000 mi', 'two_readings'],
    ['QV20T -5k', 'negative_reading'],
    ['QV20T 9999999 km', 'absurd_reading'],
    ['QV20T 148k 2031', 'future'],
    ['QV20T 148k 1931', 'too_old'],
    ['QV20T 148k 2015 2016', 'two_dates'],
    ['QV20T 148k x9', 'severity'],
    ['QV20T 31.2.2016', 'no_such_date'],
    ['q'.repeat(10_000), 'too_long'],
  ])('%j says what to change', (line, code) => {
    expect(codes(line)).toContain(code);
    expect(understand(line).problems.every(({ message }) => message.length > 20)).toBe(true);
  });

  test('nothing that can be typed makes it throw, and every chip lies in the line', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'binary', maxLength: 300 }),
          fc
            .array(
              fc.constantFrom(
                'QV20T',
                '148k',
                '-3',
                'km',
                'mi',
                '2016',
                '1.6',
                'x2',
                '2.0l',
                "'; drop table vehicle",
                '05/2016',
                '000',
                '12 345',
              ),
              { maxLength: 12 },
            )
            .map((parts) => parts.join(' ')),
        ),
        (line) => {
          const { chips } = understand(line);
          for (const chip of chips) expect(line.slice(chip.start, chip.end)).toBe(chip.text);
        },
      ),
      { numRuns: 500 },
    );
  });

  test('keys ignore case, spaces and punctuation', () => expect(compactKey(' Qv-20 t/')).toBe('qv20t'));
});

test.each([
  ['90-130k km | 8y', '90-130k km | 8y'],
  ['2000 h', '2000h'],
  ['100 mi', '100 mi'],
  ['90-150k mi', '90-150k mi'],
  ['9k km', '9k km'],
  ['500-900 km', '500-900 km'],
  ['7.5-12y', '7.5-12y'],
  ['6m', '6m'],
  ['100d', '100d'],
])('%s is said again as %s', (typed, said) => {
  const parsed = parseSpans(typed);
  expect(parsed.ok && formatSpans(parsed.value)).toBe(said);
});

test.each([
  [12.345, 12.345, '12.3450 km'],
  [1.234, 1.234, '1.2340 km'],
  [1234.567, 1234.567, '1234.567 km'],
  [500, 2000, '500-2000 km'],
  [250, 500, '250-500 km'],
  [1100, 2000, '1100-2000 km'],
  [1000, 1250, '1-1.25k km'],
])('%d to %d km are said as %s', (from, to, said) => expect(formatSpans([{ clock: 'distance', from, to }])).toBe(said));
test.each([
  [365.25, 400, '365.25-400d'],
  [400, 730.5, '400-730.5d'],
  [365.25, 730.5, '1-2y'],
])('%d to %d days are said as %s', (from, to, said) => expect(formatSpans([{ clock: 'age', from, to }])).toBe(said));
test('miles are said in thousands from a thousand on', () => {
  const miles = (text: string): string => formatSpans((parseSpans(text) as { value: readonly Span[] }).value);
  expect([miles('1000 mi'), miles('750 mi'), miles('250-500 mi')]).toEqual(['1k mi', '750 mi', '250-500 mi']);
});

test('what is said is read again as it was', () => {
  const end = fc.double({ min: 1, max: 36_000, noNaN: true });
  fc.assert(
    fc.property(fc.constantFrom('distance', 'age', 'hours' as const), end, end, (clock, a, b) => {
      const [from, to] = a < b ? [a, b] : [b, a];
      const again = parseSpans(formatSpans([{ clock: clock, from, to }]));
      expect(again.ok).toBe(true);
      if (!again.ok) return;
      expect(again.value[0]!.clock).toBe(clock);
      expect(again.value[0]!.from).toBeCloseTo(from, 3);
      expect(again.value[0]!.to).toBeCloseTo(to, 3);
    }),
    { numRuns: 500 },
  );
});

describe('a window of which only the beginning is told', () => {
  test.each([
    ['20k+ km', { clock: 'distance', from: 20_000, to: 20_000, open: true }],
    ['20k+km', { clock: 'distance', from: 20_000, to: 20_000, open: true }],
    ['8+ y', { clock: 'age', from: 8 * 365.25, to: 8 * 365.25, open: true }],
    ['2000+ h', { clock: 'hours', from: 2000, to: 2000, open: true }],
  ])('%s', (text, span) => expect(parseSpans(text)).toEqual({ ok: true, value: [span] }));
  test('comes back as it was told', () => {
    for (const text of ['20k+ km', '8+y', '2000+h', '60k+ mi', '20k+ km | 8-12y'])
      expect(formatSpans((parseSpans(text) as { value: readonly Span[] }).value)).toBe(text);
  });
  test('two figures and a plus are no window', () =>
    expect(parseSpans('20-30k+ km')).toMatchObject({ ok: false, problem: expect.stringContaining('20k+ km') }));
});
