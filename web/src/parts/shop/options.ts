import { DATE_FORMATS, NUMBER_FORMATS, type DateFormat, type NumberFormat } from '@crosspeen/contract';
import { optionsOf } from '../../ui/select.tsx';

const keys = <T extends string>(table: Readonly<Record<T, unknown>>): T[] => Object.keys(table) as T[];

/** Choices of a workshop's habits, each with what it looks like. */
export const NUMBER_OPTIONS = optionsOf(keys<NumberFormat>(NUMBER_FORMATS), (key) => NUMBER_FORMATS[key]);
export const DATE_OPTIONS = optionsOf(keys<DateFormat>(DATE_FORMATS), (key) => DATE_FORMATS[key]);
export const UNIT_OPTIONS = [
  { value: 'km', label: 'km' },
  { value: 'mi', label: 'miles' },
] as const;
export const WEEKDAY_OPTIONS = [
  { value: '1', label: 'Monday' },
  { value: '0', label: 'Sunday' },
  { value: '6', label: 'Saturday' },
] as const;

/** The time zones that this browser knows, and those that are named here besides. */
export const zoneOptions = (...also: readonly string[]) =>
  optionsOf([...new Set(['UTC', ...also, ...Intl.supportedValuesOf('timeZone')])].sort(), (zone) =>
    zone.replaceAll('_', ' '),
  );
