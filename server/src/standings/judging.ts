import type { FleetProgress } from '@crosspeen/contract';
import { isoInstant } from '../platform/paged.ts';
import type { DataSource, EntityManager } from 'typeorm';
import type { ShopClock } from '../platform/clock.ts';
import type { ExperienceService } from './experience.ts';
import type { LibraryService } from '../knowledge/library.ts';
import type { SettingsService } from '../ledger/settings.ts';
import { isStale, judgeAndSave, judgeNext } from './batch.ts';

/** Vehicles judged in one transaction. */
export const BATCH = 200;
const NONE = '00000000-0000-0000-0000-000000000000';

/** Judges one batch after the vehicle `after`, wherever it runs. */
export type JudgeBatch = (task: {
  readonly today: number;
  readonly size: number;
  readonly after: string;
}) => Promise<{ count: number; last: string }>;

export interface JudgePool {
  /** How many batches run at once. */
  readonly threads: number;
  readonly judge: JudgeBatch;
}

/** Reason of a round that somebody has asked for. */
export const ASKED_FOR = 'asked for';

/** Services that JudgingService works with. */
export interface JudgingServiceNeeds {
  readonly source: DataSource;
  readonly library: LibraryService;
  readonly settings: SettingsService;
  readonly experience: ExperienceService;
  readonly clock: ShopClock;
  readonly hands: JudgePool | null;
}

/**
 * Keeps the stored judgements of all vehicles up to date. What is behind is read off the stamps of the rows themselves,
 * so a round that is interrupted, by whatever, is gone on with by the next; several processes share one round.
 */
export class JudgingService {
  private running: Promise<void> | null = null;
  private again: string | null = null;
  private closing = false;
  private busy: () => boolean = () => false;

  constructor(private readonly needs: JudgingServiceNeeds) {}

  /**
   * Rounds of this process wait while `busy` says that something more pressing is under way; what they leave stays
   * marked as behind.
   */
  giveWayTo(busy: () => boolean): void {
    this.busy = busy;
  }

  /** Judges one vehicle in the caller's transaction. */
  async refresh(manager: EntityManager, vehicleId: string): Promise<void> {
    const ground = { settings: await this.needs.settings.now(manager), today: this.needs.clock.today() };
    await judgeAndSave(manager, { library: this.needs.library, ground }, [vehicleId]);
  }

  /** Judges one batch in this thread. */
  private async judgeHere({ today, size, after }: Parameters<JudgeBatch>[0]): Promise<{ count: number; last: string }> {
    return judgeNext(
      this.needs.source,
      { library: this.needs.library, ground: { settings: await this.needs.settings.now(), today } },
      { size, after },
    );
  }

  private async staleCount(): Promise<number> {
    const [row] = await this.needs.source.query<{ stale: number }[]>(
      `select count(*) as stale from vehicle_standing s where ${isStale('$1')}`,
      [this.needs.clock.todayIso()],
    );
    return Number(row!.stale);
  }

  /**
   * Starts a round, or joins the one that runs; resolves when nothing is behind any more or somebody has stopped it.
   */
  run(reason: string): Promise<void> {
    if (this.closing || this.busy()) return Promise.resolve();
    if (this.running) {
      this.again = reason;
      return this.running;
    }
    this.running = this.round(reason).finally(async () => {
      this.running = null;
      const next = this.again;
      this.again = null;
      if (next !== null) await this.run(next);
    });
    return this.running;
  }

  /** Lets this process end: its batches finish, the round stays open for the next process to go on with. */
  async close(): Promise<void> {
    this.closing = true;
    await this.idle();
  }

  /** Resolves when this process has nothing under way. */
  async idle(): Promise<void> {
    while (this.running) await this.running.catch(() => undefined);
  }

  private async round(reason: string): Promise<void> {
    // Figures first: the judgements rest on them.
    await this.needs.experience.catchUp(() => this.closing || this.busy());
    if (this.closing || this.busy()) return;
    const total = await this.staleCount();
    if (total === 0) return;
    const id = await this.begin(reason, total);
    const { threads, judge } = this.needs.hands ?? { threads: 1, judge: (task) => this.judgeHere(task) };
    let stopped = false;
    const lane = async (): Promise<void> => {
      for (let after = NONE; !stopped && !this.closing && !this.busy();) {
        const { count, last } = await judge({ today: this.needs.clock.today(), size: BATCH, after });
        if (count === 0) return;
        after = last;
        const [row] = await this.needs.source.query<[{ state: string }[], number]>(
          `update fleet_run
            set done = least(total, done + $2), touched_at = clock_timestamp()
            where id = $1
            returning state`,
          [id, count],
        );
        stopped = row[0]?.state !== 'running';
      }
    };
    try {
      await Promise.all(Array.from({ length: threads }, lane));
    } finally {
      if (!this.closing)
        await this.needs.source.query(
          `update fleet_run
            set state = 'done', finished_at = clock_timestamp(), done = case when $2 then done else total end
            where id = $1 and state = 'running'`,
          [id, stopped || this.busy()],
        );
    }
  }

  /** Opens a round, or takes over the one another process has open: its remainder is the same work. */
  private async begin(reason: string, total: number): Promise<string> {
    const [opened] = await this.needs.source.query<{ id: string }[]>(
      `insert into fleet_run (reason, state, total)
        values ($1, 'running', $2)
        on conflict (state)
        where state = 'running' do nothing
        returning id`,
      [reason, total],
    );
    if (opened) return opened.id;
    // What the other process left is what is behind now, whatever it once began with.
    const [open] = await this.needs.source.query<[{ id: string }[], number]>(
      "update fleet_run set total = done + $1, touched_at = clock_timestamp() where state = 'running' returning id",
      [total],
    );
    return open[0]?.id ?? this.begin(reason, total);
  }

  /** The sweep of every minute: a new day, a new model. A round that somebody stopped today is left stopped. */
  async sweep(): Promise<void> {
    if (await this.stoppedToday()) return;
    await this.run('a new day');
  }

  /** Tells whether somebody stopped a round today, by the workshop's day, and nobody has asked for one since. */
  private async stoppedToday(): Promise<boolean> {
    const [last] = await this.needs.source.query<{ at: Date; now: Date }[]>(
      `select finished_at as at, clock_timestamp() as now
        from fleet_run r
        where state = 'stopped'
          and not exists (select 1 from fleet_run a where a.reason = $1 and a.started_at > r.finished_at)
        order by finished_at desc
        limit 1`,
      [ASKED_FOR],
    );
    const { clock } = this.needs;
    return last !== undefined && clock.onTheWall(last.at).date === clock.onTheWall(last.now).date;
  }

  /** Stops the round after the batches under way; what is left stays marked as behind. */
  async stop(): Promise<void> {
    await this.needs.source.query(
      "update fleet_run set state = 'stopped', finished_at = clock_timestamp() where state = 'running'",
    );
  }

  async progress(): Promise<FleetProgress> {
    const [run] = await this.needs.source.query<FleetProgress['run'][]>(
      `select id, reason, state, total, done, ${isoInstant('started_at')} as "startedAt",
          ${isoInstant('finished_at')} as "finishedAt"
        from fleet_run
        order by started_at desc
        limit 1`,
    );
    const [row] = await this.needs.source.query<{ vehicles: number }[]>(
      'select count(*) as vehicles from vehicle_standing',
    );
    // While a round runs its own count says how much is left; counting anew would only hold it up.
    return {
      vehicles: Number(row!.vehicles),
      stale: run?.state === 'running' ? Math.max(1, run.total - run.done) : await this.staleCount(),
      run: run ?? null,
    };
  }
}
