import type { IntakeFormats } from '@crosspeen/contract';
import { dayFromDate, isoFromDay, type DistanceUnit } from '@crosspeen/core';
import { NAMED_DELIMITER, type SheetEncoding } from './sheet.ts';

const DATE = /^(\d{1,4})\s*[-./]\s*(\d{1,2})\s*[-./]\s*(\d{1,4})(?:[T ].*)?$/;

/** A year as people write it: two digits mean the last hundred years. */
const year = (text: string): number =>
  text.length > 2 ? Number(text) : Number(text) + (Number(text) < 70 ? 2000 : 1900);

/** Years that a date may lie in. */
export const YEARS = { first: 1900, last: 2199 } as const;

/**
 * An ISO date from a cell in the order that was decided; a cell that begins with four digits is year first whatever was
 * decided. Null when it is no date.
 */
export function readDate(cell: string, order: IntakeFormats['date']): string | null {
  const match = DATE.exec(cell.trim());
  if (!match) return null;
  const [, a, b, c] = match as unknown as [string, string, string, string];
  const [y, m, d] = a.length === 4 || order === 'ymd' ? [a, b, c] : order === 'dmy' ? [c, b, a] : [c, a, b];
  if (a.length !== 4 && c.length === 3) return null;
  // Years that no workshop has seen are slips of the keys, and no database keeps them all.
  if (year(y) < YEARS.first || year(y) > YEARS.last) return null;
  const day = dayFromDate(year(y), Number(m), Number(d));
  return day === null ? null : isoFromDay(day);
}

/** A figure from a cell: thousands marks taken out, the decimal mark as decided; null when it is none. */
export function readFigure(cell: string, decimal: IntakeFormats['decimal']): number | null {
  const bare = cell
    .trim()
    .replace(/[\s' ]/g, '')
    .replace(/(km|mi|miles|h)$/i, '');
  const plain = decimal === 'comma' ? bare.replaceAll('.', '').replace(',', '.') : bare.replaceAll(',', '');
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : null;
}

/** What units are called in a column of units. */
export const UNIT_ALSO = { miles: 'mi', hours: 'h', kilometres: 'km' } as const;

/** The unit that stands behind a figure in its own cell; null where none does. */
export const unitInCell = (cell: string): DistanceUnit | null =>
  /mi(les)?$/i.test(cell) ? 'mi' : /km$/i.test(cell) ? 'km' : /\dh$/i.test(cell.replace(/\s/g, '')) ? 'h' : null;

/** In which order dates stand, from all that were seen; `open` when they fit more than one. */
export function guessDates(cells: readonly string[]): {
  readonly order: IntakeFormats['date'];
  readonly open: boolean;
} {
  const told = cells.map((cell) => DATE.exec(cell.trim())).filter((match) => match !== null);
  if (told.length === 0 || told.every((match) => match[1]!.length === 4)) return { order: 'ymd', open: false };
  const rest = told.filter((match) => match[1]!.length !== 4);
  const first = rest.some((match) => Number(match[1]) > 12);
  const second = rest.some((match) => Number(match[2]) > 12);
  if (first !== second) return { order: first ? 'dmy' : 'mdy', open: false };
  // Points between the parts are written day first; strokes may be either.
  if (rest.every((match) => /^\d+\s*\./.test(match[0]))) return { order: 'dmy', open: false };
  return { order: 'dmy', open: true };
}

/**
 * Mark before decimals, from all figures seen. `open` if 1,234 or 1.234 may be either, also where another cell has
 * decided for the same mark: 60.000 beside 148.5 is hardly sixty.
 */
export function guessDecimal(cells: readonly string[]): {
  readonly decimal: IntakeFormats['decimal'];
  readonly open: boolean;
} {
  let [comma, point] = [0, 0];
  const doubtful = { ',': 0, '.': 0 };
  for (const cell of cells.map((each) => each.trim())) {
    const last = Math.max(cell.lastIndexOf(','), cell.lastIndexOf('.'));
    if (last < 0) continue;
    const mark = cell[last] as ',' | '.';
    const other = mark === ',' ? '.' : ',';
    const after = cell.length - last - 1;
    const thousands = after === 3 && !cell.includes(other) && /^\d{1,3}([.,]\d{3})+$/.test(cell);
    if (thousands && cell.split(mark).length === 2) doubtful[mark] += 1;
    else if (thousands) {
      if (mark === ',') point += 1;
      else comma += 1;
    } else if (mark === ',') comma += 1;
    else point += 1;
  }
  const decimal = comma > point ? 'comma' : 'point';
  const unread = doubtful[','] + doubtful['.'] > 0;
  const asTheMark = doubtful[decimal === 'comma' ? ',' : '.'] > 0;
  return { decimal, open: comma > 0 === point > 0 ? unread || comma > 0 : asTheMark };
}

const DELIMITERS = [',', ';', '\t', '|'] as const;

/** The mark between cells: the one that the first lines agree on most, outside of quotes. */
export function guessDelimiter(text: string): string {
  const named = NAMED_DELIMITER.exec(text)?.[1];
  if (named !== undefined) return named;
  const lines = text
    .split(/\r\n|\n|\r/)
    .filter((line) => line.trim() !== '')
    .slice(0, 20)
    .map((line) => line.replace(/"(?:[^"]|"")*"/g, ''));
  const score = (mark: string): number => {
    const counts = lines.map((line) => line.split(mark).length - 1);
    const first = counts[0] ?? 0;
    return first === 0 ? 0 : counts.filter((count) => count === first).length * 100 + first;
  };
  return DELIMITERS.reduce<string>((best, mark) => (score(mark) > score(best) ? mark : best), ',');
}

/** How the bytes are to be read: UTF-8 where they are, else what older spreadsheets write. */
export function guessEncoding(bytes: Buffer): SheetEncoding {
  if (bytes.length >= 2 && bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes.length >= 2 && bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  try {
    // A piece may end inside a character: what is cut off is not held against it.
    new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}
