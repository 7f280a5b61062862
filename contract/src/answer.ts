import {
  DECISION_RULES,
  FORBIDDABLE,
  COUNTED_FROM,
  RIDE_REASONS,
  SCHOOL_REASONS,
  FOLLOWED_BY,
  SET_ASIDE,
  WHY_GROUNDS,
  CERTAINTIES,
  CONDITIONS,
  CONSEQUENCES,
  FITTED_TO,
  GROUPS,
  NATURES,
  SCHOOLS,
  SHAPE_BY_CLASS,
  STATEMENT_ASKS,
  VERDICTS,
  WORD_KINDS,
} from '@crosspeen/core';
import { z } from 'zod';
import { anyText, familyId, isoDate, noticeId, span, statement, vehicleId, weakPointId } from './common.ts';
import { engineLayout } from './layout.ts';
import { lookTold, operationTold, toldMore, workTold } from './told.ts';
import { upkeepRow } from './upkeep.ts';
import { NOTICE_KINDS } from './notice-words.ts';

/** Days in an answer are day numbers (days since 1970-01-01), distances km, chances in [0, 1]. */
const when = z.object({ day: z.number(), km: z.number() });

/**
 * Knowledge of a weak point from the library and this workshop's own vehicles, the same for every
 * vehicle.
 */
const answerPoint = z
  .object({
    weakPointId,
    key: z.string(),
    title: z.string(),
    component: z.string(),
    componentKey: z.string(),
    componentClass: z.enum(Object.keys(SHAPE_BY_CLASS) as [string, ...string[]]),
    /**
     * Wear comes to all of them sooner or later, and `share` says how many by the end of the window; a defect was built
     * into `share` of them.
     */
    nature: z.enum(NATURES),
    group: z.enum(GROUPS),
    fittedTo: z.enum(FITTED_TO),
    consequence: z.enum(CONSEQUENCES),
    safety: z.boolean(),
    effect: z.string(),
    signs: z.string(),
    share: z.number(),
    causes: z.array(z.array(span)),
    renewMinutes: z.number(),
    /** Key of the operation that renews it; null if the library has none. */
    operation: z.string().nullable(),
    look: z
      .object({
        how: z.string(),
        minutes: z.number(),
        detection: z.number(),
        warning: z.array(span),
        cautions: z.array(z.string()),
        ...lookTold,
      })
      .nullable(),
    ...toldMore,
    work: workTold,
    /** Price of the original part, minor units; null where it is not known. */
    partPrice: z.number().nullable(),
    /** What it is counted at where its price is not known: the median of its class; null where nobody tells one. */
    usualPrice: z.number().nullable(),
    retiredByRevision: z.string().nullable(),
    /** Task of the driver, for something that is never renewed before it fails. */
    watch: z.object({ task: z.string(), every: z.array(span) }).nullable(),
    /** Experience of this workshop's own vehicles; null if there is none. */
    experience: z.object({ parts: z.int(), failures: z.int() }).nullable(),
    /**
     * Statements of the authorities; the judgement says what each means for this vehicle, in the
     * same order.
     */
    statements: z.array(statement),
  })
  .meta({ id: 'AnswerPoint' });

/** Judgement of a weak point for this vehicle: verdict, chance, dates, and their grounds. */
export const judgement = z
  .object({
    weakPointId,
    verdict: z.enum(VERDICTS),
    rule: z.enum(DECISION_RULES),
    reason: z.string(),
    wouldChange: z.string(),
    chance: z.number(),
    limit: z.number().nullable(),
    appliesWeight: z.number(),
    settle: z.string().nullable(),
    due: when.extend({ earliestDay: z.number(), latestDay: z.number() }).nullable(),
    schools: z.array(
      z.object({
        school: z.enum(SCHOOLS),
        due: when.nullable(),
        everyDays: z.number().nullable(),
        because: z.enum(SCHOOL_REASONS),
        /** Action of the school on that date. */
        asks: z.enum(STATEMENT_ASKS),
      }),
    ),
    followed: z.enum(SCHOOLS),
    followedBecause: z.object({ by: z.enum(FOLLOWED_BY), wanted: z.enum(SCHOOLS), reason: z.string().nullable() }),
    /** Factors of use on the clocks of this part. */
    dutyOn: z.object({ distance: z.number(), age: z.number() }),
    /** Standing of each statement of the weak point for this vehicle, in their order. */
    standings: z.array(
      z.object({
        due: when.nullable(),
        /** Null when it speaks for this vehicle; else why it does not, and what speaks instead. */
        setAside: z.object({ because: z.enum(SET_ASIDE), by: z.string().nullable() }).nullable(),
      }),
    ),
    /**
     * Bulletins and coverages about it that are in force for this vehicle; `coveredUntil` is a day number, null where
     * none can be told.
     */
    notices: z.array(
      z.object({
        id: noticeId,
        kind: z.enum(NOTICE_KINDS),
        number: z.string(),
        title: z.string(),
        authority: z.string(),
        coveredUntil: z.number().nullable(),
        /** Part of the cost that a coverage pays. */
        pays: z.number().nullable(),
        covered: z.boolean().nullable(),
      }),
    ),
    installs: z.array(
      z.object({ certainty: z.enum([...CERTAINTIES, 'assumed']), day: z.number(), weight: z.number() }),
    ),
    originalChance: z.number(),
    /** Chance before the next service if it is the first one; null where a record says which it is. */
    ifFirst: z.number().nullable(),
    /** The same where the decision rests on it, because nobody can show a renewal. */
    unproved: z.number().nullable(),
    /** Part of the chance that has failed already and is still in there; 0 where a record says what is in there. */
    already: z.number(),
    /** The job that it goes along with, the minutes it adds to it, the price of its part, and the money it saves. */
    rides: z
      .object({
        weakPointId,
        title: z.string(),
        minutes: z.number(),
        alone: z.number(),
        partPrice: z.number().nullable(),
        saves: z.number().nullable(),
        because: z.enum(RIDE_REASONS),
      })
      .nullable(),
    /** A published interval that has passed, and by how much (days, km), whichever school is followed. */
    overdue: z
      .object({
        authority: z.string(),
        asks: z.enum(STATEMENT_ASKS),
        since: when,
        days: z.number(),
        km: z.number(),
        countedFrom: z.enum(COUNTED_FROM),
      })
      .nullable(),
    shareLeft: z.number(),
    looks: z.array(z.object({ day: z.number(), result: z.enum(CONDITIONS) })),
  })
  .meta({ id: 'Judgement' });

