import { UNKNOWN_WEIGHT, type OpenAttribute, type VehicleFacts } from '../applicability/applicability.ts';
import { appliesHere } from './applies.ts';
import { leavesAlone, VERDICTS, type Verdict } from '../decision/kinds.ts';
import { frameFor, framesOf, type Frames } from './outlook.ts';
import { neverRenewed, recordsOf } from './part.ts';
import { judgeRow } from './row.ts';
import type { OutlookInput, WeakPointFact } from './types.ts';

/**
 * Subject of a question: an attribute of the vehicle, the revision of a fitted part, or whether a
 * part was ever renewed.
 */
export type QuestionAbout = Exclude<OpenAttribute, 'produced' | 'serial'> | `fitted:${string}` | `history:${string}`;

export interface QuestionAnswer {
  /** Value that is saved for this answer. */
  readonly key: string;
  readonly words: string;
  /** How likely this answer is, from what is known. */
  readonly weight: number;
  /** How to tell. */
  readonly howToTell: string | null;
}

export interface VerdictMove {
  readonly weakPointId: string;
  readonly title: string;
  readonly answer: string;
  readonly from: Verdict;
  readonly to: Verdict;
}

export interface OpenQuestion {
  readonly about: QuestionAbout;
  readonly ask: string;
  readonly answers: readonly QuestionAnswer[];
  /** Nobody can show a renewal, and a verdict rests on that: such a question stands before all others. */
  readonly proof: boolean;
  /** Verdicts that an answer changes; never empty. */
  readonly moves: readonly VerdictMove[];
  /**
   * Expected number of steps, along the order of verdicts, that the answer moves rows by: what the questions are ranked
   * by.
   */
  readonly worth: number;
}

/** "Another one", for attributes whose values the library names only in part. */
export const ANOTHER = 'another';
/** The part now fitted is an older one than the revised part. */
export const OLDER = 'older';
/** A part that was renewed unseen is the revised one so often. Without anything to go by: a coin toss. */
const REVISED_IF_RENEWED = 0.5;

/** Position in the vehicle's life that is assumed for a renewal whose date is still unknown. */
const LATELY = 0.15;

interface Candidate {
  readonly about: QuestionAbout;
  readonly ask: string;
  readonly answers: readonly QuestionAnswer[];
  readonly touches: readonly WeakPointFact[];
  readonly then: (answer: QuestionAnswer) => Partial<OutlookInput>;
}

const settledFacts = (facts: VehicleFacts, about: QuestionAbout, key: string): VehicleFacts => {
  if (about === 'variant')
    return {
      ...facts,
      variants: facts.variants.filter((variant) => variant.key === key).map((variant) => ({ ...variant, weight: 1 })),
    };
  if (about === 'model') return { ...facts, model: key };
  if (about === 'market') return { ...facts, market: key };
  if (about.startsWith('feature:'))
    return { ...facts, features: { ...facts.features, [about.slice(8)]: key === 'yes' } };
  return { ...facts, fitted: { ...facts.fitted, [about.slice(7)]: key } };
};

/** Questions about what the vehicle is: its variant, model, market and features. */
function attributeCandidates(input: OutlookInput): Candidate[] {
  const { facts, weakPoints } = input;
  const then =
    (about: QuestionAbout) =>
    ({ key }: QuestionAnswer): Partial<OutlookInput> => ({ facts: settledFacts(facts, about, key) });
  const out: Candidate[] = [];
  const listed = (
    about: 'model' | 'market',
    ask: string,
    values: readonly string[],
    touches: readonly WeakPointFact[],
  ): void => {
    const named = [...new Set(values)];
    const answers = named.map((value): QuestionAnswer => ({
      key: value,
      words: value,
      weight: UNKNOWN_WEIGHT / named.length,
      howToTell: null,
    }));
    out.push({
      about,
      ask,
      touches,
      then: then(about),
      answers: [...answers, { key: ANOTHER, words: 'another', weight: 1 - UNKNOWN_WEIGHT, howToTell: null }],
    });
  };
  if (facts.variants.length > 1) {
    const answers = facts.variants.map(({ key, name, weight, howToTell }): QuestionAnswer => ({
      key,
      words: name,
      weight,
      howToTell,
    }));
    out.push({
      about: 'variant',
      ask: 'Which variant is it?',
      answers,
      touches: weakPoints.filter(({ appliesTo }) => appliesTo.variants !== undefined),
      then: then('variant'),
    });
  }
  if (facts.model === null)
    listed(
      'model',
      'Which model is it in?',
      weakPoints.flatMap(({ appliesTo }) => appliesTo.models ?? []),
      weakPoints.filter(({ appliesTo }) => appliesTo.models !== undefined),
    );
  if (facts.market === null) {
    const regions = weakPoints.flatMap(({ appliesTo, statements }) => [
      ...(appliesTo.markets ?? []),
      ...statements.flatMap(({ region }) => (region === null ? [] : [region])),
    ]);
    listed(
      'market',
      'Where was it sold?',
      regions,
      weakPoints.filter(
        ({ appliesTo, statements }) =>
          appliesTo.markets !== undefined || statements.some(({ region }) => region !== null),
      ),
    );
  }
  const features = new Set(
    weakPoints
      .flatMap(({ appliesTo }) => Object.keys(appliesTo.features ?? {}))
      .filter((key) => facts.features[key] === undefined),
  );
  for (const key of features) {
    const known = facts.knownFeatures?.find((feature) => feature.key === key);
    const share = known?.share ?? UNKNOWN_WEIGHT;
    const about = `feature:${key}` as const;
    out.push({
      about,
      ask: `Does it have ${known?.name ?? key}?`,
      touches: weakPoints.filter(({ appliesTo }) => appliesTo.features?.[key] !== undefined),
      then: then(about),
      answers: [
        { key: 'yes', words: 'yes', weight: share, howToTell: known?.howToTell ?? null },
        { key: 'no', words: 'no', weight: 1 - share, howToTell: null },
      ],
    });
  }
  return out;
}

