import type { EntityManager } from 'typeorm';
import { familyKnowledge, type FamilyKnowledge } from './family.ts';

/** Families that one process remembers at most; the one longest unused goes first. */
const MOST_REMEMBERED = 500;

/** What is known of a family, with the revision it was read at. */
export type RevisedKnowledge = FamilyKnowledge & { readonly revision: number };

/**
 * A revision, and the transaction that wrote it: another database put in this one's place may count to the same number.
 */
interface FamilyState {
  readonly familyId: string;
  readonly revision: number;
  readonly writtenBy: string;
}

/**
 * What the library and the workshop's own experience know of engine families. A family once read is remembered until
 * its revision, which the database itself counts, has moved on; every question asks for the revision, so nothing old is
 * ever answered.
 */
export class LibraryService {
  private readonly remembered = new Map<string, { readonly writtenBy: string; readonly knowledge: RevisedKnowledge }>();

  /** An engine family with its variants and weak points as they are now, or null when there is none. */
  async family(manager: EntityManager, familyId: string): Promise<RevisedKnowledge | null> {
    return (await this.families(manager, [familyId])).get(familyId) ?? null;
  }

  /** Several engine families at once, their revisions in one query. */
  async families(manager: EntityManager, familyIds: readonly string[]): Promise<Map<string, RevisedKnowledge>> {
    const states = await manager.query<FamilyState[]>(
      `select family_id as "familyId", revision, xmin::text as "writtenBy"
        from family_state
        where family_id = any($1::uuid[])`,
      [familyIds],
    );
    const found = new Map<string, RevisedKnowledge>();
    for (const state of states) {
      const knowledge = await this.atRevision(manager, state);
      if (knowledge) found.set(state.familyId, knowledge);
    }
    return found;
  }

  private async atRevision(manager: EntityManager, state: FamilyState): Promise<RevisedKnowledge | null> {
    const { familyId, writtenBy } = state;
    const known = this.remembered.get(familyId);
    if (known?.knowledge.revision === state.revision && known.writtenBy === writtenBy) {
      this.remembered.delete(familyId);
      this.remembered.set(familyId, known);
      return known.knowledge;
    }
    const read = await familyKnowledge(manager, familyId);
    if (read === null) return null;
    const knowledge = { ...read, revision: state.revision };
    // A transaction may yet be rolled back, and its revision be given to something else: what it reads is not
    // remembered.
    if (manager.queryRunner?.isTransactionActive === true) return knowledge;
    this.remembered.set(familyId, { writtenBy, knowledge });
    if (this.remembered.size > MOST_REMEMBERED) this.remembered.delete(this.remembered.keys().next().value!);
    return knowledge;
  }
}
