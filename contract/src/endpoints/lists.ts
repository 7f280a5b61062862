import { z } from 'zod';
import { benchListQuery } from '../bench.ts';
import { noticeId, vehicleId, weakPointId } from '../common.ts';
import { campaignQuery, libraryPointQuery } from '../library.ts';
import { noticeQuery } from '../notice.ts';
import { vehicleListQuery } from '../vehicle.ts';
import { file, get, under } from '../endpoint.ts';

/** A list of one thing names it in its address. */
const byId = z.object({ id: z.uuid() });
const oneVehicle = z.object({ vehicle: vehicleId.optional() });

export const lists = under('lists', {
  weakPoints: get('/api/lists/weak-points.csv', {
    summary: 'Weak points as CSV',
    query: libraryPointQuery,
    answer: file('text/csv'),
  }),
  engines: get('/api/lists/engines.csv', { summary: 'Engines as CSV', answer: file('text/csv') }),
  notices: get('/api/lists/notices.csv', {
    summary: 'Bulletins and coverages as CSV',
    query: noticeQuery,
    answer: file('text/csv'),
  }),
  pointVehicles: get('/api/lists/campaign/:id.csv', {
    summary: 'Vehicles that a weak point touches as CSV',
    params: z.object({ id: weakPointId }),
    query: campaignQuery,
    answer: file('text/csv'),
  }),
  noticeVehicles: get('/api/lists/notice/:id.csv', {
    summary: 'Vehicles that a notice touches as CSV',
    params: z.object({ id: noticeId }),
    query: campaignQuery,
    answer: file('text/csv'),
  }),
  libraryChanges: get('/api/lists/library-changes.csv', {
    summary: 'Changes of the library as CSV',
    answer: file('text/csv'),
  }),
  packs: get('/api/lists/packs.csv', { summary: 'Imported packs as CSV', answer: file('text/csv') }),
  readings: get('/api/lists/readings.csv', {
    summary: 'Readings as CSV, as they are imported again',
    query: oneVehicle,
    answer: file('text/csv'),
  }),
  services: get('/api/lists/services.csv', {
    summary: 'Renewals as CSV, as they are imported again',
    query: oneVehicle,
    answer: file('text/csv'),
  }),
  findings: get('/api/lists/findings.csv', {
    summary: 'Findings as CSV, as they are imported again',
    query: oneVehicle,
    answer: file('text/csv'),
  }),
  upkeep: get('/api/lists/upkeep.csv', {
    summary: 'Upkeep done as CSV, as it is imported again',
    query: oneVehicle,
    answer: file('text/csv'),
  }),
  bench: get('/api/lists/bench.csv', { summary: 'The bench as CSV', query: benchListQuery, answer: file('text/csv') }),
  benchParts: get('/api/lists/bench-parts/:id.csv', {
    summary: 'Parts that a figure of the bench rests on, as CSV',
    params: byId,
    answer: file('text/csv'),
  }),
  intake: get('/api/lists/intake.csv', {
    summary: 'Spreadsheets that were imported as CSV',
    needs: 'importFiles',
    answer: file('text/csv'),
  }),
  vehicles: get('/api/lists/vehicles.csv', {
    summary: 'Vehicles as CSV',
    query: vehicleListQuery,
    answer: file('text/csv'),
  }),
  visits: get('/api/lists/visits.csv', { summary: 'Coming visits as CSV', answer: file('text/csv') }),
  history: get('/api/lists/history/:id.csv', {
    summary: 'A vehicle’s history as CSV',
    params: byId,
    answer: file('text/csv'),
  }),
  changes: get('/api/lists/changes/:id.csv', {
    summary: 'Changes of a vehicle’s record as CSV',
    params: byId,
    answer: file('text/csv'),
  }),
});
