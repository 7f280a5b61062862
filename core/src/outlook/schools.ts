import { susceptibleShare } from '../life/nature.ts';
import { failureCost, renewalCost } from '../money/failure.ts';
import { strictest } from '../schools/authorities.ts';
import type { ClocksByKind } from '../usage/clock.ts';
import { cheapestAgeDays, conditionPlan, SCHOOLS, type School } from '../schools/schools.ts';
import type { PartState } from './part.ts';
import type { FollowedBecause, OutlookPolicy, SchoolChoice, SchoolView, WeakPointFact } from './types.ts';
import type { AuthorityMark, WhenFact } from '../schools/statements.ts';

export interface SchoolQuestion {
  readonly weakPoint: WeakPointFact;
  readonly state: PartState;
  readonly authorities: () => readonly AuthorityMark[];
  readonly policy: OutlookPolicy;
  /** The limit that Early holds to. */
  readonly limit: number;
  /** Days until the chance crosses it; null when it does not within the ribbon. */
  readonly crossingDays: () => number | null;
  readonly today: number;
  readonly serviceDays: number;
  /** Day the schools count from: the last renewal, or new where nobody knows. */
  readonly renewedDay: number;
  /** Days for which wear shows at the forecast use; 0 if it cannot be looked at. */
  readonly warningDays: number;
  readonly lastLookDay: number | null;
  readonly kmAtDay: (day: number) => number;
  readonly clocks: ClocksByKind;
  /** Market in which the vehicle was sold; null if unknown. */
  readonly market: string | null;
}

/**
 * Next date of one school. Book and Cost count from the last renewal, or from new if that is
 * unknown.
 */
function schoolView(school: School, question: SchoolQuestion): SchoolView {
  const { weakPoint, state, policy, today, serviceDays, renewedDay } = question;
  const when = (day: number): WhenFact => ({ day, km: question.kmAtDay(day) });
  switch (school) {
    case 'book': {
      const mark = strictest(question.authorities());
      return {
        school,
        due: mark?.due ?? null,
        because: mark === null ? 'no_interval' : 'interval',
        asks: mark?.statement.asks ?? 'renew',
        everyDays: null,
      };
    }
    case 'early': {
      if (weakPoint.watch !== null)
        return { school, due: null, because: 'nobody_renews', asks: 'renew', everyDays: null };
      if (question.limit === Infinity)
        return { school, due: null, because: 'no_limit', asks: 'renew', everyDays: null };
      const ahead = question.crossingDays();
      return {
        school,
        due: ahead === null ? null : when(today + ahead),
        because: ahead === null ? 'not_in_sight' : 'limit',
        asks: 'renew',
        everyDays: null,
      };
    }
    case 'condition': {
      const { look } = weakPoint;
      if (look === null) return { school, due: null, because: 'no_look', asks: 'look', everyDays: null };
      const plan = conditionPlan(
        state.told,
        { installDay: renewedDay, serviceDays },
        { warningDays: question.warningDays, detection: look.detection },
        weakPoint.consequence,
      );
      if (!plan.possible)
        return { school, due: null, because: 'looks_too_seldom', asks: 'look', everyDays: plan.everyDays };
      const { lastLookDay } = question;
      const next = lastLookDay === null ? plan.startDay : Math.max(plan.startDay, lastLookDay + plan.everyDays!);
      return {
        school,
        due: Number.isFinite(next) ? when(Math.max(today, next)) : null,
        because: 'looks',
        asks: 'look',
        everyDays: plan.everyDays,
      };
    }
    case 'cost': {
      const planned = renewalCost(weakPoint, policy);
      const age =
        planned > 0 && weakPoint.watch === null
          ? cheapestAgeDays(
              state.told,
              susceptibleShare(weakPoint),
              { planned, failure: planned + failureCost(weakPoint, policy) },
              renewedDay,
            )
          : Infinity;
      return {
        school,
        due: age === Infinity ? null : when(renewedDay + age),
        because: age === Infinity ? 'run_to_failure' : 'least_cost',
        asks: 'renew',
        everyDays: null,
      };
    }
  }
}

/** All schools side by side, in the order of SCHOOLS. */
export const schoolViews = (question: SchoolQuestion): SchoolView[] =>
  SCHOOLS.map((school) => schoolView(school, question));

/**
 * The school that decides: the one chosen for the row, else for the vehicle, else the shop's own for the consequence;
 * unless safety forbids Cost, looks cannot catch it, or no interval is published, when Early decides. Says which, and
 * why.
 */
export function followedSchool(
  question: SchoolQuestion,
  choices: readonly SchoolChoice[],
): { readonly view: SchoolView; readonly because: FollowedBecause } {
  const { weakPoint, policy } = question;
  const choice =
    choices.findLast(({ weakPointId }) => weakPointId === weakPoint.id) ??
    choices.findLast(({ weakPointId }) => weakPointId === null);
  const wanted = choice?.school ?? policy.schools[weakPoint.consequence];
  const reason = choice?.reason ?? null;
  const early = (by: 'safety' | 'nothing_to_go_by') => ({
    view: schoolView('early', question),
    because: { by, wanted, reason },
  });
  if (wanted === 'cost' && weakPoint.safety) return early('safety');
  const view = schoolView(wanted, question);
  if (view.because === 'no_interval' || view.because === 'no_look' || view.because === 'looks_too_seldom')
    return early('nothing_to_go_by');
  return {
    view,
    because: { by: choice === undefined ? 'shop' : choice.weakPointId === null ? 'vehicle' : 'row', wanted, reason },
  };
}
