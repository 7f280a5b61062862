import {
  LINES_TOLD,
  MOST_SHEET_BYTES,
  SAID,
  type IntakeKind,
  type IntakeLook,
  type IntakePreview,
} from '@crosspeen/contract';
import type { Readable } from 'node:stream';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { Problem } from '../../platform/problem.ts';
import { smallReadings, understoodCell } from '../../spreadsheets/understood.ts';
import { guessKind, guessMapping, unitOfHeader } from '../../spreadsheets/columns.ts';
import { guessDates, guessDecimal, guessDelimiter, guessEncoding } from '../../spreadsheets/formats.ts';
import { SheetFault, sheetRecords, type SheetEncoding, type SheetRecord } from '../../spreadsheets/sheet.ts';

interface Author {
  readonly userId: string;
}
export interface HeldFile {
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
  readonly encoding: string;
  readonly delimiter: string;
}

const PIECE = 1 << 20;
/** Rows that formats are guessed from. */
const LOOKED_AT = 500;
const SAMPLE = 8;

const badFile = (fault: SheetFault): Problem =>
  new Problem(SAID.unreadableSheet(fault.message), { fields: [{ path: `line ${fault.line}`, message: fault.words }] });

/** Spreadsheets as they came, before anybody decided what is to become of them. */
export class HeldFiles {
  constructor(
    private readonly source: DataSource,
    private readonly clock: ShopClock,
  ) {}

  /**
   * Holds a file as it comes, piece by piece, and says what it seems to be. Throws bad_file, too_large; nothing of it
   * is kept then.
   */
  async hold(author: Author, name: string, body: Readable, wanted: IntakeKind | null): Promise<IntakePreview> {
    const [{ id }] = (await this.source.query<{ id: string }[]>(
      `insert into intake_file (user_id, name, bytes, encoding, delimiter)
        values ($1, $2, 0, 'utf-8', ',')
        returning id`,
      [author.userId, name.slice(0, 200) || 'sheet.csv'],
    )) as [{ id: string }];
    try {
      let bytes = 0;
      let place = 0;
      let waiting: Buffer[] = [];
      let size = 0;
      let encoding: SheetEncoding = 'utf-8';
      let decoder: TextDecoder | null = null;
      let beginning = '';
      const keep = async (): Promise<void> => {
        if (size === 0) return;
        const piece = Buffer.concat(waiting);
        if (decoder === null) {
          encoding = guessEncoding(piece);
          decoder = new TextDecoder(encoding);
        }
        const text = decoder.decode(piece, { stream: true });
        if (text.includes('\u0000')) throw new Problem(SAID.noText);
        if (place === 0) beginning = text.slice(0, 200_000);
        await this.source.query('insert into intake_piece (file_id, place, bytes) values ($1, $2, $3)', [
          id,
          place,
          piece,
        ]);
        [waiting, size, place] = [[], 0, place + 1];
      };
      for await (const chunk of body as AsyncIterable<Buffer>) {
        bytes += chunk.length;
        if (bytes > MOST_SHEET_BYTES) throw new Problem(SAID.sheetTooLarge(MOST_SHEET_BYTES / 1_000_000));
        waiting.push(chunk);
        size += chunk.length;
        if (size >= PIECE) await keep();
      }
      await keep();
      if (bytes === 0) throw new Problem(SAID.emptySheet);
      const delimiter = guessDelimiter(beginning);
      await this.source.query('update intake_file set bytes = $2, encoding = $3, delimiter = $4 where id = $1', [
        id,
        bytes,
        encoding,
        delimiter,
      ]);
      await this.source.query("delete from intake_file where state = 'held' and at < now() - interval '2 days'");
      const file = { id, name: name.slice(0, 200) || 'sheet.csv', bytes, encoding, delimiter };
      return await this.look(file, { kind: wanted, mapping: null, formats: null });
    } catch (error) {
      await this.source.query('delete from intake_file where id = $1', [id]);
      throw error;
    }
  }

  private async *pieces(fileId: string): AsyncGenerator<Buffer> {
    for (let place = 0; ; place += 1) {
      const [piece] = await this.source.query<{ bytes: Buffer }[]>(
        'select bytes from intake_piece where file_id = $1 and place = $2',
        [fileId, place],
      );
      if (!piece) return;
      yield piece.bytes;
    }
  }

