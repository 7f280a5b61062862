import {
  benchListQuery,
  campaignQuery,
  type CampaignRow,
  type NoticeCampaignRow,
  noticeId,
  noticeQuery,
  type NoticeRow,
  libraryPointQuery,
  vehicleId,
  vehicleListQuery,
  weakPointId,
} from '@crosspeen/contract';
import { fromKm } from '@crosspeen/core';
import type { FastifyReply } from 'fastify';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import type { Readable } from 'node:stream';
import { z } from 'zod';
import { sendFile } from '../../platform/streams.ts';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import type { BenchService } from '../bench/service.ts';
import type { IntakeService } from '../intake/service.ts';
import type { Campaigns } from '../library/campaigns.ts';
import type { Notices } from '../library/notices.ts';
import type { PackDesk } from '../library/packs.ts';
import type { LibraryShelf } from '../library/shelf.ts';
import { comingVisits } from '../../lists/visits.ts';
import { changesOf, historyOf, listVehicles } from '../../lists/vehicles.ts';
import {
  findingsOut,
  readingsOut,
  servicesOut,
  upkeepOut,
  type FindingOut,
  type ReadingOut,
  type ServiceOut,
  type UpkeepOut,
} from '../../lists/records-out.ts';
import { csvOf, reading, percent, windows, TO_CALL } from './columns.ts';

const tags = ['lists'];

interface ListNeeds {
  readonly source: DataSource;
  readonly clock: ShopClock;
  readonly bench: BenchService;
  readonly shelf: LibraryShelf;
  readonly campaigns: Campaigns;
  readonly notices: Notices;
  readonly packs: Pick<PackDesk, 'list'>;
  readonly intake: IntakeService;
}

