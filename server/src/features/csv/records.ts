import { vehicleId } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { z } from 'zod';
import {
  findingsOut,
  readingsOut,
  servicesOut,
  upkeepOut,
  type FindingOut,
  type ReadingOut,
  type ServiceOut,
  type UpkeepOut,
} from '../../lists/records-out.ts';
import { csvOf, reading } from './columns.ts';
import { tags, type ListApp, type Sent } from './list.ts';

const oneVehicle = z.object({ vehicle: vehicleId.optional() });

/** What is on record of all vehicles or of one, in the columns in which it is imported again. */
export function recordLists(app: ListApp, source: DataSource, sent: Sent): void {
  app.get(
    '/api/lists/readings.csv',
    { schema: { summary: 'Readings as CSV, as they are imported again', tags, querystring: oneVehicle } },
    (request, reply) =>
      sent(
        reply,
        'readings',
        csvOf<ReadingOut>(
          {
            vehicle: (row) => row.vehicle,
            date: (row) => row.day,
            reading: (row) => reading(row.km, row.unit),
            unit: (row) => row.unit,
          },
          (asked) => readingsOut(source.manager, { vehicleId: request.query.vehicle ?? null, ...asked }),
        ),
      ),
  );
  app.get(
    '/api/lists/services.csv',
    { schema: { summary: 'Renewals as CSV, as they are imported again', tags, querystring: oneVehicle } },
    (request, reply) =>
      sent(
        reply,
        'renewals',
        csvOf<ServiceOut>(
          {
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
          (asked) => servicesOut(source.manager, { vehicleId: request.query.vehicle ?? null, ...asked }),
        ),
      ),
  );
  app.get(
    '/api/lists/findings.csv',
    { schema: { summary: 'Findings as CSV, as they are imported again', tags, querystring: oneVehicle } },
    (request, reply) =>
      sent(
        reply,
        'findings',
        csvOf<FindingOut>(
          {
            vehicle: (row) => row.vehicle,
            'weak point': (row) => row.title,
            date: (row) => row.day,
            result: (row) => row.result,
            'brought in': (row) => (row.broughtIn ? 'yes' : ''),
            note: (row) => row.note,
          },
          (asked) => findingsOut(source.manager, { vehicleId: request.query.vehicle ?? null, ...asked }),
        ),
      ),
  );
  app.get(
    '/api/lists/upkeep.csv',
    { schema: { summary: 'Upkeep done as CSV, as it is imported again', tags, querystring: oneVehicle } },
    (request, reply) =>
      sent(
        reply,
        'upkeep',
        csvOf<UpkeepOut>(
          {
            vehicle: (row) => row.vehicle,
            task: (row) => row.title,
            date: (row) => row.day,
            'reading (own unit)': (row) => reading(row.km, row.unit),
            certainty: (row) => row.certainty,
            note: (row) => row.note,
          },
          (asked) => upkeepOut(source.manager, { vehicleId: request.query.vehicle ?? null, ...asked }),
        ),
      ),
  );
}
