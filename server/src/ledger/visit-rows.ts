import type { Grade } from '@crosspeen/core';
import { day, entity, float, instant, integer, nullable, text, uuid, uuidKey } from '../platform/entity.ts';

export interface VisitRow {
  id: string;
  vehicleId: string;
  state: 'planned' | 'done' | 'called_off';
  day: string;
  km: number;
  note: string | null;
  doneDay: string | null;
  doneKm: number | null;
  version: number;
  retractedAt: Date | null;
}
export const VisitEntity = entity<VisitRow>('visit', {
  id: uuidKey,
  vehicleId: uuid,
  state: text,
  day,
  km: float,
  note: nullable(text),
  doneDay: nullable(day),
  doneKm: nullable(float),
  version: integer,
  retractedAt: nullable(instant),
});

/** A recurring task on a visit. */
export interface VisitTaskRow {
  id: string;
  visitId: string;
  taskId: string;
  position: number;
  retractedAt: Date | null;
}
export const VisitTaskEntity = entity<VisitTaskRow>('visit_task', {
  id: uuidKey,
  visitId: uuid,
  taskId: uuid,
  position: integer,
  retractedAt: nullable(instant),
});

export interface VisitJobRow {
  id: string;
  visitId: string;
  weakPointId: string;
  action: 'renew' | 'look';
  grade: Grade;
  partNumber: string | null;
  revision: string | null;
  position: number;
  retractedAt: Date | null;
}
export const VisitJobEntity = entity<VisitJobRow>('visit_job', {
  id: uuidKey,
  visitId: uuid,
  weakPointId: uuid,
  action: text,
  grade: text,
  partNumber: nullable(text),
  revision: nullable(text),
  position: integer,
  retractedAt: nullable(instant),
});
