import type { IntakeFormats } from '@crosspeen/contract';
import { DISTANCE_UNITS, toKm, type DistanceUnit } from '@crosspeen/core';
import { readDate, readFigure, UNIT_ALSO, unitInCell } from './formats.ts';

const DATES: ReadonlySet<string> = new Set(['date', 'firstRegistered', 'readingDate']);
const FIGURE = new Intl.NumberFormat('en', { maximumFractionDigits: 1 });
/** Readings below so many km are out of sense; a file is asked about from this share of them and so many rows on. */
const SMALL = { km: 1000, share: 0.8, rows: 3 } as const;
/** Years after which even one such reading is asked about. */
const OLD_YEARS = 3;

/**
 * A cell as it is read: a date as ISO, a reading with its unit. Null for a column that is text, an empty cell, and one
 * that cannot be read. `rowUnit` is what the row's column of units says.
 */
export function understoodCell(
  column: string | undefined,
  cell: string,
  formats: IntakeFormats,
  rowUnit = '',
): string | null {
  if (column === undefined || cell.trim() === '') return null;
  if (DATES.has(column)) return readDate(cell, formats.date);
  if (column !== 'reading') return null;
  const figure = readFigure(cell, formats.decimal);
  if (figure === null) return null;
  const unit = unitInCell(cell) ?? (rowUnit || (formats.unit === 'own' ? '' : formats.unit));
  return `${FIGURE.format(figure)} ${unit}`.trim();
}

/** What of a row tells whether its reading is in sense. */
export interface ReadingCells {
  readonly line: number;
  readonly reading: string;
  /** Unit of the reading; empty where the file has no column of units. */
  readonly unit: string;
  /** Date or year of the first registration; empty where the file has none. */
  readonly firstRegistered: string;
}

/** The unit of a reading, as far as the file says it; km where it leaves it to the vehicle. */
function unitOf({ reading, unit }: ReadingCells, formats: IntakeFormats): DistanceUnit {
  const named = unit.trim().toLowerCase();
  const inColumn = DISTANCE_UNITS.find((one) => one === named) ?? UNIT_ALSO[named as keyof typeof UNIT_ALSO];
  return unitInCell(reading) ?? inColumn ?? (formats.unit === 'own' ? 'km' : formats.unit);
}

/** Year of a date, or a year alone; null for another text. */
const yearOf = (cell: string, formats: IntakeFormats): number | null => {
  const iso = readDate(cell, formats.date);
  if (iso !== null) return Number(iso.slice(0, 4));
  return /^(19|20)\d{2}$/.test(cell.trim()) ? Number(cell) : null;
};

/**
 * Lines whose readings are out of sense, where the file is asked about them: most readings are so small that a mark
 * between digits was probably read as a decimal one, or a vehicle of several years has hardly run. Empty where nothing
 * is asked.
 */
export function smallReadings(
  rows: readonly ReadingCells[],
  formats: IntakeFormats,
  thisYear: number,
): readonly number[] {
  const read = rows.flatMap((row) => {
    const figure = readFigure(row.reading, formats.decimal);
    return figure === null ? [] : [{ ...row, km: toKm(figure, unitOf(row, formats)) }];
  });
  const small = read.filter(({ km }) => km < SMALL.km);
  const isMost = read.length >= SMALL.rows && small.length >= SMALL.share * read.length;
  const old = small.filter(
    ({ firstRegistered }) => thisYear - (yearOf(firstRegistered, formats) ?? thisYear) > OLD_YEARS,
  );
  return (isMost ? small : old).map(({ line }) => line);
}
