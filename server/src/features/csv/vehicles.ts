import type { endpoints, HistoryEntry } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { changesOf, historyOf, listVehicles } from '../../lists/vehicles.ts';
import { comingVisits } from '../../lists/visits.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { percent, reading } from './columns.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { AddList } from './list.ts';

/** What an entry of a history is about: a part, a weak point, a task, or what was reported in its own words. */
const about = (row: HistoryEntry): string | null =>
  'component' in row ? row.component : 'title' in row ? row.title : 'words' in row ? row.words : null;

const rounded = (km: number | null): number | null => (km === null ? null : Math.round(km));

/** Vehicles, their visits, and what is on record of one. */
export const vehicleLists = (
  list: AddList,
  { source, clock }: { readonly source: DataSource; readonly clock: ShopClock },
): Pick<Handlers<typeof endpoints.lists>, 'vehicles' | 'visits' | 'history' | 'changes'> => ({
  vehicles: list({
    file: 'vehicles',
    page: (asked, { query }) => listVehicles(source.manager, { ...query, ...asked }, clock.todayIso()),
    columns: {
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
  }),
  visits: list({
    file: 'visits',
    page: (asked) => comingVisits(source.manager, asked),
    columns: {
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
  }),
  history: list({
    file: 'history',
    page: (asked, { params }) => historyOf(source.manager, params.id, asked),
    columns: {
      kind: (row) => row.kind,
      date: (row) => row.day,
      // What another engine had run is no reading of this vehicle.
      'reading, km': (row) => (row.kind === 'engine' ? null : rounded(row.km)),
      'engine had run, km': (row) => (row.kind === 'engine' ? rounded(row.km) : null),
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
  }),
  changes: list({
    file: 'changes',
    page: (asked, { params }) => changesOf(source.manager, params.id, asked),
    columns: {
      at: (row) => row.at,
      by: (row) => row.by,
      what: (row) => row.summary,
      undone: (row) => (row.undone ? 'yes' : 'no'),
    },
  }),
});
