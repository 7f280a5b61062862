import { printHere, type Printer } from './sheets/printer.ts';
import type { DataSource } from 'typeorm';
import { BenchService } from './features/bench/service.ts';
import { ExperienceService } from './standings/experience.ts';
import { ChangeService } from './ledger/journal.ts';
import { DeskNotes } from './features/desk/service.ts';
import { IntakeService } from './features/intake/service.ts';
import { markBehind } from './standings/batch.ts';
import { JudgingService, type JudgePool } from './standings/judging.ts';
import { Campaigns } from './lists/campaigns.ts';
import { EngineShelf } from './features/library/engines.ts';
import { LibraryDesk } from './knowledge/desk.ts';
import { PointDesk } from './features/library/points.ts';
import { Calls } from './features/notices/calls.ts';
import { Notices } from './features/notices/service.ts';
import { UpkeepShelf } from './features/library/upkeep.ts';
import type { PackPool } from './threads/pack-pool.ts';
import { PackDesk, type PackWork } from './features/packs/service.ts';
import { LibraryService } from './knowledge/library.ts';
import { LibraryShelf } from './features/library/shelf.ts';
import { LookupService } from './features/lookup/service.ts';
import { BackupService, type BackupPlace } from './features/backup/service.ts';
import { PeopleService } from './features/people/service.ts';
import { TabletShelf } from './features/people/tablets.ts';
import { BayDoor } from './features/session/bay.ts';
import { OwnAccount } from './features/session/own.ts';
import { StartService } from './features/start/service.ts';
import { TriageService } from './features/triage/service.ts';
import { PhotoShelf } from './features/walk/photos.ts';
import { WalkService } from './features/walk/service.ts';
import { SessionService } from './features/session/service.ts';
import { SettingUp } from './features/session/set-up.ts';
import { SettingsService } from './ledger/settings.ts';
import { VehicleRecordService } from './features/vehicles/records.ts';
import { VehicleRegistry } from './features/vehicles/registry.ts';
import { VehicleView } from './features/vehicles/view.ts';
import { VisitService } from './features/visits/service.ts';
import type { ShopClock } from './platform/clock.ts';

/** The services of all features, wired once. */
export interface Services {
  readonly source: DataSource;
  /** Connections for what holds one for long, so that short requests never wait for it. */
  readonly aside: DataSource;
  readonly clock: ShopClock;
  readonly changes: ChangeService;
  readonly sessions: SessionService;
  readonly own: OwnAccount;
  readonly bay: BayDoor;
  readonly settingUp: SettingUp;
  readonly backups: BackupService;
  readonly people: PeopleService;
  readonly tablets: TabletShelf;
  readonly settings: SettingsService;
  readonly shelf: LibraryShelf;
  readonly desk: LibraryDesk;
  readonly points: PointDesk;
  readonly engines: EngineShelf;
  readonly backupIsOld: () => Promise<boolean>;
  readonly start: StartService;
  readonly packs: PackWork & Pick<PackDesk, 'list'>;
  readonly notices: Notices;
  readonly upkeep: UpkeepShelf;
  readonly campaigns: Campaigns;
  readonly calls: Calls;
  readonly intake: IntakeService;
  readonly lookup: LookupService;
  readonly vehicles: VehicleRegistry;
  readonly records: VehicleRecordService;
  readonly view: VehicleView;
  readonly visits: VisitService;
  readonly printer: Printer;
  readonly walks: WalkService;
  readonly notes: DeskNotes;
  readonly photos: PhotoShelf;
  readonly triages: TriageService;
  readonly bench: BenchService;
  readonly experience: ExperienceService;
  readonly judging: JudgingService;
}

export interface ServiceOptions {
  readonly hands?: JudgePool | null;
  readonly judged?: 'at once' | 'next round';
  readonly aside?: DataSource;
  /** The thread that packs are read in; without one, the caller's own. */
  readonly packThread?: PackPool | null;
  /** Where backups are kept; null keeps none. */
  readonly backups?: BackupPlace | null;
  /** File of the pack that a workshop may begin with; null offers none. */
  readonly example?: string | null;
  /** Records a spreadsheet's run that failed through a fault of ours. */
  /** Makes sheets on a thread of its own; without one, in the caller's. */
  readonly printer?: Printer;
  readonly reportRun?: (error: unknown, fileId: string) => void;
}

/**
 * `hands` are the threads that judge the fleet; without any, it is judged in the caller's own thread. A vehicle that
 * changes is judged in the same transaction, or, where many are saved one after the other, marked as changed and
 * judged with the next round.
 */
export function buildServices(
  source: DataSource,
  clock: ShopClock,
  {
    hands = null,
    judged = 'at once',
    aside = source,
    packThread = null,
    backups = null,
    example = null,
    printer = { print: printHere },
    reportRun = () => undefined,
  }: ServiceOptions = {},
): Services {
  const changes = new ChangeService({ source, clock });
  const library = new LibraryService();
  const desk = new LibraryDesk({ source, markBehind });
  const announce = (): void => desk.announce();
  const packDesk = new PackDesk({ source, announce });
  const sessions = new SessionService({ source, clock });
  const packs: Services['packs'] = {
    ...(packThread?.work(announce) ?? {
      preview: (...asked) => packDesk.preview(...asked),
      take: (...asked) => packDesk.take(...asked),
    }),
    list: (page) => packDesk.list(page),
  };
  const settings = new SettingsService({ source, changes, clock });
  const backupService = new BackupService({ source: aside, settings, clock, place: backups });
  const experience = new ExperienceService({ source, library, settings, today: () => clock.today() });
  const judging = new JudgingService({ source, library, settings, experience, clock, hands });
  if (judged === 'at once') {
    // First what the workshop has seen, then the judgement that rests on it.
    changes.onVehicleChange((manager, vehicleId) => experience.vehicleChanged(manager, vehicleId));
    changes.onVehicleChange((manager, vehicleId) => judging.refresh(manager, vehicleId));
  } else changes.onVehicleChange((manager, vehicleId) => markBehind(manager, [vehicleId]));
  return {
    source,
    aside,
    clock,
    changes,
    settings,
    vehicles: new VehicleRegistry({ changes, library, settings, clock }),
    records: new VehicleRecordService({ changes, settings, clock }),
    view: new VehicleView({ source, settings, library, clock }),
    bench: new BenchService({ source, library }),
    experience,
    judging,
    shelf: new LibraryShelf(source),
    desk,
    points: new PointDesk({ source, desk }),
    engines: new EngineShelf(desk),
    packs,
    backupIsOld: async () => (await backupService.picture())?.old ?? false,
    start: new StartService({ source, packs, file: example }),
    notices: new Notices({ source, desk }),
    upkeep: new UpkeepShelf({ source, desk }),
    campaigns: new Campaigns({ source, clock }),
    calls: new Calls({ changes, clock }),
    sessions,
    own: new OwnAccount({ source, clock, tries: sessions.tries }),
    bay: new BayDoor({ source, clock, tries: sessions.tries }),
    backups: backupService,
    settingUp: new SettingUp({ source, clock, tries: sessions.tries, settings }),
    people: new PeopleService({ source, clock }),
    tablets: new TabletShelf({ source, clock }),
    intake: new IntakeService({ source, clock, report: reportRun }),
    lookup: new LookupService({ source, settings, library, clock }),
    visits: new VisitService({ source, changes, settings, clock }),
    walks: new WalkService({ source, changes, library, settings, clock }),
    printer,
    notes: new DeskNotes({ source, clock }),
    photos: new PhotoShelf({ source, changes, clock }),
    triages: new TriageService({ source, changes, library, settings, clock }),
  };
}
