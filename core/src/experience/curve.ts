import { susceptibleShare, type LifeTold } from '../life/nature.ts';
import { toldShape } from '../outlook/part.ts';
import type { LifeNode } from '../outlook/types.ts';
import type { ExperienceSummary } from './experience.ts';

/** Shares failed at one point of the life used, in parts of the published typical life. Shares in [0, 1]. */
export interface CurvePoint {
  readonly used: number;
  readonly published: number;
  readonly own: number;
  /** The 90 % interval of the own one. */
  readonly low: number;
  readonly high: number;
}

/** Curves reach to so many published typical lives, in so many steps. */
const REACH = 2;
const STEPS = 48;

/** Share failed by some life used: limited failure population, F = share (1 - exp(-(u / scale)^shape)). */
const failedShare = ({ scale, shape, share }: Pick<LifeNode, 'scale' | 'shape' | 'share'>, used: number): number =>
  used <= 0 ? 0 : -share * Math.expm1(-Math.exp(shape * Math.log(used / scale)));

/** Published typical life (median of those that do fail) on the life used, where the told scale is 1. */
const toldTypical = (weakPoint: LifeTold): number => Math.LN2 ** (1 / toldShape(weakPoint));

/** Published life of a weak point beside the workshop's own, as shares failed over the life. */
export function experienceCurve(weakPoint: LifeTold, summary: ExperienceSummary): CurvePoint[] {
  const shape = toldShape(weakPoint);
  const typical = toldTypical(weakPoint);
  return Array.from({ length: STEPS + 1 }, (_, i) => {
    const part = (REACH * i) / STEPS;
    const used = part * typical;
    const failed = summary.nodes.reduce((sum, node) => sum + node.weight * failedShare(node, used), 0);
    const at = (life: number, share: number): number => failedShare({ scale: life, shape, share }, used);
    return {
      used: part,
      own: failed,
      published: at(1, susceptibleShare(weakPoint)),
      low: Math.min(failed, at(summary.ownLife.high, summary.ownShare.low)),
      high: Math.max(failed, at(summary.ownLife.low, summary.ownShare.high)),
    };
  });
}

/**
 * The mistake that figures without the still running parts make: the median life of the failures alone, in parts of the
 * published typical life. `lives` are lives used at failure; null without any.
 */
export function failuresAlone(weakPoint: LifeTold, lives: readonly number[]): number | null {
  if (lives.length === 0) return null;
  const sorted = [...lives].sort((a, b) => a - b);
  return sorted[Math.floor((sorted.length - 1) / 2)]! / toldTypical(weakPoint);
}

/**
 * Distance of the workshop's typical life from the published one, in half widths of the published
 * 90 % interval.
 */
export const lifeApart = ({ ownLife, publishedLife }: Pick<ExperienceSummary, 'ownLife' | 'publishedLife'>): number =>
  Math.abs(Math.log(ownLife.middle)) / Math.log(publishedLife.high);
