import {
  campaignQuery,
  campaignRow,
  changed,
  engineChoice,
  engineDraft,
  familyId,
  libraryChange,
  libraryChangeQuery,
  libraryComponent,
  libraryFamily,
  libraryFamilyRow,
  libraryAuthority,
  libraryPoint,
  libraryPointQuery,
  libraryPointRow,
  paged,
  paging,
  pointDraft,
  pointStep,
  pointUpdate,
  touches,
  touchesQuery,
  taskDraft,
  taskId,
  taskUpdate,
  libraryTask,
  weakPointId,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { pageOf } from '../../platform/paged.ts';
import type { Campaigns } from './campaigns.ts';
import type { LibraryDesk } from './authoring.ts';
import type { EngineShelf } from './engines.ts';
import type { LibraryShelf } from './shelf.ts';
import type { UpkeepShelf } from './upkeep.ts';

interface LibraryNeeds {
  readonly shelf: LibraryShelf;
  readonly desk: LibraryDesk;
  readonly engines: EngineShelf;
  readonly campaigns: Campaigns;
  readonly upkeep: UpkeepShelf;
}

/** What stands in the library, and writing in it by hand. */
export const libraryRoutes =
  ({ shelf, desk, engines, campaigns, upkeep }: LibraryNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/engines',
      {
        schema: {
          summary: 'Engines of the library with their variants',
          tags: ['library'],
          querystring: paging,
          response: { 200: paged(engineChoice) },
        },
      },
      async (request) => {
        return pageOf(await shelf.engines(request.query), request.query);
      },
    );
    const tags = ['library'];
    app.post(
      '/api/library/engines',
      {
        config: { needs: 'publishLibrary' },
        schema: { summary: 'Add an engine', tags, body: engineDraft, response: { 200: changed } },
      },
      (request) => engines.add(userOf(request), request.body),
    );
    app.get(
      '/api/library/points',
      {
        schema: {
          summary: 'Weak points, found by code, symptom, component or part number',
          tags,
          querystring: libraryPointQuery,
          response: { 200: paged(libraryPointRow) },
        },
      },
      async (request) => {
        return pageOf(await shelf.points(request.query), request.query);
      },
    );
    app.get(
      '/api/library/families',
      {
        schema: {
          summary: 'Engines of the library, counted',
          tags,
          querystring: paging,
          response: { 200: paged(libraryFamilyRow) },
        },
      },
      async (request) => {
        return pageOf(await shelf.families(request.query), request.query);
      },
    );
    app.get(
      '/api/library/families/:id',
      {
        schema: {
          summary: 'One engine with all that is known of it',
          tags,
          params: z.object({ id: familyId }),
          response: { 200: libraryFamily },
        },
      },
      (request) => {
        return shelf.family(request.params.id);
      },
    );
    app.get(
      '/api/library/families/:id/upkeep',
      {
        schema: {
          summary: 'What is done again and again on an engine',
          tags,
          params: z.object({ id: familyId }),
          querystring: paging,
          response: { 200: paged(libraryTask) },
        },
      },
      async (request) => {
        return pageOf(await upkeep.ofFamily(request.params.id, request.query), request.query);
      },
    );
    app.post(
      '/api/library/upkeep',
      {
        config: { needs: 'publishLibrary' },
        schema: { summary: 'Write a recurring task', tags, body: taskDraft, response: { 200: changed } },
      },
      (request) => upkeep.create(userOf(request), request.body),
    );
    app.put(
      '/api/library/upkeep/:id',
      {
        config: { needs: 'publishLibrary' },
        schema: {
          summary: 'Change a recurring task',
          tags,
          params: z.object({ id: taskId }),
          body: taskUpdate,
          response: { 200: changed },
        },
      },
      (request) => upkeep.update(userOf(request), request.params.id, request.body.draft, request.body.version),
    );
    const point = z.object({ id: weakPointId });
    app.get(
      '/api/library/points/:id',
      {
        schema: {
          summary: 'One weak point with all that is known of it',
          tags,
          params: point,
          response: { 200: libraryPoint },
        },
      },
      (request) => {
        return shelf.point(request.params.id);
      },
    );
    app.get(
      '/api/library/points/:id/vehicles',
      {
        schema: {
          summary: 'Saved vehicles that a weak point touches',
          tags,
          params: point,
          querystring: campaignQuery,
          response: { 200: paged(campaignRow) },
        },
      },
      async (request) => {
        return pageOf(await campaigns.ofPoint(request.params.id, request.query), request.query);
      },
    );
    app.get(
      '/api/library/authorities',
      {
        schema: {
          summary: 'Who speaks in the library',
          tags,
          querystring: paging,
          response: { 200: paged(libraryAuthority) },
        },
      },
      async (request) => {
        return pageOf(await shelf.authorities(request.query), request.query);
      },
    );
    app.get(
      '/api/library/changes',
      {
        schema: {
          summary: 'What changed in the library, latest first',
          tags,
          querystring: libraryChangeQuery,
          response: { 200: paged(libraryChange) },
        },
      },
      async (request) => {
        return pageOf(await shelf.changes(request.query), request.query);
      },
    );
    app.get(
      '/api/library/components',
      {
        schema: {
          summary: 'Components of the library',
          tags,
          querystring: paging.extend({ familyId: familyId.optional() }),
          response: { 200: paged(libraryComponent) },
        },
      },
      async (request) => {
        return pageOf(await shelf.components(request.query), request.query);
      },
    );
    app.get(
      '/api/library/touches',
      {
        schema: {
          summary: 'How many vehicles a draft would touch, and what it resembles',
          tags,
          querystring: touchesQuery,
          response: { 200: touches },
        },
      },
      (request) => {
        const { familyId: of, variants, producedFrom, producedTo, title, componentId, not } = request.query;
        return desk.touches({
          familyId: of,
          variants: variants.split(',').filter(Boolean),
          producedFrom: producedFrom ?? null,
          producedTo: producedTo ?? null,
          title,
          componentId: componentId ?? null,
          not: not ?? null,
        });
      },
    );
    app.post(
      '/api/library/points',
      {
        config: { needs: 'writeLibrary' },
        schema: { summary: 'Write a weak point, as a draft', tags, body: pointDraft, response: { 200: changed } },
      },
      (request) => desk.create(userOf(request), request.body),
    );
    app.put(
      '/api/library/points/:id',
      {
        config: { needs: 'writeLibrary' },
        schema: { summary: 'Correct a weak point', tags, params: point, body: pointUpdate, response: { 200: changed } },
      },
      (request) => desk.update(userOf(request), request.params.id, request.body.draft, request.body.version),
    );
    app.post(
      '/api/library/points/:id/step',
      {
        config: { needs: 'writeLibrary' },
        schema: {
          summary: 'Take a weak point a step on its way',
          tags,
          params: point,
          body: pointStep,
          response: { 200: changed },
        },
      },
      (request) => desk.step(userOf(request), request.params.id, request.body),
    );
    done();
  };
