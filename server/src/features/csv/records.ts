import type { DataSource } from 'typeorm';
import { findingsOut, readingsOut, servicesOut, upkeepOut } from '../../lists/records-out.ts';
import { reading } from './columns.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { endpoints } from '@crosspeen/contract';
import type { AddList } from './list.ts';

/** What is on record of all vehicles or of one, in the columns in which it is imported again. */
export const recordLists = (
  list: AddList,
  source: DataSource,
): Pick<Handlers<typeof endpoints.lists>, 'readings' | 'services' | 'findings' | 'upkeep'> => ({
  readings: list({
    file: 'readings',
    page: (asked, { query }) => readingsOut(source.manager, { vehicleId: query.vehicle ?? null, ...asked }),
    columns: {
      vehicle: (row) => row.vehicle,
      date: (row) => row.day,
      reading: (row) => reading(row.km, row.unit),
      unit: (row) => row.unit,
    },
  }),
  services: list({
    file: 'renewals',
    page: (asked, { query }) => servicesOut(source.manager, { vehicleId: query.vehicle ?? null, ...asked }),
    columns: {
      vehicle: (row) => row.vehicle,
      component: (row) => row.component,
      date: (row) => row.day,
      reading: (row) => reading(row.km, row.unit),
      unit: (row) => (row.km === null ? '' : row.unit),
      certainty: (row) => row.certainty,
      grade: (row) => row.grade,
      'part number': (row) => row.partNumber,
      revision: (row) => row.revision,
      source: (row) => row.source,
      'came out': (row) => row.cameOut,
      note: (row) => row.note,
    },
  }),
  findings: list({
    file: 'findings',
    page: (asked, { query }) => findingsOut(source.manager, { vehicleId: query.vehicle ?? null, ...asked }),
    columns: {
      vehicle: (row) => row.vehicle,
      'weak point': (row) => row.title,
      date: (row) => row.day,
      result: (row) => row.result,
      'brought in': (row) => (row.broughtIn ? 'yes' : ''),
      note: (row) => row.note,
    },
  }),
  upkeep: list({
    file: 'upkeep',
    page: (asked, { query }) => upkeepOut(source.manager, { vehicleId: query.vehicle ?? null, ...asked }),
    columns: {
      vehicle: (row) => row.vehicle,
      task: (row) => row.title,
      date: (row) => row.day,
      reading: (row) => reading(row.km, row.unit),
      unit: (row) => (row.km === null ? '' : row.unit),
      certainty: (row) => row.certainty,
      note: (row) => row.note,
    },
  }),
});
