import type { Span } from '../shorthand/window.ts';
import {
  lifeFromMedian,
  lifeFromStart,
  lifeFromWindow,
  SHAPE_BY_CLASS,
  wearFromMedian,
  wearFromStart,
  wearFromWindow,
  type ComponentClass,
  type WeibullLife,
} from './elicit.ts';

/**
 * Two things are told in the same words. What *wears* comes to every one of them sooner or later; a *defect* was built
 * into some, and the others never fail of it.
 */
export const NATURES = ['wear', 'defect'] as const;
export type Nature = (typeof NATURES)[number];

/** Facts of a weak point from which its life is read. */
export interface LifeTold {
  readonly nature: Nature;
  readonly causes: readonly (readonly Span[])[];
  readonly componentClass: ComponentClass;
  /** Wear: how many have failed by the end of the window. Defect: how many have it in them at all. */
  readonly share: number;
}

/** The share of these engines that can fail of it at all: all of them where it wears. */
export const susceptibleShare = ({ nature, share }: Pick<LifeTold, 'nature' | 'share'>): number =>
  nature === 'wear' ? 1 : share;

type OneLifeTold = Pick<LifeTold, 'nature' | 'componentClass' | 'share'>;

/**
 * Windows are told once and asked for by every vehicle: their lives are remembered with them, for the nature, share and
 * class they were read with.
 */
const READ = new WeakMap<Span, OneLifeTold & { readonly life: WeibullLife }>();

function read({ from, to, open }: Span, told: OneLifeTold): WeibullLife {
  const shape = SHAPE_BY_CLASS[told.componentClass];
  if (open) return told.nature === 'wear' ? wearFromStart(from, shape, told.share) : lifeFromStart(from, shape);
  if (told.nature === 'wear')
    return from === to ? wearFromMedian(from, shape, told.share) : wearFromWindow(from, to, told.share);
  return from === to ? lifeFromMedian(from, shape) : lifeFromWindow(from, to);
}

/**
 * Typical life of one told window: by then half of those that do fail have failed, scale (ln 2)^(1/shape). Unit: that
 * of the span's clock.
 */
export function typicalLife(span: Span, told: OneLifeTold): number {
  const { scale, shape } = toldLife(span, told);
  return scale * Math.LN2 ** (1 / shape);
}

/**
 * Weibull life of one published window. It describes all parts for wear, and the susceptible ones
 * for a defect. A window of one value is the typical life at the class's own shape. A window with
 * only a beginning has a tenth failed there, at the class's own shape. Unit: that of the span's
 * clock. Throws RangeError on an invalid window.
 */
export function toldLife(span: Span, told: OneLifeTold): WeibullLife {
  const known = READ.get(span);
  if (
    known !== undefined &&
    known.nature === told.nature &&
    known.share === told.share &&
    known.componentClass === told.componentClass
  )
    return known.life;
  const life = read(span, told);
  READ.set(span, { nature: told.nature, share: told.share, componentClass: told.componentClass, life });
  return life;
}
