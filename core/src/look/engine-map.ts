/** Places on an engine, the same for every engine; the map lays them out by the engine's shape. */
export const ENGINE_SPOTS = [
  'timing_end',
  'gearbox_end',
  'head',
  'valley',
  'intake_side',
  'exhaust_side',
  'block',
  'pan',
  'radiator',
  'cabin',
] as const;
export type EngineSpot = (typeof ENGINE_SPOTS)[number];

export const ENGINE_SHAPES = ['inline', 'vee', 'single'] as const;
export type EngineShape = (typeof ENGINE_SHAPES)[number];

/** Sides of the engine bay, seen from the driver's seat; front is towards the radiator. */
export const BAY_SIDES = ['front', 'rear', 'left', 'right'] as const;
export type BaySide = (typeof BAY_SIDES)[number];

/** Orientation and shape of an engine in its bay. */
export interface EngineLayout {
  readonly shape: EngineShape;
  readonly cylinders: number;
  /** Side at which belt or chain run; the gearbox is opposite. */
  readonly timingEnd: BaySide;
  /** Side of the intake; the exhaust is opposite. A V has its intake in the valley and exhausts on both sides. */
  readonly intake: BaySide;
}

/** A point on the map: x to the right and y to the rear seen from above, z upwards; each from 0 to 1. */
export interface MapPoint {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

/** An outline on the map, by its corners. */
export interface MapBox {
  readonly from: MapPoint;
  readonly to: MapPoint;
}

/** An engine laid out in its bay. */
export interface EngineMap {
  readonly block: MapBox;
  readonly pan: MapBox;
  readonly heads: readonly MapBox[];
  readonly gearbox: MapBox;
  readonly radiator: MapBox;
  /** Centres of the cylinders, from the timing end. */
  readonly cylinders: readonly MapPoint[];
  /** True if it lies across the bay. */
  readonly across: boolean;
  readonly spots: Readonly<Record<EngineSpot, MapPoint>>;
}

/** Half the length of the engine along its crankshaft, and half its width. */
const HALF_LENGTH = 0.27;
const HALF_WIDTH = 0.16;
/** Length of the gearbox beyond the engine. */
const GEARBOX = 0.15;
const MIDDLE = { x: 0.5, y: 0.5 } as const;
const TOWARDS: Readonly<Record<BaySide, readonly [x: number, y: number]>> = {
  front: [0, -1],
  rear: [0, 1],
  left: [-1, 0],
  right: [1, 0],
};
const OPPOSITE: Readonly<Record<BaySide, BaySide>> = { front: 'rear', rear: 'front', left: 'right', right: 'left' };

/** Throws RangeError where the sides of a layout do not go together. */
function mustLieSo({ shape, cylinders, timingEnd, intake }: EngineLayout): void {
  const along = TOWARDS[timingEnd][0] !== 0;
  if (shape !== 'vee' && (TOWARDS[intake][0] !== 0) === along)
    throw new RangeError('intake must lie beside the engine, not at one of its ends');
  if (!(Number.isInteger(cylinders) && cylinders >= 1 && cylinders <= 16))
    throw new RangeError('cylinders must be a whole number from 1 to 16');
  if (shape === 'vee' && cylinders % 2 !== 0) throw new RangeError('a V engine has an even number of cylinders');
}

/**
 * Lays out every place on an engine of this shape, from above and from the side. All engines of one
 * shape have the same picture; the proportions are our own. Throws RangeError where the sides do
 * not fit.
 */
export function engineMap(layout: EngineLayout): EngineMap {
  mustLieSo(layout);
  const { shape, cylinders, timingEnd, intake } = layout;
  const [ax, ay] = TOWARDS[timingEnd];
  const across = ax !== 0;
  // Side to the right hand of the crankshaft: for a V, one of its two exhausts.
  const beside = shape === 'vee' ? (across ? 'front' : 'left') : OPPOSITE[intake];
  const [bx, by] = TOWARDS[beside];
  const length = shape === 'single' ? HALF_LENGTH / 2 : HALF_LENGTH;
  const width = shape === 'vee' ? HALF_WIDTH * 1.35 : HALF_WIDTH;
  /** A point so far towards the timing end, so far towards the exhaust (or that side of a V), so high. */
  const at = (along: number, out: number, z: number): MapPoint => ({
    x: MIDDLE.x + ax * along + bx * out,
    y: MIDDLE.y + ay * along + by * out,
    z,
  });
  const box = (one: MapPoint, other: MapPoint): MapBox => ({
    from: { x: Math.min(one.x, other.x), y: Math.min(one.y, other.y), z: Math.min(one.z, other.z) },
    to: { x: Math.max(one.x, other.x), y: Math.max(one.y, other.y), z: Math.max(one.z, other.z) },
  });
  const rows = shape === 'vee' ? [-0.6 * width, 0.6 * width] : [0];
  const perRow = cylinders / rows.length;
  const headWide = shape === 'vee' ? width * 0.38 : width * 0.7;
  return {
    across,
    block: box(at(-length, -width, 0.3), at(length, width, 0.6)),
    pan: box(at(-length * 0.9, -width * 0.8, 0.14), at(length * 0.9, width * 0.8, 0.3)),
    heads: rows.map((row) => box(at(-length, row - headWide, 0.6), at(length, row + headWide, 0.8))),
    gearbox: box(at(-length, -width * 0.75, 0.2), at(-length - GEARBOX, width * 0.75, 0.5)),
    radiator: { from: { x: 0.18, y: 0.1, z: 0.2 }, to: { x: 0.82, y: 0.15, z: 0.75 } },
    cylinders: rows.flatMap((row) =>
      Array.from({ length: perRow }, (_, i) => at(length - ((i + 0.5) * 2 * length) / perRow, row, 0.8)),
    ),
    spots: {
      timing_end: at(length + 0.045, 0, 0.52),
      gearbox_end: at(-length - 0.05, 0, 0.36),
      head: at(0, rows.at(-1)!, 0.84),
      valley: at(length * 0.3, 0, 0.74),
      intake_side: shape === 'vee' ? at(-length * 0.3, 0, 0.84) : at(0, -width - 0.06, 0.7),
      exhaust_side: at(0, width + 0.06, 0.62),
      block: at(-length * 0.4, width * 0.85, 0.45),
      pan: at(0, 0, 0.12),
      radiator: { x: 0.5, y: 0.125, z: 0.48 },
      cabin: { x: 0.24, y: 0.95, z: 0.8 },
    },
  };
}
