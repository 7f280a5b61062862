import {
  type LookupAnswer,
  type LookupMeaning,
  type PurchaseView,
  type Settings,
  type WalkView,
  type WireQuestion,
  type WireWhy,
} from '@crosspeen/contract';
import {
  compactKey,
  dayAtDistance,
  readWords,
  understandLine,
  type LineWord,
  type UnderstoodLine,
  type Vocabulary,
  type WordKind,
} from '@crosspeen/core';
import type { DataSource } from 'typeorm';
import type { ShopClock } from '../../platform/clock.ts';
import { findEngines, spellings, type FamilyKnowledge, type FoundEngines } from '../../knowledge/family.ts';
import type { LibraryService } from '../../knowledge/library.ts';
import type { SettingsService } from '../../ledger/settings.ts';
import { Problem } from '../../platform/problem.ts';
import { answerFor, fittingVariants, pathOf, type Grounds } from '../../reckoning/answer.ts';
import { knownFrom } from '../../reckoning/know.ts';
import { purchaseOf } from '../../reckoning/purchase.ts';
import { UNKNOWN_SUBJECT, type Subject } from '../../reckoning/subject.ts';
import { suspectsOf } from '../../reckoning/complaint.ts';
import { walkRound } from '../../reckoning/walk.ts';
import { wireVariants } from '../../reckoning/wire.ts';
import { whyOf, wireQuestions } from '../../reckoning/why.ts';

/** What the words of a line may mean on an engine. */
const vocabularyOf = ({ engine, variants, features, weakPoints }: FamilyKnowledge): Vocabulary => ({
  codeKey: compactKey(engine.code),
  names: [engine.maker, engine.name],
  models: [...new Set(variants.flatMap(({ models }) => models.map(({ model }) => model)))],
  features,
  symptoms: [
    ...new Map(
      weakPoints.flatMap(({ symptoms }) =>
        symptoms.map(
          ({ symptom, words, codes }) =>
            [symptom, { key: symptom, words: words ?? symptom, codes: codes ?? [] }] as const,
        ),
      ),
    ).values(),
  ],
});

/** Words of a line, with what they mean in words. */
const wireWords = (words: readonly LineWord[], { features, symptoms }: Vocabulary): LookupAnswer['words'] =>
  words.map(({ text, kind, means }) => ({
    text,
    kind,
    keys: [...means],
    means: means.map(
      (key) =>
        (kind === 'feature'
          ? features.find((feature) => feature.key === key)?.name
          : kind === 'symptom'
            ? symptoms.find((symptom) => symptom.key === key)?.words
            : key) ?? key,
    ),
  }));

/** What was reported, and which weak points of the engine show so. */
function reportedBy(words: readonly LineWord[], { weakPoints }: FamilyKnowledge): LookupAnswer['reported'] {
  const keys = new Set(words.flatMap(({ kind, means }) => (kind === 'symptom' ? means : [])));
  return [...keys].map((symptom) => {
    const showing = weakPoints.flatMap((point) =>
      point.symptoms.filter((one) => one.symptom === symptom).map((one) => ({ point, one })),
    );
    return {
      symptom,
      words: showing[0]?.one.words ?? symptom,
      tells: showing[0]?.one.tells ?? null,
      shownBy: showing
        .map(({ point, one }) => ({ weakPointId: point.id as never, title: point.title, shows: one.shows }))
        .sort((a, b) => b.shows - a.shows),
    };
  });
}

/** What is reported in a line, as of today: the danger that any weak point of this engine tells with the symptom. */
function reportsIn(words: readonly LineWord[], { weakPoints }: FamilyKnowledge, day: number): Subject['reports'] {
  const keys = new Set(words.flatMap(({ kind, means }) => (kind === 'symptom' ? means : [])));
  return [...keys].flatMap((key) => {
    const told = weakPoints.flatMap(({ symptoms }) => symptoms.filter(({ symptom }) => symptom === key))[0];
    return told === undefined
      ? []
      : [
          {
            symptom: key,
            words: told.words ?? key,
            day,
            goodDay: null,
            stop: told.stop ?? null,
            drive: told.drive ?? null,
            forbids: told.forbids ?? [],
          },
        ];
  });
}

type FoundVehicle = LookupAnswer['vehicles'][number];
export interface LookupRequest {
  readonly line: string;
  readonly variant?: string | undefined;
  readonly family?: string | undefined;
  readonly know?: string | undefined;
  readonly drawn?: 'yes' | 'no';
}

const NO_ENGINE_PROBLEM = (typed: string, near: number): LookupAnswer['problems'][number] => ({
  code: 'unknown_engine',
  message:
    near > 0
      ? `No engine or saved vehicle is called “${typed}”. Did you mean one of these? Otherwise check the code on the engine block or in the papers; an engine that is new to the library comes as a pack: ask the owner to import it.`
      : `No engine or saved vehicle is called “${typed}”. Check the code on the engine block or in the papers; an engine that is new to the library comes as a pack: ask the owner to import it.`,
});

