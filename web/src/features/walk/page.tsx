import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import {
  addressOf,
  endpoints,
  MOST_PHOTO_BYTES,
  type SessionState,
  type VehicleId,
  WALK_PLACE_WORDS,
  type WalkView,
} from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Printer } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { minutesText, type EngineSpot, type LookPlace } from '@crosspeen/core';
import { readWalk } from '../../api/walk.ts';
import { readAgain } from '../../api/read-again.ts';
import { EngineMapView } from '../../parts/engine-map/engine-map.tsx';
import { AllGoodHere } from './all-good.tsx';
import { Held } from '../../parts/held.tsx';
import { VehicleTabs } from '../../parts/vehicle/vehicle-tabs.tsx';
import { Button } from '../../ui/button.tsx';
import { Empty, Notice, Waiting } from '../../ui/notice.tsx';
import { Toggles } from '../../ui/toggles.tsx';
import { distanceText, instantText } from '../../ui/units.ts';
import type { WalkRef } from '../../offline/queue.ts';
import { keepAtHand } from '../../offline/register.ts';
import { deviceStore } from '../../offline/store.ts';
import { useWaiting, type WaitingState } from '../../offline/waiting.tsx';
import { handToDesk, tryAgain } from '../../offline/refused.ts';
import { enter, enterPhoto, type Entering, type Said } from './entering.ts';
import { ItemCard } from './item-card.tsx';
import { type ItemActions } from './item-entering.tsx';
import { byPlace, itemStandings, spotMarks, type ItemStanding } from './standing.ts';

const BUDGETS = { all: 'No time limit', '40': '40 min', '20': '20 min', '10': '10 min' } as const;
type Budget = keyof typeof BUDGETS;
const minutesOf = (budget: Budget): number | null => (budget === 'all' ? null : Number(budget));

/** What waits on this device and why, where anything does. */
function WaitingLine({ waiting, hasRefused }: { waiting: WaitingState; hasRefused: boolean }): ReactNode {
  const toSend = waiting.mine.filter(({ refused }) => refused === null).length;
  // What is just being sent needs no words.
  const stuck = toSend > 0 && (waiting.last === 'unreachable' || waiting.last === 'signed_out');
  if (!stuck && waiting.others.length === 0 && !hasRefused) return null;
  return (
    <Notice actions={stuck && <Button onClick={waiting.sendNow}>Send now</Button>}>
      {stuck && (
        <p>
          <strong>
            {toSend} {toSend === 1 ? 'entry waits' : 'entries wait'} on this device.
          </strong>{' '}
          {waiting.last === 'signed_out'
            ? 'Your sign-in is over: sign in again and they are sent.'
            : 'No answer from the workshop’s server yet; they are sent by themselves, and nothing is lost if you close this.'}
        </p>
      )}
      {waiting.others.map(({ name, count }) => (
        <p key={name}>
          {count} of {name} {count === 1 ? 'waits' : 'wait'} here until they sign in.
        </p>
      ))}
      {hasRefused && <p>The server did not take something; it says why at its item.</p>}
    </Notice>
  );
}

/** The items at one place of the engine. */
function PlaceSection({
  place,
  left,
  onAllGood,
  here,
  view,
  numbered,
  actions,
}: {
  place: LookPlace;
  left: ItemStanding[];
  onAllGood: ((said: Said[]) => void) | null;
  here: ItemStanding[];
  view: WalkView;
  numbered: Map<string, number>;
  actions: ItemActions | null;
}): ReactNode {
  return (
    <section aria-label={WALK_PLACE_WORDS[place]}>
      <header className="mb-2 flex flex-wrap items-center justify-between gap-2 border-b-2 border-ink pb-1">
        <h2 className="text-2xl">{WALK_PLACE_WORDS[place]}</h2>
        <span className="flex items-center gap-3">
          <span className="text-soft">{left.length === 0 ? 'all done' : `${left.length} left`}</span>
          {onAllGood && <AllGoodHere glances={left.filter(({ step }) => step.glance)} onAllGood={onAllGood} />}
        </span>
      </header>
      <ul className="grid gap-3">
        {here.map((item) => (
          <ItemCard
            key={item.step.key}
            item={item}
            view={view}
            at={numbered.get(item.step.key)!}
            unit={view.odometerUnit}
            photos={view.photos.filter(({ key }) => key === item.step.key)}
            actions={actions}
          />
        ))}
      </ul>
    </section>
  );
}

