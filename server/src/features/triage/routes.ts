import { changed, symptomCreate, triage, triageAnswerCreate, triageEndCreate, vehicleId } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { asMade } from '../../platform/http.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import { sendPage } from '../../platform/streams.ts';
import { complaintSheetPdf } from '../../sheets/complaint-sheet.ts';
import type { TriageService } from './service.ts';

const params = z.object({ id: vehicleId });
const tags = ['triage'];

export const triageRoutes =
  ({
    triages,
    settings,
  }: {
    readonly triages: TriageService;
    readonly settings: SettingsService;
  }): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    app.get(
      '/api/vehicles/:id/triage',
      {
        schema: {
          summary: 'What is reported of a vehicle, and what explains it',
          tags,
          params,
          response: { 200: triage },
        },
        ...asMade,
      },
      (request) => triages.view(request.params.id),
    );
    app.post(
      '/api/vehicles/:id/symptoms',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Record what a customer reports',
          tags,
          params,
          body: symptomCreate,
          response: { 200: changed },
        },
      },
      (request) => triages.report(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/triage/answers',
      {
        config: { needs: 'editVehicles' },
        schema: {
          summary: 'Record what a check said',
          tags,
          params,
          body: triageAnswerCreate,
          response: { 200: changed },
        },
      },
      (request) => triages.answer(userOf(request), request.params.id, request.body),
    );
    app.post(
      '/api/vehicles/:id/triage/end',
      {
        config: { needs: 'editVehicles' },
        schema: { summary: 'Say what the cause was', tags, params, body: triageEndCreate, response: { 200: changed } },
      },
      (request) => triages.end(userOf(request), request.params.id, request.body),
    );
    app.get(
      '/api/vehicles/:id/complaint.pdf',
      { schema: { summary: 'What is reported and what explains it, as a sheet', tags, params } },
      async (request, reply) => {
        const { id } = request.params;
        const body = complaintSheetPdf(await triages.named(id), await triages.view(id), await settings.now());
        return sendPage(reply, { type: 'application/pdf', name: 'complaint.pdf', body });
      },
    );
    done();
  };
