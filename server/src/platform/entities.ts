import { ChangeEntity, ChangeItemEntity } from '../features/changes/entity.ts';
import { SessionEntity, UserEntity } from '../features/session/entity.ts';
import { SettingEntity } from '../features/settings/entity.ts';
import {
  CampaignCallEntity,
  EngineSwapEntity,
  FindingEntity,
  MeterChangeEntity,
  MeterReadingEntity,
  SchoolChoiceEntity,
  ServiceRecordEntity,
  VehicleEntity,
} from '../features/vehicles/entity.ts';
import { VisitEntity, VisitJobEntity } from '../features/visits/entity.ts';

/**
 * Every table that is read and written row by row; the library is read by joined queries and written by the pack
 * loader.
 */
export const ENTITIES = [
  UserEntity,
  SessionEntity,
  SettingEntity,
  VehicleEntity,
  MeterReadingEntity,
  ServiceRecordEntity,
  FindingEntity,
  MeterChangeEntity,
  EngineSwapEntity,
  SchoolChoiceEntity,
  CampaignCallEntity,
  VisitEntity,
  VisitJobEntity,
  ChangeEntity,
  ChangeItemEntity,
];
