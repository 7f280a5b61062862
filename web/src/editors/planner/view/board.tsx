import { DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { restrictToHorizontalAxis } from '@dnd-kit/modifiers';
import { PLAN_MONTH_DAYS, type Pins } from '@crosspeen/core';
import { useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { monthText } from '../../../ui/units.ts';
import type { BoardLane, BoardPost } from '../work/board-model.ts';
import { Bead, Disc, LaneRow, PostHead, rowsOfHeads } from './board-parts.tsx';
import { THING_WORDS, type Thing } from '../work/ground.ts';

/** Heights of a lane, pixels; where it is narrow its title stands above it. */
const LANE = 44;
const TITLE = 22;
/** A board narrower than this has no room for titles beside it. */
const NARROW = 480;

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

/** Something that is being dragged: what moves with it, where it came from, and where the pointer is. */
interface Grabbed {
  readonly keys: readonly string[];
  readonly from: number;
  /** Month under the pointer. */
  readonly at: number;
  /** Place of the pointer within the field, pixels. */
  readonly x: number;
  readonly top: number;
  /** Lanes keep the order that they had when it began. */
  readonly order: readonly string[];
}

/** Lanes in the order in which a drag began; what has come since stands last. */
const inOrder = (lanes: readonly BoardLane[], order: readonly string[]): BoardLane[] => {
  const place = ({ id }: BoardLane): number => (order.includes(id) ? order.indexOf(id) : order.length);
  return [...lanes].sort((a, b) => place(a) - place(b));
};

/** Names of the lanes, beside the field. */
function LaneNames({
  headRows,
  lanes,
  thingOf,
}: {
  headRows: number;
  lanes: readonly BoardLane[];
  thingOf: (key: string) => Thing;
}): ReactNode {
  return (
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
  );
}

/** The months with visits and beads. */
function Field({
  field,
  headRows,
  posts,
  rows,
  xOf,
  width,
  step,
  lanes,
  high,
  months,
  nowDay,
  thingOf,
  pins,
  standing,
  chosen,
  grabbed,
  kept,
  marks,
  beside,
}: {
  field: React.RefObject<HTMLDivElement | null>;
  headRows: number;
  posts: readonly BoardPost[];
  rows: number[];
  xOf: (month: number) => number;
  width: number;
  step: (event: KeyboardEvent, keys: readonly string[], month: number | null) => void;
  lanes: readonly BoardLane[];
  high: number;
  months: number;
  nowDay: number;
  thingOf: (key: string) => Thing;
  pins: Pins;
  standing: ReadonlyMap<string, number>;
  chosen: readonly string[];
  grabbed: Grabbed | null;
  kept: number | null;
  marks: number[];
  beside: ReactNode;
}): ReactNode {
  return (
    <div ref={field} className="relative border-l border-rule max-sm:border-l-0">
      <VisitHeads headRows={headRows} posts={posts} rows={rows} xOf={xOf} width={width} step={step} />
      {posts.map((post, i) => (
        <span
          key={`line-${post.month}-${post.isStanding}`}
          aria-hidden
          className={`absolute bottom-7 w-0 border-l-2 ${post.isStanding ? 'border-ink' : 'border-accent'}`}
          style={{ left: xOf(post.month) - 1, top: rows[i]! * 48 + 44 }}
        />
      ))}
      {lanes.map(({ id, beads, chances }) => (
        <LaneRow
          key={id}
          chances={chances}
          beads={beads}
          height={high}
          months={months}
          nowDay={nowDay}
          width={width}
          title={high > LANE ? thingOf(beads[0]!.key).title : null}
        >
          {beads.map((bead) => (
            <Bead
              key={bead.key}
              bead={bead}
              thing={thingOf(bead.key)}
              pinned={pins.has(bead.key)}
              fixed={standing.has(bead.key)}
              nowDay={nowDay}
              x={
                grabbed?.keys.length === 1 && chosen.includes(bead.key)
                  ? grabbed.x
                  : xOf(chosen.includes(bead.key) ? grabbed!.at : (bead.month ?? months - 0.5))
              }
              onKey={(event) => step(event, [bead.key], bead.month)}
            />
          ))}
        </LaneRow>
      ))}
      {kept !== null && (
        <span
          aria-hidden
          title="given away by then"
          className="pointer-events-none absolute bottom-7 right-0 border-l-4 border-double border-ink bg-well/70"
          style={{ left: (kept / months) * width, top: headRows * 48 }}
        />
      )}
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
            top: grabbed.top + high + 6,
            left: grabbed.x > width - 250 ? Math.max(0, grabbed.x - 260) : grabbed.x + 20,
          }}
        >
          {beside}
        </div>
      )}
    </div>
  );
}

