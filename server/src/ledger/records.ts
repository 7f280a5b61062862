import type { CallOutcome, HistoryEntry, TriageOutcome } from '@crosspeen/contract';
import type { Certainty, Condition, Grade, School, Source } from '@crosspeen/core';
import type { EntitySchema } from 'typeorm';
import {
  day,
  entity,
  flag,
  float,
  instant,
  integer,
  json,
  nullable,
  text,
  uuid,
  uuidKey,
  writtenAt,
} from '../platform/entity.ts';

/** What every record of a vehicle has: whose it is, who wrote it and when, and whether it was taken back. */
export interface RecordRow {
  id: string;
  vehicleId: string;
  userId: string;
  createdAt: Date;
  retractedAt: Date | null;
}
const OF_EVERY_RECORD = {
  id: uuidKey,
  vehicleId: uuid,
  userId: uuid,
  createdAt: writtenAt,
  retractedAt: nullable(instant),
} as const;

export interface MeterReadingRow extends RecordRow {
  day: string;
  km: number;
}
const MeterReadingEntity = entity<MeterReadingRow>('meter_reading', { ...OF_EVERY_RECORD, day, km: float });

export interface ServiceRecordRow extends RecordRow {
  componentId: string;
  visitId: string | null;
  certainty: Certainty;
  day: string | null;
  km: number | null;
  grade: Grade;
  partNumber: string | null;
  revision: string | null;
  source: Source | null;
  cameOut: Condition | null;
  note: string | null;
}
const ServiceRecordEntity = entity<ServiceRecordRow>('service_record', {
  ...OF_EVERY_RECORD,
  componentId: uuid,
  visitId: nullable(uuid),
  certainty: text,
  day: nullable(day),
  km: nullable(float),
  grade: text,
  partNumber: nullable(text),
  revision: nullable(text),
  source: nullable(text),
  cameOut: nullable(text),
  note: nullable(text),
});

export interface FindingRow extends RecordRow {
  weakPointId: string;
  visitId: string | null;
  day: string;
  result: Condition;
  broughtIn: boolean;
  sinceDay: string | null;
  /** In the library's own words for what may be found. */
  grade: string | null;
  measured: number | null;
  unit: string | null;
  note: string | null;
}
const FindingEntity = entity<FindingRow>('finding', {
  ...OF_EVERY_RECORD,
  weakPointId: uuid,
  visitId: nullable(uuid),
  day,
  result: text,
  broughtIn: flag,
  sinceDay: nullable(day),
  grade: nullable(text),
  measured: nullable(float),
  unit: nullable(text),
  note: nullable(text),
});

export interface MeterChangeRow extends RecordRow {
  day: string;
  oldKm: number;
  newKm: number;
  note: string | null;
}
const MeterChangeEntity = entity<MeterChangeRow>('meter_change', {
  ...OF_EVERY_RECORD,
  day,
  oldKm: float,
  newKm: float,
  note: nullable(text),
});

export interface EngineSwapRow extends RecordRow {
  day: string;
  engineKm: number | null;
  note: string | null;
}
const EngineSwapEntity = entity<EngineSwapRow>('engine_swap', {
  ...OF_EVERY_RECORD,
  day,
  engineKm: nullable(float),
  note: nullable(text),
});

export interface SchoolChoiceRow extends RecordRow {
  weakPointId: string | null;
  school: School;
  reason: string;
}
const SchoolChoiceEntity = entity<SchoolChoiceRow>('school_choice', {
  ...OF_EVERY_RECORD,
  weakPointId: nullable(uuid),
  school: text,
  reason: text,
});

/** A call to whoever keeps the vehicle, about a weak point or a notice. */
export interface CampaignCallRow extends RecordRow {
  weakPointId: string | null;
  noticeId: string | null;
  day: string;
  outcome: CallOutcome;
  note: string | null;
}
const CampaignCallEntity = entity<CampaignCallRow>('campaign_call', {
  ...OF_EVERY_RECORD,
  weakPointId: nullable(uuid),
  noticeId: nullable(uuid),
  day,
  outcome: text,
  note: nullable(text),
});

/** A recurring task that was done, or is known never to have been done until that day. */
export interface UpkeepRecordRow extends RecordRow {
  taskId: string;
  visitId: string | null;
  certainty: 'done' | 'never';
  day: string;
  km: number | null;
  note: string | null;
}
const UpkeepRecordEntity = entity<UpkeepRecordRow>('upkeep_record', {
  ...OF_EVERY_RECORD,
  taskId: uuid,
  visitId: nullable(uuid),
  certainty: text,
  day,
  km: nullable(float),
  note: nullable(text),
});

/** A photo that was taken of a vehicle; the picture itself stands in a table of its own. Pixels. */
export interface PhotoRow extends RecordRow {
  weakPointId: string | null;
  taskId: string | null;
  /** The entry of a walk that it was taken with. */
  entryId: string | null;
  day: string;
  width: number;
  height: number;
}
const PhotoEntity = entity<PhotoRow>('photo', {
  ...OF_EVERY_RECORD,
  weakPointId: nullable(uuid),
  taskId: nullable(uuid),
  entryId: nullable(uuid),
  day,
  width: integer,
  height: integer,
});

