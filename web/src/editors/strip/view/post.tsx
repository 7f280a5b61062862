import type { Visit } from '@crosspeen/contract';
import type { Answer } from '../../../api/answer.ts';
import { minutesText, distanceAtDay, type DistanceUnit } from '@crosspeen/core';
import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import { dayText, distanceText, percentText } from '../../../ui/units.ts';
import { postFigures, type Drawing } from '../model/lanes.ts';
import { dayOfX, xOfDay, type DayRange } from '../model/scale.ts';

export interface PostProps {
  readonly visit: Visit;
  readonly day: number;
  readonly usage: Answer['usage'];
  readonly forecast: Drawing['forecast'];
  readonly unit: DistanceUnit;
  readonly range: DayRange;
  readonly width: number;
  readonly height: number;
  /**
   * Where each of the visit's jobs has its lane, pixels from the top of the lanes; jobs without a lane are left out.
   */
  readonly beads: readonly {
    readonly weakPointId: string;
    readonly y: number;
    readonly renew: boolean;
    readonly title: string;
  }[];
  readonly money: (minutes: number) => string;
  /** Moves the visit; left out where the visit cannot be moved. */
  readonly onMove?: (day: number) => void;
}

/**
 * One visit as a vertical post through all lanes with its jobs as beads. Drag it, or focus it and use the arrows, then
 * Enter.
 */
export function Post({
  visit,
  day,
  usage,
  forecast,
  unit,
  range,
  width,
  height,
  beads,
  money,
  onMove,
}: PostProps): ReactNode {
  const [dragged, setDragged] = useState<number | null>(null);
  const grab = useRef<{ x: number; day: number } | null>(null);
  const shown = dragged ?? day;
  const x = xOfDay(range, width, shown);
  const figures = postFigures(visit, forecast, shown);
  const limited = (to: number): number => Math.round(Math.min(range.to, Math.max(forecast.nowDay, to)));
  const drop = (): void => {
    grab.current = null;
    if (dragged !== null && dragged !== day) onMove?.(dragged);
    setDragged(null);
  };
  const onPointerDown = (event: PointerEvent<HTMLButtonElement>): void => {
    if (!onMove) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    grab.current = { x: event.clientX, day };
  };
  const onPointerMove = (event: PointerEvent): void => {
    const from = grab.current;
    if (from) setDragged(limited(from.day + dayOfX(range, width, event.clientX - from.x) - range.from));
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (!onMove) return;
    const step = event.shiftKey ? 30 : 7;
    if (event.key === 'ArrowLeft') setDragged(limited(shown - step));
    else if (event.key === 'ArrowRight') setDragged(limited(shown + step));
    else if (event.key === 'Enter' && dragged !== null) drop();
    else if (event.key === 'Escape' && dragged !== null) setDragged(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const left = x > width - 250;
  return (
    <div className="pointer-events-none absolute inset-y-0 left-0" style={{ width, height }}>
      <div aria-hidden className="absolute top-0 w-0 border-l-2 border-accent" style={{ left: x, height }} />
      {beads.map((bead) => (
        <span
          key={bead.weakPointId}
          aria-hidden
          title={bead.title}
          className={`absolute size-3 -translate-x-1/2 -translate-y-1/2 border-2 border-accent ${bead.renew ? 'rounded-full bg-accent' : 'rounded-full bg-sheet'}`}
          style={{ left: x + 1, top: bead.y }}
        />
      ))}
      <button
        type="button"
        disabled={!onMove}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={drop}
        onPointerCancel={() => {
          grab.current = null;
          setDragged(null);
        }}
        onKeyDown={onKeyDown}
        aria-label={`Visit on ${dayText(shown)}, ${visit.jobs.length} ${visit.jobs.length === 1 ? 'job' : 'jobs'}.${onMove ? ' Arrow keys move it by a week, Enter keeps the new date.' : ''}`}
        className="figure pointer-events-auto absolute -top-7 min-h-7 touch-none whitespace-nowrap rounded-r border-2 border-accent bg-accent px-2 text-accent-ink enabled:cursor-grab enabled:active:cursor-grabbing"
        style={{ left: Math.min(width - 54, Math.max(0, x)) }}
      >
        Visit
      </button>
      {dragged !== null && (
        <div
          role="status"
          className={`figure absolute top-2 z-20 rounded-md border border-rule-strong bg-sheet px-3 py-2 text-lg leading-snug shadow-lg ${left ? '-translate-x-full' : ''}`}
          style={{ left: left ? x - 12 : x + 12 }}
        >
          <strong>{dayText(shown)}</strong>, about {distanceText(distanceAtDay(usage, shown), unit, 100)}
          <br />
          {percentText(figures.chanceBefore)} that one of these fails first
          <br />
          {minutesText(figures.minutes)} labour, {money(figures.minutes)}
        </div>
      )}
    </div>
  );
}
