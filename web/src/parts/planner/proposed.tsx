import type { Settings, VisitCreate } from '@crosspeen/contract';
import { isoFromDay, workTogether, type Proposal } from '@crosspeen/core';
import { useMemo, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { change } from '../../api/queries.ts';
import type { VehicleOutlook } from '../../api/answer.ts';
import { Button } from '../../ui/button.tsx';
import { Notice } from '../../ui/notice.tsx';
import { dayText, isoText, minutesText, moneyText, percentText } from '../../ui/units.ts';
import { monthOfDay, plannedAction, proposalGround, proposalTerms, VISIT_MINUTES } from './ground.ts';
import { useProposal } from './use-proposal.ts';

/** The ways a vehicle may be kept, beside each other. */
const WAYS = {
  cost: 'These visits',
  apart: 'Each on its own date',
  allNow: 'All of it now',
  wait: 'Only what is due, the rest until it fails',
} as const satisfies Partial<Record<keyof Proposal, string>>;

function Ways({ proposal, settings }: { proposal: Proposal; settings: Settings }): ReactNode {
  const most = Math.max(...(Object.keys(WAYS) as (keyof typeof WAYS)[]).map((way) => proposal[way]), 1);
  return (
    <dl className="grid gap-2" aria-label="What it costs">
      {(Object.keys(WAYS) as (keyof typeof WAYS)[]).map((way) => (
        <div
          key={way}
          className="grid grid-cols-[12rem_minmax(0,1fr)_7rem] items-center gap-3 max-sm:grid-cols-1 max-sm:gap-0"
        >
          <dt className={way === 'cost' ? 'font-semibold' : ''}>{WAYS[way]}</dt>
          <dd aria-hidden className="h-4 rounded-sm bg-well">
            <span
              className={`block h-4 rounded-sm ${way === 'cost' ? 'bg-accent' : 'bg-rule-strong'}`}
              style={{ width: `${Math.max(0.5, (proposal[way] / most) * 100)}%` }}
            />
          </dd>
          <dd className="figure text-right text-lg font-semibold">{moneyText(Math.round(proposal[way]), settings)}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Visits that cost least over the years ahead, proposed by the planner: what goes together, and when. */
export default function Proposed({ data, settings }: { data: VehicleOutlook; settings: Settings }): ReactNode {
  const { answer, vehicle, parts, visits: standing } = data;
  const ground = useMemo(() => proposalGround({ answer, visits: standing }, settings), [answer, standing, settings]);
  const terms = useMemo(() => proposalTerms(settings), [settings]);
  const state = useProposal(ground, terms);
  const accept = useChange((visits: VisitCreate[], key) =>
    change('POST', `/api/vehicles/${vehicle.id}/plan`, { visits }, key),
  );
  if (ground === null) return null;
  const rows = new Map(answer.rows.map((row) => [`point:${row.weakPointId}`, row]));
  const tasks = new Map(answer.upkeep.map((task) => [`task:${task.taskId}`, task]));
  const items = new Map(ground.items.map((item) => [item.key, item]));
  const minutesOf = (keys: readonly string[]): number =>
    workTogether(
      ground.operations,
      keys.map((key) => ({ operations: items.get(key)!.operations, own: items.get(key)!.ownMinutes })),
    ).minutes;
  const planned = standing.filter(({ state: of }) => of === 'planned');
  const onVisit = new Set(
    planned.flatMap(({ jobs, tasks: of }) => [
      ...jobs.map(({ weakPointId }) => `point:${weakPointId}`),
      ...of.map(({ taskId }) => `task:${taskId}`),
    ]),
  );
  /** What is proposed beside what stands on visits, by the visit that it joins; null for one of its own. */
  const fresh = ({ visits }: Proposal) =>
    visits.flatMap((visit) => {
      const keys = visit.keys.filter((key) => !onVisit.has(key));
      const joins = planned.find(({ day }) => monthOfDay(ground.forecast.nowDay, day) === visit.month) ?? null;
      return keys.length === 0 ? [] : [{ ...visit, keys, all: visit.keys, joins }];
    });
  const asVisits = (whole: Proposal): VisitCreate[] =>
    fresh(whole)
      .filter(({ joins }) => joins === null)
      .map(({ day, keys }) => ({
        day: isoFromDay(day),
        km: null,
        note: null,
        jobs: keys.flatMap((key) => {
          const row = rows.get(key);
          if (row === undefined) return [];
          const part = parts[row.componentKey]?.[0];
          return [
            {
              weakPointId: row.weakPointId,
              action: plannedAction(row),
              grade: part?.grade ?? ('original' as const),
              partNumber: part?.number ?? null,
              revision: part?.revision ?? null,
            },
          ];
        }),
        tasks: keys.flatMap((key) => {
          const task = tasks.get(key);
          return task === undefined ? [] : [task.taskId];
        }),
      }));
  const proposal = state?.proposal ?? null;
  const shown = proposal === null ? [] : fresh(proposal);
  const own = shown.filter(({ joins }) => joins === null).length;
  return (
    <section aria-label="Proposed visits" className="grid gap-4">
      <header className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h2 className="text-2xl">Proposed visits</h2>
          <p className="text-soft">
            Over three years at this vehicle’s use, least cost: work that shares access goes together, what is due by
            its day. {minutesText(VISIT_MINUTES)} a visit beside the work; prices and minutes of the demo are made up.
          </p>
        </div>
        {proposal !== null && own > 0 && (
          <Button look="main" disabled={accept.isPending} onClick={() => accept.mutate(asVisits(proposal))}>
            Plan {own === 1 ? 'this visit' : `these ${own} visits`}
          </Button>
        )}
      </header>
      {accept.error && <Notice role="alert">{accept.error.message}</Notice>}
      {state === null && <p role="status">Looking for the visits that cost least …</p>}
      {state !== null && proposal === null && (
        <Notice role="alert">Something due fits on no visit: loosen what limits the visits.</Notice>
      )}
      {proposal !== null && (
        <>
          {shown.length === 0 && <p>Nothing more is worth a visit in that time; what comes later is left.</p>}
          <ol className="grid gap-3">
            {shown.map((visit) => (
              <li key={visit.month} className="rounded-md border border-rule bg-sheet px-4 py-3">
                <h3 className="text-xl">
                  {visit.joins === null ? (
                    <>
                      About {dayText(visit.day)}{' '}
                      <span className="font-medium text-soft">{minutesText(minutesOf(visit.keys))} labour</span>
                    </>
                  ) : (
                    <>
                      On the visit of {isoText(visit.joins.day)}{' '}
                      <span className="font-medium text-soft">
                        {minutesText(minutesOf(visit.all) - minutesOf(visit.all.filter((key) => onVisit.has(key))))}{' '}
                        more labour, {minutesText(minutesOf(visit.keys))} by itself
                      </span>
                    </>
                  )}
                </h3>
                {visit.joins !== null && <p className="text-soft">Add it with “Change” at that visit.</p>}
                <ul>
                  {visit.keys.map((key) => {
                    const row = rows.get(key);
                    return (
                      <li key={key}>
                        <strong>
                          {row === undefined ? 'Upkeep' : plannedAction(row) === 'look' ? 'Look' : 'Renew'}:
                        </strong>{' '}
                        {row?.title ?? tasks.get(key)?.title}
                        {items.get(key)!.dueDay !== null && <span className="text-soft"> due</span>}
                      </li>
                    );
                  })}
                </ul>
              </li>
            ))}
          </ol>
          {proposal.later.length > 0 && (
            <p className="text-soft">
              Left for later: {proposal.later.map((key) => rows.get(key)?.title ?? tasks.get(key)?.title).join('; ')}.
            </p>
          )}
          <Ways proposal={proposal} settings={settings} />
          <p className="text-soft" role="status">
            {proposal.proven
              ? 'No other plan costs less.'
              : `At most ${percentText((proposal.cost - proposal.bound) / Math.max(1, proposal.cost))} above the best there can be${state!.isLast ? '' : '; looking on'}.`}{' '}
            Costs are beside what the best pace would cost anyway, labour, parts and expected failures, before tax.
          </p>
        </>
      )}
    </section>
  );
}
