import type { PointState } from '@crosspeen/contract';
import {
  type ApplicabilityRule,
  type DamageFact,
  type FailureFact,
  type Forbiddable,
  type HastenFact,
  type RevisionFact,
  type SymptomFact,
  type Untold,
  type Consequence,
  type LookFact,
  type Nature,
  type Span,
  type WatchFact,
} from '@crosspeen/core';
import { day, entity, flag, float, integer, json, nullable, text, uuid, uuidKey } from '../platform/entity.ts';

/** A weak point as its row keeps it. */
export interface WeakPointRow {
  id: string;
  key: string;
  familyId: string;
  componentId: string;
  operationId: string | null;
  title: string;
  consequence: Consequence;
  safety: boolean;
  effect: string;
  signs: string;
  share: number;
  nature: Nature;
  causes: readonly (readonly Span[])[];
  /** Its cautions are kept by key; LOOK_IN_WORDS says them. */
  look: LookFact | null;
  renewMinutes: number;
  appliesTo: ApplicabilityRule;
  retiredByRevision: string | null;
  watch: WatchFact | null;
  damages: readonly DamageFact[];
  symptoms: readonly SymptomFact[];
  /** What the suspicion of it forbids. */
  forbids: readonly Forbiddable[];
  failure: FailureFact | null;
  hastens: readonly HastenFact[];
  revisions: readonly RevisionFact[];
  /** What of its life nobody told: what stands there is the usual, wide. */
  notTold: readonly Untold[];
  position: number;
  packKey: string | null;
  state: PointState;
  supersededBy: string | null;
  retiredFrom: string | null;
  writtenBy: string | null;
  version: number;
  searchText: string;
}

export const WeakPointEntity = entity<WeakPointRow>('weak_point', {
  id: uuidKey,
  key: text,
  familyId: uuid,
  componentId: uuid,
  operationId: nullable(uuid),
  title: text,
  consequence: text,
  safety: flag,
  effect: text,
  signs: text,
  share: float,
  nature: text,
  causes: json,
  look: nullable(json),
  renewMinutes: integer,
  appliesTo: json,
  retiredByRevision: nullable(text),
  watch: nullable(json),
  damages: json,
  symptoms: json,
  forbids: json,
  failure: nullable(json),
  hastens: json,
  revisions: json,
  notTold: json,
  position: integer,
  packKey: nullable(text),
  state: text,
  supersededBy: nullable(uuid),
  retiredFrom: nullable(day),
  writtenBy: nullable(uuid),
  version: integer,
  searchText: text,
});
