import type { Settings, VisitCreate, VisitsPlanned } from '@crosspeen/contract';
import { isoFromDay, keyMeans, type Pins, type Proposal } from '@crosspeen/core';
import { useMemo, useState, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { change } from '../../api/queries.ts';
import type { VehicleOutlook } from '../../api/answer.ts';
import { Button } from '../../ui/button.tsx';
import { Notice } from '../../ui/notice.tsx';
import { dayText, isoText, minutesText, moneyText, monthText, percentText } from '../../ui/units.ts';
import { usualPart } from '../visits/usual-part.ts';
import { boardLanes, failsBefore, minutesOf, minutesOfVisits, monthsByKey } from './board-model.ts';
import { Board, type BoardPost } from './board.tsx';
import { keysOnVisits, monthWithin, MONTHS, plannerAsked, thingsOf, THING_WORDS } from './ground.ts';
import { Keeping } from './keeping.tsx';
import { middleOf, readPins, writePins } from './pins.ts';
import PlanningDialog from './planning-dialog.tsx';
import { planningWords } from './planning-words.ts';
import { usePlanner } from './use-planner.ts';
import { Ways } from './ways.tsx';

/** A sum of money with its sign said in words: 34 more, 12 less. */
const difference = (amount: number, settings: Settings): string =>
  Math.abs(amount) < 50
    ? 'costs the same'
    : `${moneyText(Math.round(Math.abs(amount)), settings)} ${amount > 0 ? 'more' : 'less'}`;

/** Visits that cost least over the years ahead, to be moved about, and accepted as one. */
export default function Planner({ data, settings }: { data: VehicleOutlook; settings: Settings }): ReactNode {
  const { answer, vehicle, parts, visits: allVisits } = data;
  const [params, setParams] = useSearchParams();
  const [isSaying, setSaying] = useState(false);
  const [moved, setMoved] = useState<{ keys: readonly string[]; month: number } | null>(null);
  const asked = useMemo(
    () => plannerAsked({ answer, visits: allVisits, vehicle }, settings),
    [answer, allVisits, vehicle, settings],
  );
  const thingOf = useMemo(() => thingsOf({ answer }), [answer]);
  const nowDay = answer.today;
  const pinsText = params.get('pins');
  const own = useMemo(() => readPins(pinsText, nowDay, MONTHS), [pinsText, nowDay]);
  const pins = useMemo(() => new Map([...own, ...(asked?.standing ?? [])]), [own, asked]);
  const { planned, dragged, drag, drop } = usePlanner(asked, pins);
  const accept = useChange((body: VisitsPlanned, key) => change('POST', `/api/vehicles/${vehicle.id}/plan`, body, key));
  if (asked === null) return null;
  const setPins = (next: Pins): void =>
    setParams(
      (before) => {
        const now = new URLSearchParams(before);
        if (next.size === 0) now.delete('pins');
        else now.set('pins', writePins(next, nowDay, MONTHS));
        return now;
      },
      { replace: true },
    );
  const standingVisits = allVisits.filter(({ state }) => state === 'planned');
  const standingKeys = keysOnVisits(standingVisits);
  const base = planned?.proposal ?? null;
  const proposal = dragged ?? base;
  const isStanding = (key: string): boolean => asked.standing.has(key);
  const fresh = (whole: Proposal) =>
    whole.visits.flatMap((visit) => {
      const keys = visit.keys.filter((key) => !isStanding(key));
      const joins = standingVisits.find(({ day }) => monthWithin(nowDay, day) === visit.month) ?? null;
      return keys.length === 0 ? [] : [{ ...visit, keys, all: visit.keys, joins }];
    });
  const work = (keys: readonly string[]): Pick<VisitCreate, 'jobs' | 'tasks'> => ({
    jobs: keys.flatMap((key) => {
      const { row, kind } = thingOf(key);
      return row === null || kind === 'task'
        ? []
        : [{ weakPointId: row.weakPointId, action: kind, ...usualPart(parts[row.componentKey]) }];
    }),
    tasks: keys.flatMap((key) => {
      const task = answer.upkeep.find(({ taskId }) => keyMeans(key).kind === 'task' && taskId === keyMeans(key).id);
      return task === undefined ? [] : [task.taskId];
    }),
  });
  const asPlan = (whole: Proposal): VisitsPlanned => ({
    visits: fresh(whole)
      .filter(({ joins }) => joins === null)
      .map(({ day, keys }) => ({ day: isoFromDay(day), km: null, note: null, ...work(keys) })),
    joins: fresh(whole).flatMap(({ joins, keys }) =>
      joins === null ? [] : [{ id: joins.id, version: joins.version, ...work(keys) }],
    ),
  });
  const shown = proposal === null ? [] : fresh(proposal);
  const order = base ?? proposal;
  const isOnBoard = (key: string): boolean =>
    isStanding(key) || own.has(key) || (order !== null && order.visits.some(({ keys }) => keys.includes(key)));
  const months = proposal === null ? new Map<string, number>() : monthsByKey(asked, proposal);
  const lanes =
    order === null
      ? []
      : boardLanes(asked, monthsByKey(asked, order), isOnBoard).map((lane) => ({
          ...lane,
          beads: lane.beads.map((bead) => {
            const month = months.get(bead.key) ?? MONTHS;
            return { ...bead, month: month < MONTHS ? month : null };
          }),
        }));
  const posts: BoardPost[] = [
    ...standingVisits.map((visit) => ({
      month: monthWithin(nowDay, visit.day),
      day: middleOf(nowDay, monthWithin(nowDay, visit.day)),
      keys: standingKeys.get(visit.id)!,
      minutes: visit.minutes,
      isStanding: true,
    })),
    ...shown
      .filter(({ joins }) => joins === null)
      .map(({ month, day, keys }) => ({ month, day, keys, minutes: minutesOf(asked, keys), isStanding: false })),
  ].sort((a, b) => a.month - b.month);
  const changedBy =
    base === null || dragged === undefined || moved === null
      ? null
      : dragged === null
        ? { fits: false as const }
        : {
            fits: true as const,
            money: dragged.money.total - base.money.total,
            minutes: minutesOfVisits(asked, dragged.visits) - minutesOfVisits(asked, base.visits),
            fails: moved.keys.map((key) => ({ key, chance: failsBefore(asked, key, moved.month) })),
          };
  const beside = changedBy && moved && (
    <div role="status" className="leading-snug">
      <strong className="figure text-lg">{monthText(middleOf(nowDay, moved.month))}</strong>
      {!changedBy.fits && <p>Something fits on no visit then.</p>}
      {changedBy.fits && (
        <>
          <p className="figure text-lg">{difference(changedBy.money, settings)}</p>
          <p>
            {changedBy.minutes === 0
              ? 'as much work in all'
              : `${minutesText(Math.abs(changedBy.minutes))} ${changedBy.minutes > 0 ? 'more' : 'less'} work in all`}
          </p>
          {changedBy.fails.map(({ key, chance }) =>
            chance === null ? null : (
              <p key={key} className="text-soft">
                {percentText(chance)} that it fails before
                {changedBy.fails.length > 1 ? `: ${thingOf(key).title}` : ''}
              </p>
            ),
          )}
        </>
      )}
    </div>
  );
  const said = planningWords(vehicle.planning, settings, vehicle.odometerUnit);
  const fresher = shown.filter(({ joins }) => joins === null).length;
  return (
    <section aria-label="Proposed visits" className="grid grid-cols-1 gap-4">
      <header className="flex flex-wrap items-end justify-between gap-3">
        <div className="min-w-0 flex-1 basis-96">
          <h2 className="text-2xl">Proposed visits</h2>
          <p className="text-soft">
            Least cost over three years: what shares access goes together, what is due by its day. Drag a bead or a
            visit; the rest follows. {said}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {own.size > 0 && (
            <Button look="quiet" onClick={() => setPins(new Map())}>
              Let all pins go
            </Button>
          )}
          <Button onClick={() => setSaying(true)}>What to plan by</Button>
          {proposal !== null && shown.length > 0 && (
            <Button
              look="main"
              disabled={accept.isPending}
              onClick={() => accept.mutate(asPlan(proposal), { onSuccess: () => setPins(new Map()) })}
            >
              {fresher === 0
                ? 'Add to the planned visit'
                : fresher === 1
                  ? 'Plan this visit'
                  : `Plan these ${fresher} visits`}
            </Button>
          )}
        </div>
      </header>
      {accept.error && <Notice role="alert">{accept.error.message}</Notice>}
      {planned === null && <p role="status">Looking for the visits that cost least …</p>}
      {planned !== null && proposal === null && (
        <Notice
          role="alert"
          actions={
            <>
              {own.size > 0 && <Button onClick={() => setPins(new Map())}>Let all pins go</Button>}
              <Button onClick={() => setSaying(true)}>Change the limits</Button>
            </>
          }
        >
          Something that is due fits on no visit: let a visit take longer or cost more, or let a pin go.
        </Notice>
      )}
      {proposal !== null && (
        <>
          {lanes.length > 0 && (
            <Board
              lanes={lanes}
              posts={posts}
              months={MONTHS}
              nowDay={nowDay}
              pins={own}
              standing={asked.standing}
              thingOf={thingOf}
              beside={beside}
              onDrag={(keys, month) => {
                setMoved({ keys, month });
                drag(new Map([...pins, ...keys.map((key) => [key, month] as const)]));
              }}
              onDrop={(keys, month) => {
                drop(month !== null);
                setMoved(null);
                if (month !== null) setPins(new Map([...own, ...keys.map((key) => [key, month] as const)]));
              }}
              onPins={setPins}
            />
          )}
          {shown.length === 0 && <p>Nothing more is worth a visit in that time; what comes later is left.</p>}
          <ol className="grid gap-3">
            {shown.map((visit) => (
              <li key={visit.month} className="rounded-md border border-rule bg-sheet px-4 py-3">
                <h3 className="text-xl">
                  {visit.joins === null ? (
                    <>
                      About {dayText(visit.day)}{' '}
                      <span className="font-medium text-soft">
                        {minutesText(minutesOf(asked, visit.keys))} labour,{' '}
                        {moneyText(Math.round(asked.terms.labourPerMinute * minutesOf(asked, visit.keys)), settings)}{' '}
                        before tax and parts
                      </span>
                    </>
                  ) : (
                    <>
                      On the visit of {isoText(visit.joins.day)}{' '}
                      <span className="font-medium text-soft">
                        {minutesText(minutesOf(asked, visit.all) - minutesOf(asked, visit.all.filter(isStanding)))} more
                        labour, {minutesText(minutesOf(asked, visit.keys))} by itself
                      </span>
                    </>
                  )}
                </h3>
                <ul>
                  {visit.keys.map((key) => {
                    const thing = thingOf(key);
                    const item = asked.ground.items.find((one) => one.key === key)!;
                    return (
                      <li key={key}>
                        <strong>{THING_WORDS[thing.kind]}:</strong> {thing.title}
                        <span className="text-soft">
                          {item.dueDay !== null && ` by ${dayText(Math.round(item.dueDay))}`}
                          {thing.kind === 'look' &&
                            item.before !== null &&
                            '; what it finds is renewed on the next visit'}
                          {own.has(key) && ', pinned'}
                        </span>
                      </li>
                    );
                  })}
                </ul>
              </li>
            ))}
          </ol>
          {proposal.later.length > 0 && (
            <details>
              <summary className="min-h-11 cursor-pointer py-2 font-semibold">
                Left for later: {proposal.later.length}
              </summary>
              <p className="text-soft">{proposal.later.map((key) => thingOf(key).title).join('; ')}.</p>
            </details>
          )}
          <Ways proposal={proposal} settings={settings} />
          <p className="text-soft" role="status">
            {planned!.isLast && proposal.proven
              ? 'No other plan costs less.'
              : proposal.above === null
                ? 'Looking on for a better one …'
                : `At most ${percentText(proposal.above / Math.max(1, proposal.money.total))} above the best there can be${planned!.isLast ? '' : '; looking on'}.`}{' '}
            Before tax; each visit with {moneyText(Math.round(asked.terms.visitCost), settings)} for taking the vehicle
            in and out. Prices and minutes of the demo are made up.
          </p>
        </>
      )}
      <Keeping data={data} settings={settings} pins={pins} onSay={() => setSaying(true)} />
      {isSaying && (
        <PlanningDialog vehicle={vehicle} settings={settings} today={nowDay} onClose={() => setSaying(false)} />
      )}
    </section>
  );
}
