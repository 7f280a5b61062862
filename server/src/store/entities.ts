import { ChangeEntity, ChangeItemEntity } from '../ledger/change-rows.ts';
import { SessionEntity, UserEntity } from '../ledger/people-rows.ts';
import { SettingEntity } from '../ledger/setting-rows.ts';
import {
  CampaignCallEntity,
  EngineSwapEntity,
  FindingEntity,
  MeterChangeEntity,
  MeterReadingEntity,
  SchoolChoiceEntity,
  ServiceRecordEntity,
  VehicleEntity,
} from '../ledger/vehicle-rows.ts';
import { VisitEntity, VisitJobEntity } from '../ledger/visit-rows.ts';

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