/** Every list of the application as a file for spreadsheets, with the filters that its screen has. */
export const listRoutes =
  ({ source, clock, bench, shelf, campaigns, notices, packs, intake }: ListNeeds): FastifyPluginCallbackZod =>
  (app, _options, done) => {
    const sent = async (reply: FastifyReply, name: string, csv: Promise<Readable>): Promise<FastifyReply> =>
      sendFile(reply, {
        type: 'text/csv; charset=utf-8; header=present',
        name: `${name}-${clock.todayIso()}.csv`,
        body: await csv,
      });
    const own = z.object({ id: z.uuid() });

    app.get(
      '/api/lists/vehicles.csv',
      { schema: { summary: 'Vehicles as CSV', tags, querystring: vehicleListQuery } },
      (request, reply) => {
        type Row = Awaited<ReturnType<typeof listVehicles>>['rows'][number];
        return sent(
          reply,
          'vehicles',
          csvOf<Row>(
            {
              plate: (row) => row.plate,
              name: (row) => row.name,
              make: (row) => row.maker,
              model: (row) => row.model,
              'engine code': (row) => row.engineCode,
              reading: (row) => reading(row.km, row.odometerUnit),
              unit: (row) => row.odometerUnit,
              'most urgent': (row) => row.pressing?.title,
              verdict: (row) => row.pressing?.verdict,
              'chance before the next service, %': (row) => percent(row.pressing?.chance),
              'if it is the first one, %': (row) => percent(row.pressing?.ifFirst),
              due: (row) => row.pressing?.dueDay,
              'upkeep overdue': (row) => row.upkeep?.overdue ?? 0,
              'upkeep due first': (row) => row.upkeep?.title,
              'next visit': (row) => row.nextVisit,
            },
            (asked) => listVehicles(source.manager, { ...request.query, ...asked }, clock.todayIso()),
          ),
        );
      },
    );
    app.get('/api/lists/visits.csv', { schema: { summary: 'Coming visits as CSV', tags } }, (_request, reply) => {
      type Row = Awaited<ReturnType<typeof comingVisits>>['rows'][number];
      return sent(
        reply,
        'visits',
        csvOf<Row>(
          {
            day: (row) => row.day,
            plate: (row) => row.plate,
            name: (row) => row.name,
            make: (row) => row.maker,
            model: (row) => row.model,
            reading: (row) => reading(row.km, row.odometerUnit),
            unit: (row) => row.odometerUnit,
            jobs: (row) => row.jobs.map(({ action, component }) => `${action} ${component}`).join('; '),
            minutes: (row) => row.minutes,
            note: (row) => row.note,
          },
          (asked) => comingVisits(source.manager, asked),
        ),
      );
    });
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
      '/api/lists/weak-points.csv',
      { schema: { summary: 'Weak points as CSV', tags, querystring: libraryPointQuery } },
      (request, reply) => {
        type Row = Awaited<ReturnType<typeof shelf.points>>['rows'][number];
        return sent(
          reply,
          'weak-points',
          csvOf<Row>(
            {
              key: (row) => row.key,
              'weak point': (row) => row.title,
              make: (row) => row.maker,
              'engine code': (row) => row.engineCode,
              component: (row) => row.component,
              group: (row) => row.group,
              consequence: (row) => row.consequence,
              safety: (row) => (row.safety ? 'yes' : 'no'),
              'share, %': (row) => percent(row.share),
              window: (row) => windows(row.causes),
              signs: (row) => row.signs,
              state: (row) => row.state,
              'saved vehicles': (row) => row.vehicles,
            },
            (asked) => shelf.points({ ...request.query, ...asked }),
          ),
        );
      },
    );
    app.get(
      '/api/lists/campaign/:id.csv',
      {
        schema: {
          summary: 'Vehicles that a weak point touches as CSV',
          tags,
          params: z.object({ id: weakPointId }),
          querystring: campaignQuery,
        },
      },
      (request, reply) => {
        return sent(
          reply,
          'to-call',
          csvOf<CampaignRow>(TO_CALL, (asked) =>
            campaigns.ofPoint(request.params.id, { left: request.query.left, ...asked }),
          ),
        );
      },
    );
    app.get(
      '/api/lists/notice/:id.csv',
      {
        schema: {
          summary: 'Vehicles that a notice touches as CSV',
          tags,
          params: z.object({ id: noticeId }),
          querystring: campaignQuery,
        },
      },
      (request, reply) => {
        return sent(
          reply,
          'to-call',
          csvOf<NoticeCampaignRow>(
            {
              ...TO_CALL,
              answered: (row) => (row.answered ? 'yes' : 'no'),
              'covered until': (row) => row.coveredUntil,
            },
            (asked) => campaigns.ofNotice(request.params.id, { left: request.query.left, ...asked }),
          ),
        );
      },
    );
    app.get(
      '/api/lists/notices.csv',
      { schema: { summary: 'Bulletins and coverages as CSV', tags, querystring: noticeQuery } },
      (request, reply) => {
        return sent(
          reply,
          'notices',
          csvOf<NoticeRow>(
            {
              kind: (row) => row.kind,
              from: (row) => row.authority,
              number: (row) => row.number,
              title: (row) => row.title,
              issued: (row) => row.issued,
              state: (row) => row.state,
              engines: (row) => row.engines.join(' '),
              'saved vehicles': (row) => row.vehicles,
            },
            (asked) => notices.list({ q: request.query.q, ...asked }),
          ),
        );
      },
    );
    app.get(
      '/api/lists/history/:id.csv',
      { schema: { summary: 'A vehicle’s history as CSV', tags, params: own } },
      (request, reply) => {
        type Row = Awaited<ReturnType<typeof historyOf>>['rows'][number];
        return sent(
          reply,
          'history',
          csvOf<Row>(
            {
              kind: (row) => row.kind,
              date: (row) => row.day,
              'reading, km': (row) => ('km' in row && row.km !== null ? Math.round(row.km) : null),
              component: (row) => (row.kind === 'service' ? row.component : row.kind === 'finding' ? row.title : null),
              certainty: (row) => (row.kind === 'service' ? row.certainty : null),
              result: (row) => (row.kind === 'finding' ? row.result : null),
              'part number': (row) => (row.kind === 'service' ? row.partNumber : null),
              revision: (row) => (row.kind === 'service' ? row.revision : null),
              grade: (row) => (row.kind === 'service' ? row.grade : null),
              source: (row) => (row.kind === 'service' ? row.source : null),
              'came out': (row) => (row.kind === 'service' ? row.cameOut : null),
              note: (row) => ('note' in row ? row.note : null),
              by: (row) => row.by,
            },
            (asked) => historyOf(source.manager, request.params.id, asked),
          ),
        );
      },
    );
    app.get(
      '/api/lists/changes/:id.csv',
      { schema: { summary: 'Changes of a vehicle’s record as CSV', tags, params: own } },
      (request, reply) => {
        type Row = Awaited<ReturnType<typeof changesOf>>['rows'][number];
        return sent(
          reply,
          'changes',
          csvOf<Row>(
            {
              at: (row) => row.at,
              by: (row) => row.by,
              what: (row) => row.summary,
              undone: (row) => (row.undone ? 'yes' : 'no'),
            },
            (asked) => changesOf(source.manager, request.params.id, asked),
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
    app.get('/api/lists/engines.csv', { schema: { summary: 'Engines as CSV', tags } }, (_request, reply) => {
      type Row = Awaited<ReturnType<typeof shelf.families>>['rows'][number];
      return sent(
        reply,
        'engines',
        csvOf<Row>(
          {
            make: (row) => row.engine.maker,
            'engine code': (row) => row.engine.code,
            name: (row) => row.engine.name,
            litres: (row) => row.engine.displacementL,
            fuel: (row) => row.engine.fuel,
            timing: (row) => row.engine.timingDrive,
            interference: (row) => (row.engine.interference ? 'yes' : 'no'),
            variants: (row) => row.variants,
            'weak points': (row) => row.weakPoints,
            operations: (row) => row.operations,
            'saved vehicles': (row) => row.vehicles,
          },
          (asked) => shelf.families(asked),
        ),
      );
    });
    const oneVehicle = z.object({ vehicle: vehicleId.optional() });
    app.get(
      '/api/lists/readings.csv',
      { schema: { summary: 'Readings as CSV, as they are imported again', tags, querystring: oneVehicle } },
      (request, reply) =>
        sent(
          reply,
          'readings',
          csvOf<ReadingOut>(
            {
              vehicle: (row) => row.vehicle,
              date: (row) => row.day,
              reading: (row) => reading(row.km, row.unit),
              unit: (row) => row.unit,
            },
            (asked) => readingsOut(source.manager, { vehicleId: request.query.vehicle ?? null, ...asked }),
          ),
        ),
    );
    app.get(
      '/api/lists/services.csv',
      { schema: { summary: 'Renewals as CSV, as they are imported again', tags, querystring: oneVehicle } },
      (request, reply) =>
        sent(
          reply,
          'renewals',
          csvOf<ServiceOut>(
            {
              vehicle: (row) => row.vehicle,
              component: (row) => row.component,
              date: (row) => row.day,
              reading: (row) => reading(row.km, row.unit),
              certainty: (row) => row.certainty,
              grade: (row) => row.grade,
              'part number': (row) => row.partNumber,
              revision: (row) => row.revision,
              source: (row) => row.source,
              'came out': (row) => row.cameOut,
              note: (row) => row.note,
            },
            (asked) => servicesOut(source.manager, { vehicleId: request.query.vehicle ?? null, ...asked }),
          ),
        ),
    );
    app.get(
      '/api/lists/findings.csv',
      { schema: { summary: 'Findings as CSV, as they are imported again', tags, querystring: oneVehicle } },
      (request, reply) =>
        sent(
          reply,
          'findings',
          csvOf<FindingOut>(
            {
              vehicle: (row) => row.vehicle,
              'weak point': (row) => row.title,
              date: (row) => row.day,
              result: (row) => row.result,
              'brought in': (row) => (row.broughtIn ? 'yes' : ''),
              note: (row) => row.note,
            },
            (asked) => findingsOut(source.manager, { vehicleId: request.query.vehicle ?? null, ...asked }),
          ),
        ),
    );
    app.get(
      '/api/lists/upkeep.csv',
      { schema: { summary: 'Upkeep done as CSV, as it is imported again', tags, querystring: oneVehicle } },
      (request, reply) =>
        sent(
          reply,
          'upkeep',
          csvOf<UpkeepOut>(
            {
              vehicle: (row) => row.vehicle,
              task: (row) => row.title,
              date: (row) => row.day,
              'reading (own unit)': (row) => (row.km === null ? null : Math.round(fromKm(row.km, row.unit))),
              certainty: (row) => row.certainty,
              note: (row) => row.note,
            },
            (asked) => upkeepOut(source.manager, { vehicleId: request.query.vehicle ?? null, ...asked }),
          ),
        ),
    );
    app.get(
      '/api/lists/library-changes.csv',
      { schema: { summary: 'Changes of the library as CSV', tags } },
      (_request, reply) => {
        type Row = Awaited<ReturnType<typeof shelf.changes>>['rows'][number];
        return sent(
          reply,
          'library-changes',
          csvOf<Row>(
            {
              at: (row) => row.at,
              by: (row) => row.by,
              what: (row) => row.summary,
              kind: (row) => row.kind,
              rows: (row) => row.rows,
              undone: (row) => (row.undone ? 'yes' : 'no'),
            },
            (asked) => shelf.changes(asked),
          ),
        );
      },
    );
    app.get('/api/lists/packs.csv', { schema: { summary: 'Imported packs as CSV', tags } }, (_request, reply) => {
      type Row = Awaited<ReturnType<typeof packs.list>>['rows'][number];
      return sent(
        reply,
        'packs',
        csvOf<Row>(
          {
            key: (row) => row.key,
            title: (row) => row.title,
            version: (row) => row.version,
            licence: (row) => row.licence,
            imported: (row) => row.loadedAt,
            engines: (row) => row.engines,
            'weak points': (row) => row.points,
            notices: (row) => row.notices,
          },
          (asked) => packs.list(asked),
        ),
      );
    });
    app.get(
      '/api/lists/intake.csv',
      { config: { needs: 'importFiles' }, schema: { summary: 'Spreadsheets that were imported as CSV', tags } },
      (_request, reply) => {
        type Row = Awaited<ReturnType<typeof intake.runs>>['rows'][number];
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
            (asked) => intake.runs(asked),
          ),
        );
      },
    );
    done();
  };
