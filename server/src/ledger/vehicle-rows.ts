import type { VehiclePlanning } from '@crosspeen/contract';
import type { DistanceUnit, DutyProfile } from '@crosspeen/core';
import { day, entity, float, instant, integer, json, nullable, text, uuid, uuidKey } from '../platform/entity.ts';

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
  planning: VehiclePlanning | null;
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
  planning: nullable(json),
  searchText: text,
  version: integer,
  retractedAt: nullable(instant),
});
