import {
  FAULTS,
  type Changed,
  type SymptomCreate,
  type TriageAnswerCreate,
  type TriageEndCreate,
  type WireTriage,
} from '@crosspeen/contract';
import { dayFromIso, isoFromDay } from '@crosspeen/core';
import type { EntityManager } from 'typeorm';
import { engineOnFile, pointOfEngine } from '../../knowledge/engine.ts';
import type { ChangeAuthor } from '../../ledger/journal.ts';
import { sinceLastEnd } from '../../ledger/records.ts';
import { badField } from '../../platform/problem.ts';
import {
  answersOf,
  endCounts,
  forbidsOf,
  risksSince,
  searchOf,
  sinceDayOf,
  symptomsOf,
} from '../../reckoning/complaint.ts';
import { DeskService } from '../../reckoning/desk.ts';
import { recordsOfVehicle, subjectOf } from '../../reckoning/records.ts';

const dayOrNull = (iso: string | null): number | null => (iso === null ? null : dayFromIso(iso)!);

/** What a customer hears and sees, and the search for its cause on one vehicle. */
export class TriageService extends DeskService {
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
    const [reports, ends, symptoms, counts] = await Promise.all([
      reportsOf(manager, vehicleId),
      endsOf(manager, vehicleId),
      symptomsOf(manager, knowledge),
      endCounts(manager, records.row.familyId),
    ]);
    const days = reports.map(({ day, goodDay }) => ({ day: dayFromIso(day)!, goodDay: dayOrNull(goodDay) }));
    const sinceDay = sinceDayOf(days, today);
    const risks = risksSince({
      knowledge,
      subjectAt: (day) => subjectOf(records, day),
      settings: await this.settings.now(manager),
      sinceDay,
      today,
    });
    const listed = reports.flatMap(({ symptomId }) => symptoms.find(({ id }) => id === symptomId) ?? []);
    const search = searchOf({ knowledge, risks, symptoms, listed, counts });
    const subject = subjectOf(records, today);
    const answers = await answersOf(manager, vehicleId, { knowledge, subject, reports: days, today });
    const isChecked = new Set(search.checks.map(({ about }) => about));
    return {
      sinceDay,
      reports: reports.map((report) => {
        const symptom = symptoms.find(({ id }) => id === report.symptomId);
        return {
          ...report,
          stop: symptom?.stop ?? null,
          drive: symptom?.drive ?? null,
          forbids: symptom === undefined ? [] : forbidsOf(symptom),
          codes: symptom?.codes ?? [],
          listed: symptom !== undefined,
        };
      }),
      ...search,
      operations: Object.fromEntries(
        knowledge.operations.map(({ key, name, minutes, needs }) => [key, { name, minutes, needs: [...needs] }]),
      ),
      // A look that would tell nothing of what is reported is no part of the search.
      answers: answers.filter(({ about, isOnFile }) => !isOnFile || isChecked.has(about)),
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

const reportsOf = (
  manager: EntityManager,
  vehicleId: string,
): Promise<Omit<WireTriage['reports'][number], 'stop' | 'drive' | 'forbids' | 'codes' | 'listed'>[]> =>
  manager.query(
    `select r.id, r.symptom_id as "symptomId", r.words, r.condition, r.day, r.good_day as "goodDay",
        u.display_name as by
      from symptom_report r
      join app_user u on u.id = r.user_id
      where r.vehicle_id = $1 and r.retracted_at is null and r.created_at > ${sinceLastEnd('$1')}
      order by r.day, r.created_at`,
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
