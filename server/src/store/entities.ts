import { ComponentEntity, PartEntity } from '../knowledge/component.ts';
import { OperationEntity } from '../knowledge/operation.ts';
import {
  AuthorityEntity,
  CautionEntity,
  FamilyEntity,
  FeatureEntity,
  LibraryChangeEntity,
  MakerEntity,
  NoticeEntity,
  PackEntity,
  PackUploadEntity,
  SymptomEntity,
  ToolEntity,
  VariantEntity,
} from '../knowledge/rows.ts';
import { StatementEntity } from '../knowledge/statement.ts';
import { UpkeepTaskEntity } from '../knowledge/upkeep.ts';
import { WeakPointEntity } from '../knowledge/weak-point-row.ts';
import { ChangeEntity, ChangeItemEntity } from '../ledger/change-rows.ts';
import {
  BayTabletEntity,
  OneTimeLinkEntity,
  PeopleChangeEntity,
  SessionEntity,
  UserEntity,
} from '../ledger/people-rows.ts';
import { SettingEntity } from '../ledger/setting-rows.ts';
import { VehicleEntity } from '../ledger/vehicle-rows.ts';
import { RECORDS } from '../ledger/records.ts';
import { VisitEntity, VisitJobEntity, VisitTaskEntity } from '../ledger/visit-rows.ts';
import { WalkEntity, WalkEntryEntity } from '../ledger/walk-rows.ts';

/** Every table that is read or written row by row; what is only ever reckoned in sets has none. */
export const ENTITIES = [
  UserEntity,
  SessionEntity,
  BayTabletEntity,
  OneTimeLinkEntity,
  PeopleChangeEntity,
  SettingEntity,
  VehicleEntity,
  ...RECORDS.map(([, { entity }]) => entity),
  VisitEntity,
  VisitJobEntity,
  VisitTaskEntity,
  WalkEntity,
  WalkEntryEntity,
  ChangeEntity,
  ChangeItemEntity,
  MakerEntity,
  AuthorityEntity,
  ComponentEntity,
  PartEntity,
  ToolEntity,
  CautionEntity,
  SymptomEntity,
  FamilyEntity,
  VariantEntity,
  FeatureEntity,
  OperationEntity,
  WeakPointEntity,
  StatementEntity,
  UpkeepTaskEntity,
  NoticeEntity,
  PackEntity,
  PackUploadEntity,
  LibraryChangeEntity,
];
