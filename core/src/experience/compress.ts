import type { Posterior, PosteriorNode } from './posterior.ts';

/**
 * Gauss-Hermite rules of three and five points for a standard normal variable: exact for polynomials up to degree 5 and
 * 9. Source: Abramowitz and Stegun, table 25.10.
 */
const THREE = [
  { z: -Math.sqrt(3), weight: 1 / 6 },
  { z: 0, weight: 2 / 3 },
  { z: Math.sqrt(3), weight: 1 / 6 },
] as const;
const FIVE = [
  { z: -2.856970013872806, weight: 0.011257411327720691 },
  { z: -1.355626179974266, weight: 0.22207592200561266 },
  { z: 0, weight: 8 / 15 },
  { z: 1.355626179974266, weight: 0.22207592200561266 },
  { z: 2.856970013872806, weight: 0.011257411327720691 },
] as const;
/** A hazard that varies by less than this (sd of its logarithm) is met by three points. */
const NARROW = 0.8;

/**
 * A posterior as three lives, or five where it is wide, that a whole fleet can be judged with: spread along ln scale,
 * in which a chance bends most, each with the shape and the share that the posterior expects there (regressed on ln
 * scale). Weights sum to 1.
 */
export function compressLives({ nodes }: Pick<Posterior, 'nodes'>): PosteriorNode[] {
  const mean = (of: (node: PosteriorNode) => number): number =>
    nodes.reduce((sum, node) => sum + node.weight * of(node), 0);
  const logScale = mean(({ scale }) => Math.log(scale));
  const variance = mean(({ scale }) => (Math.log(scale) - logScale) ** 2);
  const along = (of: (node: PosteriorNode) => number): ((x: number) => number) => {
    const middle = mean(of);
    const slope = variance > 0 ? mean((node) => (Math.log(node.scale) - logScale) * (of(node) - middle)) / variance : 0;
    return (x) => middle + slope * (x - logScale);
  };
  const shapeAt = along(({ shape }) => Math.log(shape));
  const shareAt = along(({ share }) => share);
  const rule = Math.sqrt(variance) * Math.exp(mean(({ shape }) => Math.log(shape))) < NARROW ? THREE : FIVE;
  return rule.map(({ z, weight }) => {
    const x = logScale + z * Math.sqrt(variance);
    return { weight, scale: Math.exp(x), shape: Math.exp(shapeAt(x)), share: Math.min(1, Math.max(1e-6, shareAt(x))) };
  });
}

/**
 * Value below which a part `probability` of the posterior of `of` lies. Each node's value stands at the middle of its
 * own weight; between two of them it is taken as linear, and beyond the first and last as theirs, so that it never
 * leaves the values there are.
 */
export function posteriorQuantile(
  { nodes }: Pick<Posterior, 'nodes'>,
  of: (node: PosteriorNode) => number,
  probability: number,
): number {
  const ordered = nodes
    .filter(({ weight }) => weight > 0)
    .map((node) => ({ value: of(node), weight: node.weight }))
    .sort((a, b) => a.value - b.value);
  let below = 0;
  let before: { readonly value: number; readonly middle: number } | null = null;
  for (const { value, weight } of ordered) {
    const middle = below + weight / 2;
    if (middle >= probability) {
      if (before === null) return value;
      return before.value + ((value - before.value) * (probability - before.middle)) / (middle - before.middle);
    }
    below += weight;
    before = { value, middle };
  }
  return ordered.at(-1)!.value;
}
