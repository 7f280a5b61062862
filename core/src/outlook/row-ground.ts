import { partDuty, type ClockDuty } from '../duty/duty.ts';
import { limitFor, wantsProof } from '../decision/kinds.ts';
import { isTrusted } from '../history/custom.ts';
import { REPAIR_LAG_YEARS } from '../history/unknown.ts';
import type { Inspection } from '../life/risk.ts';
import { authorityMarks } from '../schools/authorities.ts';
import type { AuthorityMark, StatementAsks } from '../schools/statements.ts';
import { hastenedClocks, type Neglect } from '../upkeep/hastened.ts';
import type { ClocksByKind } from '../usage/clock.ts';
import type { UsagePath } from '../usage/path.ts';
import { runningOn, type Running } from './ahead.ts';
import { crossing, dayReached } from './crossing.ts';
import type { Grid } from './grid.ts';
import { harmedBy, harmsTo } from './harm.ts';
import { failedBy, type PartMixture } from './mixture.ts';
import { fittedRevision } from './applies.ts';
import type { NoticeInForce } from './notice-types.ts';
import { noticesInForce } from './notices.ts';
import { neverRenewed, partState, type PartQuestion, type PartState } from './part.ts';
import { currentFindings, looksOf, suspicionOf, warningDays } from './row-looks.ts';
import { followedSchool, type SchoolQuestion } from './schools.ts';
import { thinnedMixture } from './thinned.ts';
import type { FindingFact, FollowedBecause, OutlookInput, SchoolView, WeakPointFact } from './types.ts';

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

