import type { IntakeFormats } from '@crosspeen/contract';
import { toKm } from '@crosspeen/core';
import { readDate, readFigure } from './formats.ts';

const DATES: ReadonlySet<string> = new Set(['date', 'firstRegistered', 'readingDate']);
const FIGURE = new Intl.NumberFormat('en', { maximumFractionDigits: 1 });
/** Readings below so many km are out of sense; a file is asked about from this share of them and so many rows on. */
const SMALL = { km: 1000, share: 0.8, rows: 3 } as const;

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
  const unit = /mi(les)?$/i.test(cell)
    ? 'mi'
    : /km$/i.test(cell)
      ? 'km'
      : rowUnit || (formats.unit === 'own' ? '' : formats.unit);
  return `${FIGURE.format(figure)} ${unit}`.trim();
}

/** Tells whether most readings are so small that a mark between digits was probably read as a decimal one. */
export function mostlySmall(readings: readonly string[], formats: IntakeFormats): boolean {
  const figures = readings
    .map((cell) => readFigure(cell, formats.decimal))
    .filter((figure) => figure !== null)
    .map((figure) => toKm(figure, formats.unit === 'own' ? 'km' : formats.unit));
  return figures.length >= SMALL.rows && figures.filter((km) => km < SMALL.km).length >= SMALL.share * figures.length;
}