/** The visits above the lanes. */
function VisitHeads({
  headRows,
  posts,
  rows,
  xOf,
  width,
  step,
}: {
  headRows: number;
  posts: readonly BoardPost[];
  rows: number[];
  xOf: (month: number) => number;
  width: number;
  step: (event: KeyboardEvent, keys: readonly string[], month: number | null) => void;
}): ReactNode {
  return (
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
  );
}

/** What the marks of the board mean. */
function Legend(): ReactNode {
  return (
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
  );
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
  kept,
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
  /** Months after which the vehicle is given away; null where it is kept beyond them. */
  kept: number | null;
  /** What stands beside a bead or post that is dragged. */
  beside: ReactNode;
  onDrag: (keys: readonly string[], month: number) => void;
  onDrop: (keys: readonly string[], month: number | null) => void;
  onPins: (pins: Pins) => void;
}): ReactNode {
  const field = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  const [grabbed, setGrabbed] = useState<Grabbed | null>(null);
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
  /** Where the pointer is in the field: its own place counts, as what is dragged moves the page under it. */
  const placeOf = (clientX: number): { readonly x: number; readonly at: number } => {
    const { left } = field.current!.getBoundingClientRect();
    const x = Math.min(width, Math.max(0, clientX - left));
    return { x, at: Math.min(months - 1, Math.floor((x / width) * months)) };
  };
  useEffect(() => {
    if (grabbed === null) return undefined;
    const moved = ({ clientX }: PointerEvent): void => {
      const place = placeOf(clientX);
      setGrabbed({ ...grabbed, ...place });
      if (place.at !== grabbed.at) onDrag(grabbed.keys, place.at);
    };
    window.addEventListener('pointermove', moved);
    return () => window.removeEventListener('pointermove', moved);
  });
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
  const high = width < NARROW ? LANE + TITLE : LANE;
  const headRows = Math.max(1, ...rows.map((row) => row + 1));
  const every = width < 420 ? 12 : width < 700 ? 6 : 3;
  const marks = Array.from({ length: Math.ceil(months / every) }, (_, i) => i * every);
  const chosen = grabbed?.keys ?? [];
  const shown = grabbed === null ? lanes : inOrder(lanes, grabbed.order);
  return (
    <DndContext
      sensors={sensors}
      modifiers={[restrictToHorizontalAxis]}
      autoScroll={false}
      accessibility={QUIET}
      onDragStart={({ active, activatorEvent }) => {
        const id = String(active.id);
        const post = posts.find(({ month }) => id === `post:${month}`);
        const keys = movable(post ? post.keys : [id]);
        const lane = lanes.findIndex(({ beads }) => beads.some(({ key }) => key === id));
        const from = post?.month ?? lanes[lane]?.beads.find(({ key }) => key === id)?.month ?? months - 1;
        setGrabbed({
          keys,
          from,
          at: from,
          x: activatorEvent instanceof PointerEvent ? placeOf(activatorEvent.clientX).x : xOf(from),
          top: post ? 0 : headRows * 48 + Math.max(0, lane) * high,
          order: lanes.map(({ id: of }) => of),
        });
      }}
      onDragEnd={() => {
        if (grabbed === null) return;
        setGrabbed(null);
        onDrop(grabbed.keys, grabbed.at === grabbed.from ? null : grabbed.at);
      }}
      onDragCancel={() => {
        setGrabbed(null);
        onDrop([], null);
      }}
    >
      <div
        className="relative overflow-x-clip rounded-md border border-rule bg-sheet"
        role="group"
        aria-label="Months ahead"
      >
        <div className="grid grid-cols-[minmax(8rem,16rem)_minmax(0,1fr)] max-sm:grid-cols-1">
          <LaneNames headRows={headRows} lanes={shown} thingOf={thingOf} />
          <Field
            field={field}
            headRows={headRows}
            posts={posts}
            rows={rows}
            xOf={xOf}
            width={width}
            step={step}
            lanes={shown}
            high={high}
            months={months}
            nowDay={nowDay}
            thingOf={thingOf}
            pins={pins}
            standing={standing}
            chosen={chosen}
            grabbed={grabbed}
            kept={kept}
            marks={marks}
            beside={beside}
          />
        </div>
        <Legend />
      </div>
    </DndContext>
  );
}
