import type { CallOutcome } from '@crosspeen/contract';
import type { Certainty, Condition, DistanceUnit, DutyProfile, Grade, School, Source } from '@crosspeen/core';
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

export interface VehicleRow {
  id: string;
  plate: string | null;
  plateKey: string | null;
  name: string | null;
  nameKey: string | null;
  model: string | null;
  familyId: string;
  variantKey: string | null;
  firstRegistered: string | null;
  firstSeen: string | null;
  market: string | null;
  serial: number | null;
  features: Record<string, boolean>;
  fitted: Record<string, string>;
  duty: DutyProfile;
  odometerUnit: DistanceUnit;
  severity: number;
  note: string | null;
  contact: string | null;
  searchText: string;
  version: number;
  retractedAt: Date | null;
}
export const VehicleEntity = entity<VehicleRow>('vehicle', {
  id: uuidKey,
  plate: nullable(text),
  plateKey: nullable(text),
  name: nullable(text),
  nameKey: nullable(text),
  model: nullable(text),
  familyId: uuid,
  variantKey: nullable(text),
  firstRegistered: nullable(day),
  firstSeen: nullable(day),
  market: nullable(text),
  serial: nullable({ type: 'bigint' }),
  features: json,
  fitted: json,
  duty: json,
  odometerUnit: text,
  severity: float,
  note: nullable(text),
  contact: nullable(text),
  searchText: text,
  version: integer,
  retractedAt: nullable(instant),
});

export interface MeterReadingRow {
  id: string;
  vehicleId: string;
  day: string;
  km: number;
  userId: string;
  createdAt: Date;
  retractedAt: Date | null;
}
export const MeterReadingEntity = entity<MeterReadingRow>('meter_reading', {
  id: uuidKey,
  vehicleId: uuid,
  day,
  km: float,
  userId: uuid,
  createdAt: writtenAt,
  retractedAt: nullable(instant),
});

export interface ServiceRecordRow {
  id: string;
  vehicleId: string;
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
  userId: string;
  createdAt: Date;
  retractedAt: Date | null;
}
export const ServiceRecordEntity = entity<ServiceRecordRow>('service_record', {
  id: uuidKey,
  vehicleId: uuid,
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
  userId: uuid,
  createdAt: writtenAt,
  retractedAt: nullable(instant),
});

export interface FindingRow {
  id: string;
  vehicleId: string;
  weakPointId: string;
  visitId: string | null;
  day: string;
  result: Condition;
  broughtIn: boolean;
  sinceDay: string | null;
  note: string | null;
  userId: string;
  createdAt: Date;
  retractedAt: Date | null;
}
export const FindingEntity = entity<FindingRow>('finding', {
  id: uuidKey,
  vehicleId: uuid,
  weakPointId: uuid,
  visitId: nullable(uuid),
  day,
  result: text,
  broughtIn: flag,
  sinceDay: nullable(day),
  note: nullable(text),
  userId: uuid,
  createdAt: writtenAt,
  retractedAt: nullable(instant),
});

export interface MeterChangeRow {
  id: string;
  vehicleId: string;
  day: string;
  oldKm: number;
  newKm: number;
  note: string | null;
  userId: string;
  createdAt: Date;
  retractedAt: Date | null;
}
export const MeterChangeEntity = entity<MeterChangeRow>('meter_change', {
  id: uuidKey,
  vehicleId: uuid,
  day,
  oldKm: float,
  newKm: float,
  note: nullable(text),
  userId: uuid,
  createdAt: writtenAt,
  retractedAt: nullable(instant),
});

export interface EngineSwapRow {
  id: string;
  vehicleId: string;
  day: string;
  engineKm: number | null;
  note: string | null;
  userId: string;
  createdAt: Date;
  retractedAt: Date | null;
}
export const EngineSwapEntity = entity<EngineSwapRow>('engine_swap', {
  id: uuidKey,
  vehicleId: uuid,
  day,
  engineKm: nullable(float),
  note: nullable(text),
  userId: uuid,
  createdAt: writtenAt,
  retractedAt: nullable(instant),
});

export interface SchoolChoiceRow {
  id: string;
  vehicleId: string;
  weakPointId: string | null;
  school: School;
  reason: string;
  userId: string;
  createdAt: Date;
  retractedAt: Date | null;
}
export const SchoolChoiceEntity = entity<SchoolChoiceRow>('school_choice', {
  id: uuidKey,
  vehicleId: uuid,
  weakPointId: nullable(uuid),
  school: text,
  reason: text,
  userId: uuid,
  createdAt: writtenAt,
  retractedAt: nullable(instant),
});

/** A call to whoever keeps the vehicle, about a weak point or a notice. */
export interface CampaignCallRow {
  id: string;
  vehicleId: string;
  weakPointId: string | null;
  noticeId: string | null;
  day: string;
  outcome: CallOutcome;
  note: string | null;
  userId: string;
  createdAt: Date;
  retractedAt: Date | null;
}
export const CampaignCallEntity = entity<CampaignCallRow>('campaign_call', {
  id: uuidKey,
  vehicleId: uuid,
  weakPointId: nullable(uuid),
  noticeId: nullable(uuid),
  day,
  outcome: text,
  note: nullable(text),
  userId: uuid,
  createdAt: writtenAt,
  retractedAt: nullable(instant),
});
