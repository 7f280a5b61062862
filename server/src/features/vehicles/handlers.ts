import type { endpoints } from '@crosspeen/contract';
import { pageOf } from '../../platform/paged.ts';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { asMade, type Handlers } from '../../platform/mount.ts';
import type { VehicleRecordService } from './records.ts';
import type { VehicleRegistry } from './registry.ts';
import type { VehicleView } from './view.ts';
import { visitsOf } from '../../lists/visits.ts';
import { changesOf, historyOf, listVehicles } from '../../lists/vehicles.ts';

interface VehicleNeeds {
  readonly vehicles: VehicleRegistry;
  readonly records: VehicleRecordService;
  readonly view: VehicleView;
  readonly source: DataSource;
  readonly clock: ShopClock;
}

export const vehicleHandlers = ({
  vehicles,
  records,
  view,
  source,
  clock,
}: VehicleNeeds): Handlers<typeof endpoints.vehicles> => ({
  list: async ({ query }) => pageOf(await listVehicles(source.manager, query, clock.todayIso()), query),
  create: ({ user, body }) => vehicles.create(user, body),
  get: ({ params }) => view.get(params.id),
  planBy: ({ user, params, body }) => vehicles.planBy(user, params.id, body),
  update: ({ user, params, body }) => vehicles.update(user, params.id, body),
  outlook: asMade(async ({ params, query }) => {
    const [outlook, all] = await Promise.all([
      view.outlook(params.id, { drawn: query.drawn === 'yes' }),
      visitsOf(source.manager, params.id),
    ]);
    return { ...outlook, visits: all };
  }),
  addReading: ({ user, params, body }) => records.addReading(user, params.id, body),
  addService: ({ user, params, body }) => records.addService(user, params.id, body),
  addFinding: ({ user, params, body }) => records.addFinding(user, params.id, body),
  addUpkeep: ({ user, params, body }) => records.addUpkeep(user, params.id, body),
  changeMeter: ({ user, params, body }) => records.changeMeter(user, params.id, body),
  swapEngine: ({ user, params, body }) => records.swapEngine(user, params.id, body),
  chooseSchool: ({ user, params, body }) => records.chooseSchool(user, params.id, body),
  answerQuestion: ({ user, params, body }) => vehicles.answerQuestion(user, params.id, body),
  why: ({ params }) => view.why(params.id, params.weakPointId),
  history: async ({ params, query }) => {
    await view.get(params.id);
    const { rows, total } = await historyOf(source.manager, params.id, query);
    return pageOf({ rows: await view.markFitting(params.id, rows), total }, query);
  },
  changes: async ({ params, query }) => pageOf(await changesOf(source.manager, params.id, query), query),
});
