import type { Certainty, DistanceUnit, Grade, Verdict } from '@crosspeen/core';
import { day, entity, flag, float, instant, integer, nullable, text, uuid, uuidKey, writtenAt } from '../../platform/entity.ts';

export interface VehicleRow {
  id: string; plate: string | null; plateKey: string | null; name: string | null; nameKey: string | null; model: string | null;
  familyId: string; variantKey: string | null; firstRegistered: string | null; odometerUnit: DistanceUnit; severity: number;
  note: string | null; searchText: string; version: number; retractedAt: Date | null;
}
export const VehicleEntity = entity<VehicleRow>('vehicle', {
  id: uuidKey, plate: nullable(text), plateKey: nullable(text), name: nullable(text), nameKey: nullable(text), model: nullable(text),
  familyId: uuid, variantKey: nullable(text), firstRegistered: nullable(day), odometerUnit: text, severity: float,
  note: nullable(text), searchText: text, version: integer, retractedAt: nullable(instant),
});

export interface MeterReadingRow { id: string; vehicleId: string; day: string; km: number; userId: string; createdAt: Date; retractedAt: Date | null }
export const MeterReadingEntity = entity<MeterReadingRow>('meter_reading', {
  id: uuidKey, vehicleId: uuid, day, km: float, userId: uuid, createdAt: writtenAt, retractedAt: nullable(instant),
});

export interface ServiceRecordRow {
  id: string; vehicleId: string; componentId: string; visitId: string | null; certainty: Certainty; day: string | null; km: number | null;
  grade: Grade; partNumber: string | null; revision: string | null; note: string | null; userId: string; createdAt: Date; retractedAt: Date | null;
}
export const ServiceRecordEntity = entity<ServiceRecordRow>('service_record', {
  id: uuidKey, vehicleId: uuid, componentId: uuid, visitId: nullable(uuid), certainty: text, day: nullable(day), km: nullable(float),
  grade: text, partNumber: nullable(text), revision: nullable(text), note: nullable(text), userId: uuid, createdAt: writtenAt, retractedAt: nullable(instant),
});

export interface FindingRow {
  id: string; vehicleId: string; weakPointId: string; visitId: string | null; day: string; worn: boolean; note: string | null;
  userId: string; createdAt: Date; retractedAt: Date | null;
}
export const FindingEntity = entity<FindingRow>('finding', {
  id: uuidKey, vehicleId: uuid, weakPointId: uuid, visitId: nullable(uuid), day, worn: flag, note: nullable(text),
  userId: uuid, createdAt: writtenAt, retractedAt: nullable(instant),
});

export interface StandingRow {
  vehicleId: string; rank: number; title: string | null; verdict: Verdict | null; chance: number | null; dueDay: string | null; dueKm: number | null;
  others: number; km: number | null; asOf: string; modelVersion: number;
}
export const StandingEntity = entity<StandingRow>('vehicle_standing', {
  vehicleId: { type: 'uuid', primary: true }, rank: float, title: nullable(text), verdict: nullable(text), chance: nullable(float),
  dueDay: nullable(day), dueKm: nullable(float), others: integer, km: nullable(float), asOf: day, modelVersion: integer,
});
