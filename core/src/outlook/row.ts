import type { ClockDuty } from '../duty/duty.ts';
import { decide, isGrave, wornLimit, type Decided } from '../decision/decide.ts';
import type { DecisionFacts } from '../decision/facts.ts';
import { asksForWork, VERDICTS, type DecisionRule, type Verdict } from '../decision/kinds.ts';
import { hazardBetween, type Inspection } from '../life/risk.ts';
import type { School } from '../schools/schools.ts';
import type { AuthorityMark, WhenFact } from '../schools/statements.ts';
import { distanceAtDay, type UsagePath } from '../usage/path.ts';
import type { Running } from './ahead.ts';
import { RIBBON } from './grid.ts';
import type { PartMixture } from './mixture.ts';
import type { NoticeInForce } from './notice-types.ts';
import type { PartState } from './part.ts';
import { factsOf } from './row-facts.ts';
import { groundOf, type Frame, type RowGround } from './row-ground.ts';
import type { SchoolQuestion } from './schools.ts';
import type { DueFact, FindingFact, FollowedBecause, OutlookInput, WeakPointFact } from './types.ts';

/** The judgement of one weak point on one vehicle, without what is only drawn. */
export interface JudgedRow {
  readonly weakPoint: WeakPointFact;
  readonly verdict: Verdict;
  readonly rule: DecisionRule;
  readonly chance: number;
  /** Part of it that has failed already and is still in there; 0 where a record says what is in there. */
  readonly already: number;
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
  readonly facts: DecisionFacts;
  readonly state: PartState;
  readonly dutyOn: ClockDuty;
  readonly looks: readonly Inspection[];
  readonly current: readonly FindingFact[];
  /** The mixture with fewer installations and lives, for drawings and searches. */
  readonly thinned: () => PartMixture;
  readonly running: () => Running;
  readonly withHarm: RowGround['withHarm'];
  /** P(susceptible | running, looks). */
  readonly susceptible: number;
  readonly authorities: () => readonly AuthorityMark[];
  readonly question: SchoolQuestion;
  /** Chance before the next service if it is the first one; null where a record says which it is. */
  readonly ifFirst: () => number | null;
  readonly because: FollowedBecause;
  readonly notices: readonly NoticeInForce[];
  readonly settled: boolean;
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

/** Rules by which work is due at once: a fact, or an interval that has passed. */
const AT_ONCE: ReadonlySet<DecisionRule> = new Set([
  'failed',
  'customary',
  'customary_condition',
  'no_proof_customary',
  'notice_renews',
  'notice_looks',
]);

/** Tells whether a decision goes by the part as the first one. */
const isByFirst = (rule: DecisionRule): boolean => rule.startsWith('no_proof');

/**
 * Due date of the row: one answer for card, row, list, strip and file. Work is due on the day on which the chance of
 * having failed reaches the limit, on the date of the school or of an interval that asks, or at the next service. A
 * row without work has the date of its school.
 */
function dueOf(
  { state, input, frame, view, suspicion, limit, nextOf, reached, first, thinned }: RowGround,
  facts: DecisionFacts,
  { verdict, rule }: Decided,
): DueFact | null {
  if (verdict === 'behind_it' || verdict === 'watch') return null;
  const { today } = input;
  const { serviceDays } = frame.grid;
  const at = (ahead: number): DueFact => dueRange(state, ahead, input, frame.kmAtDay);
  const schoolDay = view.due?.day ?? Infinity;
  if (!asksForWork(verdict)) return schoolDay === Infinity ? null : at(schoolDay - today);
  if (verdict === 'hold' || suspicion >= limit || AT_ONCE.has(rule) || (rule === 'no_proof_look' && isGrave(facts)))
    return at(0);
  if (rule.startsWith('school_')) return at(schoolDay - today);
  const told = Math.min(nextOf('look'), nextOf('renew')) - today;
  const interval = told > 0 ? told : rule === 'interval_look' ? 0 : Infinity;
  const crossed = reached(isByFirst(rule) ? first().mixture : thinned(), rule === 'worn' ? wornLimit(facts) : limit);
  return at(Math.min(crossed ?? serviceDays, interval, serviceDays));
}

/**
 * Decides one weak point that applies with `appliesWeight`; Early looks for its date so many `years` ahead. The lean
 * part of the outlook: a whole fleet is judged with it.
 */
export function judgeRow(
  applying: { readonly weakPoint: WeakPointFact; readonly appliesWeight: number },
  input: OutlookInput,
  frame: Frame,
  years: number = RIBBON.horizonYears,
): RowWorkings {
  const ground = groundOf(applying, input, frame, years);
  const { weakPoint, state, chance, limit, isOpen, noProof, first } = ground;
  const facts = factsOf(ground);
  const { verdict, rule } = decide(facts);
  const unproved = isByFirst(rule) && noProof ? facts.chanceIfFirst : null;
  // Half at the limit, and never full: of two far beyond it, the further is still the more pressing.
  const decides = unproved ?? chance;
  const pressing = limit === Infinity ? decides / 10 : decides / (decides + limit);
  const [install] = state.installs;
  return {
    weakPoint,
    verdict,
    rule,
    chance,
    already: ground.already,
    limit,
    appliesWeight: ground.appliesWeight,
    followed: ground.view.school,
    because: ground.because,
    facts,
    state,
    dutyOn: ground.dutyOn,
    looks: ground.looks,
    current: ground.current,
    thinned: ground.thinned,
    running: ground.running,
    withHarm: ground.withHarm,
    susceptible: ground.susceptible,
    notices: ground.notices,
    authorities: ground.authorities,
    question: ground.question,
    settled: install!.certainty === 'done' || install!.certainty === 'not_done',
    due: dueOf(ground, facts, { verdict, rule }),
    unproved,
    ifFirst: () => (isOpen ? first().chance : null),
    rank: VERDICTS.indexOf(verdict) + 0.99 * (1 - pressing),
  };
}

/** A day on the vehicle's calendar and meter. */
export const whenOn = (path: UsagePath, day: number): WhenFact => ({ day, km: distanceAtDay(path, day) });
