import { call } from '../../../api/client.ts';
import { endpoints, type Settings, type Vehicle, type VisitsPlanned } from '@crosspeen/contract';
import type { Pins, Proposal } from '@crosspeen/core';
import { type SetStateAction, type Dispatch, useCallback, useMemo, useState, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import { useChange } from '../../../api/changing.tsx';
import type { VehicleOutlook } from '../../../api/answer.ts';
import { Button } from '../../../ui/button.tsx';
import { Notice } from '../../../ui/notice.tsx';
import { aboutMoneyText, percentText } from '../../../ui/units.ts';
import { acceptWords, asPlan, freshVisits, type FreshVisit } from '../work/accepting.ts';
import { boardLanes, minutesOf, monthsByKey, type BoardPost } from '../work/board-model.ts';
import { Board } from './board.tsx';
import {
  keysOnVisits,
  monthWithin,
  MONTHS,
  plannerAsked,
  thingsOf,
  type Thing,
  type PlannerAsked,
} from '../work/ground.ts';
import { KeepOrLetGo } from './keeping.tsx';
import { Moved } from './moved.tsx';
import { middleOf, readPins, writePins } from '../work/pins.ts';
import PlanningDialog from './planning-dialog.tsx';
import { planningWords } from '../work/planning-words.ts';
import { ProposedVisits } from './proposed-visits.tsx';
import { usePlanner, type Planned } from '../work/use-planner.ts';
import { Ways } from './ways.tsx';

/** What is put somewhere by hand, as the address keeps it. */
function usePins(nowDay: number): [Pins, (pins: Pins) => void] {
  const [params, setParams] = useSearchParams();
  const text = params.get('pins');
  const pins = useMemo(() => readPins(text, nowDay, MONTHS), [text, nowDay]);
  const setPins = useCallback(
    (next: Pins): void =>
      setParams(
        (before) => {
          const now = new URLSearchParams(before);
          if (next.size === 0) now.delete('pins');
          else now.set('pins', writePins(next, nowDay, MONTHS));
          return now;
        },
        { replace: true },
      ),
    [setParams, nowDay],
  );
  return [pins, setPins];
}

/** How good the plan that is shown is known to be. */
function standingWords({ isLast }: Planned, { proven, isLeast, above, money }: Proposal): string {
  if (isLast && proven)
    return isLeast ? 'No other plan costs less.' : 'No other plan that keeps its days and limits costs less.';
  if (above === null) return 'Still improving …';
  return `At most ${percentText(above / Math.max(1, money.total))} above the best there can be${isLast ? '' : '; looking on'}.`;
}

/** The proposal in one line, and accepting it. */
function PlannerHead({
  vehicle,
  settings,
  say,
  shown,
  accept,
  take,
}: {
  vehicle: Vehicle;
  settings: Settings;
  say: () => void;
  shown: FreshVisit[];
  accept: { readonly isPending: boolean };
  take: (some: readonly FreshVisit[]) => void;
}): ReactNode {
  return (
    <header className="flex flex-wrap items-end justify-between gap-3">
      <div className="min-w-0 flex-1 basis-96">
        <h2 className="text-2xl">Proposed visits</h2>
        <p className="text-soft">
          Least cost over three years: what shares access goes together, what is due by its day. Drag a bead or a visit;
          the rest follows. {planningWords(vehicle.planning, settings, vehicle.odometerUnit)}
        </p>
      </div>
      <div className="flex flex-wrap gap-2">
        <Button onClick={say}>What to plan by</Button>
        {shown.length > 0 && (
          <Button look="main" disabled={accept.isPending} onClick={() => take(shown)}>
            {acceptWords(shown)}
          </Button>
        )}
      </div>
    </header>
  );
}

/** The board, and what the proposal costs. */
function Proposal({
  lanes,
  posts,
  nowDay,
  own,
  asked,
  thingOf,
  moved,
  dragged,
  base,
  settings,
  setMoved,
  drag,
  pins,
  drop,
  setPut,
  setPins,
  put,
  pinCost,
  shown,
  accept,
  take,
  planned,
}: {
  lanes: {
    beads: { month: number | null; key: string; deadline: number | null }[];
    id: string;
    chances: readonly number[];
  }[];
  posts: BoardPost[];
  nowDay: number;
  own: Pins;
  asked: PlannerAsked;
  thingOf: (key: string) => Thing;
  moved: { keys: readonly string[]; month: number } | null;
  dragged: Proposal | null | undefined;
  base: Proposal;
  settings: Settings;
  setMoved: Dispatch<SetStateAction<{ keys: readonly string[]; month: number } | null>>;
  drag: (pins: Pins) => void;
  pins: Map<string, number>;
  drop: (isKept: boolean) => void;
  setPut: Dispatch<SetStateAction<{ keys: readonly string[]; month: number; before: Proposal } | null>>;
  setPins: (pins: Pins) => void;
  put: { keys: readonly string[]; month: number; before: Proposal } | null;
  pinCost: number;
  shown: FreshVisit[];
  accept: { readonly isPending: boolean };
  take: (some: readonly FreshVisit[]) => void;
  planned: Planned;
}): ReactNode {
  return (
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
          kept={asked.terms.keptMonths}
          beside={
            moved &&
            dragged !== undefined && (
              <Moved asked={asked} base={base} now={dragged} {...moved} settings={settings} thingOf={thingOf} />
            )
          }
          onDrag={(keys, month) => {
            setMoved({ keys, month });
            drag(new Map([...pins, ...keys.map((key) => [key, month] as const)]));
          }}
          onDrop={(keys, month) => {
            drop(month !== null);
            setMoved(null);
            if (month === null) return;
            setPut(month < MONTHS ? { keys, month, before: base } : null);
            setPins(new Map([...own, ...keys.map((key) => [key, month] as const)]));
          }}
          onPins={setPins}
        />
      )}
      {put !== null && put.keys.some((key) => own.get(key) === put.month) && (
        <div className="rounded-md border border-rule bg-sheet px-4 py-2" aria-label="What was moved" role="group">
          <p className="font-semibold">{put.keys.map((key) => thingOf(key).title).join('; ')}</p>
          <Moved
            asked={asked}
            base={put.before}
            now={base}
            keys={put.keys}
            month={put.month}
            settings={settings}
            thingOf={thingOf}
          />
        </div>
      )}
      {own.size > 0 && (
        <p className="flex flex-wrap items-center gap-3" role="status">
          <span>
            {own.size === 1 ? '1 thing is pinned' : `${own.size} things are pinned`}
            {pinCost >= 100 && `: ${aboutMoneyText(pinCost, settings)} more than without`}.
          </span>
          <Button onClick={() => setPins(new Map())}>Let all pins go</Button>
        </p>
      )}
      {shown.length === 0 && <p>Nothing more is worth a visit in that time; what comes later is left.</p>}
      <ProposedVisits
        visits={shown}
        asked={asked}
        settings={settings}
        pins={own}
        thingOf={thingOf}
        busy={accept.isPending}
        onTake={take}
      />
      {base.later.length > 0 && (
        <details>
          <summary className="min-h-11 cursor-pointer py-2 font-semibold">Left for later: {base.later.length}</summary>
          <p className="text-soft">{base.later.map((key) => thingOf(key).title).join('; ')}.</p>
        </details>
      )}
      <Ways proposal={base} settings={settings} />
      <p className="text-soft" role="status">
        {standingWords(planned, base)} Before tax; each visit with {aboutMoneyText(asked.terms.visitCost, settings)} for
        taking the vehicle in and out. Prices and minutes of the demo are made up.
      </p>
    </>
  );
}

