import type { SettingsValues } from '@crosspeen/contract';
import { entity, integer, json } from '../platform/entity.ts';

export interface SettingRow {
  id: number;
  values: SettingsValues;
  version: number;
}
export const SettingEntity = entity<SettingRow>('setting', {
  id: { type: 'smallint', primary: true },
  values: json,
  version: integer,
});
