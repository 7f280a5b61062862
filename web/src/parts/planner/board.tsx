import { DndContext, PointerSensor, useDraggable, useSensor, useSensors, type DragMoveEvent } from '@dnd-kit/core';
import { restrictToHorizontalAxis } from '@dnd-kit/modifiers';
import { PLAN_MONTH_DAYS, type Pins } from '@crosspeen/core';
import { Eye, Pin, RotateCw, Wrench } from 'lucide-react';
import { useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { temperColour } from '../../ui/temper.ts';
import { dayText, minutesText, monthText } from '../../ui/units.ts';
import type { BoardBead, BoardLane } from './board-model.ts';
import { THING_WORDS, type Thing } from './ground.ts';
import { middleOf } from './pins.ts';

/** A visit of the board: proposed, or standing on a day that is agreed. */
export interface BoardPost {
  readonly month: number;
  readonly day: number;
  readonly keys: readonly string[];
  readonly minutes: number;
  readonly isStanding: boolean;
}

const MARKS = { renew: Wrench, look: Eye, task: RotateCw } as const;
const LANE = 44;

/** No words of the package's own: what moves says itself what it is and where it has gone. */
const QUIET = {
  announcements: {
    onDragStart: () => undefined,
    onDragOver: () => undefined,
    onDragEnd: () => undefined,
    onDragCancel: () => undefined,
  },
  screenReaderInstructions: { draggable: '' },
};

/** The mark of what is done: filled where something goes in new, square for upkeep. */
function Disc({ kind, isHeld = false }: { kind: Thing['kind']; isHeld?: boolean }): ReactNode {
  const Mark = MARKS[kind];
  return (
    <span
      aria-hidden
      className={`grid size-7 place-items-center border-2 border-accent ${kind === 'renew' ? 'bg-accent text-accent-ink' : 'bg-sheet text-accent'} ${kind === 'task' ? 'rounded-md' : 'rounded-full'} ${isHeld ? 'outline-3 outline-offset-2 outline-accent' : ''}`}
    >
      <Mark size={15} />
    </span>
  );
}

function Bead({
  bead,
  thing,
  pinned,
  fixed,
  x,
  nowDay,
  onKey,
}: {
  bead: BoardBead;
  thing: Thing;
  pinned: boolean;
  fixed: boolean;
  x: number;
  nowDay: number;
  onKey: (event: KeyboardEvent) => void;
}): ReactNode {
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: bead.key, disabled: fixed });
  const where = bead.month === null ? 'left for later' : monthText(middleOf(nowDay, bead.month));
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      disabled={fixed}
      onKeyDown={onKey}
      aria-label={`${THING_WORDS[thing.kind]}: ${thing.title}, ${where}${pinned ? ', pinned' : ''}${fixed ? ', on a planned visit' : '. Arrow keys move it by a month, p pins it or lets it go, l leaves it for later'}`}
      title={thing.title}
      className={`absolute top-1/2 z-10 grid size-11 -translate-x-1/2 -translate-y-1/2 touch-none place-items-center rounded-full enabled:cursor-grab enabled:active:cursor-grabbing ${isDragging ? 'z-20' : ''}`}
      style={{ left: x }}
    >
      <Disc kind={thing.kind} isHeld={isDragging} />
      {pinned && <Pin aria-hidden size={14} className="absolute right-0.5 top-0 fill-current text-ink" />}
    </button>
  );
}

function PostHead({
  post,
  x,
  width,
  onKey,
}: {
  post: BoardPost;
  x: number;
  width: number;
  onKey: (event: KeyboardEvent) => void;
}): ReactNode {
  const { setNodeRef, listeners } = useDraggable({ id: `post:${post.month}`, disabled: post.isStanding });
  const half = 42;
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      disabled={post.isStanding}
      onKeyDown={onKey}
      aria-label={`${post.isStanding ? 'Planned visit' : 'Proposed visit'}, about ${dayText(post.day)}, ${post.keys.length} ${post.keys.length === 1 ? 'job' : 'jobs'}, ${minutesText(post.minutes)}${post.isStanding ? '' : '. Arrow keys move the visit by a month'}`}
      className={`figure absolute top-0 z-10 h-11 -translate-x-1/2 touch-none whitespace-nowrap rounded border-2 px-1.5 text-center text-sm leading-tight enabled:cursor-grab enabled:active:cursor-grabbing ${post.isStanding ? 'border-ink bg-sheet text-ink' : 'border-accent bg-accent text-accent-ink'}`}
      style={{ left: Math.min(width - half, Math.max(half, x)), width: half * 2 }}
    >
      <span className="block font-semibold">{monthText(post.day)}</span>
      <span className="block">{minutesText(post.minutes)}</span>
    </button>
  );
}

