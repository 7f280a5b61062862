import { formatSpans, type Span } from '@crosspeen/core';
import { sameContent, textOf, type Row } from './writer.ts';

/** Words for a row of a change: what it is called, whichever table it stands in. */
export const nameOf = (row: Row): string =>
  ['title', 'name', 'words', 'number', 'key'].map((column) => textOf(row, column)).find((text) => text !== null) ??
  'a link';

/** Columns that a person need not see in a change: ids, and what follows from the rest. */
const HIDDEN = new Set(['id', 'search_text', 'version', 'position', 'pack_key', 'code_key', 'written_by']);
const shown = (column: string, value: unknown): string => {
  if (column === 'share' && typeof value === 'number') return `${Math.round(value * 100)} %`;
  if (column === 'causes') return (value as Span[][]).map(formatSpans).join('; ');
  if (column === 'interval') return (value as Span[]).length === 0 ? 'none' : formatSpans(value as Span[]);
  return plain(value);
};
const plain = (value: unknown): string =>
  value === null || value === undefined ? 'nothing' : typeof value === 'string' ? value : JSON.stringify(value);

/** One row of a change in columns that differ. */
export function changedColumns(
  before: Row | null,
  after: Row | null,
): { column: string; before: string; after: string }[] {
  if (before === null || after === null) return [];
  return Object.keys(after)
    .filter(
      (column) =>
        !HIDDEN.has(column) &&
        !column.endsWith('_id') &&
        !sameContent({ [column]: before[column] }, { [column]: after[column] }, new Set()),
    )
    .map((column) => ({
      column: column.replaceAll('_', ' '),
      before: shown(column, before[column]),
      after: shown(column, after[column]),
    }));
}
