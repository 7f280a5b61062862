import { strictest } from '../schools/authorities.ts';
import { cheapestAgeDays, conditionPlan, SCHOOLS, type School } from '../schools/schools.ts';
import type { PartState } from './part.ts';
import type { AuthorityMark, OutlookPolicy, SchoolView, WeakPointFact, WhenFact } from './types.ts';

export interface SchoolQuestion {
  readonly weakPoint: WeakPointFact;
  readonly state: PartState;
  readonly authorities: readonly AuthorityMark[];
  readonly policy: OutlookPolicy;
  /** The limit that Early holds to. */
  readonly limit: number;
  /** Days until the chance crosses it; null when it does not within the ribbon. */
  readonly crossingDays: number | null;
  readonly today: number;
  readonly serviceDays: number;
  /** Day the schools count from: the last renewal, or new where nobody knows. */
  readonly renewedDay: number;
  /** How long wear shows at the forecast use; 0 when it cannot be looked at. */
  readonly warningDays: number;
  readonly lastLookDay: number | null;
  readonly kmAtDay: (day: number) => number;
}

/** When each school would act next, side by side, in the order of SCHOOLS. Book and Cost count from the last renewal, or from new where nobody knows. */
export function schoolViews(question: SchoolQuestion): SchoolView[] {
  const { weakPoint, state, policy, today, serviceDays, renewedDay } = question;
  const when = (day: number): WhenFact => ({ day, km: question.kmAtDay(day) });
  const view = (school: School): SchoolView => {
    switch (school) {
      case 'book': {
        const due = strictest(question.authorities)?.due ?? null;
        return { school, due, because: due === null ? 'no_interval' : 'interval', everyDays: null };
      }
      case 'early': {
        if (question.limit === Infinity) return { school, due: null, because: 'no_limit', everyDays: null };
        return { school, due: question.crossingDays === null ? null : when(today + question.crossingDays), because: question.crossingDays === null ? 'not_in_sight' : 'limit', everyDays: null };
      }
      case 'condition': {
        const { look } = weakPoint;
        if (look === null) return { school, due: null, because: 'no_look', everyDays: null };
        const plan = conditionPlan(state.lives, renewedDay, question.warningDays, look.detection, weakPoint.consequence, serviceDays);
        if (!plan.possible) return { school, due: null, because: 'looks_too_seldom', everyDays: plan.everyDays };
        const next = Math.max(plan.startDay, question.lastLookDay === null ? today : question.lastLookDay + plan.everyDays!);
        return { school, due: Number.isFinite(next) ? when(Math.max(today, next)) : null, because: 'looks', everyDays: plan.everyDays };
      }
      case 'cost': {
        const planned = weakPoint.renewMinutes * policy.labourCostPerMinute + (weakPoint.partPrice ?? 0);
        const age = planned > 0 ? cheapestAgeDays(state.lives, weakPoint.share, { planned, failure: planned + policy.failureCost[weakPoint.consequence] }, renewedDay) : Infinity;
        return { school, due: age === Infinity ? null : when(renewedDay + age), because: age === Infinity ? 'run_to_failure' : 'least_cost', everyDays: null };
      }
    }
  };
  return SCHOOLS.map(view);
}

/**
 * The school that decides: the shop's own for the consequence, unless safety forbids Cost, looks cannot catch it, or no interval is published; Early decides then.
 */
export function followedSchool({ consequence, safety }: WeakPointFact, policy: OutlookPolicy, views: readonly SchoolView[]): School {
  const wanted = policy.schools[consequence];
  if (wanted === 'cost' && safety) return 'early';
  const { because } = views.find(({ school }) => school === wanted)!;
  return because === 'no_interval' || because === 'no_look' || because === 'looks_too_seldom' ? 'early' : wanted;
}
