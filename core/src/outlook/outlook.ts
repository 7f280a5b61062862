import { applicability } from '../applicability/applicability.ts';
import { hazardBetween, type Inspection } from '../life/risk.ts';
import { authorityMarks, type ClocksByKind } from '../schools/authorities.ts';
import { followedSchool, schoolViews } from './schools.ts';
import { ageClock, distanceClock, type Clock } from '../usage/clock.ts';
import { distanceAtDay, type UsagePath } from '../usage/path.ts';
import { judge, limitFor, VERDICTS, type VerdictFacts } from '../verdict/verdict.ts';
import { reasonWords, wouldChangeWords } from '../verdict/words.ts';
import { mixtureRisk, partState, type PartState } from './part.ts';
import { crossing, RIBBON, ribbon, ribbonGrid, runningLog, type RibbonGrid } from './ribbon.ts';
import type { DueFact, ExcludedRow, FindingFact, Outlook, OutlookInput, OutlookPolicy, OutlookRow, WeakPointFact } from './types.ts';

/** The version of the computation: stored beside every stored result. */
export const MODEL_VERSION = 1;

/** Days until the next service from `day`: the interval in km through the forecast, or in days, whichever first. */
export function daysToService(path: UsagePath, policy: Pick<OutlookPolicy, 'serviceKm' | 'serviceDays'>, day: number): number {
  const clock = distanceClock(path);
  return Math.max(1, Math.min(policy.serviceDays, clock.dayOf(clock.at(day) + policy.serviceKm) - day));
}

/** Remembers a clock's answers: the same grid days are asked for by every lane. */
function remembered(clock: Clock): Clock {
  const known = new Map<number, number>();
  return {
    kind: clock.kind,
    dayOf: (value) => clock.dayOf(value),
    at: (day) => {
      const found = known.get(day);
      if (found !== undefined) return found;
      const value = clock.at(day);
      known.set(day, value);
      return value;
    },
  };
}

const looksOf = (weakPoint: WeakPointFact, findings: readonly FindingFact[], clocks: ClocksByKind): Inspection[] => {
  const { look } = weakPoint;
  if (look === null) return [];
  return findings.filter(({ weakPointId }) => weakPointId === weakPoint.id).map(({ day, worn }) => ({
    day, worn, detection: look.detection, falseAlarm: look.falseAlarm,
    warning: look.warning.flatMap((span) => (clocks[span.clock] ? [{ clock: clocks[span.clock]!, length: span.from }] : [])),
  }));
};

/** How long the weak point shows itself before it fails, in days from now; 0 when it cannot be looked at. */
function warningDays(weakPoint: WeakPointFact, clocks: ClocksByKind, today: number): number {
  const { look } = weakPoint;
  if (look === null || look.detection < 0.5) return 0;
  return look.warning.reduce((least, span) => {
    const clock = clocks[span.clock];
    return clock ? Math.min(least, clock.dayOf(clock.at(today) + span.from) - today) : least;
  }, Infinity);
}

/** Range of a due date: the part of the hazard that runs on distance moves with the spread of the forecast rate. */
function dueRange(state: PartState, path: UsagePath, today: number, ahead: number, spread: number): DueFact {
  const day = today + ahead;
  const install = state.nodes[state.nodes.length - 1]?.installDay ?? today;
  const all = hazardBetween(state.lives, install, today, day);
  const byDistance = hazardBetween(state.lives.filter(({ clock }) => clock.kind === 'distance'), install, today, day);
  const moved = spread * (all > 0 ? byDistance / all : 0);
  return { day, km: distanceAtDay(path, day), earliestDay: today + ahead / (1 + moved), latestDay: today + ahead * (1 + moved) };
}

