import type { VehicleUpdate } from '@crosspeen/contract';
import type { DistanceUnit } from '@crosspeen/core';
import { factorTyped, isoTyped } from '../../ui/typed-fields.tsx';

/** A vehicle as it is typed. */
export interface VehicleValues {
  readonly plate: string;
  readonly name: string;
  readonly model: string;
  readonly variantKey: string;
  readonly registered: string;
  readonly firstSeen: string;
  readonly market: string;
  readonly serial: string;
  readonly features: Readonly<Record<string, '' | 'yes' | 'no'>>;
  readonly odometerUnit: DistanceUnit;
  readonly severity: string;
  readonly contact: string;
  readonly note: string;
}

export const VEHICLE_LABELS = {
  plate: 'Plate',
  name: 'Name',
  model: 'Model',
  variantKey: 'Variant',
  firstRegistered: 'First registered',
  firstSeen: 'First came to us',
  market: 'Sold in',
  serial: 'Engine number',
  odometerUnit: 'Odometer in',
  severity: 'Use',
  contact: 'Contact',
  note: 'Note',
};

/** What the form does not show and must not lose. */
export type Unshown = Pick<VehicleUpdate, 'fitted' | 'duty'>;

/** What is typed, as the server takes it; a date that is none is refused by the form before. */
export const vehicleFields = (
  values: VehicleValues,
  familyId: string,
  today: number,
  unshown: Unshown = { fitted: {}, duty: {} },
): Omit<VehicleUpdate, 'version'> => ({
  ...unshown,
  firstSeen: values.firstSeen.trim() === '' ? null : isoTyped(values.firstSeen, today),
  market: values.market.trim() || null,
  serial: values.serial.trim() === '' ? null : Number(values.serial.replace(/\D/g, '')),
  features: Object.fromEntries(
    Object.entries(values.features)
      .filter(([, has]) => has !== '')
      .map(([key, has]) => [key, has === 'yes']),
  ),
  plate: values.plate.trim() || null,
  name: values.name.trim() || null,
  model: values.model.trim() || null,
  familyId: familyId as VehicleUpdate['familyId'],
  variantKey: values.variantKey || null,
  firstRegistered: values.registered.trim() === '' ? null : isoTyped(values.registered, today),
  odometerUnit: values.odometerUnit,
  severity: factorTyped(values.severity) ?? NaN,
  contact: values.contact.trim() || null,
  note: values.note.trim() || null,
});
