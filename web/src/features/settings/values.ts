import type { DateFormat, NumberFormat, Settings } from '@crosspeen/contract';
import {
  CONSEQUENCES,
  DUTY_KEYS,
  fromKm,
  PROOF_CLASSES,
  toKm,
  type Consequence,
  type DutyKey,
  type ProofClass,
  type School,
} from '@crosspeen/core';

import { numberTyped } from '../../ui/formats.ts';

/** The settings as they are typed. */
export interface Values {
  workshopName: string;
  distanceUnit: 'km' | 'mi';
  currency: string;
  labourRate: string;
  weekHours: string;
  taxPercent: string;
  serviceDistance: string;
  serviceDays: string;
  holdDays: string;
  visitOwner: string;
  usualDistance: string;
  safetyPercent: string;
  firstWeekday: string;
  timeZone: string;
  numberFormat: NumberFormat;
  dateFormat: DateFormat;
  backupAt: string;
  backupsKept: string;
  limits: Record<Consequence, string>;
  proof: Record<ProofClass, boolean>;
  schools: Record<Consequence, School>;
  failureCost: Record<Consequence, string>;
  dutyFactors: Record<DutyKey, { some: string; much: string }>;
}

const percent = (share: number | null): string => (share === null ? '' : String(Number((share * 100).toFixed(3))));

/** Settings as they are shown: money in whole units, shares in per cent, distances in the shop's unit. */
export const valuesOf = (settings: Settings): Values => ({
  workshopName: settings.workshopName,
  distanceUnit: settings.distanceUnit,
  currency: settings.currency,
  labourRate: String(settings.labourRateMinor / 100),
  weekHours: String(settings.weekMinutes / 60),
  taxPercent: percent(settings.taxRate),
  serviceDistance: String(Math.round(fromKm(settings.serviceKm, settings.distanceUnit))),
  serviceDays: String(settings.serviceDays),
  holdDays: String(settings.holdDays),
  visitOwner: String(settings.visitOwnerMinor / 100),
  usualDistance: String(Math.round(fromKm(settings.usualKmPerYear, settings.distanceUnit))),
  safetyPercent: percent(settings.safetyLimit),
  firstWeekday: String(settings.firstWeekday),
  timeZone: settings.timeZone,
  numberFormat: settings.numberFormat,
  dateFormat: settings.dateFormat,
  backupAt: settings.backupAt ?? '',
  backupsKept: String(settings.backupsKept),
  limits: Object.fromEntries(
    CONSEQUENCES.map((consequence) => [consequence, percent(settings.limits[consequence])]),
  ) as Record<Consequence, string>,
  proof: Object.fromEntries(PROOF_CLASSES.map((key) => [key, settings.proofFor.includes(key)])) as Values['proof'],
  schools: { ...settings.schools },
  dutyFactors: Object.fromEntries(
    DUTY_KEYS.map((key) => [
      key,
      { some: `x${settings.dutyFactors[key].some}`, much: `x${settings.dutyFactors[key].much}` },
    ]),
  ) as Values['dutyFactors'],
  failureCost: Object.fromEntries(
    CONSEQUENCES.map((consequence) => [consequence, String(settings.failureCostMinor[consequence] / 100)]),
  ) as Record<Consequence, string>,
});

/** What is typed, as the server takes it. Distances are typed in the unit they were shown in. */
export const settingsOf = (values: Values, shownIn: 'km' | 'mi', version: number): Settings => ({
  workshopName: values.workshopName,
  distanceUnit: values.distanceUnit,
  currency: values.currency.trim().toUpperCase(),
  labourRateMinor: Math.round(numberTyped(values.labourRate) * 100),
  weekMinutes: Math.round(numberTyped(values.weekHours) * 60),
  taxRate: numberTyped(values.taxPercent) / 100,
  serviceKm: toKm(numberTyped(values.serviceDistance), shownIn),
  serviceDays: Math.round(numberTyped(values.serviceDays)),
  holdDays: Math.round(numberTyped(values.holdDays)),
  visitOwnerMinor: Math.round(numberTyped(values.visitOwner) * 100),
  usualKmPerYear: toKm(numberTyped(values.usualDistance), shownIn),
  safetyLimit: numberTyped(values.safetyPercent) / 100,
  firstWeekday: Number(values.firstWeekday),
  timeZone: values.timeZone,
  numberFormat: values.numberFormat,
  dateFormat: values.dateFormat,
  backupAt: values.backupAt.trim() === '' ? null : values.backupAt.trim(),
  backupsKept: Math.round(numberTyped(values.backupsKept)),
  version,
  limits: Object.fromEntries(
    CONSEQUENCES.map((consequence) => [
      consequence,
      values.limits[consequence].trim() === '' ? null : numberTyped(values.limits[consequence]) / 100,
    ]),
  ) as Settings['limits'],
  proofFor: PROOF_CLASSES.filter((key) => values.proof[key]),
  schools: values.schools,
  dutyFactors: Object.fromEntries(
    DUTY_KEYS.map((key) => [
      key,
      {
        some: numberTyped(values.dutyFactors[key].some.replace(/^\s*x/i, '')),
        much: numberTyped(values.dutyFactors[key].much.replace(/^\s*x/i, '')),
      },
    ]),
  ) as Settings['dutyFactors'],
  failureCostMinor: Object.fromEntries(
    CONSEQUENCES.map((consequence) => [consequence, Math.round(numberTyped(values.failureCost[consequence]) * 100)]),
  ) as Settings['failureCostMinor'],
});