/** Services that LookupService works with. */
export interface LookupServiceNeeds {
  readonly source: DataSource;
  readonly settings: SettingsService;
  readonly library: LibraryService;
  readonly clock: ShopClock;
}

export class LookupService {
  constructor(private readonly needs: LookupServiceNeeds) {}

  /** Vehicles whose plate or name is what the words spell. */
  private async vehiclesNamed(codes: readonly string[]): Promise<FoundVehicle[]> {
    if (codes.length === 0) return [];
    return this.needs.source.query<FoundVehicle[]>(
      `select v.id, v.plate, v.name, m.name as maker, v.model, f.code as "engineCode" from vehicle v
       join engine_family f on f.id = v.family_id join maker m on m.id = f.maker_id
       where v.retracted_at is null and (v.plate_key = any($1) or v.name_key = any($1)) order by v.plate_key limit 8`,
      [codes],
    );
  }

  /**
   * A line as it is understood, with the vehicles and engines that its words name. The words are the same in every
   * unit, so that what they name is looked for while the settings are read.
   */
  private async understand(
    line: string,
    family: string | undefined,
  ): Promise<{ settings: Settings; understood: UnderstoodLine; vehicles: FoundVehicle[]; found: FoundEngines }> {
    const today = this.needs.clock.today();
    const named = this.find(understandLine(line, today, 'km'), family);
    const [settings, { vehicles, found }] = await Promise.all([this.needs.settings.now(), named]);
    return { settings, understood: understandLine(line, today, settings.distanceUnit), vehicles, found };
  }

  private async find(
    understood: UnderstoodLine,
    family: string | undefined,
  ): Promise<{ vehicles: FoundVehicle[]; found: FoundEngines }> {
    const codes = spellings(understood.words, compactKey);
    const whole = understood.words.length > 4 ? [...codes, understood.compact.slice(0, 60)] : codes;
    const [vehicles, found] = await Promise.all([
      this.vehiclesNamed(whole),
      family === undefined
        ? findEngines(this.needs.source.manager, understood.words, codes, understood.displacementL)
        : Promise.resolve({ engines: [], exact: false, near: false }),
    ]);
    return { vehicles, found };
  }

  /** What the line means so far, while it is being typed: engine and variants, saved vehicles, near matches. */
  async meaning({ line, variant, family }: LookupRequest): Promise<LookupMeaning> {
    const { understood, vehicles, found } = await this.understand(line, family);
    const nothing = understood.compact === '' && understood.displacementL === null;
    if (nothing && family === undefined)
      return { vehicles: [], engine: null, variants: [], candidates: [], near: false, words: [] };
    const familyId = family ?? (found.exact ? found.engines[0]!.familyId : undefined);
    const knowledge =
      familyId === undefined ? null : await this.needs.library.family(this.needs.source.manager, familyId);
    const weights =
      knowledge === null
        ? []
        : fittingVariants(knowledge.variants, {
            registeredDay: understood.registered?.day ?? null,
            registeredExact: understood.registered?.exact ?? false,
            variantKey: variant ?? null,
            serial: null,
          });
    return {
      vehicles,
      engine: knowledge?.engine ?? null,
      variants: knowledge === null ? [] : wireVariants(knowledge.variants, weights),
      candidates: knowledge === null ? [...found.engines] : [],
      near: found.near && knowledge === null,
      words: knowledge === null ? [] : this.words(understood, knowledge),
    };
  }

  private words({ words }: UnderstoodLine, knowledge: FamilyKnowledge): LookupMeaning['words'] {
    const vocabulary = vocabularyOf(knowledge);
    return wireWords(readWords(words, vocabulary), vocabulary);
  }

