import { amountText, formats, numberTyped, oneDigitText, setFormats, wholeText, type Formats } from './formats.ts';

const USUAL: Formats = { numberFormat: 'en-GB', dateFormat: 'en-GB', timeZone: 'UTC' };
const use = (own: Partial<Formats>): void => setFormats({ ...USUAL, ...own });
afterEach(() => setFormats(USUAL));
const DAY = Date.UTC(2027, 2, 5);
// Which of two apostrophes groups is a matter of the version of Intl.
const plain = (text: string): string => text.replace(/[\u00a0\u202f]/g, ' ').replace(/'/g, '’');

describe('numbers as the workshop writes them', () => {
  test.each([
    ['en-GB', '1,234,567', '2.5', '€1,234.50'],
    ['de-DE', '1.234.567', '2,5', '1.234,50 €'],
    ['fr-FR', '1 234 567', '2,5', '1 234,50 €'],
    ['de-CH', '1’234’567', '2.5', 'EUR 1’234.50'],
    ['en-IN', '12,34,567', '2.5', '€1,234.50'],
  ] as const)('%s', (numberFormat, whole, decimal, money) => {
    use({ numberFormat });
    expect([wholeText(1_234_567), oneDigitText(2.5), amountText(123_450, 'EUR')].map(plain)).toEqual([
      whole,
      decimal,
      money,
    ]);
  });
});

describe('dates as the workshop writes them', () => {
  test.each([
    ['en-GB', '5 Mar 2027', '5 Mar 2027, 23:30'],
    ['en-US', 'Mar 5, 2027', 'Mar 5, 2027, 23:30'],
    ['sv-SE', '2027-03-05', '2027-03-05 23:30'],
  ] as const)('%s', (dateFormat, day, instant) => {
    use({ dateFormat });
    expect(formats().day.format(DAY)).toBe(day);
    expect(plain(formats().instant.format(DAY + 23.5 * 3_600_000))).toBe(instant);
  });
  test('an instant is shown where the workshop is', () => {
    use({ timeZone: 'Europe/Athens', dateFormat: 'sv-SE' });
    expect(formats().instant.format(DAY + 22.5 * 3_600_000)).toBe('2027-03-06 00:30');
    expect(formats().day.format(DAY)).toBe('2027-03-05');
  });
});

describe('numbers as people type them', () => {
  test.each([
    ['en-GB', '1,250', 1250],
    ['en-GB', '1,5', 1.5],
    ['en-GB', '1,250.75', 1250.75],
    ['en-GB', '12.5', 12.5],
    ['de-DE', '1.250', 1250],
    ['de-DE', '1.250,75', 1250.75],
    ['de-DE', '12,5', 12.5],
    ['de-DE', '12.5', 12.5],
    ['fr-FR', '1 250,75', 1250.75],
    ['de-CH', '1’250.75', 1250.75],
    ['en-GB', ' 96 ', 96],
    ['en-GB', '', NaN],
    ['en-GB', 'ninety', NaN],
    ['en-GB', '1,2,3', NaN],
  ] as const)('%s: “%s” is %p', (numberFormat, text, value) => {
    use({ numberFormat });
    expect(numberTyped(text)).toBe(value);
  });
});
