import { parse, type CsvError, type Info } from 'csv-parse';
import { Readable } from 'node:stream';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { piped } from '../platform/streams.ts';

/** What is read of a spreadsheet at most; what is more is refused in words, wherever it stands. */
export const SHEET_LIMITS = {
  columns: 200,
  record: 200_000,
  rows: 1_000_000,
  slice: 1 << 15,
  sliceLines: 500,
} as const;

/** What is wrong with a file itself, by its line, in words with the mend. */
export class SheetFault extends Error {
  constructor(
    readonly line: number,
    readonly words: string,
  ) {
    super(`line ${line}: ${words}`);
  }
}

export type SheetEncoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
export interface SheetForm {
  readonly encoding: string;
  readonly delimiter: string;
}
export interface SheetRecord {
  readonly record: readonly string[];
  readonly line: number;
  readonly bytes: number;
}

const isCsvError = (error: unknown): error is CsvError & { readonly lines?: number } =>
  typeof (error as { code?: unknown } | null)?.code === 'string' && (error as { code: string }).code.startsWith('CSV_');

function faultOf(error: CsvError & { readonly lines?: number }): SheetFault {
  const line = error.lines ?? 1;
  if (error.code === 'CSV_QUOTE_NOT_CLOSED') return new SheetFault(line, 'a quotation mark is opened and never closed');
  if (error.code === 'CSV_MAX_RECORD_SIZE')
    return new SheetFault(
      line,
      `one row is longer than ${SHEET_LIMITS.record.toLocaleString('en')} characters; a quotation mark may be missing`,
    );
  return new SheetFault(line, 'the row cannot be read as comma-separated values');
}

/** Spreadsheets may begin by naming their own mark between cells; it is no row of theirs. */
export const NAMED_DELIMITER = /^\uFEFF?sep=(.)\r?\n/i;

/**
 * The text of a file, in slices small enough that others get their turn between two of them. A line with more cells
 * than any sheet has is refused before a reader makes cells of it. Throws SheetFault.
 */
async function* slices(pieces: AsyncIterable<Buffer>, { encoding, delimiter }: SheetForm): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding);
  const mark = delimiter.charCodeAt(0);
  let [line, cells, first] = [1, 0, true];
  const checked = function* (text: string): Generator<string> {
    let [from, lines] = [0, 0];
    for (let i = 0; i < text.length; i += 1) {
      const code = text.charCodeAt(i);
      if (code === 10) [line, cells, lines] = [line + 1, 0, lines + 1];
      else if (code === mark) {
        cells += 1;
        // Cells may hold the mark in quotes; ten times over, it is no sheet any more.
        if (cells > 10 * SHEET_LIMITS.columns)
          throw new SheetFault(
            line,
            `there are more than ${SHEET_LIMITS.columns} columns; take out those that are not needed`,
          );
      }
      if (i + 1 - from < SHEET_LIMITS.slice && lines < SHEET_LIMITS.sliceLines) continue;
      yield text.slice(from, i + 1);
      [from, lines] = [i + 1, 0];
    }
    if (from < text.length) yield text.slice(from);
  };
  for await (const piece of pieces) {
    let text = decoder.decode(piece, { stream: true });
    // The line that names the mark stays as an empty one, so that all others keep their numbers.
    if (first) text = text.replace(NAMED_DELIMITER, '\n');
    first = false;
    for (const slice of checked(text)) {
      yield slice;
      await nextTurn();
    }
  }
  yield decoder.decode();
}

/**
 * The rows of a file from the first on, with their lines, as they are read. Throws SheetFault with the line of what
 * cannot be.
 */
export async function* sheetRecords(pieces: AsyncIterable<Buffer>, form: SheetForm): AsyncGenerator<SheetRecord> {
  const parser = parse({
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    bom: true,
    max_record_size: SHEET_LIMITS.record,
    info: true,
    delimiter: form.delimiter,
  });
  let rows = 0;
  try {
    for await (const row of piped(
      Readable.from(slices(pieces, form), { objectMode: false, encoding: 'utf-8' }),
      parser,
    )) {
      const { record, info } = row as { record: readonly string[]; info: Info };
      if (record.length > SHEET_LIMITS.columns)
        throw new SheetFault(
          info.lines,
          `there are ${record.length} columns; at most ${SHEET_LIMITS.columns} are read. Take out those that are not needed`,
        );
      rows += 1;
      if (rows > SHEET_LIMITS.rows)
        throw new SheetFault(
          info.lines,
          `there are more than ${SHEET_LIMITS.rows.toLocaleString('en')} rows; split the file and import the parts one after the other`,
        );
      yield { record, line: info.lines, bytes: info.bytes };
    }
  } catch (error) {
    throw isCsvError(error) ? faultOf(error) : error;
  }
}
