import { mayBeMade } from '../applicability/production.ts';
import type { VehicleFacts } from '../applicability/applicability.ts';
import type { NoticeAsking } from '../decision/facts.ts';
import { coveredUntil } from '../usage/cover.ts';
import type { UsagePath } from '../usage/path.ts';
import type { NoticeInForce } from './notice-types.ts';
import { recordsOf } from './part.ts';
import type { FindingFact, WeakPointFact } from './types.ts';

interface NoticeKnown {
  readonly facts: Pick<VehicleFacts, 'model' | 'registeredDay'>;
  readonly path: Pick<UsagePath, 'knots' | 'rateKmPerDay'>;
  readonly today: number;
}

/** The notices of a weak point that are about this vehicle: by its model, and by when it may have been made. */
export function noticesInForce({ notices = [] }: Pick<WeakPointFact, 'notices'>, known: NoticeKnown): NoticeInForce[] {
  const { facts, path, today } = known;
  const { model, registeredDay = null } = facts;
  return notices
    .filter(
      ({ models, producedFromDay, producedToDay }) =>
        (models.length === 0 || model === null || models.includes(model)) &&
        mayBeMade(registeredDay, producedFromDay, producedToDay),
    )
    .map((notice) => {
      if (notice.cover === null) return { notice, coveredUntil: null, covered: null };
      const until = coveredUntil(notice.cover, path, registeredDay);
      return { notice, coveredUntil: until, covered: until === null || until >= today };
    });
}

/**
 * What the notices in force still ask of a part: none has been answered by a renewal of it since its day, or, where it
 * asks for a look, by one of the `looks` at the part that is in. A renewal comes before a look; null where nothing is
 * open.
 */
export function askedByNotice(
  inForce: readonly NoticeInForce[],
  part: Parameters<typeof recordsOf>[0],
  looks: readonly FindingFact[],
): NoticeAsking | null {
  if (inForce.length === 0) return null;
  const renewals = recordsOf(part).filter(({ certainty }) => certainty === 'done');
  const isSince = (since: number) => (record: { readonly day: number | null }) => (record.day ?? -Infinity) >= since;
  const open = inForce.filter(
    ({ notice: { asks, issuedDay }, covered }) =>
      covered !== false && !renewals.some(isSince(issuedDay)) && !(asks === 'look' && looks.some(isSince(issuedDay))),
  );
  const first = open.find(({ notice }) => notice.asks === 'renew') ?? open[0];
  return first === undefined
    ? null
    : { asks: first.notice.asks, by: `${first.notice.authority} ${first.notice.number}` };
}
