import {
  FAULTS,
  type Changed,
  type SymptomCreate,
  type TriageAnswerCreate,
  type TriageEndCreate,
  type WireTriage,
} from '@crosspeen/contract';
import { dayFromIso, isoFromDay, outlook, showsHere, unlistedOddsBeside, type WeakPointFact } from '@crosspeen/core';
import type { DataSource, EntityManager } from 'typeorm';
import { engineOnFile, pointOfEngine } from '../../knowledge/engine.ts';
import type { FamilyKnowledge } from '../../knowledge/family.ts';
import type { LibraryService } from '../../knowledge/library.ts';
import type { ChangeAuthor, ChangeService } from '../../ledger/journal.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import type { ShopClock } from '../../platform/clock.ts';
import { badField } from '../../platform/problem.ts';
import { questionOf } from '../../reckoning/answer.ts';
import { recordsOfVehicle, subjectOf, type VehicleRecords } from '../../reckoning/records.ts';

/** How often a symptom shows under a cause that is not told to show so, and under one that nobody listed. */
const SHOWS_OTHERWISE = 0.02;
const SHOWS_UNLISTED = 0.1;
/** A check for something listed says yes so often when it is something else that nobody listed. */
const SAYS_UNLISTED = 0.05;
/** Minutes that asking takes. */
const ASKING_MINUTES = 1;
/** Days over which chances are reckoned at least: what has just begun may have been long in coming. */
const LEAST_DAYS = 90;

/** How repairs of this workshop ended where a symptom had been reported, by symptom and weak point key. */
interface EndCount {
  readonly symptomId: string;
  readonly weakPointKey: string;
  readonly proved: number;
  readonly refuted: number;
}

const countKey = (symptomId: string, weakPointKey: string): string => `${symptomId} ${weakPointKey}`;

interface SymptomOut {
  readonly id: string;
  readonly key: string;
  readonly words: string;
  readonly codes: string[];
  readonly stop: string | null;
  readonly tells: string | null;
}

/** What it stands on. */
interface Desk {
  readonly changes: ChangeService;
  readonly library: LibraryService;
  readonly settings: SettingsService;
  readonly clock: ShopClock;
}

/** What a customer hears and sees, and the search for its cause on one vehicle. */
export class TriageService {
  private readonly changes: ChangeService;
  private readonly library: LibraryService;
  private readonly settings: SettingsService;
  private readonly clock: ShopClock;

  constructor(
    private readonly source: DataSource,
    { changes, library, settings, clock }: Desk,
  ) {
    this.changes = changes;
    this.library = library;
    this.settings = settings;
    this.clock = clock;
  }

  /** Chances of the weak points of a vehicle to have failed since a day, by id: judged as it stood that day. */
  private async risksSince(
    records: VehicleRecords,
    knowledge: FamilyKnowledge,
    sinceDay: number,
  ): Promise<Map<string, number>> {
    const settings = await this.settings.now(this.source.manager);
    const { input } = questionOf({
      knowledge,
      subject: subjectOf(records, sinceDay),
      settings: { ...settings, serviceDays: this.clock.today() - sinceDay, serviceKm: Number.MAX_SAFE_INTEGER },
      today: sinceDay,
    });
    const { rows } = outlook(input, { drawn: false });
    return new Map(rows.map(({ weakPoint, chance }) => [weakPoint.id, chance]));
  }

  /** How a vehicle and its engine are called. Throws not_found. */
  async named(vehicleId: string): Promise<{ readonly name: string; readonly engine: string }> {
    const { row } = await recordsOfVehicle(this.source.manager, vehicleId);
    const { engine } = await engineOnFile(this.library, this.source.manager, row.familyId);
    return { name: row.plate ?? row.name ?? engine.code, engine: `${engine.maker} ${row.model ?? ''} ${engine.code}` };
  }

