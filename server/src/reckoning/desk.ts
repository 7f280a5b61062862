import type { DataSource } from 'typeorm';
import type { LibraryService } from '../knowledge/library.ts';
import type { ChangeService } from '../ledger/journal.ts';
import type { SettingsService } from '../ledger/settings.ts';
import type { ShopClock } from '../platform/clock.ts';

/** Services that a task at the desk works with. */
export interface Desk {
  readonly source: DataSource;
  readonly changes: ChangeService;
  readonly library: LibraryService;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

/** A task at the desk that reads a vehicle with its engine and writes changes of it. */
export abstract class DeskService {
  protected readonly changes: ChangeService;
  protected readonly library: LibraryService;
  protected readonly settings: SettingsService;
  protected readonly clock: ShopClock;
  protected readonly source: DataSource;

  constructor({ source, changes, library, settings, clock }: Desk) {
    this.source = source;
    this.changes = changes;
    this.library = library;
    this.settings = settings;
    this.clock = clock;
  }
}