/** What a customer reports: a symptom of the library, or words of their own. */
export interface SymptomReportRow extends RecordRow {
  symptomId: string | null;
  words: string;
  condition: string | null;
  day: string;
  /** The last day on which it is known not to have shown. */
  goodDay: string | null;
}
const SymptomReportEntity = entity<SymptomReportRow>('symptom_report', {
  ...OF_EVERY_RECORD,
  symptomId: nullable(uuid),
  words: text,
  condition: nullable(text),
  day,
  goodDay: nullable(day),
});

/** What a check said while the cause of a report was searched for. */
export interface TriageAnswerRow extends RecordRow {
  about: string;
  words: string;
  said: boolean;
  day: string;
}
const TriageAnswerEntity = entity<TriageAnswerRow>('triage_answer', {
  ...OF_EVERY_RECORD,
  about: text,
  words: text,
  said: flag,
  day,
});

/** How a search ended: what the repair said of an explanation. */
export interface TriageEndRow extends RecordRow {
  weakPointId: string | null;
  outcome: TriageOutcome;
  /** Ids of the symptoms that were reported. */
  symptoms: readonly string[];
  day: string;
  note: string | null;
}
const TriageEndEntity = entity<TriageEndRow>('triage_end', {
  ...OF_EVERY_RECORD,
  weakPointId: nullable(uuid),
  outcome: text,
  symptoms: json,
  day,
  note: nullable(text),
});

/** Columns of record `r` by property, `joins` that they need, and the order they are read in. SQL throughout. */
interface Reading {
  readonly columns: Readonly<Record<string, string>>;
  readonly joins?: string;
  readonly order: string;
}

/** All that is said of one kind of record, once: whoever reads, lists, takes in or undoes records goes by it. */
interface RecordKind {
  readonly entity: EntitySchema;
  /** Its line in a vehicle's history, under the wire's name for it; null where it has none. */
  readonly history: (Omit<Reading, 'order'> & { readonly kind: HistoryEntry['kind'] }) | null;
  /** What an answer is reckoned on, under its name among a vehicle's records; null where nothing is. */
  readonly reckoned: (Reading & { readonly as: string }) | null;
  /** What leaves as CSV, as the intake reads it again; null where it does not. */
  readonly out: Reading | null;
  /** Under which name it comes in many at a time; null where it does not. */
  readonly bulk: string | null;
}

/**
 * SQL: when the last search for a cause on a vehicle ended otherwise than refuted; what was reported or answered before
 * belongs to that one. `vehicle` is its id in SQL.
 */
export const sinceLastEnd = (vehicle: string): string => `coalesce(
    (
      select max(n.created_at)
      from triage_end n
      where n.vehicle_id = ${vehicle} and n.retracted_at is null and n.outcome <> 'refuted'
    ), '-infinity'
  )`;

const COMPONENT = 'join component c on c.id = r.component_id';
const WEAK_POINT = 'join weak_point w on w.id = r.weak_point_id';
const TASK = 'join upkeep_task t on t.id = r.task_id';