  /** What is reported of a vehicle and what explains it, with the checks that would tell more. Throws not_found. */
  async view(vehicleId: string): Promise<WireTriage> {
    const { manager } = this.source;
    const records = await recordsOfVehicle(manager, vehicleId);
    const knowledge = await engineOnFile(this.library, manager, records.row.familyId);
    const today = this.clock.today();
    const [reports, answers, ends, symptoms, counts] = await Promise.all([
      reportsOf(manager, vehicleId),
      answersOf(manager, vehicleId),
      endsOf(manager, vehicleId),
      symptomsOf(manager, knowledge),
      endCounts(manager, records.row.familyId),
    ]);
    const byId = new Map(symptoms.map((symptom) => [symptom.id, symptom]));
    const listed = reports.flatMap(({ symptomId }) => {
      const symptom = symptomId === null ? undefined : byId.get(symptomId);
      return symptom === undefined ? [] : [symptom];
    });
    const sinceDay = Math.min(today - LEAST_DAYS, ...reports.map(({ day, goodDay }) => dayFromIso(goodDay ?? day)!));
    const risks = await this.risksSince(records, knowledge, sinceDay);
    const facts = knowledge.weakPoints.filter(({ id }) => risks.has(id));
    const countOf = (symptomId: string, key: string): { proved: number; refuted: number } =>
      counts.get(countKey(symptomId, key)) ?? { proved: 0, refuted: 0 };
    const showsSymptom = (symptom: SymptomOut): number[] => [
      ...facts.map((fact) => {
        const told = fact.symptoms.find((one) => one.symptom === symptom.key)?.shows ?? SHOWS_OTHERWISE;
        return showsHere(told, countOf(symptom.id, fact.key));
      }),
      SHOWS_UNLISTED,
    ];
    // A cause is a candidate once something that is reported may be its doing; the rest only share the blame.
    const candidates = new Set(
      facts
        .filter((fact) => fact.symptoms.some(({ symptom }) => listed.some(({ key }) => key === symptom)))
        .map(({ id }) => id),
    );
    const operations = new Map(knowledge.operations.map((operation) => [operation.key, operation]));
    const offOf = (off: readonly string[] | undefined): string[] => (off ?? []).filter((key) => operations.has(key));
    const reported = listed.map((symptom) => ({
      about: `symptom:${symptom.id}`,
      kind: 'symptom' as const,
      words: symptom.words,
      more: symptom.tells,
      minutes: ASKING_MINUTES,
      off: [],
      cautions: [],
      weakPointId: null,
      shows: showsSymptom(symptom),
    }));
    return {
      sinceDay,
      reports: reports.map(({ symptomId, ...report }) => {
        const symptom = symptomId === null ? undefined : byId.get(symptomId);
        return {
          ...report,
          symptomId,
          stop: symptom?.stop ?? null,
          codes: symptom?.codes ?? [],
          listed: symptom !== undefined,
        };
      }),
      explanations: facts.map((fact) => {
        const here = listed.map(({ id }) => countOf(id, fact.key));
        const proved = here.reduce((sum, count) => sum + count.proved, 0);
        return {
          weakPointId: fact.id as WireTriage['explanations'][number]['weakPointId'],
          title: fact.title,
          component: fact.component,
          risk: Math.min(risks.get(fact.id)!, 0.999),
          here: { proved, of: proved + here.reduce((sum, count) => sum + count.refuted, 0) },
        };
      }),
      unlistedOdds: unlistedOddsBeside(facts.map(({ id }) => Math.min(risks.get(id)!, 0.999))),
      checks: [
        ...reported,
        ...knowledge.checks
          .filter(({ shows }) => shows.some(({ weakPoint }) => facts.some((fact) => fact.key === weakPoint)))
          .map((check) => ({
            about: `check:${check.key}`,
            kind: 'check' as const,
            words: check.ask,
            more: null,
            minutes: check.minutes,
            off: offOf(check.off),
            cautions: [...(check.cautions ?? [])],
            weakPointId: null,
            shows: [
              ...facts.map(
                (fact) => check.shows.find(({ weakPoint }) => weakPoint === fact.key)?.yes ?? check.otherwise,
              ),
              Math.max(check.otherwise, SAYS_UNLISTED),
            ],
          })),
        ...facts
          .filter((fact) => fact.look !== null && candidates.has(fact.id))
          .map((fact) => ({
            about: `look:${fact.id}`,
            kind: 'look' as const,
            words: `${fact.component}: worn or failed?`,
            more: fact.look!.how,
            minutes: fact.look!.minutes,
            off: offOf(fact.look!.off),
            cautions: [...(fact.look!.cautions ?? [])],
            weakPointId: fact.id as never,
            shows: [
              ...facts.map((other) => (other.id === fact.id ? fact.look!.detection : fact.look!.falseAlarm)),
              fact.look!.falseAlarm,
            ],
          })),
        ...symptoms
          .filter(
            ({ id, key }) =>
              !listed.some((one) => one.id === id) &&
              facts.some((fact) => candidates.has(fact.id) && fact.symptoms.some(({ symptom }) => symptom === key)),
          )
          .map((symptom) => ({
            about: `symptom:${symptom.id}`,
            kind: 'symptom' as const,
            words: symptom.words,
            more: symptom.codes.length > 0 ? `Code ${symptom.codes.join(', ')}` : null,
            minutes: ASKING_MINUTES,
            off: [],
            cautions: [],
            weakPointId: null,
            shows: showsSymptom(symptom),
          })),
      ],
      operations: Object.fromEntries(
        knowledge.operations.map(({ key, name, minutes, needs }) => [key, { name, minutes, needs: [...needs] }]),
      ),
      answers,
      ends,
      vocabulary: symptoms.map(({ id, words, codes, stop }) => ({ id, words, codes, stop })),
    };
  }

