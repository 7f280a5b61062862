import type { Pack } from '@crosspeen/contract';
import type { AuthorityKind, EngineLayout, Forbiddable } from '@crosspeen/core';
import { day, entity, flag, float, instant, integer, json, nullable, text, uuid, uuidKey } from '../platform/entity.ts';

/** A maker of engines. */
export interface MakerRow {
  id: string;
  key: string;
  name: string;
  packKey: string | null;
}
export const MakerEntity = entity<MakerRow>('maker', { id: uuidKey, key: text, name: text, packKey: nullable(text) });

/** Who speaks in the library; a region it speaks for alone, or null. */
export interface AuthorityRow {
  id: string;
  key: string;
  kind: AuthorityKind;
  name: string;
  region: string | null;
  packKey: string | null;
}
export const AuthorityEntity = entity<AuthorityRow>('authority', {
  id: uuidKey,
  key: text,
  kind: text,
  name: text,
  region: nullable(text),
  packKey: nullable(text),
});

export interface ToolRow {
  id: string;
  key: string;
  name: string;
  /** What happens without it. */
  withoutIt: string | null;
  packKey: string | null;
}
export const ToolEntity = entity<ToolRow>('tool', {
  id: uuidKey,
  key: text,
  name: text,
  withoutIt: nullable(text),
  packKey: nullable(text),
});

export interface CautionRow {
  id: string;
  key: string;
  words: string;
  packKey: string | null;
}
export const CautionEntity = entity<CautionRow>('caution', {
  id: uuidKey,
  key: text,
  words: text,
  packKey: nullable(text),
});

/** How something shows, in a workshop's words, with the codes that go with it. */
export interface SymptomRow {
  id: string;
  key: string;
  words: string;
  codes: readonly string[];
  /** The check that tells look-alikes apart. */
  tells: string | null;
  /** Where it must not be driven on: what may happen, and what to do at once. */
  stop: string | null;
  /** Where it may be driven: how far, and what to watch. */
  drive: string | null;
  forbids: readonly Forbiddable[];
  packKey: string | null;
}
export const SymptomEntity = entity<SymptomRow>('symptom', {
  id: uuidKey,
  key: text,
  words: text,
  codes: json,
  tells: nullable(text),
  stop: nullable(text),
  drive: nullable(text),
  forbids: json,
  packKey: nullable(text),
});

/** A question or a test that tells apart causes which show alike; weak points, operations and cautions by key. */
export type CheckTold = Pack['families'][number]['checks'][number];

/** An engine family; litres. */
export interface FamilyRow {
  id: string;
  key: string;
  makerId: string;
  code: string;
  codeKey: string;
  name: string;
  displacementL: number;
  fuel: 'petrol' | 'diesel';
  aspiration: 'natural' | 'turbo';
  timingDrive: 'belt' | 'chain' | 'belt in oil' | 'gears';
  interference: boolean;
  note: string | null;
  /** How it lies in its bay; null where nobody tells. */
  layout: EngineLayout | null;
  checks: readonly CheckTold[];
  /** How else its code is written. */
  alsoWritten: readonly string[];
  searchText: string;
  packKey: string | null;
}
export const FamilyEntity = entity<FamilyRow>('engine_family', {
  id: uuidKey,
  key: text,
  makerId: uuid,
  code: text,
  codeKey: text,
  name: text,
  displacementL: float,
  fuel: text,
  aspiration: text,
  timingDrive: text,
  interference: flag,
  note: nullable(text),
  layout: nullable(json),
  checks: json,
  alsoWritten: json,
  searchText: text,
  packKey: nullable(text),
});

/** A variant of an engine family, with the models and years it was fitted to. */
export interface VariantTableRow {
  id: string;
  familyId: string;
  key: string;
  name: string;
  producedFrom: string | null;
  producedTo: string | null;
  howToTell: string | null;
  serialFrom: number | null;
  serialTo: number | null;
  models: { model: string; from: number; to: number }[];
  position: number;
  packKey: string | null;
}
export const VariantEntity = entity<VariantTableRow>('engine_variant', {
  id: uuidKey,
  familyId: uuid,
  key: text,
  name: text,
  producedFrom: nullable(day),
  producedTo: nullable(day),
  howToTell: nullable(text),
  serialFrom: nullable({ type: 'bigint' }),
  serialTo: nullable({ type: 'bigint' }),
  models: json,
  position: { type: 'smallint' },
  packKey: nullable(text),
});

/** What only some vehicles with an engine have. */
export interface FeatureRow {
  id: string;
  familyId: string;
  key: string;
  name: string;
  howToTell: string | null;
  share: number;
  position: number;
  packKey: string | null;
}
export const FeatureEntity = entity<FeatureRow>('family_feature', {
  id: uuidKey,
  familyId: uuid,
  key: text,
  name: text,
  howToTell: nullable(text),
  share: float,
  position: { type: 'smallint' },
  packKey: nullable(text),
});

/** A bulletin or a coverage. */
export interface NoticeTableRow {
  id: string;
  key: string;
  kind: 'bulletin' | 'coverage';
  authorityId: string;
  number: string;
  title: string;
  words: string;
  issued: string;
  asks: 'look' | 'renew';
  producedFrom: string | null;
  producedTo: string | null;
  coveredDays: number | null;
  coveredKm: number | null;
  endsOn: string | null;
  /** None named: all. */
  models: readonly string[];
  /** Part of the cost that a coverage pays; null: all of it. */
  pays: number | null;
  state: 'current' | 'withdrawn';
  writtenBy: string | null;
  version: number;
  packKey: string | null;
}
export const NoticeEntity = entity<NoticeTableRow>('notice', {
  id: uuidKey,
  key: text,
  kind: text,
  authorityId: uuid,
  number: text,
  title: text,
  words: text,
  issued: day,
  asks: text,
  producedFrom: nullable(day),
  producedTo: nullable(day),
  coveredDays: nullable(integer),
  coveredKm: nullable(float),
  endsOn: nullable(day),
  models: json,
  pays: nullable(float),
  state: text,
  writtenBy: nullable(uuid),
  version: integer,
  packKey: nullable(text),
});

/** A pack on file. */
export interface PackRow {
  key: string;
  title: string;
  version: string;
  licence: string;
  loadedAt: Date;
}
export const PackEntity = entity<PackRow>('library_pack', {
  key: { ...text, primary: true },
  title: text,
  version: text,
  licence: text,
  loadedAt: instant,
});

/** A pack that was sent and is looked at before it is imported. */
export interface PackUploadRow {
  id: string;
  userId: string;
  name: string;
  pack: unknown;
  at: Date;
}
export const PackUploadEntity = entity<PackUploadRow>('pack_upload', {
  id: uuidKey,
  userId: uuid,
  name: text,
  pack: json,
  at: { ...instant, insert: false, update: false },
});

/** One change of the library, with who made it. */
export interface LibraryChangeRow {
  id: string;
  at: Date;
  userId: string | null;
  kind: 'pack' | 'edit' | 'undo';
  summary: string;
  packKey: string | null;
  packVersion: string | null;
  undoes: string | null;
}
export const LibraryChangeEntity = entity<LibraryChangeRow>('library_change', {
  id: uuidKey,
  at: { ...instant, insert: false, update: false },
  userId: nullable(uuid),
  kind: text,
  summary: text,
  packKey: nullable(text),
  packVersion: nullable(text),
  undoes: nullable(uuid),
});
