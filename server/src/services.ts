import type { DataSource } from 'typeorm';
import { BenchService } from './desk/bench/service.ts';
import { ExperienceService } from './standings/experience.ts';
import { ChangeService } from './ledger/journal.ts';
import { IntakeService } from './desk/intake/service.ts';
import { markBehind } from './standings/batch.ts';
import { JudgingService, type JudgeHands } from './standings/judging.ts';
import { Campaigns } from './desk/library/campaigns.ts';
import { LibraryDesk } from './desk/library/authoring.ts';
import { Notices } from './desk/library/notices.ts';
import type { PackHands } from './threads/pack-hands.ts';
import { PackDesk, type PackWork } from './desk/library/packs.ts';
import { LibraryService } from './knowledge/library.ts';
import { LibraryShelf } from './desk/library/shelf.ts';
import { LookupService } from './desk/lookup/service.ts';
import { SessionService } from './desk/session/service.ts';
import { SettingsService } from './ledger/settings.ts';
import { VehicleRecordService } from './desk/vehicles/records.ts';
import { VehicleRegistry } from './desk/vehicles/registry.ts';
import { VehicleView } from './desk/vehicles/view.ts';
import { VisitService } from './desk/visits/service.ts';
import type { ShopClock } from './platform/clock.ts';

/** The services of all features, wired once. */
export interface Services {
  readonly source: DataSource;
  /** Connections for what holds one for long, so that short requests never wait for it. */
  readonly aside: DataSource;
  readonly clock: ShopClock;
  readonly changes: ChangeService;
  readonly sessions: SessionService;
  readonly settings: SettingsService;
  readonly shelf: LibraryShelf;
  readonly desk: LibraryDesk;
  readonly packs: PackWork & Pick<PackDesk, 'list'>;
  readonly notices: Notices;
  readonly campaigns: Campaigns;
  readonly intake: IntakeService;
  readonly lookup: LookupService;
  readonly vehicles: VehicleRegistry;
  readonly records: VehicleRecordService;
  readonly view: VehicleView;
  readonly visits: VisitService;
  readonly bench: BenchService;
  readonly experience: ExperienceService;
  readonly judging: JudgingService;
}

export interface ServiceOptions {
  readonly hands?: JudgeHands | null;
  readonly judged?: 'at once' | 'next round';
  readonly aside?: DataSource;
  /** The thread that packs are read in; without one, the caller's own. */
  readonly packThread?: PackHands | null;
}

/**
 * `hands` are the threads that judge the fleet; without any, it is judged in the caller's own thread. A vehicle that
 * changes is judged in the same transaction, or, where many are put on file one after the other, marked as changed and
 * judged with the next round.
 */
export function buildServices(
  source: DataSource,
  clock: ShopClock,
  { hands = null, judged = 'at once', aside = source, packThread = null }: ServiceOptions = {},
): Services {
  const changes = new ChangeService(source, clock);
  const library = new LibraryService();
  const desk = new LibraryDesk(source);
  const announce = (): void => desk.announce();
  const packDesk = new PackDesk(source, announce);
  const settings = new SettingsService(source, changes);
  const experience = new ExperienceService(source, library, settings, () => clock.today());
  const judging = new JudgingService(source, library, settings, experience, clock, hands);
  if (judged === 'at once') {
    // First what the workshop has seen, then the judgement that rests on it.
    changes.onVehicleChange((manager, vehicleId) => experience.vehicleChanged(manager, vehicleId));
    changes.onVehicleChange((manager, vehicleId) => judging.refresh(manager, vehicleId));
  } else changes.onVehicleChange((manager, vehicleId) => markBehind(manager, [vehicleId]));
  const view = new VehicleView(source, settings, library, clock);
  const records = new VehicleRecordService(changes, view, clock);
  return {
    source,
    aside,
    clock,
    changes,
    settings,
    vehicles: new VehicleRegistry(changes, library, clock),
    records,
    view,
    bench: new BenchService(source, library),
    experience,
    judging,
    shelf: new LibraryShelf(source),
    desk,
    packs: {
      ...(packThread?.work(announce) ?? {
        preview: (...asked) => packDesk.preview(...asked),
        take: (...asked) => packDesk.take(...asked),
      }),
      list: (page) => packDesk.list(page),
    },
    notices: new Notices(source, desk),
    campaigns: new Campaigns(source, changes, clock),
    sessions: new SessionService(source, clock),
    intake: new IntakeService(source, clock),
    lookup: new LookupService(source, settings, library, clock),
    visits: new VisitService(source, changes, { view, records }, clock),
  };
}