  /** Records what a customer reports. Throws bad_input. */
  async report(author: ChangeAuthor, vehicleId: string, report: SymptomCreate): Promise<Changed> {
    const today = isoFromDay(this.clock.today());
    if (report.day > today) throw badField('day', FAULTS.reportToCome);
    if (report.goodDay && report.goodDay > report.day) throw badField('goodDay', FAULTS.goodAfterReported);
    return this.changes.record(author, async (journal) => {
      await journal.lock('vehicle', vehicleId);
      const row = await journal.insert('symptom_report', {
        vehicleId,
        symptomId: report.symptomId,
        words: report.words,
        condition: report.condition || null,
        day: report.day,
        goodDay: report.goodDay ?? null,
        userId: author.userId,
      });
      return { id: row.id, vehicleId, summary: `Reported: ${report.words}` };
    });
  }

  /** Records what a check said; what it said before is taken back. */
  async answer(author: ChangeAuthor, vehicleId: string, { about, words, said }: TriageAnswerCreate): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      await journal.lock('vehicle', vehicleId);
      const before = await journal.manager.query<{ id: string }[]>(
        'select id from triage_answer where vehicle_id = $1 and about = $2 and retracted_at is null',
        [vehicleId, about],
      );
      for (const { id } of before) await journal.retract('triage_answer', id);
      const row = await journal.insert('triage_answer', {
        vehicleId,
        about,
        words,
        said,
        day: isoFromDay(this.clock.today()),
        userId: author.userId,
      });
      return { id: row.id, vehicleId, summary: `${words}: ${said ? 'yes' : 'no'}` };
    });
  }

  /**
   * Ends a search with what the repair said of an explanation, which goes into what is known of the symptom; what was
   * reported and answered stays in the history and is no longer open.
   */
  async end(
    author: ChangeAuthor,
    vehicleId: string,
    { weakPointId, outcome, note }: TriageEndCreate,
  ): Promise<Changed> {
    return this.changes.record(author, async (journal) => {
      const vehicle = await journal.lock('vehicle', vehicleId);
      const title =
        weakPointId === null
          ? 'something that is not listed'
          : (await pointOfEngine(journal.manager, vehicle.familyId, weakPointId)).title;
      const reports = await reportsOf(journal.manager, vehicleId);
      const row = await journal.insert('triage_end', {
        vehicleId,
        weakPointId,
        outcome,
        symptoms: reports.flatMap(({ symptomId }) => (symptomId === null ? [] : [symptomId])),
        day: isoFromDay(this.clock.today()),
        note: note || null,
        userId: author.userId,
      });
      const words = { proved: 'was the cause', refuted: 'was not the cause', given_up: 'cause not found' } as const;
      return {
        id: row.id,
        vehicleId,
        summary: outcome === 'given_up' ? 'The search for the cause was given up' : `${title}: ${words[outcome]}`,
      };
    });
  }
}