/** The sheet of a walk with its map; without `actions` it is only read. */
export function WalkSheet({
  view,
  waiting,
  actions,
  onAllGood,
}: {
  view: WalkView;
  waiting: WaitingState | null;
  actions: ItemActions | null;
  onAllGood: ((said: Said[]) => void) | null;
}): ReactNode {
  const [spot, setSpot] = useState<EngineSpot | null>(null);
  const items = useMemo(() => itemStandings(view, waiting?.mine ?? []), [view, waiting?.mine]);
  const numbered = new Map(items.map(({ step }, i) => [step.key, i + 1]));
  const shown = spot === null ? items : items.filter(({ step }) => step.spot === spot);
  const groups = byPlace(shown);
  return (
    <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1fr)_22rem]">
      {view.holds.length > 0 && (
        <div className="lg:col-span-2">
          <Held holds={view.holds} />
        </div>
      )}
      <div className="grid gap-5 max-lg:order-2">
        {groups.map(({ place, items: here }) => {
          const left = here.filter(({ told }) => told === null);
          return (
            <PlaceSection
              key={place}
              place={place}
              left={left}
              onAllGood={onAllGood}
              here={here}
              view={view}
              numbered={numbered}
              actions={actions}
            />
          );
        })}
        {view.forbidden.length > 0 && (
          <p className="font-semibold">
            Left out until the cause of the complaint is found:{' '}
            {view.forbidden.map(({ title, needs }) => `${title} (${needs})`).join('; ')}.
          </p>
        )}
        {view.leftOut.length > 0 && (
          <p className="text-soft">
            <strong>Left out for time:</strong>{' '}
            {view.leftOut.map(({ title, minutes }) => `${title} (${minutesText(minutes)})`).join('; ')}.
          </p>
        )}
      </div>
      <aside className="grid gap-3 max-lg:order-1 lg:sticky lg:top-4">
        {view.layout === null ? (
          <p className="rounded-md border border-dashed border-rule-strong px-4 py-3 text-soft">
            Nobody has told how this engine lies in its bay, so there is no map of it.
          </p>
        ) : (
          <EngineMapView layout={view.layout} marks={spotMarks(items)} chosen={spot} onChoose={setSpot} />
        )}
      </aside>
    </div>
  );
}

const summary = ({ steps, minutes, liftChanges }: WalkView): string =>
  `${steps.length} ${steps.length === 1 ? 'item' : 'items'}, about ${minutesText(Math.round(minutes))}${
    liftChanges > 0 ? ', up on the lift once' : ', no lift'
  }`;

const printLink = (href: string): ReactNode => (
  <a
    href={href}
    target="_blank"
    rel="noreferrer"
    className="inline-flex min-h-11 items-center gap-2 rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
  >
    <Printer size={20} aria-hidden /> Print the sheet
  </a>
);

/** How far the walk is, its time, and ending it. */
function WalkHead({
  done,
  items,
  view,
  vehicle,
  minutes,
  end,
}: {
  done: number;
  items: ItemStanding[];
  view: WalkView;
  vehicle: { readonly id: VehicleId };
  minutes: number | null;
  end: Pick<Sending<void>, 'mutate' | 'isPending'>;
}): ReactNode {
  return (
    <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
      <p className="text-lg">
        <strong className="figure">
          {done} of {items.length} done
        </strong>
        <span className="text-soft">
          {' '}
          · {summary(view)}
          {view.walk !== null && ` · begun by ${view.walk.by}, ${instantText(view.walk.startedAt)}`}
        </span>
      </p>
      <div className="flex flex-wrap items-center gap-2">
        {printLink(addressOf(endpoints.walk.sheet, { params: { id: vehicle.id }, query: { minutes } }))}
        {view.walk !== null && (
          <Button look={done === items.length ? 'main' : 'plain'} onClick={() => end.mutate()} disabled={end.isPending}>
            End the walk
          </Button>
        )}
      </div>
    </div>
  );
}

