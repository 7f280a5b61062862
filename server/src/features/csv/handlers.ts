import type { Handlers } from '../../platform/mount.ts';
import type { endpoints } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import type { BenchService } from '../bench/service.ts';
import type { IntakeService } from '../intake/service.ts';
import { percent } from './columns.ts';
import { libraryLists, type LibraryListNeeds } from './library.ts';
import { listsOn } from './list.ts';
import { recordLists } from './records.ts';
import { vehicleLists } from './vehicles.ts';

interface ListNeeds extends LibraryListNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
  readonly bench: BenchService;
  readonly intake: IntakeService;
}

/** Every list of the application as a file for spreadsheets, with the filters that its screen has. */
export const listHandlers = ({
  source,
  clock,
  bench,
  intake,
  ...library
}: ListNeeds): Handlers<typeof endpoints.lists> => {
  const list = listsOn(clock);
  return {
    ...vehicleLists(list, { source, clock }),
    ...recordLists(list, source),
    ...libraryLists(list, library),
    bench: list({
      file: 'bench',
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
    }),
    benchParts: list({
      file: 'parts',
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
    }),
    intake: list({
      file: 'taken-in',
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
    }),
  };
};
