import type { CampaignRow } from '@crosspeen/contract';
import { formatSpans, fromKm, type DistanceUnit, type Span } from '@crosspeen/core';
import { stringify } from 'csv-stringify';
import { Readable } from 'node:stream';
import type { PageAsked } from '../../platform/paged.ts';
import { piped } from '../../platform/streams.ts';
import { harmless } from '../../spreadsheets/columns.ts';

/** Rows that are read at once. */
const PAGE = 500;

/** One list as columns: what each is called, and its value of a row. */
export type Columns<Row> = Readonly<Record<string, (row: Row) => string | number | null | undefined>>;

/** What stands for a word in the code, as people read it: ride_along is “ride along”. */
const spoken = (value: string): string => (/^[a-z]+(_[a-z]+)+$/.test(value) ? value.replaceAll('_', ' ') : value);

/** Text stands in quotation marks and figures do not, so that a column is of one kind from end to end. */
const cellOf = (value: string | number | null | undefined): string | number =>
  value === null || value === undefined ? '' : typeof value === 'number' ? value : harmless(spoken(value));

/**
 * A whole list as CSV (RFC 4180, UTF-8 with its mark, so that spreadsheets read it as such), page after page as it is
 * read, so that no list has to be held.
 */
export async function csvOf<Row>(
  columns: Columns<Row>,
  page: (asked: PageAsked) => Promise<{ rows: readonly Row[] }>,
): Promise<Readable> {
  // Read before anything is sent: what cannot be asked is answered, not broken off.
  const first = await page({ page: 1, pageSize: PAGE });
  async function* rows(): AsyncGenerator<(string | number)[]> {
    yield Object.keys(columns);
    for (let number = 1; ; number += 1) {
      const { rows: found } = number === 1 ? first : await page({ page: number, pageSize: PAGE });
      for (const row of found) yield Object.values(columns).map((value) => cellOf(value(row)));
      if (found.length < PAGE) return;
    }
  }
  return piped(Readable.from(rows()), stringify({ record_delimiter: 'windows', bom: true, quoted_string: true }));
}

export const reading = (km: number | null, unit: DistanceUnit): number | null =>
  km === null ? null : Math.round(fromKm(km, unit));
export const percent = (chance: number | null | undefined): string =>
  chance === null || chance === undefined ? '' : (chance * 100).toFixed(2);
export const windows = (causes: readonly (readonly Span[])[]): string => causes.map(formatSpans).join('; ');

/** The columns of a list to call from. */
export const TO_CALL: Columns<CampaignRow> = {
  plate: (row) => row.plate,
  name: (row) => row.name,
  make: (row) => row.maker,
  model: (row) => row.model,
  contact: (row) => row.contact,
  reading: (row) => reading(row.km, row.odometerUnit),
  unit: (row) => row.odometerUnit,
  verdict: (row) => row.verdict,
  'chance before the next service, %': (row) => percent(row.chance),
  'comes due': (row) => row.dueDay,
  'last look': (row) => row.lastLook,
  found: (row) => row.lastResult,
  renewed: (row) => row.renewed,
  revision: (row) => row.revision,
  'on a visit': (row) => row.planned,
  'last call': (row) => row.lastCall?.day,
  'came of it': (row) => row.lastCall?.outcome,
  'said on the phone': (row) => row.lastCall?.note,
  note: (row) => row.note,
};
