import { useDraggable } from '@dnd-kit/core';
import { minutesText, PLAN_MONTH_DAYS } from '@crosspeen/core';
import { Eye, Pin, RotateCw, Wrench } from 'lucide-react';
import type { KeyboardEvent, ReactNode } from 'react';
import { temperColour } from '../../../ui/temper.ts';
import { dayText, monthText } from '../../../ui/units.ts';
import type { BoardBead, BoardPost } from '../work/board-model.ts';
import { THING_WORDS, type Thing } from '../work/ground.ts';
import { middleOf } from '../work/pins.ts';

const MARKS = { renew: Wrench, look: Eye, task: RotateCw } as const;
/** The mark of what is done: filled where something goes in new, square for upkeep. */
export function Disc({ kind, isHeld = false }: { kind: Thing['kind']; isHeld?: boolean }): ReactNode {
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

export function Bead({
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

export function PostHead({
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
export function rowsOfHeads(posts: readonly BoardPost[], xOf: (month: number) => number): number[] {
  const ends: number[] = [];
  return posts.map(({ month }) => {
    const x = xOf(month);
    let row = ends.findIndex((end) => x - 44 > end);
    if (row < 0) row = ends.length;
    ends[row] = x + 44;
    return row;
  });
}

/** One lane: its chance as a shade, by when it has to be done, and what stands in it. */
export function LaneRow({
  chances,
  beads,
  height,
  months,
  nowDay,
  width,
  title,
  children,
}: {
  chances: readonly number[];
  beads: readonly BoardBead[];
  height: number;
  months: number;
  nowDay: number;
  width: number;
  /** Written above it where there is no room beside it. */
  title: string | null;
  children: ReactNode;
}): ReactNode {
  return (
    <div className="relative flex flex-col border-t border-rule" style={{ height }}>
      {title !== null && <span className="h-[22px] truncate px-2 text-sm">{title}</span>}
      <div className="relative flex-1">
        <span
          aria-hidden
          className="absolute inset-x-0 top-1/2 h-3 -translate-y-1/2 opacity-75"
          style={{ background: shades(chances) }}
        />
        {beads.map(({ key, deadline }) =>
          deadline === null || deadline >= months ? null : (
            <span
              key={key}
              aria-hidden
              title={`by ${dayText(nowDay + Math.round(deadline * PLAN_MONTH_DAYS))}`}
              className="absolute bottom-0 top-0 w-0 border-l-2 border-dashed border-ink"
              style={{ left: Math.min(width - 2, (deadline / months) * width) }}
            />
          ),
        )}
        {children}
      </div>
    </div>
  );
}