/**
 * Data for the drawing and the plan: ribbons, and the forecast of every weak point. Chances to a
 * millionth.
 */
export const drawing = z
  .object({
    /** Edges of the ribbons' bins, day numbers; one more than there are bins. */
    edges: z.array(z.number()),
    /** Over the bins: chance (null where no part is known) and mass of failures, seen from now. */
    ribbons: z.array(z.object({ weakPointId, chance: z.array(z.number().nullable()), mass: z.array(z.number()) })),
    /**
     * Forecast on each of the days `ahead` of now, if left as it is: chance over a service interval
     * from there, chance of having failed by then; and the chance that a new part has failed at
     * that age.
     */
    forecast: z.object({
      nowDay: z.number(),
      serviceDays: z.number(),
      ahead: z.array(z.number()),
      items: z.array(
        z.object({
          weakPointId,
          chance: z.array(z.number()),
          failed: z.array(z.number()),
          renewed: z.array(z.number()),
        }),
      ),
    }),
  })
  .meta({ id: 'Drawing' });

export const engineVariant = z.object({
  id: z.uuid(),
  key: z.string(),
  name: z.string(),
  howToTell: z.string().nullable(),
  weight: z.number(),
  producedFrom: isoDate.nullable(),
  producedTo: isoDate.nullable(),
  models: z.array(z.string()),
});

export const engineSummary = z.object({
  familyId,
  code: z.string(),
  name: z.string(),
  maker: z.string(),
  displacementL: z.number(),
  fuel: z.string(),
  aspiration: z.string(),
  timingDrive: z.string(),
  interference: z.boolean(),
  note: z.string().nullable(),
});
export type EngineSummary = z.infer<typeof engineSummary>;

/** An open complaint: its danger, how far it may be driven, and what it forbids until its cause is found. */
export const reportTold = z.object({
  words: z.string(),
  day: z.number(),
  stop: z.string().nullable(),
  drive: z.string().nullable(),
  forbids: z.array(z.enum(FORBIDDABLE)),
});

export const answer = z
  .object({
    engine: engineSummary,
    /** Orientation in the bay; null if unstated. */
    layout: engineLayout.nullable(),
    variants: z.array(engineVariant),
    /** Variants that were made, but not in the years that fit. */
    otherVariants: z.array(engineVariant),
    today: z.number(),
    now: when,
    nextService: when,
    usage: z.object({
      knots: z.array(when),
      startDay: z.number(),
      rateKmPerDay: z.number(),
      rateSpread: z.number(),
      rejected: z.array(when),
      startAssumed: z.boolean(),
      /** Distance in km that is added to the dash to get km since new, from replaced clusters. */
      meterOffsetKm: z.number(),
      /** The engine now fitted, where it was swapped. */
      engine: z.object({ fittedDay: z.number(), km: z.number(), assumed: z.boolean() }).nullable(),
    }),
    severity: z.number(),
    /** Labour operations of this engine: those that come off first, and the minutes of each. */
    operations: z.array(operationTold),
    /** Complaints that hold the vehicle until they are solved or withdrawn. */
    holds: z.array(reportTold),
    /** All complaints that are open, held or not. */
    reports: z.array(reportTold),
    /** Worst first. */
    judgements: z.array(judgement),
    points: z.array(answerPoint),
    /** Recurring tasks of this engine, overdue ones first. */
    upkeep: z.array(upkeepRow),
    /** Null unless it was asked for. */
    drawing: drawing.nullable(),
    excluded: z.array(
      z.object({ weakPointId, title: z.string(), component: z.string(), group: z.enum(GROUPS), because: z.string() }),
    ),
  })
  .meta({ id: 'Answer' });
