/** A Weibull life on one clock: cumulative hazard (x / scale)^shape. */
export interface WeibullLife {
  readonly shape: number;
  /** Characteristic life, in the unit of the clock (km, days or engine hours). */
  readonly scale: number;
}

export interface ElicitedLife extends WeibullLife {
  /** True when the window asked for a shape outside the range that is believed and the shape was held at the edge. */
  readonly clipped: boolean;
}

/** Shapes outside this range are not believed, however narrow or wide the window told. */
const SHAPE_RANGE = { least: 0.3, most: 12 } as const;
/** Range of shapes for wear: its hazard does not fall with use, so its shape is at least 1. */
const WEAR_SHAPE_RANGE = { least: 1, most: SHAPE_RANGE.most } as const;

const HAZARD_AT_10 = -Math.log(0.9);
const HAZARD_AT_90 = Math.LN10;

/** Default Weibull shape of each component class, used when only one typical value is known. */
export const SHAPE_BY_CLASS = {
  rubber: 3.5,
  plastic: 3,
  chain: 3.5,
  bearing: 2.5,
  gasket: 3,
  metal: 3,
  electronics: 1.2,
  sensor: 1,
  early: 0.8,
} as const;
export type ComponentClass = keyof typeof SHAPE_BY_CLASS;

/**
 * How common a weak point is, in a mechanic's words: of what wears, how many have failed by the end of the window; of a
 * defect, how many engines have it in them at all.
 */
export const SHARE_BY_WORD = {
  rare: 0.03,
  few: 0.1,
  some: 0.25,
  many: 0.5,
  most: 0.75,
  'nearly all': 0.95,
  all: 1,
} as const;
export type ShareWord = keyof typeof SHARE_BY_WORD;

const requirePositive = (value: number, name: string): void => {
  if (!(value > 0) || !Number.isFinite(value)) throw new RangeError(`${name} must be a positive number, got ${value}`);
};

const requireShare = (share: number): void => {
  if (!(share > 0 && share <= 1)) throw new RangeError(`share must lie in (0, 1], got ${share}`);
};

/**
 * The Weibull life through two points of its cumulative hazard, its shape held inside `range`; at an edge the geometric
 * mean of the two matching scales.
 */
function throughHazards(
  { from, to }: { readonly from: number; readonly to: number },
  [atFrom, atTo]: readonly [atFrom: number, atTo: number],
  range: { readonly least: number; readonly most: number },
): ElicitedLife {
  requirePositive(from, 'from');
  requirePositive(to, 'to');
  if (!(from < to)) throw new RangeError(`the window must start before it ends, got ${from} to ${to}`);
  const asked = Math.log(atTo / atFrom) / Math.log(to / from);
  const shape = Math.min(range.most, Math.max(range.least, asked));
  const scaleFromLow = from * atFrom ** (-1 / shape);
  if (shape === asked) return { shape, scale: scaleFromLow, clipped: false };
  const scaleFromHigh = to * atTo ** (-1 / shape);
  return { shape, scale: Math.sqrt(scaleFromLow * scaleFromHigh), clipped: true };
}

/**
 * Weibull life from a window: 10 % of those that do fail have failed at `from`, 90 % at `to`.
 * shape = ln(ln 10 / -ln 0.9) / ln(to / from); scale = from (-ln 0.9)^(-1/shape).
 * A shape outside SHAPE_RANGE is held at the edge; the scale is then the geometric mean of the two scales that match
 * one end each.
 * Source: the two-quantile fit of the Weibull distribution (Meeker and Escobar, Statistical Methods for Reliability
 * Data, ch. 4). Units: `from`, `to` and the scale share one clock unit. Throws RangeError unless 0 < from < to.
 * Example: window 112,200 to 187,300 km gives shape 6.0192, scale 163,065 km.
 */
export const lifeFromWindow = (from: number, to: number): ElicitedLife =>
  throughHazards({ from, to }, [HAZARD_AT_10, HAZARD_AT_90], SHAPE_RANGE);

/**
 * Weibull life of what wears, from a window and how many have failed by its end: F(from) = 0.1 share, F(to) = 0.9 share
 * of a life that nobody is immune to. H(x) = -ln(1 - F(x)), shape = ln(H(to) / H(from)) / ln(to / from) held in
 * WEAR_SHAPE_RANGE, scale = from H(from)^(-1/shape). Units: `from`, `to` and the scale share one clock unit. Throws
 * RangeError unless 0 < from < to and 0 < share <= 1. Example: 103,000 to 161,949 km and a share of 0.5 give shape
 * 5.42646, scale 178,053.3 km.
 */
