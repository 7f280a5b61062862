import type { VehicleId } from '@crosspeen/contract';
import { read } from './queries.ts';
import { touchedBy } from './touched.ts';

const asked = {
  session: read.session(),
  settings: read.settings(),
  engines: read.engines(),
  answer: read.answer({ line: 'AA10 100k' }),
  meaning: read.meaning({ line: 'AA10 100k' }),
  vehicles: read.vehicles({ q: '', order: 'plate', page: 1 }),
  outlook: read.outlook('v'),
  history: read.history('v', 1),
  bench: read.bench({ q: '', order: 'parts', page: 1 }),
  points: read.libraryPoints({ q: '', page: 1 }),
  calls: read.calls({ weakPointId: 'p', noticeId: null }, 'left', 1),
  authorities: read.authorities(),
  packs: read.packs(1),
  coming: read.coming(1),
  fleet: read.fleet(),
  runs: read.intakeRuns(1),
};
const left = (vehicleId: VehicleId | null): string[] =>
  Object.entries(asked)
    .filter(([, { queryKey }]) => !touchedBy({ vehicleId })({ queryKey }))
    .map(([name]) => name);

test('what is recorded of a vehicle is fetched again wherever it shows, and the library’s words are left alone', () =>
  expect(left('v' as VehicleId)).toEqual(['session', 'settings', 'engines', 'authorities', 'packs']));

test('a change of the library or of the settings leaves who is signed in, and what was imported', () =>
  expect(left(null)).toEqual(['session', 'runs']));
