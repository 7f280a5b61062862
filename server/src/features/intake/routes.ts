import {
  anyText,
  intakeKind,
  intakePreview,
  intakeRun,
  intakeStart,
  MOST_SHEET_BYTES,
  paged,
  paging,
} from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { Readable } from 'node:stream';
import { z } from 'zod';
import { userOf } from '../../platform/guard.ts';
import { pageOf } from '../../platform/paged.ts';
import type { IntakeService } from './service.ts';

const tags = ['intake'];
const params = z.object({ id: z.uuid() });

export const intakeRoutes =
  ({ intake }: { readonly intake: IntakeService }): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    // The file is read as it comes, never whole.
    void app.register((files: typeof app, _none: unknown, ready: () => void) => {
      files.removeAllContentTypeParsers();
      files.addContentTypeParser('*', (_request, payload, parsed) => parsed(null, payload));
      files.post(
        '/api/intake',
        {
          bodyLimit: MOST_SHEET_BYTES + 1_000_000,
          config: { needs: 'importFiles' },
          schema: {
            summary: 'Send a spreadsheet, to be looked at',
            tags,
            querystring: z.object({ name: anyText(200).default('sheet.csv'), kind: intakeKind.optional() }),
            response: { 200: intakePreview },
          },
        },
        (request) => {
          const user = userOf(request);
          return intake.files.hold(user, request.query.name, request.body as Readable, request.query.kind ?? null);
        },
      );
      ready();
    });
    app.get(
      '/api/intake/:id/preview',
      {
        config: { needs: 'importFiles' },
        schema: {
          summary: 'Look at a held spreadsheet again, as another kind',
          tags,
          params,
          querystring: z.object({ kind: intakeKind }),
          response: { 200: intakePreview },
        },
      },
      (request) => {
        return intake.files.lookAgain(request.params.id, request.query.kind);
      },
    );
    app.post(
      '/api/intake/:id/start',
      {
        config: { needs: 'importFiles' },
        schema: {
          summary: 'Take a held spreadsheet in',
          tags,
          params,
          body: intakeStart,
          response: { 200: intakeRun },
        },
      },
      (request) => {
        return intake.start(request.params.id, request.body);
      },
    );
    app.post(
      '/api/intake/:id/stop',
      {
        config: { needs: 'importFiles' },
        schema: { summary: 'Stop taking a spreadsheet in', tags, params, response: { 200: intakeRun } },
      },
      (request) => {
        return intake.stop(request.params.id);
      },
    );
    app.get(
      '/api/intake',
      {
        config: { needs: 'importFiles' },
        schema: {
          summary: 'Spreadsheets that were imported',
          tags,
          querystring: paging,
          response: { 200: paged(intakeRun) },
        },
      },
      async (request) => {
        return pageOf(await intake.log.runs(request.query), request.query);
      },
    );
    app.get(
      '/api/intake/:id',
      {
        config: { needs: 'importFiles' },
        schema: { summary: 'How far a spreadsheet has come', tags, params, response: { 200: intakeRun } },
      },
      (request) => {
        return intake.log.run(request.params.id);
      },
    );
    app.get(
      '/api/intake/:id/faults.csv',
      { config: { needs: 'importFiles' }, schema: { summary: 'Rows that could not be taken, as CSV', tags, params } },
      async (request, reply) => {
        const { name, csv } = await intake.log.faults(request.params.id);
        const bare =
          name
            .replace(/\.[^.]*$/, '')
            .replace(/[^\w-]+/g, '-')
            .slice(0, 60) || 'sheet';
        return reply
          .header('content-type', 'text/csv; charset=utf-8')
          .header('content-disposition', `attachment; filename="${bare}-to-mend.csv"`)
          .send(csv);
      },
    );
    done();
  };
