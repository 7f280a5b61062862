import type { FindingFact, ServiceFact } from '../outlook/record-types.ts';
import type { WeakPointFact } from '../outlook/types.ts';

/** Key of the answer to the look of a weak point. */
export const lookAbout = (weakPointId: string): string => `look:${weakPointId}`;

/** What a look on file says of one check: whether the part was worn or failed, and on which day. */
export interface FoundAnswer {
  readonly about: string;
  readonly weakPointId: string;
  readonly said: boolean;
  readonly day: number;
}

/**
 * Answers that findings on file give to the checks of a complaint. A worn or failed part counts from `sinceDay`, since
 * when what is reported may have come; a good one only from `reportedDay` on, since an earlier one was made before it
 * showed. The last finding of a weak point counts. One that was made before the part was renewed says nothing of the
 * part that is in now. Days are day numbers.
 */
export function foundAnswers(
  weakPoints: readonly Pick<WeakPointFact, 'id' | 'componentKey'>[],
  { findings, services }: { readonly findings: readonly FindingFact[]; readonly services: readonly ServiceFact[] },
  { sinceDay, reportedDay, today }: { readonly sinceDay: number; readonly reportedDay: number; readonly today: number },
): FoundAnswer[] {
  return weakPoints.flatMap(({ id, componentKey }) => {
    const renewedDay = services.reduce(
      (latest, service) =>
        service.componentKey === componentKey && service.certainty === 'done' && (service.day ?? Infinity) <= today
          ? Math.max(latest, service.day!)
          : latest,
      -Infinity,
    );
    const last = findings
      .filter(
        ({ weakPointId, day, result }) => weakPointId === id && day <= today && isOfThisPart(result, day, renewedDay),
      )
      .sort((a, b) => a.day - b.day)
      .at(-1);
    if (last === undefined) return [];
    const said = last.result !== 'sound';
    if (last.day < (said ? sinceDay : reportedDay)) return [];
    return [{ about: lookAbout(id), weakPointId: id, said, day: last.day }];
  });
}

/** On the day of a renewal a worn or failed part is the one that came out, a good one the one that went in. */
const isOfThisPart = (result: FindingFact['result'], day: number, renewedDay: number): boolean =>
  result === 'sound' ? day >= renewedDay : day > renewedDay;

/**
 * Answers given in the search with those on file. Of two to the same check the later one counts; of one day, the one
 * that was given in the search.
 */
export function withFound<Given extends { readonly about: string; readonly day: number }>(
  given: readonly Given[],
  found: readonly FoundAnswer[],
): { readonly given: Given[]; readonly found: FoundAnswer[] } {
  const beaten = (about: string, day: number): boolean => given.some((one) => one.about === about && one.day >= day);
  const counted = found.filter(({ about, day }) => !beaten(about, day));
  return { given: given.filter(({ about }) => !counted.some((one) => one.about === about)), found: counted };
}
