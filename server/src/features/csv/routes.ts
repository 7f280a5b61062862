import { benchListQuery } from '@crosspeen/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import type { BenchService } from '../bench/service.ts';
import type { IntakeService } from '../intake/service.ts';
import { percent } from './columns.ts';
import { libraryLists, type LibraryListNeeds } from './library.ts';
import { listsOn, own } from './list.ts';
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
    const add = listsOn(app, clock);
    vehicleLists(add, { source, clock });
    recordLists(add, source);
    libraryLists(add, library);
    add({
      path: 'bench.csv',
      summary: 'The bench as CSV',
      file: 'bench',
      query: benchListQuery,
      page: (asked, { query }) => bench.list({ ...query, ...asked }),
      columns: {
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
    });
    add({
      path: 'bench-parts/:id.csv',
      summary: 'Parts that a figure of the bench rests on, as CSV',
      file: 'parts',
      params: own,
      page: (asked, { params }) => bench.parts(params.id, asked),
      columns: {
        plate: (row) => row.plate,
        name: (row) => row.name,
        became: (row) => row.kind,
        counted: (row) => (row.counted ? 'yes' : 'no'),
        'ran, km': (row) => Math.round(row.km),
        from: (row) => row.installDay,
        to: (row) => row.endDay,
        'clean looks': (row) => row.looks,
      },
    });
    add({
      path: 'intake.csv',
      summary: 'Spreadsheets that were imported as CSV',
      file: 'taken-in',
      needs: 'importFiles',
      page: (asked) => intake.log.runs(asked),
      columns: {
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
    });
    done();
  };
