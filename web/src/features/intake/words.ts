import type { IntakeFormats, IntakeKind, IntakeRun } from '@crosspeen/contract';
import { wholeText } from '../../ui/formats.ts';
import { instantText } from '../../ui/units.ts';

export const KIND_WORDS: Readonly<Record<IntakeKind, string>> = {
  vehicles: 'vehicles',
  readings: 'readings',
  services: 'what was renewed',
  findings: 'what was found',
  upkeep: 'upkeep that was done',
};

export const COLUMN_WORDS: Readonly<Record<string, string>> = {
  plate: 'plate',
  name: 'name',
  engine: 'engine code',
  model: 'model',
  variant: 'variant',
  firstRegistered: 'first registered',
  unit: 'unit of the meter',
  reading: 'reading',
  readingDate: 'date of the reading',
  market: 'sold in',
  serial: 'engine number',
  note: 'note',
  vehicle: 'plate or name',
  date: 'date',
  component: 'component',
  certainty: 'how sure',
  grade: 'grade of the part',
  partNumber: 'part number',
  revision: 'revision',
  source: 'how it is known',
  cameOut: 'how the old part came out',
  weakPoint: 'weak point',
  task: 'upkeep task',
  result: 'good, worn or failed',
  broughtIn: 'came in because of it',
};

export const DATE_WORDS: Readonly<Record<IntakeFormats['date'], string>> = {
  ymd: 'year-month-day, 2024-05-31',
  dmy: 'day first, 31.5.2024',
  mdy: 'month first, 5/31/2024',
};
export const DECIMAL_WORDS: Readonly<Record<IntakeFormats['decimal'], string>> = {
  point: 'point: 1,234.5',
  comma: 'comma: 1.234,5',
};
export const UNIT_WORDS: Readonly<Record<IntakeFormats['unit'], string>> = {
  own: 'each vehicle’s own',
  km: 'km',
  mi: 'miles',
  h: 'engine hours',
};

/** Rows of each table that an import writes, one and several. */
const KEPT_WORDS: Readonly<Record<string, readonly [string, string]>> = {
  vehicle: ['vehicle', 'vehicles'],
  meter_reading: ['reading', 'readings'],
  service_record: ['renewal', 'renewals'],
  finding: ['finding', 'findings'],
  upkeep_record: ['upkeep record', 'upkeep records'],
  visit: ['visit', 'visits'],
};

/** What an import wrote, by kind: “120 vehicles, 118 readings”; empty where it wrote nothing. */
export const keptWords = (kept: IntakeRun['kept']): string =>
  Object.entries(kept)
    .map(([table, n]) => `${wholeText(n)} ${(KEPT_WORDS[table] ?? ['row', 'rows'])[n === 1 ? 0 : 1]}`)
    .join(', ');

/** What was left out of an import and what was taken back; one sentence each. */
export function keptNotes({ kept, notTaken, undone }: Pick<IntakeRun, 'kept' | 'notTaken' | 'undone'>): string[] {
  const wrote = keptWords(kept);
  const columns = notTaken.map((name) => `“${name}”`).join(', ');
  const stay =
    undone?.left === 1 ? '1 vehicle stays: it was' : `${wholeText(undone?.left ?? 0)} vehicles stay: they were`;
  return [
    ...(wrote === '' ? [] : [`Saved: ${wrote}.`]),
    ...(columns === '' ? [] : [`${notTaken.length === 1 ? 'Column' : 'Columns'} not taken: ${columns}.`]),
    ...(undone === null
      ? []
      : [
          `Taken back ${undone.by === null ? '' : `by ${undone.by} `}on ${instantText(undone.at)}.`,
          ...(undone.left > 0 ? [`${stay} worked on since.`] : []),
        ]),
  ];
}

/** What became of a file, in one line. */
export function runWords({
  state,
  rows,
  written,
  known,
  bad,
  reason,
}: Pick<IntakeRun, 'state' | 'rows' | 'written' | 'known' | 'bad' | 'reason'>): string {
  const figure = (n: number): string => wholeText(n);
  const all = rows === 1 ? '1 row' : `${figure(rows)} rows`;
  const parts = [
    `${figure(written)} imported`,
    ...(known > 0 ? [`${figure(known)} saved already`] : []),
    ...(bad > 0 ? [`${figure(bad)} to be mended`] : []),
  ].join(', ');
  switch (state) {
    case 'running':
      return `${all} so far: ${parts}`;
    case 'stopped':
      return `Stopped after ${all}: ${parts}. Imported again, it goes on where it stopped.`;
    case 'failed':
      return `Not imported: ${reason ?? 'the file could not be read'}`;
    case 'done':
      return `${all}: ${parts}`;
  }
}

/**
 * Column of the file for an understood column changed: a column of the file serves one at a time; null takes it away.
 */
export function mapped(
  mapping: Readonly<Record<string, number>>,
  place: number,
  column: string | null,
): Record<string, number> {
  const next = Object.fromEntries(Object.entries(mapping).filter(([other, at]) => at !== place && other !== column));
  return column === null ? next : { ...next, [column]: place };
}
