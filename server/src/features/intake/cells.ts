import { MOST_KM, MOST_SERIAL, type IntakeFormats, type IntakeKind } from '@crosspeen/contract';
import { dayFromIso, DISTANCE_UNITS, isoFromDay, toKm, type DistanceUnit } from '@crosspeen/core';
import type { BulkRows } from './bulk.ts';
import { unquoted } from '../../spreadsheets/columns.ts';
import { readDate, readFigure, UNIT_ALSO, unitInCell, YEARS } from '../../spreadsheets/formats.ts';

/** One row of a file: its line, and its cells by the column they were taken for. */
export interface SheetRow {
  readonly line: number;
  readonly cells: Readonly<Record<string, string>>;
  readonly raw: readonly string[];
}
export interface RowFault {
  readonly line: number;
  readonly raw: readonly string[];
  readonly reason: string;
}
export interface Sorted {
  readonly rows: BulkRows;
  readonly written: number;
  readonly known: number;
  readonly faults: readonly RowFault[];
}
export interface SortGround {
  readonly kind: IntakeKind;
  readonly formats: IntakeFormats;
  readonly today: number;
}

/** Why a row cannot be taken, in words with the mend. */
export class Fault extends Error {}
export const fault = (reason: string): never => {
  throw new Fault(reason);
};

const LONGEST = {
  plate: 20,
  name: 60,
  model: 60,
  market: 60,
  contact: 120,
  note: 300,
  partNumber: 40,
  revision: 10,
} as const;

/** A column as people say it: cameOut is “came out”. */
export const called = (column: string): string => column.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);
export const text = (row: SheetRow, column: string): string => unquoted((row.cells[column] ?? '').trim());
export const short = (row: SheetRow, column: keyof typeof LONGEST): string | null => {
  const value = text(row, column);
  if (value.length > LONGEST[column])
    fault(`${called(column)} has ${value.length} characters; at most ${LONGEST[column]} can be kept`);
  return value === '' ? null : value;
};
export function day(row: SheetRow, column: string, { formats, today }: SortGround): string | null {
  const cell = text(row, column);
  if (cell === '') return null;
  const iso =
    readDate(cell, formats.date) ??
    fault(`“${cell}” is no date; write ${{ ymd: '2024-05-31', dmy: '31.5.2024', mdy: '5/31/2024' }[formats.date]}`);
  if (dayFromIso(iso)! > today) fault(`${cell} has not come yet; only what has happened can be imported`);
  return iso;
}
/** The unit that a row names in its column of units; null where it names none. */
export const unitNamed = (row: SheetRow): DistanceUnit | null =>
  oneOf(row, 'unit', DISTANCE_UNITS, { also: UNIT_ALSO });

/**
 * A reading in km, by the unit that stands in its cell, else in the row's column of units, else the one decided for the
 * file; `own` is the vehicle's. Null for an empty cell.
 */
export function km(row: SheetRow, column: string, { formats }: SortGround, own: DistanceUnit): number | null {
  const cell = text(row, column);
  if (cell === '') return null;
  const figure =
    readFigure(cell, formats.decimal) ?? fault(`“${cell}” is no figure; write digits only, such as 148000`);
  const said = unitInCell(cell) ?? unitNamed(row) ?? (formats.unit === 'own' ? own : formats.unit);
  const value = toKm(figure, said);
  if (value < 0) fault(`“${cell}” is negative; a meter never is`);
  if (value > MOST_KM) fault(`“${cell}” is more than any vehicle runs; check the number of digits`);
  return value;
}
/** What else is read as one of a list of words, and by which word one is called in the mend where that is another. */
export interface Wording<Word extends string> {
  readonly also?: Readonly<Record<string, Word>>;
  readonly called?: Readonly<Partial<Record<Word, string>>>;
}

/** One of a list of words; spaces, hyphens and case do not matter. */
export function oneOf<Word extends string>(
  row: SheetRow,
  column: string,
  words: readonly Word[],
  { also = {}, called: names }: Wording<Word> = {},
): Word | null {
  const cell = text(row, column)
    .toLowerCase()
    .replace(/[\s-]+/g, '_');
  if (cell === '') return null;
  return (
    words.find((word) => word === cell) ??
    also[cell] ??
    fault(
      `“${text(row, column)}” is not understood under ${called(column)}; write ${words.map((word) => names?.[word] ?? word.replaceAll('_', ' ')).join(', ')}`,
    )
  );
}
/** An engine's number: digits, which may be parted by spaces, points or strokes. */
export function serialOf(row: SheetRow): number | null {
  const cell = text(row, 'serial');
  if (cell === '') return null;
  const digits = cell.replace(/[\s.,/-]/g, '');
  if (!/^\d+$/.test(digits)) fault(`“${cell}” is no engine serial; write its digits`);
  if (digits.length > 16 || Number(digits) > MOST_SERIAL)
    fault(`“${cell}” has more digits than an engine serial; check them`);
  return Number(digits);
}
/** A day of first registration, or the middle of a bare year. */
export function registered(row: SheetRow, ground: SortGround): string | null {
  const cell = text(row, 'firstRegistered');
  if (!/^\d{4}$/.test(cell)) return day(row, 'firstRegistered', ground);
  const thisYear = Number(isoFromDay(ground.today).slice(0, 4));
  if (Number(cell) < YEARS.first || Number(cell) > thisYear)
    fault(`“${cell}” is no year a vehicle was registered in; write a year up to ${thisYear}, or leave it empty`);
  return Number(cell) === thisYear ? `${cell}-01-01` : `${cell}-07-01`;
}
export const yes = (row: SheetRow, column: string): boolean => /^(y|yes|true|1|x|ja)$/i.test(text(row, column));
