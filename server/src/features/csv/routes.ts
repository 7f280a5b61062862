import { benchListQuery } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import type { BenchService } from '../bench/service.ts';
import type { IntakeService } from '../intake/service.ts';
import { csvOf, percent } from './columns.ts';
import { libraryLists, type LibraryListNeeds } from './library.ts';
import { own, sentOn, tags } from './list.ts';
import { recordLists } from './records.ts';
import { vehicleLists } from './vehicles.ts';

interface ListNeeds extends LibraryListNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
  readonly bench: BenchService;
  readonly intake: IntakeService;
}

/** Every list of the application as a file for spreadsheets, with the filters that its screen has. */
export const listRoutes =
  ({ source, clock, bench, intake, ...library }: ListNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const sent = sentOn(clock);
    vehicleLists(app, { source, clock }, sent);
    recordLists(app, source, sent);
    libraryLists(app, library, sent);
    app.get(
      '/api/lists/bench.csv',
      { schema: { summary: 'The bench as CSV', tags, querystring: benchListQuery } },
      (request, reply) => {
        type Row = Awaited<ReturnType<typeof bench.list>>['rows'][number];
        return sent(
          reply,
          'bench',
          csvOf<Row>(
            {
              'weak point': (row) => row.title,
              make: (row) => row.maker,
              'engine code': (row) => row.engineCode,
              component: (row) => row.component,
              vehicles: (row) => row.vehicles,
              'parts watched': (row) => row.parts,
              failed: (row) => row.failures,
              worn: (row) => row.worn,
              'came in because of it': (row) => row.broughtIn,
              'own life over published': (row) => row.ownLife.middle.toFixed(3),
              'low, 90 %': (row) => row.ownLife.low.toFixed(3),
              'high, 90 %': (row) => row.ownLife.high.toFixed(3),
              'share published, %': (row) => percent(row.share),
              'share own, %': (row) => percent(row.ownShare.middle),
              enough: (row) => row.enough,
            },
            (asked) => bench.list({ ...request.query, ...asked }),
          ),
        );
      },
    );
    app.get(
      '/api/lists/bench-parts/:id.csv',
      { schema: { summary: 'Parts that a figure of the bench rests on, as CSV', tags, params: own } },
      (request, reply) => {
        type Row = Awaited<ReturnType<typeof bench.parts>>['rows'][number];
        return sent(
          reply,
          'parts',
          csvOf<Row>(
            {
              plate: (row) => row.plate,
              name: (row) => row.name,
              became: (row) => row.kind,
              counted: (row) => (row.counted ? 'yes' : 'no'),
              'ran, km': (row) => Math.round(row.km),
              from: (row) => row.installDay,
              to: (row) => row.endDay,
              'clean looks': (row) => row.looks,
            },
            (asked) => bench.parts(request.params.id, asked),
          ),
        );
      },
    );
    app.get(
      '/api/lists/intake.csv',
      { config: { needs: 'importFiles' }, schema: { summary: 'Spreadsheets that were imported as CSV', tags } },
      (_request, reply) => {
        type Row = Awaited<ReturnType<typeof intake.log.runs>>['rows'][number];
        return sent(
          reply,
          'taken-in',
          csvOf<Row>(
            {
              file: (row) => row.name,
              kind: (row) => row.kind,
              state: (row) => row.state,
              begun: (row) => row.startedAt,
              ended: (row) => row.finishedAt,
              rows: (row) => row.rows,
              written: (row) => row.written,
              'saved already': (row) => row.known,
              'handed back': (row) => row.bad,
              reason: (row) => row.reason,
            },
            (asked) => intake.log.runs(asked),
          ),
        );
      },
    );
    done();
  };