  /** What a line asks, or what has to be changed before it can be answered. */
  private async ask({
    line,
    variant,
    family,
    know = '',
  }: LookupRequest): Promise<{ answerable: Grounds | null; rest: LookupAnswer }> {
    const today = this.needs.clock.today();
    const { settings, understood, vehicles, found } = await this.understand(line, family);
    const problems: LookupAnswer['problems'] = understood.problems
      .filter(({ code }) => code !== 'no_engine' || family === undefined)
      .map(({ code, message }) => ({ code, message }));
    const nothing: LookupAnswer = {
      problems,
      vehicles: [],
      candidates: [],
      near: false,
      words: [],
      reported: [],
      answer: null,
    };
    if (understood.compact === '' && understood.displacementL === null && family === undefined)
      return { answerable: null, rest: nothing };
    const familyId = family ?? (found.exact ? found.engines[0]!.familyId : undefined);
    if (familyId === undefined) {
      const typed = [...understood.words, understood.displacementL === null ? '' : understood.displacementL.toFixed(1)]
        .join(' ')
        .trim()
        .slice(0, 60);
      if (vehicles.length === 0 && (found.near || found.engines.length === 0))
        problems.push(NO_ENGINE_PROBLEM(typed, found.engines.length));
      else if (vehicles.length === 0)
        problems.push({
          code: 'several_engines',
          message: `“${typed}” fits several engines. Pick the one in front of you.`,
        });
      return { answerable: null, rest: { ...nothing, vehicles, candidates: [...found.engines], near: found.near } };
    }
    const knowledge = await this.needs.library.family(this.needs.source.manager, familyId);
    if (knowledge === null)
      return {
        answerable: null,
        rest: {
          ...nothing,
          vehicles,
          problems: [
            ...problems,
            { code: 'unknown_engine', message: 'This engine is no longer in the library. Type its code again.' },
          ],
        },
      };
    if (understood.reading === null && !problems.some(({ code }) => code.endsWith('_reading'))) {
      problems.push({
        code: 'no_reading',
        message:
          'There is no reading in the line. Add what the dash shows, for example 148k or 92000 mi; on a machine its hours, 4200 h.',
      });
    }
    const read = readWords(understood.words, vocabularyOf(knowledge));
    const meant = (kind: WordKind): string[] => read.flatMap((word) => (word.kind === kind ? word.means : []));
    const rest = {
      ...nothing,
      vehicles,
      words: wireWords(read, vocabularyOf(knowledge)),
      reported: reportedBy(read, knowledge),
    };
    if (understood.reading === null || problems.length > 0)
      return { answerable: null, rest: { ...rest, candidates: [knowledge.engine] } };
    const bare: Subject = {
      ...UNKNOWN_SUBJECT,
      readings: [{ day: today, km: understood.reading.km }],
      registeredDay: understood.registered?.day ?? null,
      registeredExact: understood.registered?.exact ?? false,
      variantKey: variant ?? null,
      severity: understood.severity,
      model: meant('model')[0] ?? null,
      features: Object.fromEntries(meant('feature').map((key) => [key, true])),
      reports: reportsIn(read, knowledge, today),
    };
    const path = pathOf(bare, settings);
    const known = knownFrom(bare, know, { today, dayAt: (km) => dayAtDistance(path, km) });
    const subject: Subject = { ...bare, ...known };
    const suspects = await suspectsOf(this.needs.source.manager, {
      knowledge,
      settings,
      today,
      subjectAt: () => subject,
      reports: subject.reports,
      familyId,
      vehicleId: null,
    });
    return { answerable: { knowledge, settings, today, subject: { ...subject, suspects } }, rest };
  }

  /** What a line asks. Throws line_incomplete with what has to be added or changed. */
  private async mustAnswer(request: LookupRequest): Promise<Grounds> {
    const { answerable, rest } = await this.ask(request);
    if (answerable !== null) return answerable;
    const found = rest.problems.map(({ message }) => ({ path: 'line', message }));
    const nothing = { path: 'line', message: 'names no engine; write its code and the mileage, such as QV20T 148k' };
    throw new Problem('line_incomplete', { fields: found.length > 0 ? found : [nothing] });
  }

  /** The answer to a lookup line. Saves nothing. What cannot be answered says what to change. */
  async answer(request: LookupRequest): Promise<LookupAnswer> {
    const { answerable, rest } = await this.ask(request);
    if (answerable === null) return rest;
    return { ...rest, answer: answerFor(answerable, { drawn: request.drawn === 'yes' }) };
  }

  /** The questions that would change a verdict of the answer, most worthwhile first. */
  async questions(request: LookupRequest): Promise<WireQuestion[]> {
    const { answerable } = await this.ask(request);
    return answerable === null ? [] : wireQuestions(answerable);
  }

  /**
   * A walk round an engine of which nothing is saved, such as before a purchase. Throws not_found where the line has
   * no answer.
   */
  async walk(request: LookupRequest, minutes: number | null): Promise<WalkView> {
    const answerable = await this.mustAnswer(request);
    const { knowledge, settings } = answerable;
    const answer = answerFor(answerable, { drawn: false });
    return {
      engine: answer.engine,
      vehicle: null,
      odometerUnit: settings.distanceUnit,
      today: answer.today,
      now: answer.now,
      layout: knowledge.layout,
      budgetMinutes: minutes,
      ...walkRound({ answer, knowledge, settings }, { budgetMinutes: minutes, begun: null }),
      walk: null,
      entries: [],
      photos: [],
    };
  }

  /**
   * What somebody should know before he buys such a vehicle. Throws line_incomplete where the line has no answer.
   */
  async purchase(request: LookupRequest, price: number | null): Promise<PurchaseView> {
    const answerable = await this.mustAnswer(request);
    const { knowledge, settings } = answerable;
    const answer = answerFor(answerable, { drawn: true });
    const { steps } = walkRound({ answer, knowledge, settings }, { budgetMinutes: null, begun: null });
    return purchaseOf({ answer, walk: steps, questions: wireQuestions(answerable), settings }, price);
  }

  /**
   * Takes one chance of the answer apart. Throws line_incomplete where the line has no answer, and not_found where the
   * weak point is not in it.
   */
  async why(request: LookupRequest, weakPointId: string): Promise<WireWhy> {
    const answerable = await this.mustAnswer(request);
    return whyOf(answerable, weakPointId);
  }
}
