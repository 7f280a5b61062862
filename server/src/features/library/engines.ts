import { FAULTS, type Changed, type EngineDraft } from '@crosspeen/contract';
import { compactKey } from '@crosspeen/core';
import { FamilyEntity, MakerEntity } from '../../knowledge/rows.ts';
import { badField } from '../../platform/problem.ts';
import { foundBy } from '../../platform/search.ts';
import type { Author, LibraryDesk } from '../../knowledge/desk.ts';

/** Engines that no pack has brought. */
export class EngineShelf {
  constructor(private readonly desk: LibraryDesk) {}

  /**
   * Writes an engine with one variant, which is all that is known of it yet, and its make where that is new. Throws
   * bad_input where the code is another engine's.
   */
  add(author: Author, draft: EngineDraft): Promise<Changed> {
    return this.desk.change(author, async (writer) => {
      const { manager } = writer;
      const codeKey = compactKey(draft.code);
      const other = await manager.findOneBy(FamilyEntity, { codeKey });
      if (other) throw badField('code', FAULTS.codeOfAnother);
      const known = await manager
        .createQueryBuilder(MakerEntity, 'm')
        .where('lower(m.name) = lower(:name)', { name: draft.maker })
        .getOne();
      const makerKey = known?.key ?? (await this.desk.freeKey(manager, 'maker', draft.maker));
      const makerId =
        known?.id ??
        (await writer.upsert('maker', [{ key: makerKey, name: draft.maker, pack_key: null }])).get(makerKey)!;
      const key = await this.desk.freeKey(manager, 'engine_family', `${makerKey}-${draft.code}`);
      const id = (
        await writer.upsert('engine_family', [
          {
            key,
            maker_id: makerId,
            code: draft.code,
            code_key: codeKey,
            name: draft.name,
            displacement_l: draft.displacementL,
            fuel: draft.fuel,
            aspiration: draft.aspiration,
            timing_drive: draft.timingDrive,
            interference: draft.interference,
            note: null,
            pack_key: null,
            search_text: foundBy([
              known?.name ?? draft.maker,
              draft.code,
              draft.name,
              ...draft.models.map(({ model }) => model),
            ]),
          },
        ])
      ).get(key)!;
      await writer.upsert('engine_variant', [
        {
          family_id: id,
          key: 'all',
          name: 'all',
          how_to_tell: null,
          serial_from: null,
          serial_to: null,
          models: draft.models,
          position: 0,
          produced_from: null,
          produced_to: null,
          pack_key: null,
        },
      ]);
      return { id, familyId: id, summary: `Engine ${draft.code} added` };
    });
  }
}