  /** The rows of a held file from the first on, with their lines; pieces are read one at a time. Throws SheetFault. */
  rows(file: HeldFile): AsyncGenerator<SheetRecord> {
    return sheetRecords(this.pieces(file.id), file);
  }

  /** What the file seems to hold, how its columns and formats are understood, and its first rows. */
  private async look(
    file: HeldFile,
    wanted: Omit<IntakeLook, 'kind'> & { readonly kind: IntakeKind | null },
  ): Promise<IntakePreview> {
    let headers: string[] = [];
    const seen: string[][] = [];
    const lines: number[] = [];
    try {
      let at = 0;
      for await (const { record, line } of this.rows(file)) {
        if (at === 0) headers = record.map((header) => header.trim().slice(0, 80));
        else {
          seen.push([...record]);
          lines.push(line);
        }
        at += 1;
        if (at > LOOKED_AT) break;
      }
    } catch (error) {
      if (error instanceof SheetFault) throw badFile(error);
      throw error;
    }
    if (headers.length === 0 || headers.every((header) => header === '')) throw new Problem(SAID.noColumnNames);
    if (seen.length === 0) throw new Problem(SAID.noRows);
    await this.source.query('update intake_file set headers = $2 where id = $1', [file.id, JSON.stringify(headers)]);
    const kind = wanted.kind ?? guessKind(headers);
    const mapping = wanted.mapping ?? guessMapping(kind, headers);
    const cells = (...columns: string[]): string[] =>
      columns.flatMap((column) =>
        mapping[column] === undefined
          ? []
          : seen.map((row) => row[mapping[column]!] ?? '').filter((cell) => cell.trim() !== ''),
      );
    const dates = guessDates(cells('date', 'firstRegistered', 'readingDate'));
    const decimal = guessDecimal(cells('reading', 'serial'));
    const unit = unitOfHeader(mapping['reading'] === undefined ? undefined : headers[mapping['reading']]);
    const formats = wanted.formats ?? { date: dates.order, decimal: decimal.decimal, unit: unit ?? 'own' };
    const cellOf = (row: readonly string[], column: string): string =>
      mapping[column] === undefined ? '' : (row[mapping[column]] ?? '');
    const small = smallReadings(
      seen.map((row, at) => ({
        line: lines[at]!,
        reading: cellOf(row, 'reading'),
        unit: cellOf(row, 'unit'),
        firstRegistered: cellOf(row, 'firstRegistered'),
      })),
      formats,
      Number(this.clock.todayIso().slice(0, 4)),
    );
    const open: IntakePreview['open'] = [
      ...(dates.open ? ['date' as const] : []),
      ...(decimal.open ? ['decimal' as const] : []),
      ...(mapping['reading'] !== undefined && unit === null && mapping['unit'] === undefined ? ['unit' as const] : []),
      ...(small.length > 0 ? ['small' as const] : []),
    ];
    const columnAt = new Map(Object.entries(mapping).map(([column, place]) => [place, column]));
    return {
      fileId: file.id,
      name: file.name,
      bytes: file.bytes,
      kind,
      encoding: file.encoding,
      delimiter: file.delimiter,
      headers,
      sample: seen.slice(0, SAMPLE).map((row) => row.map((cell) => cell.slice(0, 200))),
      mapping,
      formats,
      understood: seen.slice(0, SAMPLE).map((row) => {
        const rowUnit = (mapping['unit'] === undefined ? '' : (row[mapping['unit']] ?? '')).trim();
        return row.map((cell, place) => understoodCell(columnAt.get(place), cell, formats, rowUnit));
      }),
      open,
      smallLines: small.slice(0, LINES_TOLD),
    };
  }

  /** Reads a held file anew, as another kind or with columns and formats that were decided. */
  async lookAgain(fileId: string, wanted: IntakeLook): Promise<IntakePreview> {
    const [file] = await this.source.query<HeldFile[]>(
      "select id, name, bytes, encoding, delimiter from intake_file where id = $1 and state = 'held'",
      [fileId],
    );
    if (!file) throw new Problem(SAID.fileGone);
    return this.look(file, wanted);
  }
}
