import type { endpoints } from '@crosspeen/contract';
import { archiveHandlers } from './features/archive/handlers.ts';
import { backupHandlers } from './features/backup/handlers.ts';
import { benchHandlers } from './features/bench/handlers.ts';
import { changeHandlers } from './features/changes/handlers.ts';
import { listHandlers } from './features/csv/handlers.ts';
import { deskHandlers } from './features/desk/handlers.ts';
import { judgingHandlers } from './features/fleet/handlers.ts';
import { intakeHandlers } from './features/intake/handlers.ts';
import { libraryHandlers } from './features/library/handlers.ts';
import { noticeHandlers } from './features/notices/handlers.ts';
import { packHandlers } from './features/packs/handlers.ts';
import { lookupHandlers } from './features/lookup/handlers.ts';
import { peopleHandlers } from './features/people/handlers.ts';
import { sessionHandlers } from './features/session/handlers.ts';
import { settingsHandlers } from './features/settings/handlers.ts';
import { startHandlers } from './features/start/handlers.ts';
import { triageHandlers } from './features/triage/handlers.ts';
import { vehicleHandlers } from './features/vehicles/handlers.ts';
import { visitHandlers } from './features/visits/handlers.ts';
import { walkHandlers } from './features/walk/handlers.ts';
import { databaseIsAway } from './platform/database-problem.ts';
import type { AllHandlers, Handler, Handlers } from './platform/mount.ts';
import { Problem } from './platform/problem.ts';
import type { Services } from './services.ts';

/** The description of the API. What makes it is loaded when it is first asked for. */
export const describeApi = async (): Promise<object> => (await import('./platform/openapi.ts')).describeApi();

/** What the server says of itself. The description is made when it is first asked for. */
function serverHandlers(
  { source }: Services,
  metrics: Handler<typeof endpoints.server.metrics>,
): Handlers<typeof endpoints.server> {
  let description: Promise<object> | null = null;
  return {
    health: async () => {
      try {
        await source.query('select 1');
      } catch (error) {
        throw databaseIsAway(error) ? new Problem('database_away') : error;
      }
      return { ok: true };
    },
    description: async ({ reply }) => {
      description ??= describeApi();
      return reply.send(await description);
    },
    metrics,
  };
}

/** A handler for every endpoint of the table; one that is missing does not compile. */
export const handlersOf = (services: Services, metrics: Handler<typeof endpoints.server.metrics>): AllHandlers => ({
  archive: archiveHandlers(services),
  backups: backupHandlers(services),
  bench: benchHandlers(services),
  desk: deskHandlers(services),
  changes: changeHandlers(services),
  fleet: judgingHandlers(services),
  intake: intakeHandlers(services),
  library: libraryHandlers(services),
  lists: listHandlers(services),
  lookup: lookupHandlers(services),
  notices: noticeHandlers(services),
  packs: packHandlers(services),
  people: peopleHandlers(services),
  server: serverHandlers(services, metrics),
  session: sessionHandlers(services),
  settings: settingsHandlers(services),
  start: startHandlers(services),
  triage: triageHandlers(services),
  vehicles: vehicleHandlers(services),
  visits: visitHandlers(services),
  walk: walkHandlers(services),
});
