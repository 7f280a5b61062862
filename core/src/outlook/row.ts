import { clockDuty, hastened, type ClockDuty } from '../duty/duty.ts';
import { susceptibleShare } from '../life/nature.ts';
import { hazardBetween, type Inspection } from '../life/risk.ts';
import { authorityMarks } from '../schools/authorities.ts';
import type { ClocksByKind } from '../usage/clock.ts';
import type { School } from '../schools/schools.ts';
import { hastenedClocks, type Neglect } from '../upkeep/hastened.ts';
import { distanceAtDay, type UsagePath } from '../usage/path.ts';
import {
  asksForWork,
  judge,
  limitFor,
  VERDICTS,
  wantsProof,
  type Verdict,
  type VerdictFacts,
  type VerdictRule,
} from '../verdict/verdict.ts';
import { failedBy, thinnedMixture, type PartMixture } from './mixture.ts';
import { customRun, decidingRecord, neverRenewed, partState, type PartQuestion, type PartState } from './part.ts';
import { runningOn, type Running } from './ahead.ts';
import { crossing, dayReached } from './crossing.ts';
import { RIBBON, type Grid } from './grid.ts';
import { followedSchool, type SchoolQuestion } from './schools.ts';
import type { DueFact, FindingFact, FollowedBecause, OutlookInput, WeakPointFact } from './types.ts';
import type { AuthorityMark, WhenFact } from '../schools/statements.ts';

/**
 * Shared inputs of a row: the clocks of the vehicle or of the engine now fitted, and the days of
 * all lanes.
 */
export interface Frame {
  readonly clocks: ClocksByKind;
  readonly path: UsagePath;
  readonly grid: Grid;
  readonly fittedDay: number | null;
  /** Distance on the vehicle's own meter, which is what people read. */
  readonly kmAtDay: (day: number) => number;
  /** How neglected upkeep hastens weak points, by their id. */
  readonly neglects: ReadonlyMap<string, readonly Neglect[]>;
}

/** The judgement of one weak point on one vehicle, without what is only drawn. */
export interface JudgedRow {
  readonly weakPoint: WeakPointFact;
  readonly verdict: Verdict;
  readonly rule: VerdictRule;
  readonly chance: number;
  readonly limit: number;
  readonly appliesWeight: number;
  readonly due: DueFact | null;
  /** Chance if it is the first one, where the verdict goes by that because nobody can show a renewal. */
  readonly unproved: number | null;
  readonly followed: School;
  readonly rank: number;
}

/** A judgement with everything it was made of. */
export interface RowWorkings extends JudgedRow {
  readonly facts: VerdictFacts;
  readonly state: PartState;
  readonly dutyOn: ClockDuty;
  readonly looks: readonly Inspection[];
  readonly current: readonly FindingFact[];
  /** The mixture with fewer installations and lives, for drawings and searches. */
  readonly thinned: () => PartMixture;
  readonly running: () => Running;
  /** P(susceptible | running, looks). */
  readonly susceptible: number;
  readonly authorities: () => readonly AuthorityMark[];
  readonly question: SchoolQuestion;
  /** Chance before the next service if it is the first one; null where a record says which it is. */
  readonly ifFirst: () => number | null;
  readonly because: FollowedBecause;
  readonly settled: boolean;
}

const looksOf = ({ look }: WeakPointFact, findings: readonly FindingFact[], clocks: ClocksByKind): Inspection[] => {
  if (look === null) return [];
  const warning = look.warning.flatMap((span) =>
    clocks[span.clock] ? [{ clock: clocks[span.clock]!, length: span.from }] : [],
  );
  return findings
    .filter(({ result }) => result !== 'failed')
    .map(({ day, result }) => ({
      day,
      worn: result === 'worn',
      detection: look.detection,
      falseAlarm: look.falseAlarm,
      warning,
    }));
};

/**
 * Days for which the weak point shows itself before it fails, from today's use; 0 if it cannot be
 * looked at.
 */
function warningDays({ look }: WeakPointFact, clocks: ClocksByKind, today: number): number {
  if (look === null || look.detection < 0.5) return 0;
  return look.warning.reduce((least, span) => {
    const clock = clocks[span.clock];
    return clock ? Math.min(least, clock.dayOf(clock.at(today) + span.from) - today) : least;
  }, Infinity);
}

/** Range of a due date: the part of the hazard that runs on distance moves with the spread of the forecast rate. */
function dueRange(
  state: PartState,
  ahead: number,
  { today, rateSpread }: Pick<OutlookInput, 'today' | 'rateSpread'>,
  kmAtDay: (day: number) => number,
): DueFact {
  const day = today + ahead;
  const install = state.mixture.installDays.at(-1) ?? today;
  const all = hazardBetween(state.told, install, today, day);
  const byDistance = hazardBetween(
    { ...state.told, clocks: state.told.clocks.filter(({ clock }) => clock.kind !== 'age') },
    install,
    today,
    day,
  );
  // What has passed, or is asked for at once, is known to the day.
  const moved = rateSpread * (all > 0 ? byDistance / all : 0);
  return { day, km: kmAtDay(day), earliestDay: today + ahead / (1 + moved), latestDay: today + ahead * (1 + moved) };
}