function rowOf(weakPoint: WeakPointFact, appliesWeight: number, settle: string | null, input: OutlookInput, clocks: ClocksByKind, grid: RibbonGrid): OutlookRow {
  const { today, path, policy } = input;
  const { serviceDays } = grid;
  const state = partState(weakPoint, clocks, input.severity, input.services, path.startDay, today);
  const renewedDay = state.installs[0]!.day;
  const findings = input.findings.filter(({ weakPointId, day }) => weakPointId === weakPoint.id && day <= today);
  const current = findings.filter(({ day }) => day >= renewedDay || state.installs[0]!.certainty !== 'done').sort((a, b) => a.day - b.day);
  const looks = looksOf(weakPoint, current, clocks);
  const exact = mixtureRisk(state, looks, today, serviceDays);
  const chance = appliesWeight * exact.risk;
  const running = runningLog(state, looks, grid, appliesWeight);
  const limit = limitFor(weakPoint.consequence, weakPoint.safety, policy.limits, policy.safetyLimit);
  const ahead = limit === Infinity ? null : crossing(grid, running, limit);
  const fitted = input.services.filter((record) => record.certainty === 'done' && record.componentKey === weakPoint.componentKey && record.day !== null)
    .sort((a, b) => b.day! - a.day!)[0];
  const authorities = authorityMarks(weakPoint.statements, clocks, renewedDay, (day) => distanceAtDay(path, day));
  const warning = warningDays(weakPoint, clocks, today);
  const schools = schoolViews({ weakPoint, state, authorities, policy, limit, crossingDays: ahead, today, serviceDays, renewedDay, warningDays: warning, lastLookDay: current.at(-1)?.day ?? null, kmAtDay: (day) => distanceAtDay(path, day) });
  const followed = followedSchool(weakPoint, policy, schools);
  const view = schools.find(({ school }) => school === followed)!;
  const dueBySchool = view.due !== null && view.due.day <= today + serviceDays;
  const facts: VerdictFacts = {
    applies: true,
    revisedFitted: weakPoint.retiredByRevision !== null && fitted?.revision === weakPoint.retiredByRevision,
    chance,
    limit: followed === 'early' ? limit : Infinity,
    consequence: weakPoint.consequence,
    safety: weakPoint.safety,
    shareLeft: weakPoint.share > 0 ? Math.min(state.shareLeft, exact.susceptible / weakPoint.share) : 0,
    foundWorn: current.at(-1)?.worn === true,
    warnsInTime: warning >= serviceDays,
    crossesSoon: followed === 'early' && ahead !== null && ahead > 0 && ahead <= serviceDays,
    schoolAsks: followed === 'early' || !dueBySchool ? null : followed === 'condition' ? 'look' : 'renew',
    accessMinutes: weakPoint.renewMinutes,
  };
  const { verdict, rule } = judge(facts);
  const settled = state.installs[0]!.certainty === 'done' || state.installs[0]!.certainty === 'not_done';
  const pressing = limit === Infinity ? chance / 10 : Math.min(1, chance / (3 * limit));
  return {
    weakPoint, verdict, rule, chance, limit, appliesWeight, settle,
    reason: reasonWords(rule, facts),
    wouldChange: wouldChangeWords(rule, facts, !settled, settle),
    due: verdict === 'behind_it' || view.due === null ? null : dueRange(state, path, today, Math.max(0, view.due.day - today), input.rateSpread),
    schools, followed, authorities,
    installs: state.installs,
    originalChance: state.originalChance,
    looks: current.map(({ day, worn }) => ({ day, worn })),
    ribbon: ribbon(state, weakPoint.share, looks, grid, running),
    shareLeft: facts.shareLeft,
    rank: VERDICTS.indexOf(verdict) + 0.99 * (1 - pressing),
  };
}

/**
 * The answer for one vehicle: every weak point that applies with its verdict, reason, chance, due date and ribbon, worst first, and those that
 * do not apply with why. Pure: the day, the path and all records are passed in. Days are day numbers, distances km.
 */
export function outlook(input: OutlookInput): Outlook {
  const { today, path, policy } = input;
  const clocks: ClocksByKind = { distance: remembered(distanceClock(path)), age: ageClock };
  const serviceDays = daysToService(path, policy, today);
  const grid = ribbonGrid(clocks, today, Math.max(path.startDay, today - RIBBON.pastYears * 365.25), serviceDays);
  const rows: OutlookRow[] = [];
  const excluded: ExcludedRow[] = [];
  for (const weakPoint of input.weakPoints) {
    const verdict = applicability(weakPoint.appliesTo, input.facts);
    if (verdict.applies === 'no') {
      const { id, key, title, component, group } = weakPoint;
      excluded.push({ weakPoint: { id, key, title, component, group }, because: verdict.because });
    } else {
      rows.push(rowOf(weakPoint, verdict.weight, verdict.applies === 'maybe' ? verdict.settle : null, input, clocks, grid));
    }
  }
  rows.sort((a, b) => a.rank - b.rank || a.weakPoint.title.localeCompare(b.weakPoint.title));
  const next = today + serviceDays;
  return { rows, excluded, ribbonEdges: grid.edges, now: { day: today, km: distanceAtDay(path, today) }, nextService: { day: next, km: distanceAtDay(path, next) } };
}

