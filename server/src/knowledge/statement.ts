import type { Pack, PackInput } from '@crosspeen/contract';
import { formatSpans, type Span, type StatementAsks, type StatementStrength } from '@crosspeen/core';
import { asColumns, entity, flag, integer, json, jsonOf, nullable, text, uuid, uuidKey } from '../platform/entity.ts';
import { readSpans } from './said.ts';

/** What one authority says of one weak point, as its row keeps it; they stand in the order of `position`. */
export interface StatementRow {
  id: string;
  weakPointId: string;
  position: number;
  authorityId: string;
  edition: string | null;
  words: string;
  /** Empty where it gives none. */
  interval: readonly Span[];
  asks: StatementAsks;
  doubted: boolean;
  /** It allows no exception. */
  always: boolean;
  strength: StatementStrength | null;
}

export const StatementEntity = entity<StatementRow>('statement', {
  id: uuidKey,
  weakPointId: uuid,
  position: integer,
  authorityId: uuid,
  edition: nullable(text),
  words: text,
  interval: json,
  asks: text,
  doubted: flag,
  always: flag,
  strength: nullable(text),
});

type PackStatement = Pack['families'][number]['weakPoints'][number]['statements'][number];
type PackStatementInput = NonNullable<
  NonNullable<PackInput['families'][number]['weakPoints']>[number]['statements']
>[number];

/** What is said, without who says it and of what. */
export type Said = Omit<StatementRow, 'id' | 'weakPointId' | 'position' | 'authorityId'>;

/** What a statement of a pack says. */
export const saidInPack = (statement: PackStatement): Said => ({
  edition: statement.edition ?? null,
  words: statement.words,
  interval: statement.interval === undefined ? [] : readSpans(statement.interval, 'interval'),
  asks: statement.asks,
  doubted: statement.doubted ?? false,
  always: statement.always ?? false,
  strength: statement.strength ?? null,
});

/** What is said, as a pack says it. */
export const saidToPack = (said: Said): Omit<PackStatementInput, 'authority'> => ({
  words: said.words,
  ...(said.edition === null ? {} : { edition: said.edition }),
  ...(said.interval.length === 0 ? {} : { interval: formatSpans(said.interval) }),
  ...(said.asks === 'renew' ? {} : { asks: said.asks }),
  ...(said.strength === null ? {} : { strength: said.strength }),
  ...(said.doubted ? { doubted: true } : {}),
  ...(said.always ? { always: true } : {}),
});

export const statementColumns = (row: Omit<StatementRow, 'id'>): Record<string, unknown> =>
  asColumns(StatementEntity, row);

/** SQL: what is said of weak point `w`, as JSON in its order, each with who says it: by name, or as packs do by key. */
export const statementsOf = (authority: 'name' | 'key'): string => `(
    select coalesce(
      jsonb_agg(
        jsonb_build_object(
          'authority', a.${authority}, 'kind', a.kind, 'region', a.region,
          ${jsonOf(StatementEntity, 's', ['edition', 'words', 'interval', 'asks', 'doubted', 'always', 'strength'])}
        )
        order by s.position
      ), '[]'
    )
    from statement s
    join authority a on a.id = s.authority_id
    where s.weak_point_id = w.id
  )`;
