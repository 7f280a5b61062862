import type { Settings, VehiclePlanning } from '@crosspeen/contract';
import { minutesText, type DistanceUnit } from '@crosspeen/core';
import { distanceText, isoText, moneyText } from '../../../ui/units.ts';

/** What visits are planned by, in a sentence; empty where nothing was told. */
export function planningWords(planning: VehiclePlanning | null, settings: Settings, unit: DistanceUnit): string {
  if (planning === null) return '';
  const money = (minor: number): string => moneyText(minor, settings);
  const said = [
    planning.keepUntil && `kept until ${isoText(planning.keepUntil)}`,
    planning.notBefore && `not before ${isoText(planning.notBefore)}`,
    planning.visitBudgetMinor !== null && `at most ${money(planning.visitBudgetMinor)} a visit`,
    planning.yearBudgetMinor !== null && `at most ${money(planning.yearBudgetMinor)} a year`,
    planning.visitMinutes !== null && `at most ${minutesText(planning.visitMinutes)} a visit`,
    planning.coolingBeforeSummer ? 'cooling before the summer' : 'cooling at any time of the year',
    planning.trip &&
      `what falls due by then before the trip on ${isoText(planning.trip.day)}, ${distanceText(planning.trip.km, unit)}`,
    planning.inspection && `what it would find before the inspection on ${isoText(planning.inspection)}`,
  ].filter(Boolean);
  return `Planned by: ${said.join('; ')}.`;
}
