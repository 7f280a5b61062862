import { mayBeMade } from '../applicability/production.ts';
import type { VehicleFacts } from '../applicability/applicability.ts';
import type { NoticeAsking } from '../decision/facts.ts';
import { coveredUntil } from '../usage/cover.ts';
import type { UsagePath } from '../usage/path.ts';
import type { NoticeInForce } from './notice-types.ts';
import type { FindingFact, ServiceFact, WeakPointFact } from './types.ts';

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
 * What the notices in force still ask of a part: none has been answered by a renewal since its day, or, where it asks
 * for a look, by a look. A renewal comes before a look; null where nothing is open.
 */
export function askedByNotice(
  inForce: readonly NoticeInForce[],
  known: {
    readonly componentKey: string;
    readonly services: readonly ServiceFact[];
    readonly looks: readonly FindingFact[];
  },
): NoticeAsking | null {
  const renewedSince = (day: number): boolean =>
    known.services.some(
      (service) =>
        service.componentKey === known.componentKey &&
        service.certainty === 'done' &&
        (service.day ?? -Infinity) >= day,
    );
  const open = inForce.filter(
    ({ notice: { asks, issuedDay }, covered }) =>
      covered !== false &&
      !renewedSince(issuedDay) &&
      !(asks === 'look' && known.looks.some(({ day }) => day >= issuedDay)),
  );
  const first = open.find(({ notice }) => notice.asks === 'renew') ?? open[0];
  if (first === undefined) return null;
  const { asks, authority, number, issuedDay } = first.notice;
  return { asks, by: `${authority} ${number}`, day: issuedDay };
}
