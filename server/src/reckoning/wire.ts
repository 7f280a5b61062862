import type { Answer, AnswerPoint, Judgement } from '@crosspeen/contract';
import {
  dayFromIso,
  type Drawing,
  type NoticeInForce,
  type OutlookRow,
  type Span,
  type StatementFact,
  type UpkeepRow,
  type VariantWeight,
  type WeakPointFact,
} from '@crosspeen/core';
import type { VariantRow } from '../knowledge/family.ts';

/** The day of a date; null where it is not told. */
export const isoDay = (iso: string | null): number | null => (iso === null ? null : dayFromIso(iso));

/** What is drawn needs no more digits; the chance itself keeps all of its own. */
const millionth = (value: number): number => Math.round(value * 1e6) / 1e6;

/** What is in force for this vehicle, with the day a coverage ends. */
const wireNotices = (notices: readonly NoticeInForce[]): Judgement['notices'] =>
  notices.map(({ notice: { id, number, title, authority, cover }, coveredUntil, covered }) => ({
    id: id as Judgement['notices'][number]['id'],
    kind: cover === null ? 'bulletin' : 'coverage',
    number,
    title,
    authority,
    coveredUntil,
    pays: cover?.pays ?? null,
    covered,
  }));

const wireStatement = (said: StatementFact): AnswerPoint['statements'][number] => ({
  ...said,
  doubted: said.doubted === true,
  always: said.always === true,
  strength: said.strength ?? null,
  interval: said.interval.map((span) => ({ ...span })),
});

const wireSpans = (spans: readonly Span[]): Span[] => spans.map((span) => ({ ...span }));

/** What practitioners say of a weak point beside its life. */
const wireMore = ({
  damages,
  symptoms,
  failure,
  hastens,
  revisions,
  notTold,
  work,
}: WeakPointFact): Pick<
  AnswerPoint,
  'damages' | 'symptoms' | 'failure' | 'hastens' | 'revisions' | 'notTold' | 'work'
> => ({
  notTold: [...(notTold ?? [])],
  damages: damages.map((damage) => ({ ...damage, harms: damage.harms ?? '', within: wireSpans(damage.within) })),
  symptoms: symptoms.map(({ symptom, shows, words, codes, tells, stop }) => ({
    symptom,
    shows,
    words: words ?? symptom,
    codes: [...(codes ?? [])],
    tells: tells ?? null,
    stop: stop ?? null,
  })),
  failure,
  hastens: hastens.map((hasten) => ({ ...hasten })),
  revisions: revisions.map(({ causes, ...revision }) => ({ ...revision, causes: causes.map(wireSpans) })),
  work: work
    ? {
        tools: work.tools.map((tool) => ({ ...tool })),
        cautions: [...work.cautions],
        renewWith: [...work.renewWith],
        oneTime: [...work.oneTime],
        fluids: [...work.fluids],
        afterwards: [...work.afterwards],
      }
    : null,
});

/** The library's words of a weak point, once for however many judgements speak of it. */
export function wirePoint({ weakPoint, authorities }: OutlookRow): AnswerPoint {
  const { look, experience } = weakPoint;
  return {
    weakPointId: weakPoint.id as AnswerPoint['weakPointId'],
    key: weakPoint.key,
    title: weakPoint.title,
    component: weakPoint.component,
    componentKey: weakPoint.componentKey,
    componentClass: weakPoint.componentClass,
    nature: weakPoint.nature,
    group: weakPoint.group,
    fittedTo: weakPoint.fittedTo,
    consequence: weakPoint.consequence,
    safety: weakPoint.safety,
    effect: weakPoint.effect,
    signs: weakPoint.signs,
    share: weakPoint.share,
    causes: weakPoint.causes.map((cause) => cause.map((span) => ({ ...span }))),
    renewMinutes: weakPoint.renewMinutes,
    operation: weakPoint.operation ?? null,
    look: look && {
      how: look.how,
      minutes: look.minutes,
      detection: look.detection,
      warning: look.warning.map((span) => ({ ...span })),
      cautions: [...(look.cautions ?? [])],
      ...(look.place ? { place: look.place } : {}),
      ...(look.method ? { method: look.method } : {}),
      ...(look.good ? { good: look.good } : {}),
      ...(look.worn ? { worn: look.worn } : {}),
      ...(look.failed ? { failed: look.failed } : {}),
      ...(look.off ? { off: [...look.off] } : {}),
      ...(look.spot ? { spot: look.spot } : {}),
      ...(look.tools && look.tools.length > 0 ? { tools: [...look.tools] } : {}),
      ...(look.measure ? { measure: { ...look.measure, sense: [...look.measure.sense] } } : {}),
      ...(look.grades ? { grades: look.grades.map((grade) => ({ ...grade })) } : {}),
    },
    ...wireMore(weakPoint),
    partPrice: weakPoint.partPrice,
    usualPrice: weakPoint.usualPrice ?? null,
    retiredByRevision: weakPoint.retiredByRevision,
    watch: weakPoint.watch && { task: weakPoint.watch.task, every: weakPoint.watch.every.map((span) => ({ ...span })) },
    experience: experience && { parts: experience.parts, failures: experience.failures },
    statements: authorities.map(({ statement }) => wireStatement(statement)),
  };
}

