import type { EntityManager } from 'typeorm';
import { familyKnowledge, type FamilyKnowledge } from './repository.ts';

/** Families that one process remembers at most; the one longest unused goes first. */
const MOST_REMEMBERED = 500;

/**
 * What the library knows of engine families. A family once read is remembered until the library's revision, which the database itself counts, has
 * moved on; every question brings the revision it read, so nothing old is ever answered.
 */
export class LibraryService {
  private readonly remembered = new Map<string, { readonly revision: number; readonly knowledge: FamilyKnowledge }>();

  /** An engine family with its variants and weak points as of `revision`, or null when there is none. */
  async family(manager: EntityManager, familyId: string, revision: number): Promise<FamilyKnowledge | null> {
    const known = this.remembered.get(familyId);
    if (known?.revision === revision) {
      this.remembered.delete(familyId);
      this.remembered.set(familyId, known);
      return known.knowledge;
    }
    const knowledge = await familyKnowledge(manager, familyId);
    if (knowledge === null) return null;
    this.remembered.set(familyId, { revision, knowledge });
    if (this.remembered.size > MOST_REMEMBERED) this.remembered.delete(this.remembered.keys().next().value!);
    return knowledge;
  }
}