function Walking({
  view,
  session,
  minutes,
}: {
  view: WalkView;
  session: SessionState;
  minutes: number | null;
}): ReactNode {
  const client = useQueryClient();
  const user = session.user!;
  const waiting = useWaiting();
  const [problem, setProblem] = useState<string | null>(null);
  const vehicle = view.vehicle!;
  const fresh = useRef<WalkRef>({ id: crypto.randomUUID(), day: session.today, budgetMinutes: minutes });
  const here = waiting.mine.filter(({ vehicleId }) => vehicleId === vehicle.id);
  const refresh = (): Promise<void> => readAgain(client, { queryKey: ['vehicle', vehicle.id] });
  const undo = useMutation({
    mutationFn: (changeId: string) => call(endpoints.changes.undo, { params: { id: changeId } }),
    onSuccess: refresh,
    onError: (error) => setProblem(error.message),
  });
  const settle = useMutation({
    mutationFn: ({ entryId, take }: { entryId: string; take: boolean }) =>
      call(endpoints.walk.settleEntry, { params: { id: vehicle.id, entryId }, body: { take } }),
    onSuccess: refresh,
    onError: (error) => setProblem(error.message),
  });
  const end = useMutation({
    mutationFn: () => call(endpoints.walk.end, { params: { id: vehicle.id, walkId: view.walk!.id } }),
    onSuccess: refresh,
    onError: (error) => setProblem(error.message),
  });
  const walkRef = (): WalkRef =>
    view.walk === null
      ? (here[0]?.walk ?? { ...fresh.current, budgetMinutes: minutes })
      : { id: view.walk.id, day: view.walk.day, budgetMinutes: view.budgetMinutes };
  const entering = (): Entering => ({
    userId: user.id,
    userName: user.displayName,
    vehicleId: vehicle.id,
    vehicleName: vehicle.plate ?? vehicle.name ?? '',
    walk: walkRef(),
    titles: new Map(view.steps.map(({ key, title }) => [key, title])),
  });
  const notKept = (error: unknown): void =>
    setProblem(
      `This could not be kept on the device: ${error instanceof Error ? error.message : 'its storage is full'}. Write it down.`,
    );
  const say = (said: readonly Said[]): void => {
    setProblem(null);
    enter(entering(), said).catch(notKept);
  };
  const actions: ItemActions = {
    onSay: (said) => say([said]),
    onPhoto: (key, entryId, file) => {
      if (file.size > MOST_PHOTO_BYTES) {
        setProblem(
          `The photo has ${Math.round(file.size / 1_000_000)} MB; at most ${MOST_PHOTO_BYTES / 1_000_000} MB are kept. Take it with less resolution.`,
        );
        return;
      }
      if (file.size === 0) {
        setProblem('The file is empty. Take the photo again.');
        return;
      }
      setProblem(null);
      enterPhoto(entering(), { key, entryId, picture: file, day: session.today }).catch(notKept);
    },
    onUndo: (changeId) => undo.mutate(changeId),
    onSettle: (entryId, take) => settle.mutate({ entryId, take }),
    onTryAgain: (refused) => {
      tryAgain(refused).catch(notKept);
    },
    onDesk: (refused) => {
      handToDesk(refused).catch(notKept);
    },
    onDrop: (id) => {
      deviceStore.remove(id).catch(notKept);
    },
  };
  const items = itemStandings(view, waiting.mine);
  const done = items.filter(({ told }) => told !== null).length;
  return (
    <>
      <WalkHead done={done} items={items} view={view} vehicle={vehicle} minutes={minutes} end={end} />
      <div className="mb-3 grid gap-2 empty:hidden">
        {problem !== null && <Notice role="alert">{problem}</Notice>}
        <WaitingLine waiting={waiting} hasRefused={here.some(({ refused }) => refused !== null)} />
      </div>
      {view.steps.length === 0 ? (
        <Empty title="Nothing is worth a look just now">
          What is known of this vehicle gives no reason to look, and no upkeep is due. Its Outlook says what comes next.
        </Empty>
      ) : (
        <WalkSheet view={view} waiting={waiting} actions={actions} onAllGood={say} />
      )}
    </>
  );
}