/** Since the last search that ended otherwise than refuted: what came before belongs to that one. */
const SINCE_LAST_END = `coalesce(
    (
      select max(n.created_at)
      from triage_end n
      where n.vehicle_id = $1 and n.retracted_at is null and n.outcome <> 'refuted'
    ), '-infinity'
  )`;

const reportsOf = (
  manager: EntityManager,
  vehicleId: string,
): Promise<Omit<WireTriage['reports'][number], 'stop' | 'codes' | 'listed'>[]> =>
  manager.query(
    `select r.id, r.symptom_id as "symptomId", r.words, r.condition, r.day, r.good_day as "goodDay",
        u.display_name as by
      from symptom_report r
      join app_user u on u.id = r.user_id
      where r.vehicle_id = $1 and r.retracted_at is null and r.created_at > ${SINCE_LAST_END}
      order by r.day, r.created_at`,
    [vehicleId],
  );

const answersOf = (manager: EntityManager, vehicleId: string): Promise<WireTriage['answers']> =>
  manager.query(
    `select r.id, r.about, r.words, r.said, r.day, u.display_name as by
      from triage_answer r
      join app_user u on u.id = r.user_id
      where r.vehicle_id = $1 and r.retracted_at is null and r.created_at > ${SINCE_LAST_END}
      order by r.created_at`,
    [vehicleId],
  );

const endsOf = (manager: EntityManager, vehicleId: string): Promise<WireTriage['ends']> =>
  manager.query(
    `select r.id, r.weak_point_id as "weakPointId", w.title, r.outcome, r.day, r.note, u.display_name as by,
        array(select s.words from symptom s where r.symptoms @> to_jsonb(s.id) order by s.words) as symptoms
      from triage_end r
      join app_user u on u.id = r.user_id
      left join weak_point w on w.id = r.weak_point_id
      where r.vehicle_id = $1 and r.retracted_at is null
      order by r.created_at desc
      limit 20`,
    [vehicleId],
  );

/** The symptoms that weak points of an engine are told to show, in their words. */
const symptomsOf = (manager: EntityManager, { weakPoints }: FamilyKnowledge): Promise<SymptomOut[]> =>
  manager.query('select id, key, words, codes, stop, tells from symptom where key = any($1::text[]) order by words', [
    [
      ...new Set(
        weakPoints.flatMap(({ symptoms }: Pick<WeakPointFact, 'symptoms'>) => symptoms.map((one) => one.symptom)),
      ),
    ],
  ]);

/** How searches on an engine family ended, by symptom and weak point. */
async function endCounts(manager: EntityManager, familyId: string): Promise<Map<string, EndCount>> {
  const rows = await manager.query<EndCount[]>(
    `select told as "symptomId", w.key as "weakPointKey",
        (count(*) filter (where r.outcome = 'proved'))::int as proved,
        (count(*) filter (where r.outcome = 'refuted'))::int as refuted
      from triage_end r
      join weak_point w on w.id = r.weak_point_id
      cross join jsonb_array_elements_text(r.symptoms) as told
      where w.family_id = $1 and r.retracted_at is null
      group by told, w.key`,
    [familyId],
  );
  return new Map(rows.map((row) => [countKey(row.symptomId, row.weakPointKey), row]));
}
