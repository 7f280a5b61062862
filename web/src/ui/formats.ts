import type { DateFormat, NumberFormat } from '@crosspeen/contract';

/** How this workshop writes numbers and dates; everything that is shown asks here. */
export interface Formats {
  readonly numberFormat: NumberFormat;
  readonly dateFormat: DateFormat;
  readonly timeZone: string;
}

const USUAL: Formats = { numberFormat: 'en-GB', dateFormat: 'en-GB', timeZone: 'UTC' };

const made = ({ numberFormat, dateFormat, timeZone }: Formats) => {
  const parts = new Intl.NumberFormat(numberFormat, { useGrouping: true }).formatToParts(12_345.6);
  const sign = (type: 'group' | 'decimal'): string => parts.find((part) => part.type === type)?.value ?? '';
  // ISO dates are figures throughout; the others have the month as a word.
  const iso = dateFormat === 'sv-SE';
  const month = iso ? '2-digit' : 'short';
  return {
    numberFormat,
    whole: new Intl.NumberFormat(numberFormat, { maximumFractionDigits: 0 }),
    oneDigit: new Intl.NumberFormat(numberFormat, { maximumFractionDigits: 1 }),
    day: new Intl.DateTimeFormat(dateFormat, {
      day: iso ? '2-digit' : 'numeric',
      month,
      year: 'numeric',
      timeZone: 'UTC',
    }),
    month: new Intl.DateTimeFormat(dateFormat, { month, year: 'numeric', timeZone: 'UTC' }),
    instant: new Intl.DateTimeFormat(dateFormat, {
      day: iso ? '2-digit' : 'numeric',
      month,
      year: 'numeric',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
      timeZone,
    }),
    group: sign('group'),
    decimal: sign('decimal'),
  };
};

let current = made(USUAL);
let said = JSON.stringify(USUAL);

/** Takes the workshop's own formats; the same ones again change nothing. */
export function setFormats(formats: Formats): void {
  if (JSON.stringify(formats) === said) return;
  current = made(formats);
  said = JSON.stringify(formats);
}

/** The formats as they stand. */
export const formats = (): ReturnType<typeof made> => current;

/** A whole number, grouped. */
export const wholeText = (value: number): string => current.whole.format(value);
/** A number with at most one decimal. */
export const oneDigitText = (value: number): string => current.oneDigit.format(value);
/** An amount of money, from minor units. */
export const amountText = (minor: number, currency: string): string =>
  new Intl.NumberFormat(current.numberFormat, { style: 'currency', currency }).format(minor / 100);

/** The same to whole units: what is expected or estimated has no cents. */
export const wholeAmountText = (minor: number, currency: string): string =>
  new Intl.NumberFormat(current.numberFormat, { style: 'currency', currency, maximumFractionDigits: 0 }).format(
    minor / 100,
  );

/**
 * A number as it is typed, NaN where it is none. The sign that this workshop groups by counts as one where three digits
 * follow it (1,250 is a thousand and some where that is the habit); else a dot and a comma both begin the decimals.
 */
export function numberTyped(text: string): number {
  const bare = text.trim().replace(/[\s\u00a0\u202f’']/g, '');
  if (bare === '') return NaN;
  const grouped = current.group === '.' || current.group === ',' ? current.group : '';
  const inGroups =
    grouped !== '' &&
    new RegExp(`^[-+]?\\d{1,3}(\\${grouped}\\d{3})+([${grouped === '.' ? ',' : '.'}]\\d+)?$`).test(bare);
  return Number((inGroups ? bare.replaceAll(grouped, '') : bare).replace(',', '.'));
}
