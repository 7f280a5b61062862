import { dayFromIso, DAYS_PER_YEAR } from '@crosspeen/core';
import { useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { wholeText } from '../../../ui/formats.ts';
import { dayText, distanceText } from '../../../ui/units.ts';
import { LANE, layLanes, layUpkeep } from '../model/lanes.ts';
import { distanceTicks, rangeOf, xOfDay, yearTicks, type SpanYears } from '../model/scale.ts';
import { HEAD, StripHead, LaneList, LanesDrawing, Posts } from './strip-parts.tsx';
import type { Drawing } from '../model/lanes.ts';
import type { Settings, Visit } from '@crosspeen/contract';
import type { Answer, VehicleOutlook } from '../../../api/answer.ts';
import type { DistanceUnit } from '@crosspeen/core';

export interface StripProps {
  readonly answer: Answer;
  readonly drawing: Drawing;
  readonly unit: DistanceUnit;
  readonly settings: Settings;
  readonly visits?: readonly Visit[];
  readonly notches?: VehicleOutlook['notches'];
  readonly selected: string | null;
  readonly onSelect: (weakPointId: string) => void;
  readonly onMoveVisit?: (visit: Visit, day: number) => void;
}

/**
 * The strip: what each weak point does over distance and calendar, with now, what was done, what is said and what is
 * planned.
 */
export function Strip({
  answer,
  drawing,
  unit,
  settings,
  visits = [],
  notches = [],
  selected,
  onSelect,
  onMoveVisit,
}: StripProps): ReactNode {
  const [years, setYears] = useState<SpanYears>(4);
  const [width, setWidth] = useState(760);
  const box = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const take = (wide: number): void => setWidth(Math.max(160, Math.floor(wide)));
    // Measured before it is first shown: nothing moves under a hand that is quicker than the observer.
    take(element.clientWidth);
    const observer = new ResizeObserver(([entry]) => {
      if (entry) take(entry.contentRect.width);
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const rows = useMemo(() => answer.rows.filter(({ verdict }) => verdict !== 'behind_it'), [answer]);
  const range = useMemo(() => rangeOf(answer.today, answer.usage.startDay, years), [answer, years]);
  const { groups, height } = useMemo(
    () => layLanes(rows, { ...drawing, notches }, answer.today, { range, width }),
    [rows, drawing, answer, notches, range, width],
  );
  const upkeep = useMemo(() => layUpkeep(answer.upkeep, answer.today, { range, width }), [answer, range, width]);
  const lanesHeight = height + (answer.upkeep.length > 0 ? LANE.height : 0);
  const path = answer.usage;
  const distances = useMemo(
    () => distanceTicks(path, range, width, { unit, figure: wholeText }),
    [path, range, width, unit],
  );
  const calendar = useMemo(() => yearTicks(range, width), [range, width]);
  const nowX = xOfDay(range, width, answer.today);
  const laneOf = new Map(groups.flatMap((group) => group.lanes).map((lane) => [lane.row.weakPointId as string, lane]));
  const standing = visits.filter((visit) => visit.state === 'planned' && dayFromIso(visit.day)! <= range.to);

  const onArrow = (event: KeyboardEvent<HTMLUListElement>): void => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    const buttons = [...event.currentTarget.querySelectorAll<HTMLButtonElement>('button[data-lane]')];
    const at = buttons.indexOf(document.activeElement as HTMLButtonElement);
    buttons[at + (event.key === 'ArrowDown' ? 1 : -1)]?.focus();
    event.preventDefault();
  };

  return (
    <section aria-label="Strip" className="rounded-md border border-rule bg-sheet">
      <StripHead years={years} setYears={setYears} />
      <div className="flex">
        <LaneList
          onArrow={onArrow}
          groups={groups}
          onSelect={onSelect}
          selected={selected}
          answer={answer}
          unit={unit}
        />
        <div ref={box} className="relative min-w-0 flex-1 overflow-hidden" style={{ paddingTop: HEAD }}>
          <LanesDrawing
            width={width}
            lanesHeight={lanesHeight}
            nowX={nowX}
            groups={groups}
            selected={selected}
            upkeep={upkeep}
            height={height}
            distances={distances}
            calendar={calendar}
          />
          <span
            className="figure absolute rounded-l bg-ink px-1.5 text-sm text-paper"
            style={{ left: Math.max(0, nowX - 33), top: 6 }}
          >
            Now
          </span>
          <Posts
            width={width}
            lanesHeight={lanesHeight}
            standing={standing}
            answer={answer}
            drawing={drawing}
            unit={unit}
            range={range}
            settings={settings}
            laneOf={laneOf}
            onMoveVisit={onMoveVisit}
          />
        </div>
      </div>
      <p className="border-t border-rule px-3 py-2 text-sm text-soft">
        Now: {dayText(answer.now.day)}, {distanceText(answer.now.km, unit, 100)}. About{' '}
        {distanceText(answer.usage.rateKmPerDay * DAYS_PER_YEAR, unit, 500)} a year from here, ±{' '}
        {Math.round(answer.usage.rateSpread * 100)} %. Next service {dayText(answer.nextService.day)} or{' '}
        {distanceText(answer.nextService.km, unit, 100)}, whichever first.
      </p>
    </section>
  );
}
