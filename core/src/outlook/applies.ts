import { applicability, type Applicability } from '../applicability/applicability.ts';
import { decidingRecord } from './part.ts';
import type { OutlookInput, WeakPointFact } from './types.ts';

type PartKnown = Pick<OutlookInput, 'facts' | 'services' | 'today'>;

/** Revision of the part in there: as somebody saw it, else as the record of its renewal says; null if nobody knows. */
export function fittedRevision(weakPoint: WeakPointFact, known: PartKnown, fittedDay: number | null): string | null {
  const { facts, services, today } = known;
  const seen = facts.fitted?.[weakPoint.componentKey];
  if (seen !== undefined) return seen;
  const record = decidingRecord({ weakPoint, services, fittedDay, nowDay: today });
  return record?.certainty === 'done' ? record.revision : null;
}

/**
 * Decides whether a weak point applies to this vehicle with the parts that are in it. One that only a revision has
 * applies where that one was put in, and to the variants that were built with it. `fittedDay` is the day on which
 * another engine was put in, null for none.
 */
export function appliesHere(weakPoint: WeakPointFact, known: PartKnown, fittedDay: number | null): Applicability {
  const { revisionFitted, ...built } = weakPoint.appliesTo;
  if (revisionFitted === undefined) return applicability(built, known.facts);
  const { variants, ...elsewhere } = built;
  if (fittedRevision(weakPoint, known, fittedDay) === revisionFitted) return applicability(elsewhere, known.facts);
  const inVariant = variants === undefined ? null : applicability(built, known.facts);
  return inVariant === null || inVariant.applies === 'no'
    ? { applies: 'no', weight: 0, because: `only where revision ${revisionFitted} of the part is fitted` }
    : inVariant;
}