export type Answer = z.infer<typeof answer>;
export type AnswerPoint = z.infer<typeof answerPoint>;
export type Judgement = z.infer<typeof judgement>;

/** A judgement with the weak point it is about, and each statement with what it asks. */
export type AnswerRow = AnswerPoint &
  Omit<Judgement, 'standings'> & {
    readonly authorities: readonly (AnswerPoint['statements'][number] & Judgement['standings'][number])[];
  };

/** The rows of an answer as they are read: every judgement with its weak point, worst first. */
export function answerRows({ judgements, points }: Pick<Answer, 'judgements' | 'points'>): AnswerRow[] {
  const byId = new Map(points.map((point) => [point.weakPointId, point]));
  return judgements.flatMap((judged) => {
    const point = byId.get(judged.weakPointId);
    return point === undefined
      ? []
      : [
          {
            ...point,
            ...judged,
            authorities: point.statements.map((statement, i) => ({ ...statement, ...judged.standings[i]! })),
          },
        ];
  });
}

/** Asked of an answer beside the question itself. */
export const answerParts = z.object({
  /** True to include ribbons and forecast. */
  drawn: z.enum(['yes', 'no']).default('no'),
});

export const lookupQuery = answerParts.extend({
  line: anyText(20_000).default(''),
  /** Variant key chosen by the user. */
  variant: anyText(80).optional(),
  /** Family chosen by the user among near matches. */
  family: familyId.optional(),
  /** Further known facts, as answered questions: `market=hot and dusty;feature:ac=yes`. */
  know: anyText(2000).default(''),
});

/** A question whose answer would change a result. */
export const openQuestion = z
  .object({
    about: z.string(),
    ask: z.string(),
    worth: z.number(),
    /** Nobody can show a renewal, and a verdict rests on that. */
    proof: z.boolean(),
    answers: z.array(
      z.object({ key: z.string(), words: z.string(), weight: z.number(), howToTell: z.string().nullable() }),
    ),
    moves: z.array(
      z.object({ weakPointId, title: z.string(), answer: z.string(), from: z.enum(VERDICTS), to: z.enum(VERDICTS) }),
    ),
  })
  .meta({ id: 'OpenQuestion' });
export type WireQuestion = z.infer<typeof openQuestion>;
export const questions = z.object({ questions: z.array(openQuestion) });

/** A chance taken apart: reckoned again without each thing it rests on. */
export const why = z
  .object({
    chance: z.number(),
    steps: z.array(z.object({ ground: z.enum(WHY_GROUNDS), otherwise: z.number() })),
    running: z.array(z.object({ day: z.number(), chance: z.number() })),
  })
  .meta({ id: 'Why' });
export type WireWhy = z.infer<typeof why>;

const problem = z.object({ code: z.string(), message: z.string() });

/** A word of a line, with what it is taken for once the engine is known. */
const lineWord = z.object({
  text: z.string(),
  kind: z.enum(WORD_KINDS),
  /** Meanings, by key and in words; empty for the engine's own words and for unused ones. */
  keys: z.array(z.string()),
  means: z.array(z.string()),
});

/**
 * Reports about a vehicle in words of the line: the symptom, and the weak points that show it, with
 * frequencies.
 */
const reported = z.object({
  symptom: z.string(),
  words: z.string(),
  tells: z.string().nullable(),
  shownBy: z.array(z.object({ weakPointId, title: z.string(), shows: z.number() })),
});
export type Reported = z.infer<typeof reported>;

export const lookupAnswer = z
  .object({
    problems: z.array(problem),
    /** Saved vehicles that the line names. */
    vehicles: z.array(
      z.object({
        id: vehicleId,
        plate: z.string().nullable(),
        name: z.string().nullable(),
        maker: z.string(),
        model: z.string().nullable(),
        engineCode: z.string(),
      }),
    ),
    /** Engines that fit the words when they do not name exactly one. */
    candidates: z.array(engineSummary),
    /** True when the candidates are only near in spelling. */
    near: z.boolean(),
    words: z.array(lineWord),
    reported: z.array(reported),
    answer: answer.nullable(),
  })
  .meta({ id: 'LookupAnswer' });
export type LookupAnswer = z.infer<typeof lookupAnswer>;

export const lookupMeaning = z
  .object({
    vehicles: lookupAnswer.shape.vehicles,
    engine: engineSummary.nullable(),
    variants: z.array(engineVariant),
    candidates: z.array(engineSummary),
    near: z.boolean(),
    words: z.array(lineWord),
  })
  .meta({ id: 'LookupMeaning' });
export type LookupMeaning = z.infer<typeof lookupMeaning>;