/**
 * Questions about a part: which revision is in there, and was it ever renewed? Asked only where no record settles it.
 */
function partCandidates(input: OutlookInput, frames: Frames, originalChance: ReadonlyMap<string, number>): Candidate[] {
  const { facts, weakPoints, services, today } = input;
  const out: Candidate[] = [];
  for (const componentKey of new Set(weakPoints.map((weakPoint) => weakPoint.componentKey))) {
    const touches = weakPoints.filter((weakPoint) => weakPoint.componentKey === componentKey);
    const [first] = touches as [WeakPointFact];
    const { fittedDay, path } = frameFor(first, frames);
    const records = recordsOf({ weakPoint: first, services, fittedDay, nowDay: today });
    const original = originalChance.get(componentKey) ?? 1;
    if (records.some(({ certainty }) => certainty === 'done' || certainty === 'not_done')) continue;
    const revised = touches.find(({ retiredByRevision }) => retiredByRevision !== null);
    if (revised && facts.fitted?.[componentKey] === undefined) {
      const weight = (1 - original) * REVISED_IF_RENEWED;
      const about = `fitted:${componentKey}` as const;
      out.push({
        about,
        ask: `${first.component}: which part is in there?`,
        touches,
        then: ({ key }) => ({ facts: settledFacts(facts, about, key) }),
        answers: [
          {
            key: revised.retiredByRevision!,
            words: `revision ${revised.retiredByRevision}`,
            weight,
            howToTell: revised.revisedHowToTell,
          },
          { key: OLDER, words: 'an older one', weight: 1 - weight, howToTell: null },
        ],
      });
    }
    // That nobody knows is an answer too.
    if (records.some(({ certainty }) => certainty === 'unknown')) continue;
    const lately = Math.max(fittedDay ?? -Infinity, today - LATELY * (today - path.startDay));
    out.push({
      about: `history:${componentKey}`,
      ask: `${first.component}: was it ever renewed?`,
      touches,
      answers: [
        { key: 'never', words: 'never', weight: original, howToTell: null },
        { key: 'renewed', words: 'yes, lately', weight: 1 - original, howToTell: null },
      ],
      // "Yes" without a date stands for a renewal not long ago: what would change most, if anything does.
      then: ({ key }) => ({
        services: [
          ...services,
          { ...neverRenewed(componentKey, fittedDay), ...(key === 'never' ? {} : { certainty: 'done', day: lately }) },
        ],
      }),
    });
  }
  return out;
}

/**
 * The questions that would change a verdict on this vehicle, most worthwhile first: every open attribute is answered in
 * turn, the rows it touches are judged again, and a question that moves none is not asked. Pure.
 */
export function openQuestions(input: OutlookInput): OpenQuestion[] {
  const judge = (
    weakPoint: WeakPointFact,
    changed: OutlookInput,
    frames: Frames,
  ): { verdict: Verdict; unproven: boolean; rank: number; original: number } => {
    const frame = frameFor(weakPoint, frames);
    const applies = appliesHere(weakPoint, changed, frame.fittedDay);
    if (applies.applies === 'no') return { verdict: 'behind_it', unproven: false, rank: Infinity, original: 1 };
    const { verdict, unproved, rank, state } = judgeRow({ weakPoint, appliesWeight: applies.weight }, changed, frame);
    return { verdict, unproven: unproved !== null, rank, original: state.originalChance };
  };
  const frames = framesOf(input);
  const now = new Map(input.weakPoints.map((weakPoint) => [weakPoint.id, judge(weakPoint, input, frames)]));
  const original = new Map(
    input.weakPoints.map((weakPoint) => [weakPoint.componentKey, now.get(weakPoint.id)!.original]),
  );
  const pressing = ({ moves }: OpenQuestion): number =>
    Math.min(...moves.map(({ weakPointId }) => now.get(weakPointId)!.rank));
  return [...attributeCandidates(input), ...partCandidates(input, frames, original)]
    .flatMap((candidate): OpenQuestion[] => {
      const moves: VerdictMove[] = [];
      let worth = 0;
      for (const answer of candidate.answers) {
        const changed = { ...input, ...candidate.then(answer) };
        for (const weakPoint of candidate.touches) {
          const from = now.get(weakPoint.id)!.verdict;
          const to = judge(weakPoint, changed, frames).verdict;
          if (from === to || (leavesAlone(from) && leavesAlone(to))) continue;
          moves.push({ weakPointId: weakPoint.id, title: weakPoint.title, answer: answer.words, from, to });
          worth += answer.weight * Math.abs(VERDICTS.indexOf(to) - VERDICTS.indexOf(from));
        }
      }
      return worth <= 0
        ? []
        : [
            {
              about: candidate.about,
              ask: candidate.ask,
              answers: candidate.answers,
              proof:
                candidate.about.startsWith('history:') && candidate.touches.some(({ id }) => now.get(id)!.unproven),
              moves,
              worth,
            },
          ];
    })
    .sort(
      (a, b) => Number(b.proof) - Number(a.proof) || (a.proof ? pressing(a) - pressing(b) : 0) || b.worth - a.worth,
    );
}
