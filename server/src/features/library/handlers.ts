import type { endpoints } from '@crosspeen/contract';
import { pageOf } from '../../platform/paged.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { Campaigns } from '../../lists/campaigns.ts';
import type { EngineShelf } from './engines.ts';
import type { PointDesk } from './points.ts';
import type { LibraryShelf } from './shelf.ts';
import type { UpkeepShelf } from './upkeep.ts';

interface LibraryNeeds {
  readonly shelf: LibraryShelf;
  readonly points: PointDesk;
  readonly engines: EngineShelf;
  readonly campaigns: Campaigns;
  readonly upkeep: UpkeepShelf;
}

/** What stands in the library, and writing in it by hand. */
export const libraryHandlers = ({
  shelf,
  points,
  engines,
  campaigns,
  upkeep,
}: LibraryNeeds): Handlers<typeof endpoints.library> => ({
  engines: async ({ query }) => pageOf(await shelf.engines(query), query),
  addEngine: ({ user, body }) => engines.add(user, body),
  points: async ({ query }) => pageOf(await shelf.points(query), query),
  families: async ({ query }) => pageOf(await shelf.families(query), query),
  family: ({ params }) => shelf.family(params.id),
  upkeep: async ({ params, query }) => pageOf(await upkeep.ofFamily(params.id, query), query),
  createTask: ({ user, body }) => upkeep.create(user, body),
  updateTask: ({ user, params, body }) => upkeep.update(user, params.id, body.draft, body.version),
  point: ({ params }) => shelf.point(params.id),
  pointVehicles: async ({ params, query }) => pageOf(await campaigns.ofPoint(params.id, query), query),
  authorities: async ({ query }) => pageOf(await shelf.authorities(query), query),
  changes: async ({ query }) => pageOf(await shelf.changes(query), query),
  components: async ({ query }) => pageOf(await shelf.components(query), query),
  touches: ({ query }) => {
    const { familyId: of, variants, producedFrom, producedTo, title, componentId, not } = query;
    return points.touches({
      familyId: of,
      variants: variants.split(',').filter(Boolean),
      producedFrom: producedFrom ?? null,
      producedTo: producedTo ?? null,
      title,
      componentId: componentId ?? null,
      not: not ?? null,
    });
  },
  createPoint: ({ user, body }) => points.create(user, body),
  updatePoint: ({ user, params, body }) => points.update(user, params.id, body.draft, body.version),
  stepPoint: ({ user, params, body }) => points.step(user, params.id, body),
});
