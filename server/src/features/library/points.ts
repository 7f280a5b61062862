import { FAULTS, SAID, type Changed, type PointDraft, type PointState } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import type { DataSource } from 'typeorm';
import { badField, Problem } from '../../platform/problem.ts';
import { mayBeMadeSql } from '../../reckoning/production.ts';
import { ComponentEntity, componentColumns } from '../../knowledge/component.ts';
import { FamilyEntity, VariantEntity } from '../../knowledge/rows.ts';
import { readSpans, spansOver } from '../../knowledge/said.ts';
import { statementColumns, StatementEntity } from '../../knowledge/statement.ts';
import { columnsFromDraft } from '../../knowledge/weak-point.ts';
import { WeakPointEntity } from '../../knowledge/weak-point-row.ts';
import type { LibraryWriter } from '../../knowledge/writer.ts';
import { type Row } from '../../knowledge/writer.ts';

import type { LibraryDesk } from '../../knowledge/desk.ts';
import { slug, type Author } from '../../knowledge/desk.ts';

/** Steps a weak point may take, and whether only the owner may take them. */
const STEPS: Readonly<Record<PointState, Readonly<Partial<Record<PointState, 'anyone' | 'owner'>>>>> = {
  draft: { review: 'anyone', published: 'owner' },
  review: { draft: 'anyone', published: 'owner' },
  published: { superseded: 'owner', retired: 'owner', draft: 'owner' },
  superseded: { published: 'owner' },
  retired: { published: 'owner' },
};
const STEP_WORDS: Readonly<Record<PointState, string>> = {
  draft: 'back to draft',
  review: 'put up for review',
  published: 'published',
  superseded: 'superseded',
  retired: 'retired',
};

/** Weak points written by hand, from draft to publication. */
export class PointDesk {
  private readonly source: DataSource;
  private readonly desk: LibraryDesk;

  constructor({ source, desk }: { readonly source: DataSource; readonly desk: LibraryDesk }) {
    this.source = source;
    this.desk = desk;
  }

  /**
   * A draft's columns, laid over the row that stands: what the form does not show, and what it shows only rounded,
   * stays as it was. A new component is written on the way.
   */
  private async columns(writer: LibraryWriter, draft: PointDraft, pointId: string | null): Promise<Row> {
    const { manager } = writer;
    const standing = pointId === null ? null : await manager.findOneBy(WeakPointEntity, { id: pointId });
    const variants = (await manager.findBy(VariantEntity, { familyId: draft.familyId })).map(({ key }) => key);
    if (variants.length === 0) throw badField('familyId', FAULTS.noEngine);
    for (const key of draft.variants)
      if (!variants.includes(key)) throw badField('variants', FAULTS.noVariantNamed(key));
    let { componentId } = draft;
    if (draft.newComponent !== null) {
      const { name, class: kind, group } = draft.newComponent;
      const key = await this.desk.freeKey(manager, 'component', name);
      componentId = (
        await writer.upsert('component', [
          componentColumns({ key, name, class: kind, group, fittedTo: 'engine' }, null),
        ])
      ).get(key)!;
    } else if (!(await manager.existsBy(ComponentEntity, { id: componentId! })))
      throw badField('componentId', FAULTS.noComponent);
    return {
      family_id: draft.familyId,
      component_id: componentId,
      ...columnsFromDraft(draft, standing ?? undefined),
      pack_key: null,
    };
  }

  /** Writes what this workshop itself says: one statement, in its own place. */
  private async say(writer: LibraryWriter, pointId: string, statement: PointDraft['statement']): Promise<void> {
    const { manager } = writer;
    const { id: authorityId } = await this.desk.benchOf(writer);
    const standing = await manager.find(StatementEntity, {
      where: { weakPointId: pointId },
      order: { position: 'ASC' },
    });
    const own = standing.find((row) => row.authorityId === authorityId);
    if (statement !== null) {
      const interval = statement.interval
        ? spansOver(readSpans(statement.interval, 'statement.interval'), own?.interval)
        : [];
      await writer.upsert('statement', [
        statementColumns({
          weakPointId: pointId,
          position: own?.position ?? (standing.at(-1)?.position ?? -1) + 1,
          authorityId,
          edition: own?.edition ?? null,
          words: statement.words,
          interval,
          asks: statement.asks,
          doubted: own?.doubted ?? false,
          always: own?.always ?? false,
          strength: statement.strength,
        }),
      ]);
    } else if (own)
      await writer.remove(
        'statement',
        "weak_point_id = $1 and authority_id = (select id from authority where kind = 'bench' order by key limit 1)",
        pointId,
      );
  }

