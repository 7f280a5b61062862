import { vehicleListQuery, type HistoryEntry } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { changesOf, historyOf, listVehicles } from '../../lists/vehicles.ts';
import { comingVisits } from '../../lists/visits.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { csvOf, percent, reading } from './columns.ts';
import { own, tags, type ListApp, type Sent } from './list.ts';

/** What an entry of a history is about: a part, a weak point, a task, or what was reported in its own words. */
const about = (row: HistoryEntry): string | null =>
  'component' in row ? row.component : 'title' in row ? row.title : 'words' in row ? row.words : null;

/** Vehicles, their visits, and what is on record of one. */
export function vehicleLists(
  app: ListApp,
  { source, clock }: { readonly source: DataSource; readonly clock: ShopClock },
  sent: Sent,
): void {
  app.get(
    '/api/lists/vehicles.csv',
    { schema: { summary: 'Vehicles as CSV', tags, querystring: vehicleListQuery } },
    (request, reply) => {
      type Row = Awaited<ReturnType<typeof listVehicles>>['rows'][number];
      return sent(
        reply,
        'vehicles',
        csvOf<Row>(
          {
            plate: (row) => row.plate,
            name: (row) => row.name,
            make: (row) => row.maker,
            model: (row) => row.model,
            'engine code': (row) => row.engineCode,
            reading: (row) => reading(row.km, row.odometerUnit),
            unit: (row) => row.odometerUnit,
            'most urgent': (row) => row.pressing?.title,
            verdict: (row) => row.pressing?.verdict,
            'chance before the next service, %': (row) => percent(row.pressing?.chance),
            'if it is the first one, %': (row) => percent(row.pressing?.ifFirst),
            due: (row) => row.pressing?.dueDay,
            'upkeep overdue': (row) => row.upkeep?.overdue ?? 0,
            'upkeep due first': (row) => row.upkeep?.title,
            'next visit': (row) => row.nextVisit,
          },
          (asked) => listVehicles(source.manager, { ...request.query, ...asked }, clock.todayIso()),
        ),
      );
    },
  );
  app.get('/api/lists/visits.csv', { schema: { summary: 'Coming visits as CSV', tags } }, (_request, reply) => {
    type Row = Awaited<ReturnType<typeof comingVisits>>['rows'][number];
    return sent(
      reply,
      'visits',
      csvOf<Row>(
        {
          day: (row) => row.day,
          plate: (row) => row.plate,
          name: (row) => row.name,
          make: (row) => row.maker,
          model: (row) => row.model,
          reading: (row) => reading(row.km, row.odometerUnit),
          unit: (row) => row.odometerUnit,
          jobs: (row) => row.jobs.map(({ action, component }) => `${action} ${component}`).join('; '),
          minutes: (row) => row.minutes,
          note: (row) => row.note,
        },
        (asked) => comingVisits(source.manager, asked),
      ),
    );
  });
  app.get(
    '/api/lists/history/:id.csv',
    { schema: { summary: 'A vehicle’s history as CSV', tags, params: own } },
    (request, reply) => {
      type Row = Awaited<ReturnType<typeof historyOf>>['rows'][number];
      return sent(
        reply,
        'history',
        csvOf<Row>(
          {
            kind: (row) => row.kind,
            date: (row) => row.day,
            'reading, km': (row) => ('km' in row && row.km !== null ? Math.round(row.km) : null),
            component: about,
            certainty: (row) => ('certainty' in row ? row.certainty : null),
            result: (row) => (row.kind === 'finding' ? row.result : row.kind === 'cause' ? row.outcome : null),
            'part number': (row) => (row.kind === 'service' ? row.partNumber : null),
            revision: (row) => (row.kind === 'service' ? row.revision : null),
            grade: (row) => ('grade' in row ? row.grade : null),
            source: (row) => (row.kind === 'service' ? row.source : null),
            'came out': (row) => (row.kind === 'service' ? row.cameOut : null),
            note: (row) => ('note' in row ? row.note : null),
            by: (row) => row.by,
          },
          (asked) => historyOf(source.manager, request.params.id, asked),
        ),
      );
    },
  );
  app.get(
    '/api/lists/changes/:id.csv',
    { schema: { summary: 'Changes of a vehicle’s record as CSV', tags, params: own } },
    (request, reply) => {
      type Row = Awaited<ReturnType<typeof changesOf>>['rows'][number];
      return sent(
        reply,
        'changes',
        csvOf<Row>(
          {
            at: (row) => row.at,
            by: (row) => row.by,
            what: (row) => row.summary,
            undone: (row) => (row.undone ? 'yes' : 'no'),
          },
          (asked) => changesOf(source.manager, request.params.id, asked),
        ),
      );
    },
  );
}
