import { workTogether } from '../access/together.ts';
import { failedByDay } from '../forecast/forecast.ts';
import { PLAN_MONTH_DAYS } from './item-costs.ts';
import type { PreparedPlan, ProposalItem } from './proposal.ts';

/** Cost of one more thing beside work whose access is open. Any one money. */
export interface Beside {
  readonly key: string;
  /** Minutes that it adds, and what it takes by itself. */
  readonly minutes: number;
  readonly alone: number;
  /** Labour, and the visit itself, that are not paid a second time. */
  readonly labourSaved: number;
  /** Month of the planner in which it would best come by itself; null where that is beyond them. */
  readonly ownMonth: number | null;
  /** Chance that it fails before then, or within the months of the planner; null for what is not renewed. */
  readonly failsBefore: number | null;
  /** Saving against its own best time; below 0 if it costs more here. */
  readonly gain: number;
}

/**
 * Finds what could ride along with some work in a month. A thing is worth doing there if that costs
 * less than at its own best time alone: min_t [Phi(t) + visit + labour alone] against Phi(month) +
 * labour added. The largest saving comes first. Things that are done, unknown, or not allowed in
 * that month are left out.
 */
export function besideWork(
  { ground, terms, costs }: PreparedPlan,
  done: readonly string[],
  month: number,
): readonly Beside[] {
  const { forecast, operations, items } = ground;
  const asWork = ({ operations: of, ownMinutes }: ProposalItem) => ({ operations: of, own: ownMinutes });
  const here = items.filter(({ key }) => done.includes(key));
  const before = workTogether(operations, here.map(asWork)).minutes;
  return items
    .filter(
      ({ key, money }) => !done.includes(key) && money.kind === 'renew' && costs.get(key)!.byMonth[month] !== Infinity,
    )
    .map((item): Beside => {
      const minutes = workTogether(operations, [...here, item].map(asWork)).minutes - before;
      const { byMonth, later } = costs.get(item.key)!;
      const alone = terms.visitCost + terms.labourPerMinute * item.aloneMinutes;
      let ownMonth: number | null = null;
      let ownBest = later;
      byMonth.forEach((cost, at) => {
        if (cost + alone >= ownBest) return;
        ownBest = cost + alone;
        ownMonth = at;
      });
      const until = forecast.nowDay + (ownMonth ?? terms.months) * PLAN_MONTH_DAYS;
      return {
        key: item.key,
        minutes,
        alone: item.aloneMinutes,
        labourSaved: alone - terms.labourPerMinute * minutes,
        ownMonth,
        failsBefore: item.money.kind === 'renew' ? failedByDay(forecast, item.money.forecast, until) : null,
        gain: ownBest - (byMonth[month]! + terms.labourPerMinute * minutes),
      };
    })
    .sort((a, b) => b.gain - a.gain);
}
