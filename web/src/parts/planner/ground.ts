import type { AnswerRow, Settings } from '@crosspeen/contract';
import {
  asksForWork,
  dayFromIso,
  failureCost,
  labourCost,
  PLAN_MONTH_DAYS,
  workOfJob,
  workTogether,
  type ProposalGround,
  type ProposalItem,
  type ProposalTerms,
} from '@crosspeen/core';
import type { VehicleOutlook } from '../../api/answer.ts';

/** Months that visits are proposed for. */
const MONTHS = 36;
/** Minutes that a visit takes beside the work: taking it in, the lift, giving it back. */
export const VISIT_MINUTES = 30;

/** What is worked on by a weak point: its renewal, or a look where that is what is asked for. */
export const plannedAction = ({ verdict, look }: Pick<AnswerRow, 'verdict' | 'look'>): 'renew' | 'look' =>
  verdict === 'look' && look !== null ? 'look' : 'renew';

/** The month of the planner that a day falls into. */
export const monthOfDay = (nowDay: number, iso: string): number =>
  Math.min(MONTHS - 1, Math.max(0, Math.floor((dayFromIso(iso)! - nowDay) / PLAN_MONTH_DAYS)));

/** A vehicle as the planner takes it: weak points that may be renewed, looks and upkeep that are asked for. */
export function proposalGround(
  { answer, visits }: Pick<VehicleOutlook, 'answer' | 'visits'>,
  settings: Settings,
): ProposalGround | null {
  if (answer.drawing === null) return null;
  const { forecast } = answer.drawing;
  const operations = new Map(answer.operations.map((operation) => [operation.key, operation]));
  const policy = { failureCost: settings.failureCostMinor, labourCostPerHour: settings.labourRateMinor };
  const withAlone = (item: ProposalItem): ProposalGround['items'][number] => ({
    ...item,
    aloneMinutes: workTogether(operations, [{ operations: item.operations, own: item.ownMinutes }]).minutes,
  });
  const points = answer.rows
    .filter(({ verdict, watch }) => verdict !== 'behind_it' && watch === null)
    .map((row): ProposalItem => {
      const action = plannedAction(row);
      const work = workOfJob({
        action,
        operation: row.operation !== null && operations.has(row.operation) ? row.operation : null,
        renewMinutes: row.renewMinutes,
        look: row.look && { minutes: row.look.minutes, off: row.look.off ?? [] },
      });
      return {
        key: `point:${row.weakPointId}`,
        operations: work.operations.filter((key) => operations.has(key)),
        ownMinutes: work.own,
        parts: action === 'renew' ? (row.partPrice ?? 0) : 0,
        failure: failureCost(row, policy),
        forecast:
          action === 'renew'
            ? (forecast.items.find(({ weakPointId }) => weakPointId === row.weakPointId) ?? null)
            : null,
        dueDay: asksForWork(row.verdict) && row.verdict !== 'ride_along' ? (row.due?.day ?? null) : null,
        pin: null,
      };
    })
    // A look that nothing asks for is none of the planner's business yet.
    .filter(({ forecast: of, dueDay }) => of !== null || dueDay !== null);
  const tasks = answer.upkeep
    .filter(({ standing, due }) => (standing === 'overdue' || standing === 'due') && due !== null)
    .map((task): ProposalItem => ({
      key: `task:${task.taskId}`,
      operations: [],
      ownMinutes: task.minutes,
      parts: 0,
      failure: 0,
      forecast: null,
      dueDay: task.due!.day,
      pin: null,
    }));
  // What stands on a visit already stays there: what shares its access may join it.
  const monthOf = new Map<string, number>(
    visits
      .filter(({ state }) => state === 'planned')
      .flatMap(({ day, jobs, tasks: of }) => {
        const month = monthOfDay(forecast.nowDay, day);
        return [
          ...jobs.map(({ weakPointId }) => [`point:${weakPointId}`, month] as const),
          ...of.map(({ taskId }) => [`task:${taskId}`, month] as const),
        ];
      }),
  );
  return {
    forecast,
    operations,
    items: [...points, ...tasks].map((item) => withAlone({ ...item, pin: monthOf.get(item.key) ?? null })),
  };
}

/** What is planned for, from the workshop's settings. */
export const proposalTerms = (settings: Settings): ProposalTerms => ({
  months: MONTHS,
  visitCost: labourCost(VISIT_MINUTES, settings.labourRateMinor),
  labourPerMinute: labourCost(1, settings.labourRateMinor),
  capacity: null,
  budget: null,
});