/**
 * Tells whether this weak point has failed on this vehicle before. Susceptibility belongs to the
 * vehicle, whichever part was in it.
 */
const failedBefore = ({ id }: WeakPointFact, findings: readonly FindingFact[]): boolean =>
  findings.some(({ weakPointId, result }) => weakPointId === id && result === 'failed');

/** Tells whether the fitted part ends the weak point. */
const endedBy = ({ retiredByRevision, revisions }: WeakPointFact, fitted: string | null): boolean =>
  fitted !== null &&
  (fitted === retiredByRevision || revisions.some(({ revision, ends }) => ends === true && revision === fitted));

/** Facts of the weak point for the fitted part: a later revision may have its own window. */
function asFitted(weakPoint: WeakPointFact, fitted: string | null): WeakPointFact {
  const later = weakPoint.revisions.find(({ revision }) => revision === fitted);
  return later === undefined || later.causes.length === 0 ? weakPoint : { ...weakPoint, causes: later.causes };
}

/**
 * Judges one weak point that applies with `appliesWeight`; Early looks for its date so many `years` ahead. The lean
 * part of the outlook: a whole fleet is judged with it.
 */
export function judgeRow(
  { weakPoint: told, appliesWeight }: { readonly weakPoint: WeakPointFact; readonly appliesWeight: number },
  input: OutlookInput,
  frame: Frame,
  years: number = RIBBON.horizonYears,
): RowWorkings {
  const { today, policy } = input;
  const { clocks, grid, fittedDay, kmAtDay } = frame;
  const { serviceDays } = grid;
  const dutyOn = hastened(
    clockDuty(told.componentClass, input.duty, policy.dutyFactors, input.severity),
    told.hastens,
    { duty: input.duty, features: input.facts.features },
  );
  const record = decidingRecord({ weakPoint: told, services: input.services, fittedDay, nowDay: today });
  const fitted = input.facts.fitted?.[told.componentKey] ?? (record?.certainty === 'done' ? record.revision : null);
  const weakPoint = asFitted(told, fitted);
  const part: PartQuestion = {
    weakPoint,
    clocks,
    worn: hastenedClocks(clocks, frame.neglects.get(weakPoint.id) ?? []),
    duty: dutyOn,
    services: input.services,
    failedBefore: failedBefore(weakPoint, input.findings),
    startDay: frame.path.startDay,
    fittedDay,
    counted: input.counted,
    nowDay: today,
  };
  const state = partState(part);
  const install = state.installs[0]!;
  const renewedDay = install.day;
  const looked = input.findings.filter(
    ({ weakPointId, day }) => weakPointId === weakPoint.id && day <= today && day >= (fittedDay ?? -Infinity),
  );
  // On the very day of the renewal a worn finding or a failure is about the part that came out, a sound one about the
  // part that went in.
  const current = looked
    .filter(
      ({ day, result }) =>
        install.certainty !== 'done' || day > renewedDay || (day === renewedDay && result === 'sound'),
    )
    .sort((a, b) => a.day - b.day);
  const looks = looksOf(weakPoint, current, clocks);
  const exact = failedBy(state.mixture, looks, today, [today + serviceDays]);
  const chance = appliesWeight * exact.by[0]!;
  const limit = limitFor(weakPoint.consequence, weakPoint.safety, policy.limits, policy.safetyLimit);
  const open = install.certainty === 'assumed' || install.certainty === 'unknown';
  const unproved = open && weakPoint.watch === null;
  /** The part as the one it was built with, where nobody can show another. */
  let firstKnown: { readonly mixture: PartMixture; readonly chance: number } | null = null;
  const ifFirst = (): { readonly mixture: PartMixture; readonly chance: number } => {
    if (firstKnown === null) {
      const { mixture } = partState({ ...part, services: [neverRenewed(weakPoint.componentKey, fittedDay)] });
      const failing = failedBy(mixture, looks, today, [today + serviceDays]).by[0]!;
      firstKnown = { mixture, chance: appliesWeight * failing };
    }
    return firstKnown;
  };
  const noProof = unproved && wantsProof(weakPoint.consequence, weakPoint.safety, policy.proofFor);
  const chanceIfFirst = noProof ? ifFirst().chance : chance;
  let thinnedKnown: PartMixture | null = null;
  const thinned = (): PartMixture => (thinnedKnown ??= thinnedMixture(state.mixture));
  let runningKnown: Running | null = null;
  const running = (): Running => (runningKnown ??= runningOn(thinned(), looks, grid, appliesWeight));
  let aheadKnown: number | null | undefined;
  const crossingDays = (): number | null =>
    aheadKnown === undefined
      ? (aheadKnown =
          chance >= limit
            ? 0
            : crossing(thinned(), looks, grid, {
                applies: appliesWeight,
                limit,
                susceptible: exact.susceptible,
                years,
              }))
      : aheadKnown;
  let marks: readonly AuthorityMark[] | null = null;
  const authorities = (): readonly AuthorityMark[] =>
    (marks ??= authorityMarks(weakPoint.statements, clocks, {
      installDay: renewedDay,
      lookDay: current.at(-1)?.day ?? null,
      kmAtDay,
      market: input.facts.market,
    }));
  const warning = warningDays(weakPoint, clocks, today);
  const question: SchoolQuestion = {
    weakPoint,
    state,
    authorities,
    policy,
    limit,
    crossingDays,
    today,
    serviceDays,
    renewedDay,
    warningDays: warning,
    lastLookDay: current.at(-1)?.day ?? null,
    kmAtDay,
    clocks,
    market: input.facts.market,
  };
  const { view, because } = followedSchool(question, input.choices);
  const followed = view.school;
  const dueBySchool = view.due !== null && view.due.day <= today + serviceDays;
  const ahead = (followed === 'early' ? crossingDays() : null) ?? Infinity;
  const crossesWithin = ahead > 0 && ahead <= serviceDays ? ahead : null;
  const facts: VerdictFacts = {
    applies: true,
    revisedFitted: endedBy(told, fitted),
    chance,
    limit: followed === 'early' ? limit : Infinity,
    consequence: weakPoint.consequence,
    safety: weakPoint.safety,
    nature: weakPoint.nature,
    noProof,
    chanceIfFirst,
    firstChance: state.originalChance,
    classLimit: limit,
    customPassed: customRun(weakPoint, clocks, part) >= 1,
    canLook: weakPoint.look !== null,
    lookSettlesFirst: weakPoint.look !== null && chanceIfFirst * (1 - weakPoint.look.detection) < limit,
    watched: weakPoint.watch !== null,
    shareLeft: Math.min(state.shareLeft, exact.susceptible / susceptibleShare(weakPoint)),
    foundWorn: current.at(-1)?.result === 'worn',
    hasFailed: current.at(-1)?.result === 'failed',
    warnsInTime: warning >= serviceDays,
    lookSettles: chance < limit || (weakPoint.look !== null && chance * (1 - weakPoint.look.detection) < limit),
    crossesSoon: crossesWithin !== null,
    schoolAsks: followed === 'early' || !dueBySchool ? null : view.asks,
    accessMinutes: weakPoint.renewMinutes,
    ridesWith: null,
  };
  const { verdict, rule } = judge(facts);
  /**
   * Due date of the row: one answer for card, row, list, strip and file. Work is due on the day on
   * which the chance of having failed reaches the limit, on the date of the school that asks, or at
   * the next service. A row without work has the date of its school.
   */
  const dueOf = (): DueFact | null => {
    if (verdict === 'behind_it' || verdict === 'watch') return null;
    const schoolDay = view.due?.day ?? Infinity;
    if (!asksForWork(verdict))
      return schoolDay === Infinity ? null : dueRange(state, schoolDay - today, input, kmAtDay);
    if (verdict === 'hold') return dueRange(state, 0, input, kmAtDay);
    if (rule.startsWith('school_')) return dueRange(state, schoolDay - today, input, kmAtDay);
    const mixture = rule.startsWith('no_proof') ? ifFirst().mixture : thinned();
    const reached = dayReached(mixture, looks, today, { applies: appliesWeight, limit, days: serviceDays });
    return dueRange(state, Math.min(reached ?? serviceDays, crossesWithin ?? serviceDays), input, kmAtDay);
  };
  const decidedUnproved = rule.startsWith('no_proof') ? chanceIfFirst : null;
  // Half at the limit, and never full: of two far beyond it, the further is still the more pressing.
  const decides = decidedUnproved ?? chance;
  const pressing = limit === Infinity ? decides / 10 : decides / (decides + limit);
  return {
    weakPoint,
    verdict,
    rule,
    chance,
    limit,
    appliesWeight,
    followed,
    because,
    facts,
    state,
    dutyOn,
    looks,
    current,
    thinned,
    running,
    susceptible: exact.susceptible,
    authorities,
    question,
    settled: install.certainty === 'done' || install.certainty === 'not_done',
    due: dueOf(),
    unproved: decidedUnproved,
    ifFirst: () => (unproved ? ifFirst().chance : null),
    rank: VERDICTS.indexOf(verdict) + 0.99 * (1 - pressing),
  };
}

/**
 * The strictest interval that speaks for this vehicle, is not doubted, and has passed, whichever school is followed;
 * null where none has.
 */
export const whenOn = (path: UsagePath, day: number): WhenFact => ({ day, km: distanceAtDay(path, day) });