export function wearFromWindow(from: number, to: number, share: number): ElicitedLife {
  requireShare(share);
  return throughHazards({ from, to }, [-Math.log1p(-0.1 * share), -Math.log1p(-0.9 * share)], WEAR_SHAPE_RANGE);
}

/**
 * Weibull life of what wears, from one typical value by which half of `share` have failed: F(median) = share / 2 at the
 * given shape, at least 1.
 * Throws RangeError unless median and shape are positive and 0 < share <= 1. Example: 5,734, shape 3, share 0.03 give
 * scale 23,191.81.
 */
export function wearFromMedian(median: number, shape: number, share: number): ElicitedLife {
  requirePositive(median, 'median');
  requirePositive(shape, 'shape');
  requireShare(share);
  const held = Math.max(WEAR_SHAPE_RANGE.least, shape);
  return { shape: held, scale: median * (-Math.log1p(-share / 2)) ** (-1 / held), clipped: false };
}

/**
 * Weibull life whose median (among those that do fail) is `median`, with a given shape: scale = median (ln
 * 2)^(-1/shape).
 * Throws RangeError unless both are positive. Example: median 258,000 km, shape 5.24 gives scale 276,691.95 km.
 */
export function lifeFromMedian(median: number, shape: number): WeibullLife {
  requirePositive(median, 'median');
  requirePositive(shape, 'shape');
  return { shape, scale: median * Math.LN2 ** (-1 / shape) };
}

/**
 * Weibull life of a defect whose window has only a beginning. A tenth of the susceptible have
 * failed at `from`, at the given shape: scale = from (-ln 0.9)^(-1/shape). Throws RangeError unless
 * both are positive. Example: from 20,000 km at shape 0.8 gives scale 333,182.8 km.
 */
export function lifeFromStart(from: number, shape: number): WeibullLife {
  requirePositive(from, 'from');
  requirePositive(shape, 'shape');
  return { shape, scale: from * HAZARD_AT_10 ** (-1 / shape) };
}

/**
 * Weibull life of wear whose window has only a beginning. F(from) = 0.1 share at the given shape,
 * at least 1: scale = from (-ln(1 - 0.1 share))^(-1/shape). Throws RangeError unless `from` and the
 * shape are positive and 0 < share <= 1. Example: from 100,000 km at shape 3, share 0.5, gives
 * scale 269,141.0 km.
 */
export function wearFromStart(from: number, shape: number, share: number): WeibullLife {
  requirePositive(from, 'from');
  requirePositive(shape, 'shape');
  requireShare(share);
  const held = Math.max(WEAR_SHAPE_RANGE.least, shape);
  return { shape: held, scale: from * (-Math.log1p(-0.1 * share)) ** (-1 / held) };
}

/**
 * Wide default window by the class of the component, used where no source gives one. It is a view
 * of the trade, not a measurement; every screen says so.
 */
export const UNSAID_WINDOW: Readonly<Record<ComponentClass, string>> = {
  rubber: '80-220k km | 7-18y',
  plastic: '80-250k km | 7-18y',
  chain: '130-330k km',
  bearing: '90-260k km',
  gasket: '110-280k km | 9-20y',
  metal: '100-280k km | 10-22y',
  electronics: '60-280k km',
  sensor: '60-280k km',
  early: '20-150k km',
};
/** Default share, used where no source gives one. */
export const UNSAID_SHARE: ShareWord = 'many';

/** Parts of a weak point's life that may be unstated. */
export const UNTOLD = ['share', 'window'] as const;
export type Untold = (typeof UNTOLD)[number];

/**
 * Scale of a clock that carries only `share` of one cause told in several units ("so many km or so many years"):
 * scale' = scale * share^(-1/shape). Throws RangeError unless 0 < share <= 1.
 * Example: scale 269,000, shape 2.82, share 0.61 gives 320,535.73.
 */
export function scaleForShare(scale: number, shape: number, share: number): number {
  requirePositive(scale, 'scale');
  requirePositive(shape, 'shape');
  requireShare(share);
  return scale * share ** (-1 / shape);
}