  /** Writes a new weak point, as a draft. */
  create(author: Author, draft: PointDraft): Promise<Changed> {
    return this.desk.change(author, async (writer) => {
      const family = await writer.manager.findOneBy(FamilyEntity, { id: draft.familyId });
      if (!family) throw badField('familyId', FAULTS.noEngine);
      const columns = await this.columns(writer, draft, null);
      const key = await this.desk.freeKey(writer.manager, 'weak_point', `${family.key}-${slug(draft.title)}`);
      const last = await writer.manager.maximum(WeakPointEntity, 'position', { familyId: draft.familyId });
      const id = (
        await writer.upsert('weak_point', [
          {
            key,
            ...columns,
            state: 'draft',
            position: (last ?? -1) + 1,
            operation_id: null,
            written_by: author.userId,
          },
        ])
      ).get(key)!;
      await this.say(writer, id, draft.statement);
      return { id, familyId: draft.familyId, summary: `“${draft.title}” written as a draft` };
    });
  }

  /**
   * Corrects a weak point. What is published is the owner's to change. Throws changed_meanwhile with the row as it is
   * now.
   */
  update(author: Author, id: string, draft: PointDraft, version: number): Promise<Changed> {
    return this.desk.change(author, async (writer) => {
      const now = await writer.manager.findOneBy(WeakPointEntity, { id });
      if (!now) throw new Problem('not_found');
      if (now.state !== 'draft' && now.state !== 'review' && author.role !== 'owner')
        throw new Problem(SAID.publishedIsTheOwners);
      if (now.familyId !== draft.familyId) throw badField('familyId', FAULTS.engineStays);
      await writer.update('weak_point', id, await this.columns(writer, draft, id), version);
      await this.say(writer, id, draft.statement);
      return { id, familyId: draft.familyId, summary: `“${draft.title}” corrected` };
    });
  }

  /** Takes a weak point a step on its way. */
  step(
    author: Author,
    id: string,
    {
      state,
      version,
      retiredFrom,
      supersededBy,
    }: { state: PointState; version: number; retiredFrom: string | null; supersededBy: string | null },
  ): Promise<Changed> {
    return this.desk.change(author, async (writer) => {
      const now = await writer.manager.findOneBy(WeakPointEntity, { id });
      if (!now) throw new Problem('not_found');
      const who = STEPS[now.state][state];
      if (who === undefined) throw badField('state', FAULTS.cannotFollow(now.state));
      if (who === 'owner' && author.role !== 'owner') throw new Problem(SAID.publishingIsTheOwners);
      const { producedToDay, ...open } = now.appliesTo;
      // Retired from a production date on: engines made before it keep the weak point.
      const rule =
        retiredFrom !== null
          ? { ...open, producedToDay: Math.min(producedToDay ?? Infinity, dayFromIso(retiredFrom)! - 1) }
          : now.state === 'retired'
            ? open
            : now.appliesTo;
      await writer.update(
        'weak_point',
        id,
        {
          state,
          retired_from: retiredFrom,
          superseded_by: state === 'superseded' ? supersededBy : null,
          applies_to: rule,
        },
        version,
      );
      return { id, familyId: now.familyId, summary: `“${now.title}” ${STEP_WORDS[state]}` };
    });
  }

  /** How many saved vehicles a draft touches, how many of them only may be touched, and what it resembles. */
  async touches({
    familyId,
    variants,
    producedFrom,
    producedTo,
    title,
    componentId,
    not,
  }: {
    readonly familyId: string;
    readonly variants: readonly string[];
    readonly producedFrom: string | null;
    readonly producedTo: string | null;
    readonly title: string;
    readonly componentId: string | null;
    readonly not: string | null;
  }): Promise<{
    vehicles: number;
    open: number;
    similar: { id: never; title: string; component: string; state: PointState }[];
  }> {
    const [counts] = await this.source.query<{ vehicles: number; open: number }[]>(
      `select count(*)::int as vehicles,
          count(*) filter (
            where (cardinality($2::text[]) > 0 and variant_key is null)
              or (($3::date is not null or $4::date is not null) and first_registered is null)
          )::int as open
       from vehicle
       where family_id = $1
         and retracted_at is null
         and (cardinality($2::text[]) = 0 or variant_key is null or variant_key = any($2::text[]))
         and ${mayBeMadeSql('first_registered', '$3::date', '$4::date')}`,
      [familyId, variants, producedFrom, producedTo],
    );
    const similar =
      title.trim().length < 4 && componentId === null
        ? []
        : await this.source.query<{ id: never; title: string; component: string; state: PointState }[]>(
            `select w.id, w.title, c.name as component, w.state
              from weak_point w
              join component c on c.id = w.component_id
       where w.family_id = $1
         and w.id is distinct from $4::uuid
         and w.state <> 'superseded'
         and (
           similarity(w.title, $2) > 0.35
             or ($3::uuid is not null and w.component_id = $3::uuid and similarity(w.title, $2) > 0.15)
         )
       order by similarity(w.title, $2) desc, w.title limit 4`,
            [familyId, title, componentId, not],
          );
    return { ...counts!, similar };
  }
}
