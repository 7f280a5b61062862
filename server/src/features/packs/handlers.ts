import { type endpoints, FAULTS, SAID, familyId, packJsonSchema } from '@crosspeen/contract';
import type { DataSource } from 'typeorm';
import { exportPack } from '../../knowledge/pack-out.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { pageOf } from '../../platform/paged.ts';
import { badField, Problem } from '../../platform/problem.ts';
import type { Handlers } from '../../platform/mount.ts';
import type { PackDesk, PackWork } from './service.ts';

interface PackNeeds {
  readonly source: DataSource;
  readonly packs: PackWork & Pick<PackDesk, 'list'>;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

/** The library as pack files: saved as one, shown before one is taken in, and taken in as chosen. */
export const packHandlers = ({ source, packs, settings, clock }: PackNeeds): Handlers<typeof endpoints.packs> => ({
  export: async ({ query, reply }) => {
    const ids = query.families.split(',').filter(Boolean);
    for (const id of ids) if (!familyId.safeParse(id).success) throw badField('families', FAULTS.engineIds);
    const { workshopName } = await settings.now();
    const name = workshopName || 'Our workshop';
    const pack = await exportPack(
      source.manager,
      {
        key: `${
          name
            .toLowerCase()
            .normalize('NFKD')
            .replace(/[^a-z0-9]+/g, '-')
            .replace(/^-+|-+$/g, '')
            .slice(0, 60) || 'workshop'
        }`,
        title: `${name}, library`.slice(0, 120),
        version: `${clock.todayIso().replaceAll('-', '.').replace(/\.0/g, '.')}`,
        licence: 'all rights with the workshop',
      },
      ids.length === 0 ? null : ids,
    );
    return reply
      .header('content-type', 'application/json; charset=utf-8')
      .header('content-disposition', `attachment; filename="${pack.key}-${clock.todayIso()}.json"`)
      .send(`${JSON.stringify(pack, null, 2)}\n`);
  },
  schema: ({ reply }) => reply.send(packJsonSchema()),
  preview: async ({ user, query, body }) => {
    return packs.preview(user, query.name, textOf(body));
  },
  list: async ({ query }) => pageOf(await packs.list(query), query),
  import: ({ user, body }) => packs.take(user, body.uploadId, body.choices),
});

/** A file's bytes as text. Throws bad_file when they are no UTF-8. */
function textOf(body: Buffer): string {
  if (body.length === 0) throw new Problem(SAID.emptyPack);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(body);
  } catch {
    throw new Problem(SAID.packNotUtf8);
  }
}