/** The walk round one vehicle: the sheet before it begins, and what is found on the way. */
export default function WalkPage({ session }: { session: SessionState }): ReactNode {
  const { id = '' } = useParams();
  const [params, setParams] = useSearchParams();
  const asked = params.get('minutes') ?? 'all';
  const budget: Budget = asked in BUDGETS ? (asked as Budget) : 'all';
  const walk = useQuery({
    ...readWalk.walk(id, minutesOf(budget)),
    // What a colleague ticks on another device comes in by itself.
    refetchInterval: ({ state }) => (state.data?.walk ? 5000 : false),
  });
  useEffect(keepAtHand, []);
  if (walk.isPending) return <Waiting what="the walk" />;
  if (walk.data === undefined)
    return (
      <Empty
        page
        title="This walk cannot be shown"
        action={<Button onClick={() => void walk.refetch()}>Try again</Button>}
      >
        {walk.error?.message}
      </Empty>
    );
  const view = walk.data;
  const vehicle = view.vehicle!;
  return (
    <>
      <header className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <h1 className="text-3xl">
          <span className="rounded border-2 border-ink px-2">{vehicle.plate ?? vehicle.name}</span>{' '}
          <span className="font-medium">
            {view.engine.maker} {vehicle.model} {view.engine.code}
          </span>
        </h1>
        <p className="figure text-lg font-semibold">{distanceText(view.now.km, view.odometerUnit, 100)}</p>
      </header>
      <VehicleTabs id={id} />
      {view.walk === null && (
        <div className="mb-3 flex flex-wrap items-center gap-3">
          <span className="font-semibold">I have</span>
          <Toggles
            label="Time for the walk"
            value={budget}
            onChange={(next) => setParams(next === 'all' ? {} : { minutes: next }, { replace: true })}
            options={BUDGETS}
          />
        </div>
      )}
      <Walking key={id} view={view} session={session} minutes={minutesOf(budget)} />
    </>
  );
}

/** A walk round an engine of which nothing is saved: before a purchase, with nothing known of its history. */
export function LookupWalkPage(): ReactNode {
  const [params, setParams] = useSearchParams();
  const asked = params.get('minutes') ?? 'all';
  const budget: Budget = asked in BUDGETS ? (asked as Budget) : 'all';
  const question = {
    line: params.get('line') ?? '',
    variant: params.get('variant'),
    family: params.get('family'),
    know: params.get('know'),
  };
  const walk = useQuery(readWalk.lookupWalk(question, minutesOf(budget)));
  if (walk.isPending) return <Waiting what="the walk" />;
  if (walk.data === undefined)
    return (
      <Empty
        page
        title="This walk cannot be shown"
        action={<Button onClick={() => void walk.refetch()}>Try again</Button>}
      >
        {walk.error?.message}
      </Empty>
    );
  const view = walk.data;
  return (
    <>
      <header className="mb-3">
        <h1 className="text-3xl">
          Walk round a {view.engine.maker} {view.engine.code}
        </h1>
        <p className="text-lg text-soft">
          {distanceText(view.now.km, view.odometerUnit, 100)}; history not known. {summary(view)}. Nothing is saved
          here: save it as a vehicle to record what you find.
        </p>
      </header>
      <div className="mb-3 flex flex-wrap items-center justify-between gap-3">
        <span className="flex flex-wrap items-center gap-3">
          <span className="font-semibold">I have</span>
          <Toggles
            label="Time for the walk"
            value={budget}
            onChange={(next) =>
              setParams(
                (before) => {
                  const after = new URLSearchParams(before);
                  if (next === 'all') after.delete('minutes');
                  else after.set('minutes', next);
                  return after;
                },
                { replace: true },
              )
            }
            options={BUDGETS}
          />
        </span>
        {printLink(addressOf(endpoints.lookup.walkSheet, { query: { ...question, minutes: minutesOf(budget) } }))}
      </div>
      <WalkSheet view={view} waiting={null} actions={null} onAllGood={null} />
    </>
  );
}
