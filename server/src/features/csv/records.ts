import { vehicleId } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { z } from 'zod';
import { findingsOut, readingsOut, servicesOut, upkeepOut } from '../../lists/records-out.ts';
import { reading } from './columns.ts';
import type { AddList } from './list.ts';

const oneVehicle = z.object({ vehicle: vehicleId.optional() });

/** What is on record of all vehicles or of one, in the columns in which it is imported again. */
export function recordLists(add: AddList, source: DataSource): void {
  add({
    path: 'readings.csv',
    summary: 'Readings as CSV, as they are imported again',
    file: 'readings',
    query: oneVehicle,
    page: (asked, { query }) => readingsOut(source.manager, { vehicleId: query.vehicle ?? null, ...asked }),
    columns: {
      vehicle: (row) => row.vehicle,
      date: (row) => row.day,
      reading: (row) => reading(row.km, row.unit),
      unit: (row) => row.unit,
    },
  });
  add({
    path: 'services.csv',
    summary: 'Renewals as CSV, as they are imported again',
    file: 'renewals',
    query: oneVehicle,
    page: (asked, { query }) => servicesOut(source.manager, { vehicleId: query.vehicle ?? null, ...asked }),
    columns: {
      vehicle: (row) => row.vehicle,
      component: (row) => row.component,
      date: (row) => row.day,
      reading: (row) => reading(row.km, row.unit),
      certainty: (row) => row.certainty,
      grade: (row) => row.grade,
      'part number': (row) => row.partNumber,
      revision: (row) => row.revision,
      source: (row) => row.source,
      'came out': (row) => row.cameOut,
      note: (row) => row.note,
    },
  });
  add({
    path: 'findings.csv',
    summary: 'Findings as CSV, as they are imported again',
    file: 'findings',
    query: oneVehicle,
    page: (asked, { query }) => findingsOut(source.manager, { vehicleId: query.vehicle ?? null, ...asked }),
    columns: {
      vehicle: (row) => row.vehicle,
      'weak point': (row) => row.title,
      date: (row) => row.day,
      result: (row) => row.result,
      'brought in': (row) => (row.broughtIn ? 'yes' : ''),
      note: (row) => row.note,
    },
  });
  add({
    path: 'upkeep.csv',
    summary: 'Upkeep done as CSV, as it is imported again',
    file: 'upkeep',
    query: oneVehicle,
    page: (asked, { query }) => upkeepOut(source.manager, { vehicleId: query.vehicle ?? null, ...asked }),
    columns: {
      vehicle: (row) => row.vehicle,
      task: (row) => row.title,
      date: (row) => row.day,
      'reading (own unit)': (row) => reading(row.km, row.unit),
      certainty: (row) => row.certainty,
      note: (row) => row.note,
    },
  });
}
