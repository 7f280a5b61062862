import { FAULTS, type CallDraft, type Changed } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import type { ShopClock } from '../../platform/clock.ts';
import { badField } from '../../platform/problem.ts';
import type { ChangeAuthor, ChangeService } from '../../ledger/journal.ts';

/** Calls to owners about a weak point or a notice. */
export class Calls {
  private readonly changes: ChangeService;
  private readonly clock: ShopClock;

  constructor({ changes, clock }: { readonly changes: ChangeService; readonly clock: ShopClock }) {
    this.changes = changes;
    this.clock = clock;
  }

  /** Puts a call on record, on the trail of its vehicle. */
  record(author: ChangeAuthor, { note, ...call }: CallDraft): Promise<Changed> {
    if (dayFromIso(call.day)! > this.clock.today()) throw badField('day', FAULTS.callToCome);
    return this.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', call.vehicleId);
      const [table, id, field] =
        call.noticeId === null
          ? (['weak_point', call.weakPointId, 'weakPointId'] as const)
          : (['notice', call.noticeId, 'noticeId'] as const);
      const [about] = await journal.manager.query<{ title: string }[]>(`select title from ${table} where id = $1`, [
        id,
      ]);
      if (!about) throw badField(field, 'is not in the library any more; reload the list');
      const row = await journal.insert('campaign_call', { ...call, note: note || null, userId: author.userId });
      return { id: row.id, vehicleId: vehicle.id, summary: `Called about “${about.title}”` };
    });
  }
}
