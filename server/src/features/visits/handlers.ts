import type { endpoints } from '@crosspeen/contract';
import { pageOf } from '../../platform/paged.ts';
import type { DataSource } from 'typeorm';
import { comingVisits } from '../../lists/visits.ts';
import { weekLoads as loadsOfWeeks } from '../../lists/weeks.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { ShopClock } from '../../platform/clock.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { VisitService } from './service.ts';

interface VisitNeeds {
  readonly visits: VisitService;
  readonly source: DataSource;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

export const visitHandlers = ({ visits, source, settings, clock }: VisitNeeds): Handlers<typeof endpoints.visits> => ({
  list: async ({ query }) => pageOf(await comingVisits(source.manager, query), query),
  weeks: async () => {
    const { firstWeekday, weekMinutes } = await settings.now();
    return loadsOfWeeks(source.manager, { today: clock.today(), firstWeekday, weekMinutes });
  },
  plan: ({ user, params, body }) => visits.plan(user, params.id, body),
  planAll: ({ user, params, body }) => visits.planAll(user, params.id, body),
  update: ({ user, params, body }) => visits.change(user, params.id, body),
  done: ({ user, params, body }) => visits.done(user, params.id, body),
  callOff: ({ user, params, body }) => visits.callOff(user, params.id, body.version),
});