/** What is known of one weak point on one vehicle, before anything is decided. */
export interface RowGround {
  /** As the fitted part has it: a later revision may have its own window. */
  readonly weakPoint: WeakPointFact;
  readonly appliesWeight: number;
  readonly input: OutlookInput;
  readonly frame: Frame;
  readonly part: PartQuestion;
  readonly state: PartState;
  readonly dutyOn: ClockDuty;
  /** The fitted part ends the weak point. */
  readonly isEnded: boolean;
  /** Bulletins and coverages that are in force for this vehicle. */
  readonly notices: readonly NoticeInForce[];
  /** Findings about the part that is in now, oldest first, and the last of them. */
  readonly current: readonly FindingFact[];
  readonly lastLook: FindingFact | null;
  readonly looks: readonly Inspection[];
  /** Chance of having failed already, of that before the next service, and the limit on it. */
  readonly already: number;
  readonly chance: number;
  readonly limit: number;
  /** P(susceptible | running, looks). */
  readonly susceptible: number;
  readonly hasFailed: boolean;
  readonly suspicion: number;
  readonly harmedBy: readonly string[];
  /**
   * A chance with the harm that a failed neighbour has done, or does, by so many days ahead, and with what is reported;
   * of a part that runs `from` days ahead, what harm comes after that.
   */
  readonly withHarm: (own: number, ahead: number, from?: number) => number;
  /** No record says what is in there; and proof of a renewal is wanted. */
  readonly isOpen: boolean;
  readonly noProof: boolean;
  /** Bare chance of having failed by so many days ahead, with `more` looks than were made. */
  readonly ahead: (mixture: PartMixture, days: number, more?: readonly Inspection[]) => number;
  /** The part as the one it was built with, and its chance before the next service. */
  readonly first: () => { readonly mixture: PartMixture; readonly chance: number };
  /** The mixture with fewer installations and lives, for drawings and searches. */
  readonly thinned: () => PartMixture;
  readonly running: () => Running;
  readonly authorities: () => readonly AuthorityMark[];
  /** Those that somebody goes by, and the soonest day on which one of them asks for it. */
  readonly trusted: () => readonly AuthorityMark[];
  readonly nextOf: (asks: StatementAsks) => number;
  readonly question: SchoolQuestion;
  /** The school that is followed, and why. */
  readonly view: SchoolView;
  readonly because: FollowedBecause;
  /** Days until the chance of having failed comes to `most`, if it does before the next service. */
  readonly reached: (mixture: PartMixture, most: number) => number | null;
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

/** Remembers what is computed when it is first asked for. */
export function once<T>(compute: () => T): () => T {
  let known: { readonly value: T } | null = null;
  return () => (known ??= { value: compute() }).value;
}

/** Lays out what is known of one weak point that applies with `appliesWeight`; Early looks so many `years` ahead. */
export function groundOf(
  { weakPoint: told, appliesWeight }: { readonly weakPoint: WeakPointFact; readonly appliesWeight: number },
  input: OutlookInput,
  frame: Frame,
  years: number,
): RowGround {
  const { today, policy } = input;
  const { clocks, grid, fittedDay, kmAtDay } = frame;
  const { serviceDays } = grid;
  const dutyOn = partDuty(
    told,
    { duty: input.duty, features: input.facts.features },
    { factors: policy.dutyFactors, severity: input.severity },
  );
  const fitted = fittedRevision(told, input, fittedDay);
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
    market: input.facts.market,
    nowDay: today,
  };
  const state = partState(part);
  const install = state.installs[0]!;
  const renewedDay = install.day;
  const current = currentFindings(weakPoint, input, { install, fittedDay });
  const looks = looksOf(weakPoint, current, clocks);
  const exact = failedBy(state.mixture, looks, today, [today + serviceDays]);
  const lastLook = current.at(-1) ?? null;
  const hasFailed = lastLook?.result === 'failed';
  const harms = harmsTo(weakPoint, input, clocks);
  // A good look, or a renewal, ends what harm may have come before; what stops the vehicle would have been noticed.
  const noticed = weakPoint.safety || REPAIR_LAG_YEARS[weakPoint.consequence] === 0;
  const harmSince = Math.max(
    noticed ? today : -Infinity,
    install.certainty === 'done' ? install.day : -Infinity,
    lastLook?.result === 'sound' ? lastLook.day : -Infinity,
  );
  const suspicion = suspicionOf(weakPoint, input, install);
  const withHarm = (own: number, ahead: number, from = 0): number => {
    const since = from > 0 ? Math.max(harmSince, today + from) : harmSince;
    const harmed = own + (1 - own) * appliesWeight * harmedBy(harms, since, today + ahead);
    return harmed + (1 - harmed) * suspicion;
  };
  // What has failed is no chance.
  const chance = hasFailed ? 1 : withHarm(appliesWeight * exact.by[0]!, serviceDays);
  const limit = limitFor(weakPoint.consequence, weakPoint.safety, policy.limits, policy.safetyLimit);
  const ahead = (mixture: PartMixture, days: number, more: readonly Inspection[] = []): number =>
    appliesWeight * failedBy(mixture, [...looks, ...more], today, [today + days]).by[0]!;
  const isOpen = (install.certainty === 'assumed' || install.certainty === 'unknown') && weakPoint.watch === null;
  /** The part as the one it was built with, where nobody can show another. */
  const first = once(() => {
    const { mixture } = partState({ ...part, services: [neverRenewed(weakPoint.componentKey, fittedDay)] });
    return { mixture, chance: ahead(mixture, serviceDays) };
  });
  const noProof = isOpen && wantsProof(weakPoint.consequence, weakPoint.safety, policy.proofFor);
  const thinned = once(() => thinnedMixture(state.mixture));
  const running = once(() => runningOn(thinned(), looks, grid, appliesWeight));
  const crossingDays = once(() =>
    chance >= limit
      ? 0
      : crossing(thinned(), looks, grid, { applies: appliesWeight, limit, susceptible: exact.susceptible, years }),
  );
  const authorities = once(() =>
    authorityMarks(weakPoint.statements, clocks, {
      installDay: renewedDay,
      lookDay: lastLook?.day ?? null,
      kmAtDay,
      market: input.facts.market,
    }),
  );
  const trusted = once(() =>
    authorities().filter(({ statement, standing }) => standing.counts && isTrusted(statement, input.facts.market)),
  );
  const nextOf = (asks: StatementAsks): number =>
    trusted().reduce(
      (soonest, { statement, due }) => (statement.asks === asks && due !== null ? Math.min(soonest, due.day) : soonest),
      Infinity,
    );
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
    warningDays: warningDays(weakPoint, clocks, today),
    lastLookDay: lastLook?.day ?? null,
    kmAtDay,
    clocks,
    market: input.facts.market,
  };
  const { view, because } = followedSchool(question, input.choices);
  return {
    weakPoint,
    appliesWeight,
    input,
    frame,
    part,
    state,
    dutyOn,
    isEnded: endedBy(told, fitted),
    notices: noticesInForce(weakPoint, input),
    current,
    lastLook,
    looks,
    already: hasFailed ? 1 : withHarm(appliesWeight * exact.now, 0),
    susceptible: exact.susceptible,
    hasFailed,
    suspicion,
    harmedBy: harmedBy(harms, harmSince, today + serviceDays) > 0 ? [...new Set(harms.map(({ title }) => title))] : [],
    withHarm,
    chance,
    limit,
    isOpen,
    noProof,
    ahead,
    first,
    thinned,
    running,
    authorities,
    trusted,
    nextOf,
    question,
    view,
    because,
    reached: (mixture, most) =>
      dayReached(mixture, looks, today, { applies: appliesWeight, limit: most, days: serviceDays }),
  };
}