/** Numbers, verdict, rule and dates of a row, with the notices in force for it; chances from 0 to 1, days numbered. */
export function wireJudgement(row: OutlookRow): Judgement {
  return {
    weakPointId: row.weakPoint.id as Judgement['weakPointId'],
    verdict: row.verdict,
    rule: row.rule,
    reason: row.reason,
    wouldChange: row.wouldChange,
    chance: row.chance,
    limit: row.limit === Infinity ? null : row.limit,
    appliesWeight: row.appliesWeight,
    settle: row.settle,
    due: row.due,
    schools: [...row.schools],
    followed: row.followed,
    followedBecause: row.followedBecause,
    dutyOn: row.dutyOn,
    standings: row.authorities.map(({ standing, due }) => ({
      due,
      setAside: standing.counts ? null : { because: standing.because, by: standing.by },
    })),
    notices: wireNotices(row.notices),
    installs: [...row.installs],
    originalChance: row.originalChance,
    already: row.already,
    ifFirst: row.ifFirst,
    unproved: row.unproved,
    overdue: row.overdue,
    rides: row.rides && { ...row.rides, weakPointId: row.rides.weakPointId as Judgement['weakPointId'] },
    shareLeft: row.shareLeft,
    looks: [...row.looks],
  };
}

/** What is drawn: edges of the strip's cells, its ribbons, and the forecast that visits are planned by. */
export const wireDrawing = ({ edges, ribbons, forecast }: Drawing): NonNullable<Answer['drawing']> => ({
  edges: [...edges],
  ribbons: ribbons.map(({ weakPointId, chance, mass }) => ({
    weakPointId: weakPointId as Judgement['weakPointId'],
    chance: chance.map((of) => (of === null ? null : millionth(of))),
    mass: mass.map(millionth),
  })),
  forecast: {
    ...forecast,
    ahead: [...forecast.ahead],
    items: forecast.items.map(({ weakPointId, chance, failed, renewed }) => ({
      weakPointId: weakPointId as Judgement['weakPointId'],
      chance: chance.map(millionth),
      failed: failed.map(millionth),
      renewed: renewed.map(millionth),
    })),
  },
});

/** An upkeep task as it stands on the vehicle; `titleOf` names the weak points that it protects, by id. */
export function wireUpkeep(row: UpkeepRow, titleOf: ReadonlyMap<string, string>): Answer['upkeep'][number] {
  const { id, kind, title, how, minutes, ownerCan, season, cautions, statements, protects } = row.task;
  return {
    taskId: id as Answer['upkeep'][number]['taskId'],
    kind,
    title,
    how,
    minutes,
    ownerCan,
    season,
    cautions: [...cautions],
    statements: statements.map(wireStatement),
    standing: row.standing,
    due: row.due,
    lastDay: row.lastDay,
    by: row.by,
    neglected: row.neglected.map(([from, to]) => [from, to]),
    protects: protects.flatMap(({ weakPointId, factor }) => {
      const of = titleOf.get(weakPointId);
      return of === undefined ? [] : [{ weakPointId: weakPointId as Judgement['weakPointId'], title: of, factor }];
    }),
  };
}

/** A variant of the engine with how likely it is this one, from 0 to 1. */
export const wireVariant = (row: VariantRow, weight: number): Answer['variants'][number] => ({
  id: row.id,
  key: row.key,
  name: row.name,
  howToTell: row.howToTell,
  weight,
  producedFrom: row.producedFrom,
  producedTo: row.producedTo,
  models: row.models.map(({ model }) => model),
});

/** The variants that it may be, most likely first. */
export const wireVariants = (variants: readonly VariantRow[], weights: readonly VariantWeight[]): Answer['variants'] =>
  weights
    .map(({ key, weight }) =>
      wireVariant(
        variants.find((row) => row.key === key)!,
        weight,
      ),
    )
    .sort((a, b) => b.weight - a.weight);