/** The chances of a lane as one background, a piece for each month. */
const shades = (chances: readonly number[]): string =>
  chances.length === 0
    ? 'none'
    : `linear-gradient(to right, ${chances
        .map(
          (chance, i) => `${temperColour(chance)} ${(100 * i) / chances.length}% ${(100 * (i + 1)) / chances.length}%`,
        )
        .join(', ')})`;

/** Rows of heads, so that visits near each other do not cover each other. */
function rowsOfHeads(posts: readonly BoardPost[], xOf: (month: number) => number): number[] {
  const ends: number[] = [];
  return posts.map(({ month }) => {
    const x = xOf(month);
    let row = ends.findIndex((end) => x - 44 > end);
    if (row < 0) row = ends.length;
    ends[row] = x + 44;
    return row;
  });
}

/**
 * The months ahead with what is done in them: a lane for each thing, shaded by its chance, with a bead in the month in
 * which it is proposed; visits are posts through all lanes. Beads and posts are dragged, or moved by the arrow keys.
 */
export function Board({
  lanes,
  posts,
  months,
  nowDay,
  pins,
  standing,
  thingOf,
  beside,
  onDrag,
  onDrop,
  onPins,
}: {
  lanes: readonly BoardLane[];
  posts: readonly BoardPost[];
  months: number;
  nowDay: number;
  pins: Pins;
  standing: ReadonlyMap<string, number>;
  thingOf: (key: string) => Thing;
  /** What stands beside a bead or post that is dragged. */
  beside: ReactNode;
  onDrag: (keys: readonly string[], month: number) => void;
  onDrop: (keys: readonly string[], month: number | null) => void;
  onPins: (pins: Pins) => void;
}): ReactNode {
  const field = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  const [grabbed, setGrabbed] = useState<{ keys: readonly string[]; from: number; at: number; top: number } | null>(
    null,
  );
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  useEffect(() => {
    const element = field.current;
    if (!element) return undefined;
    const sized = new ResizeObserver(([entry]) => setWidth(Math.max(200, entry!.contentRect.width)));
    sized.observe(element);
    return () => sized.disconnect();
  }, []);
  const xOf = (month: number): number => ((month + 0.5) / months) * width;
  const within = (month: number): number => Math.min(months - 1, Math.max(0, Math.round(month)));
  const movable = (keys: readonly string[]): string[] => keys.filter((key) => !standing.has(key));
  const monthAt = ({ delta }: Pick<DragMoveEvent, 'delta'>, from: number): number =>
    within(from + (delta.x / width) * months);
  const step = (event: KeyboardEvent, keys: readonly string[], month: number | null): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const mine = movable(keys);
    if (mine.length === 0) return;
    if (by !== undefined) {
      event.preventDefault();
      event.stopPropagation();
      onDrop(mine, within(month === null ? months - 1 : month + by));
    } else if (event.key === 'p' && month !== null) {
      event.preventDefault();
      event.stopPropagation();
      const without = new Map([...pins].filter(([key]) => !mine.includes(key)));
      onPins(
        mine.every((key) => pins.has(key)) ? without : new Map([...pins, ...mine.map((key) => [key, month] as const)]),
      );
    } else if (event.key === 'l') {
      event.preventDefault();
      event.stopPropagation();
      onDrop(mine, months);
    }
  };
  const rows = rowsOfHeads(posts, xOf);
  const headRows = Math.max(1, ...rows.map((row) => row + 1));
  const every = width < 420 ? 12 : width < 700 ? 6 : 3;
  const marks = Array.from({ length: Math.ceil(months / every) }, (_, i) => i * every);
  const chosen = grabbed?.keys ?? [];
  return (
    <DndContext
      sensors={sensors}
      modifiers={[restrictToHorizontalAxis]}
      autoScroll={false}
      accessibility={QUIET}
      onDragStart={({ active }) => {
        const id = String(active.id);
        const post = posts.find(({ month }) => id === `post:${month}`);
        const keys = movable(post ? post.keys : [id]);
        const lane = lanes.findIndex(({ beads }) => beads.some(({ key }) => key === id));
        const from = post?.month ?? lanes[lane]?.beads.find(({ key }) => key === id)?.month ?? months - 1;
        setGrabbed({ keys, from, at: from, top: post ? 0 : headRows * 48 + Math.max(0, lane) * LANE });
      }}
      onDragMove={(event) => {
        if (grabbed === null) return;
        const at = monthAt(event, grabbed.from);
        if (at === grabbed.at) return;
        setGrabbed({ ...grabbed, at });
        onDrag(grabbed.keys, at);
      }}
      onDragEnd={(event) => {
        if (grabbed === null) return;
        const at = monthAt(event, grabbed.from);
        setGrabbed(null);
        onDrop(grabbed.keys, at === grabbed.from ? null : at);
      }}
      onDragCancel={() => {
        setGrabbed(null);
        onDrop([], null);
      }}
    >
      <div className="relative rounded-md border border-rule bg-sheet" role="group" aria-label="Months ahead">
        <div className="grid grid-cols-[minmax(8rem,16rem)_minmax(0,1fr)] max-sm:grid-cols-1">
          <div className="max-sm:hidden" style={{ paddingTop: headRows * 48 }}>
            {lanes.map(({ id, beads }) => {
              const thing = thingOf(beads[0]!.key);
              return (
                <div
                  key={id}
                  className="flex flex-col justify-center border-t border-rule px-3 leading-tight"
                  style={{ height: LANE }}
                >
                  <span className="line-clamp-2 font-semibold" title={thing.title}>
                    {thing.title}
                  </span>
                </div>
              );
            })}
          </div>
          <div ref={field} className="relative border-l border-rule max-sm:border-l-0">
            <div className="relative" style={{ height: headRows * 48 }}>
              {posts.map((post, i) => (
                <div
                  key={`${post.month}-${post.isStanding}`}
                  className="absolute inset-x-0"
                  style={{ top: rows[i]! * 48 + 2, height: 44 }}
                >
                  <PostHead
                    post={post}
                    x={xOf(post.month)}
                    width={width}
                    onKey={(event) => step(event, post.keys, post.month)}
                  />
                </div>
              ))}
            </div>
            {posts.map((post, i) => (
              <span
                key={`line-${post.month}-${post.isStanding}`}
                aria-hidden
                className={`absolute bottom-7 w-0 border-l-2 ${post.isStanding ? 'border-ink' : 'border-accent'}`}
                style={{ left: xOf(post.month) - 1, top: rows[i]! * 48 + 44 }}
              />
            ))}
            {lanes.map((lane) => (
              <div key={lane.id} className="relative border-t border-rule" style={{ height: LANE }}>
                <span className="absolute inset-x-2 top-0 z-[5] truncate text-sm sm:hidden">
                  {thingOf(lane.beads[0]!.key).title}
                </span>
                <span
                  aria-hidden
                  className="absolute inset-x-0 top-1/2 h-3 -translate-y-1/2 opacity-75"
                  style={{ background: shades(lane.chances) }}
                />
                {lane.beads.map(({ key, deadline }) =>
                  deadline === null || deadline >= months ? null : (
                    <span
                      key={`by-${key}`}
                      aria-hidden
                      title={`by ${dayText(nowDay + Math.round(deadline * PLAN_MONTH_DAYS))}`}
                      className="absolute bottom-0 top-0 w-0 border-l-2 border-dashed border-ink"
                      style={{ left: Math.min(width - 2, (deadline / months) * width) }}
                    />
                  ),
                )}
                {lane.beads.map((bead) => (
                  <Bead
                    key={bead.key}
                    bead={bead}
                    thing={thingOf(bead.key)}
                    pinned={pins.has(bead.key)}
                    fixed={standing.has(bead.key)}
                    nowDay={nowDay}
                    x={xOf(chosen.includes(bead.key) ? grabbed!.at : (bead.month ?? months - 0.5))}
                    onKey={(event) => step(event, [bead.key], bead.month)}
                  />
                ))}
              </div>
            ))}
            <div aria-hidden className="relative h-7 border-t border-rule text-sm text-soft">
              {marks.map((month) => (
                <span
                  key={month}
                  className="figure absolute top-1 whitespace-nowrap border-l border-rule pl-1"
                  style={{ left: (month / months) * width }}
                >
                  {month === 0 ? 'now' : monthText(nowDay + month * PLAN_MONTH_DAYS)}
                </span>
              ))}
            </div>
            {grabbed !== null && beside !== null && (
              <div
                className="pointer-events-none absolute z-30 w-60 rounded-md border border-rule-strong bg-sheet px-3 py-2 shadow-lg"
                style={{
                  top: grabbed.top + LANE + 6,
                  left: xOf(grabbed.at) > width - 250 ? xOf(grabbed.at) - 260 : xOf(grabbed.at) + 20,
                }}
              >
                {beside}
              </div>
            )}
          </div>
        </div>
        <p className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule px-3 py-1.5 text-sm text-soft">
          {(['renew', 'look', 'task'] as const).map((kind) => (
            <span key={kind} className="inline-flex items-center gap-1.5">
              <Disc kind={kind} />
              {THING_WORDS[kind]}
            </span>
          ))}
          <span className="inline-flex items-center gap-1.5">
            <span aria-hidden className="inline-block h-4 border-l-2 border-dashed border-ink" />
            due by then
          </span>
          <span>shaded by the chance of failing before the service after that month</span>
          <span className="max-sm:hidden">
            <kbd>←</kbd> <kbd>→</kbd> move, <kbd>p</kbd> pins, <kbd>l</kbd> leaves for later
          </span>
        </p>
      </div>
    </DndContext>
  );
}