/** Every kind of record a vehicle may have, by its table. A new kind is one entry here, beside its row above. */
export const RECORD_KINDS = {
  meter_reading: {
    entity: MeterReadingEntity,
    history: { kind: 'reading', columns: { km: 'r.km', fits: 'true' } },
    reckoned: { as: 'readings', columns: { id: 'r.id', day: 'r.day', km: 'r.km' }, order: 'r.day, r.km' },
    out: { columns: { day: 'r.day', km: 'r.km' }, order: 'r.day' },
    bulk: 'readings',
  },
  service_record: {
    entity: ServiceRecordEntity,
    history: {
      kind: 'service',
      joins: COMPONENT,
      columns: {
        km: 'r.km',
        component: 'c.name',
        certainty: 'r.certainty',
        source: 'r.source',
        cameOut: 'r.came_out',
        grade: 'r.grade',
        partNumber: 'r.part_number',
        revision: 'r.revision',
        note: 'r.note',
      },
    },
    reckoned: {
      as: 'services',
      columns: {
        componentKey: '(select key from component where id = r.component_id)',
        certainty: 'r.certainty',
        day: 'r.day',
        grade: 'r.grade',
        revision: 'r.revision',
        source: 'r.source',
        cameOut: 'r.came_out',
      },
      order: 'r.created_at, r.id',
    },
    out: {
      columns: {
        component: 'c.name',
        day: 'r.day',
        km: 'r.km',
        certainty: 'r.certainty',
        grade: 'r.grade',
        partNumber: 'r.part_number',
        revision: 'r.revision',
        source: 'r.source',
        cameOut: 'r.came_out',
        note: 'r.note',
      },
      joins: COMPONENT,
      order: 'r.day nulls first',
    },
    bulk: 'services',
  },
  finding: {
    entity: FindingEntity,
    history: {
      kind: 'finding',
      joins: WEAK_POINT,
      columns: {
        km: 'null::float8',
        title: 'w.title',
        result: 'r.result',
        broughtIn: 'r.brought_in',
        sinceDay: 'r.since_day',
        grade: 'r.grade',
        measured: 'r.measured',
        unit: 'r.unit',
        note: 'r.note',
      },
    },
    reckoned: {
      as: 'findings',
      columns: {
        weakPointId: 'r.weak_point_id',
        day: 'r.day',
        result: 'r.result',
        broughtIn: 'r.brought_in',
        sinceDay: 'r.since_day',
      },
      order: 'r.day, r.created_at',
    },
    out: {
      columns: { title: 'w.title', day: 'r.day', result: 'r.result', broughtIn: 'r.brought_in', note: 'r.note' },
      joins: WEAK_POINT,
      order: 'r.day',
    },
    bulk: 'findings',
  },
  upkeep_record: {
    entity: UpkeepRecordEntity,
    history: {
      kind: 'upkeep',
      joins: TASK,
      columns: { km: 'r.km', title: 't.title', certainty: 'r.certainty', note: 'r.note' },
    },
    reckoned: {
      as: 'upkeep',
      columns: { taskId: 'r.task_id', certainty: 'r.certainty', day: 'r.day' },
      order: 'r.day, r.created_at',
    },
    out: {
      columns: { title: 't.title', day: 'r.day', km: 'r.km', certainty: 'r.certainty', note: 'r.note' },
      joins: TASK,
      order: 'r.day',
    },
    bulk: 'upkeep',
  },
  meter_change: {
    entity: MeterChangeEntity,
    history: { kind: 'cluster', columns: { km: 'r.old_km', newKm: 'r.new_km', note: 'r.note' } },
    reckoned: {
      as: 'meterChanges',
      columns: { day: 'r.day', oldKm: 'r.old_km', newKm: 'r.new_km' },
      order: 'r.day, r.created_at',
    },
    out: null,
    bulk: null,
  },
  engine_swap: {
    entity: EngineSwapEntity,
    history: { kind: 'engine', columns: { km: 'r.engine_km', note: 'r.note' } },
    reckoned: { as: 'engineSwaps', columns: { day: 'r.day', engineKm: 'r.engine_km' }, order: 'r.day, r.created_at' },
    out: null,
    bulk: null,
  },
  school_choice: {
    entity: SchoolChoiceEntity,
    history: null,
    reckoned: {
      as: 'choices',
      columns: { weakPointId: 'r.weak_point_id', school: 'r.school', reason: 'r.reason' },
      order: 'r.created_at',
    },
    out: null,
    bulk: null,
  },
  campaign_call: { entity: CampaignCallEntity, history: null, reckoned: null, out: null, bulk: null },
  photo: {
    entity: PhotoEntity,
    history: {
      kind: 'photo',
      joins: 'left join weak_point w on w.id = r.weak_point_id left join upkeep_task t on t.id = r.task_id',
      columns: { km: 'null::float8', title: 'coalesce(w.title, t.title)' },
    },
    reckoned: null,
    out: null,
    bulk: null,
  },
  symptom_report: {
    entity: SymptomReportEntity,
    history: { kind: 'symptom', columns: { km: 'null::float8', words: 'r.words', condition: 'r.condition' } },
    reckoned: {
      as: 'reports',
      joins: `join symptom s on s.id = r.symptom_id and r.created_at > ${sinceLastEnd('r.vehicle_id')}`,
      columns: {
        symptom: 's.key',
        words: 'r.words',
        day: 'r.day',
        goodDay: 'r.good_day',
        stop: 's.stop',
        drive: 's.drive',
        forbids: 's.forbids',
      },
      order: 'r.day, r.created_at',
    },
    out: null,
    bulk: null,
  },
  triage_answer: { entity: TriageAnswerEntity, history: null, reckoned: null, out: null, bulk: null },
  triage_end: {
    entity: TriageEndEntity,
    history: {
      kind: 'cause',
      joins: 'left join weak_point w on w.id = r.weak_point_id',
      columns: { km: 'null::float8', title: 'w.title', outcome: 'r.outcome', note: 'r.note' },
    },
    reckoned: null,
    out: null,
    bulk: null,
  },
} as const satisfies Record<string, RecordKind>;

export type RecordName = keyof typeof RECORD_KINDS;
/** The row of a kind of record. */
export type RowOfRecord<Name extends RecordName> =
  (typeof RECORD_KINDS)[Name]['entity'] extends EntitySchema<infer Row> ? Row : never;

/** The kinds of records with their tables, in their order. */
export const RECORDS = Object.entries(RECORD_KINDS) as unknown as readonly (readonly [RecordName, RecordKind])[];

/** SQL: expressions by property, as arguments of jsonb_build_object. */
export const jsonPairs = (columns: Readonly<Record<string, string>>): string =>
  Object.entries(columns)
    .map(([property, column]) => `'${property}', ${column}`)
    .join(', ');
