import { engineMap, type EngineLayout, type EngineMap, type EngineSpot, type MapBox } from '@crosspeen/core';
import { useMemo, type ReactNode } from 'react';

/** What each place of the map is called at the bench. */
export const SPOT_WORDS: Readonly<Record<EngineSpot, string>> = {
  timing_end: 'timing end',
  gearbox_end: 'gearbox end',
  head: 'on the head',
  valley: 'in the valley',
  intake_side: 'intake side',
  exhaust_side: 'exhaust side',
  block: 'on the block',
  pan: 'oil pan',
  radiator: 'radiator',
  cabin: 'at the seat',
};

/** A place with something to do: how many, and whether all of it is done. */
export interface SpotMark {
  readonly spot: EngineSpot;
  readonly count: number;
  readonly done: number;
}

const SIZE = { wide: 300, above: 250, side: 170 } as const;

type Axis = (at: { readonly x: number; readonly y: number; readonly z: number }) => { x: number; y: number };

const fromAbove: Axis = ({ x, y }) => ({ x: x * SIZE.wide, y: y * SIZE.above });
/** Seen from the nose where it lies across the bay, and from the left where it lies along it. */
const fromTheSide =
  (across: boolean): Axis =>
  ({ x, y, z }) => ({ x: (across ? x : y) * SIZE.wide, y: (1 - z) * SIZE.side });

function Box({
  box,
  axis,
  className,
  round = 4,
}: {
  box: MapBox;
  axis: Axis;
  className: string;
  round?: number;
}): ReactNode {
  const [one, other] = [axis(box.from), axis(box.to)];
  return (
    <rect
      x={Math.min(one.x, other.x)}
      y={Math.min(one.y, other.y)}
      width={Math.abs(other.x - one.x)}
      height={Math.abs(other.y - one.y)}
      rx={round}
      className={className}
    />
  );
}

const METAL = 'fill-well stroke-rule-strong';

function Engine({ map, axis, above }: { map: EngineMap; axis: Axis; above: boolean }): ReactNode {
  return (
    <g strokeWidth={1.2}>
      <Box box={map.radiator} axis={axis} className="fill-sheet stroke-rule-strong" round={2} />
      <Box box={map.gearbox} axis={axis} className="fill-sheet stroke-rule-strong" round={10} />
      <Box box={map.block} axis={axis} className={METAL} />
      {!above && <Box box={map.pan} axis={axis} className="fill-sheet stroke-rule-strong" round={8} />}
      {map.heads.map((head, i) => (
        <Box key={i} box={head} axis={axis} className="fill-sheet stroke-rule-strong" />
      ))}
      {above &&
        map.cylinders.map((cylinder, i) => {
          const { x, y } = axis(cylinder);
          return <circle key={i} cx={x} cy={y} r={8} className="fill-none stroke-rule-strong" />;
        })}
    </g>
  );
}

function MapDrawing({
  marks,
  isSmall,
  map,
  mark,
  side,
}: {
  marks: readonly SpotMark[];
  isSmall: boolean;
  map: EngineMap;
  mark: ({ spot, count, done }: SpotMark, axis: Axis) => ReactNode;
  side: Axis;
}): ReactNode {
  return (
    <div
      role="img"
      aria-label={`The engine from above and from the side: ${marks
        .map(({ spot, count, done }) => `${SPOT_WORDS[spot]} ${done} of ${count} done`)
        .join(', ')}`}
      className={`grid grid-cols-2 gap-2 ${isSmall ? 'max-w-md' : 'lg:grid-cols-1'}`}
    >
      <div>
        <p className="text-sm text-soft">From above, nose up</p>
        <svg viewBox={`0 18 ${SIZE.wide} ${SIZE.above - 14}`} className="block max-h-72 w-full">
          <Engine map={map} axis={fromAbove} above />
          {marks.map((of) => mark(of, fromAbove))}
        </svg>
      </div>
      <div>
        <p className="text-sm text-soft">{map.across ? 'From the front' : 'From the left'}</p>
        <svg viewBox={`0 8 ${SIZE.wide} ${SIZE.side - 2}`} className="block max-h-56 w-full">
          <Engine map={map} axis={side} above={false} />
          {marks.filter(({ spot }) => spot !== 'cabin').map((of) => mark(of, side))}
        </svg>
      </div>
    </div>
  );
}

/** The places as buttons, for keys and screen readers. */
function MapPlaces({
  marks,
  chosen,
  onChoose,
}: {
  marks: readonly SpotMark[];
  chosen: EngineSpot | null;
  onChoose: (spot: EngineSpot | null) => void;
}): ReactNode {
  return (
    <figcaption>
      <ul className="flex flex-wrap gap-2" aria-label="Places">
        {marks.map(({ spot, count, done }) => (
          <li key={spot}>
            <button
              type="button"
              aria-pressed={chosen === spot}
              onClick={() => onChoose(chosen === spot ? null : spot)}
              className="min-h-11 rounded-full border border-rule-strong bg-sheet px-3 font-semibold hover:bg-well aria-pressed:border-transparent aria-pressed:bg-accent aria-pressed:text-accent-ink"
            >
              {SPOT_WORDS[spot].charAt(0).toUpperCase() + SPOT_WORDS[spot].slice(1)}{' '}
              <span className="figure">
                {done}/{count}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </figcaption>
  );
}

/**
 * Where things are on an engine of this layout, seen from above and from the side: a plain picture of ours with a mark
 * at each place that has something to look at. Pressing a place asks for what is there alone.
 */
export function EngineMapView({
  layout,
  marks,
  chosen = null,
  onChoose,
  isSmall = false,
}: {
  layout: EngineLayout;
  marks: readonly SpotMark[];
  chosen?: EngineSpot | null;
  onChoose?: (spot: EngineSpot | null) => void;
  /** Both views beside each other, however wide the page. */
  isSmall?: boolean;
}): ReactNode {
  const map = useMemo(() => engineMap(layout), [layout]);
  const side = fromTheSide(map.across);
  const mark = ({ spot, count, done }: SpotMark, axis: Axis): ReactNode => {
    const { x, y } = axis(map.spots[spot]);
    const all = done >= count;
    const on = chosen === spot;
    return (
      <g
        key={spot}
        transform={`translate(${x} ${y})`}
        data-spot={spot}
        className={onChoose ? 'cursor-pointer' : ''}
        onClick={() => onChoose?.(on ? null : spot)}
      >
        {/* As large as a gloved finger. */}
        {onChoose && <circle r={24} className="fill-transparent" />}
        <circle
          r={13}
          className={`${all ? 'fill-sheet' : 'fill-accent'} ${on ? 'stroke-ink' : 'stroke-accent'}`}
          strokeWidth={on ? 4 : 2}
        />
        <text
          textAnchor="middle"
          dy="0.36em"
          className={`figure text-[15px] font-semibold ${all ? 'fill-accent' : 'fill-accent-ink'}`}
        >
          {all ? '✓' : count - done}
        </text>
      </g>
    );
  };
  return (
    <figure className="rounded-md border border-rule bg-paper p-2">
      <MapDrawing marks={marks} isSmall={isSmall} map={map} mark={mark} side={side} />
      {onChoose && <MapPlaces marks={marks} chosen={chosen} onChoose={onChoose} />}
    </figure>
  );
}