/** Visits that cost least over the years ahead, to be moved about, and accepted as one. */
export default function Planner({ data, settings }: { data: VehicleOutlook; settings: Settings }): ReactNode {
  const { answer, vehicle, visits } = data;
  const nowDay = answer.today;
  const [isSaying, setSaying] = useState(false);
  const [moved, setMoved] = useState<{ keys: readonly string[]; month: number } | null>(null);
  /** What was moved last, and the plan before it: what that has cost stays in sight. */
  const [put, setPut] = useState<{ keys: readonly string[]; month: number; before: Proposal } | null>(null);
  const asked = useMemo(() => plannerAsked({ answer, visits, vehicle }, settings), [answer, visits, vehicle, settings]);
  const thingOf = useMemo(() => thingsOf({ answer }), [answer]);
  const [own, setPins] = usePins(nowDay);
  const pins = useMemo(() => new Map([...own, ...(asked?.standing ?? [])]), [own, asked]);
  const { planned, problem, dragged, drag, drop } = usePlanner(asked, pins);
  const accept = useChange((body: VisitsPlanned, key) =>
    call(endpoints.visits.planAll, { params: { id: vehicle.id }, body, key }),
  );
  const standingVisits = useMemo(() => visits.filter(({ state }) => state === 'planned'), [visits]);
  const base = planned?.proposal ?? null;
  const shown = useMemo(
    () => (asked === null || base === null ? [] : freshVisits(asked, base, standingVisits)),
    [asked, base, standingVisits],
  );
  // What has a lane, and where, stays as it is while something is dragged: only its beads move.
  const laid = useMemo(() => {
    if (asked === null || base === null) return [];
    const onVisits = new Set(base.visits.flatMap(({ keys }) => keys));
    return boardLanes(
      asked,
      monthsByKey(asked, base),
      (key) => asked.standing.has(key) || own.has(key) || onVisits.has(key),
    );
  }, [asked, base, own]);
  const { mutate } = accept;
  /** Accepts some of the visits; what was pinned on them stands on them now. */
  const take = useCallback(
    (some: readonly FreshVisit[]): void => {
      const taken = new Set(some.flatMap(({ keys }) => keys));
      mutate(asPlan(some, data, thingOf), {
        onSuccess: () => setPins(new Map([...own].filter(([key]) => !taken.has(key)))),
      });
    },
    [mutate, data, thingOf, own, setPins],
  );
  const say = useCallback(() => setSaying(true), []);
  if (asked === null) return null;
  const proposal = dragged ?? base;
  const months = proposal === null ? new Map<string, number>() : monthsByKey(asked, proposal);
  const lanes = laid.map((lane) => ({
    ...lane,
    beads: lane.beads.map((bead) => {
      const month = months.get(bead.key) ?? MONTHS;
      return { ...bead, month: month < MONTHS ? month : null };
    }),
  }));
  const standingKeys = keysOnVisits(standingVisits);
  const posts: BoardPost[] = [
    ...standingVisits.map(({ id, day, minutes }) => {
      const month = monthWithin(nowDay, day);
      return { month, day: middleOf(nowDay, month), keys: standingKeys.get(id)!, minutes, isStanding: true };
    }),
    ...(proposal === null ? [] : freshVisits(asked, proposal, standingVisits))
      .filter(({ joins }) => joins === null)
      .map(({ month, day, keys }) => ({ month, day, keys, minutes: minutesOf(asked, keys), isStanding: false })),
  ].sort((a, b) => a.month - b.month);
  const pinCost = planned?.free == null || base === null ? 0 : base.money.total - planned.free;
  return (
    <section aria-label="Proposed visits" className="grid grid-cols-1 gap-4">
      <PlannerHead vehicle={vehicle} settings={settings} say={say} shown={shown} accept={accept} take={take} />
      {accept.error && <Notice role="alert">{accept.error.message}</Notice>}
      {planned === null &&
        (problem === null ? (
          <p role="status">Looking for the visits that cost least …</p>
        ) : (
          <Notice role="alert">
            The planner has stopped: {problem}. Plan the visits by hand, or load the page anew.
          </Notice>
        ))}
      {planned !== null && base === null && (
        <Notice
          role="alert"
          actions={
            <span className="flex flex-wrap gap-2">
              {own.size > 0 && <Button onClick={() => setPins(new Map())}>Let all pins go</Button>}
              <Button onClick={say}>Change the limits</Button>
            </span>
          }
        >
          Something that is due fits on no visit: let a visit take longer or cost more, or let a pin go.
        </Notice>
      )}
      {planned !== null && base !== null && (
        <Proposal
          lanes={lanes}
          posts={posts}
          nowDay={nowDay}
          own={own}
          asked={asked}
          thingOf={thingOf}
          moved={moved}
          dragged={dragged}
          base={base}
          settings={settings}
          setMoved={setMoved}
          drag={drag}
          pins={pins}
          drop={drop}
          setPut={setPut}
          setPins={setPins}
          put={put}
          pinCost={pinCost}
          shown={shown}
          accept={accept}
          take={take}
          planned={planned}
        />
      )}
      <KeepOrLetGo data={data} settings={settings} pins={pins} onSay={say} />
      {isSaying && (
        <PlanningDialog vehicle={vehicle} settings={settings} today={nowDay} onClose={() => setSaying(false)} />
      )}
    </section>
  );
}
