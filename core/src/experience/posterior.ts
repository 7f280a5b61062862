import { cumulativeHazard, hazardIncrement } from '../life/hazard.ts';
import { logSurviving, showsSusceptible, termIfSusceptible, type Observation, type ShareLife } from './observation.ts';

/** Prior before the workshop's own vehicles count: normal on ln scale, ln shape and logit share. */
export interface LifePrior {
  readonly logScale: number;
  readonly logScaleSd: number;
  readonly logShape: number;
  readonly logShapeSd: number;
  readonly share: number;
  readonly logitSd: number;
}

export interface GridSpec {
  readonly scalePoints: number;
  readonly scaleHalfWidth: number;
  readonly shapePoints: number;
  readonly shapeHalfWidth: number;
  readonly sharePoints: number;
  readonly shareHalfWidth: number;
}

const GRID_DEFAULTS: GridSpec = {
  scalePoints: 21,
  scaleHalfWidth: 4,
  shapePoints: 15,
  shapeHalfWidth: 3.5,
  sharePoints: 13,
  shareHalfWidth: 3.5,
};

/** Shares from here on are taken as all; the share is then not a parameter. */
const ALL = 0.999;
/** Half width of the second grid, in posterior sds of the first. */
const SECOND_HALF_WIDTH = 5;

export interface Moments {
  readonly meanLogScale: number;
  readonly sdLogScale: number;
  readonly meanLogShape: number;
  readonly sdLogShape: number;
  readonly meanShare: number;
  readonly sdShare: number;
}

interface Axis {
  readonly from: number;
  readonly to: number;
  readonly points: number;
}

/** One point of the grid with its normalised weight. */
export interface PosteriorNode extends ShareLife {
  readonly weight: number;
}

export interface Posterior {
  readonly nodes: readonly PosteriorNode[];
  readonly moments: Moments;
}

/** Weights below this are no part of any figure that is shown. */
const LEAST_WEIGHT = 1e-14;

const values = ({ from, to, points }: Axis): number[] =>
  Array.from({ length: points }, (_, i) => (points === 1 ? from : from + ((to - from) * i) / (points - 1)));

interface Weighed {
  readonly posterior: Posterior;
  readonly logit: { readonly mean: number; readonly sd: number };
}

/** Observations laid out for the grid: what does not depend on the share is computed once for every scale and shape. */
function layOut(observations: readonly Observation[]) {
  const shown = observations.filter(showsSusceptible);
  const open = observations.filter((observation) => !showsSusceptible(observation));
  const late = observations.filter(({ entry = 0 }) => entry > 0);
  const counts = (list: readonly Observation[]): Float64Array => Float64Array.from(list, ({ count = 1 }) => count);
  return {
    shownTerms: shown.map((observation) => ({ count: observation.count ?? 1, term: termIfSusceptible(observation) })),
    shownCount: counts(shown).reduce((sum, count) => sum + count, 0),
    openTerm: open.map(termIfSusceptible),
    openCounts: counts(open),
    entries: late.map(({ entry }) => entry!),
    lateCounts: counts(late),
  };
}

/**
 * Products of chances are multiplied down to here before their logarithm is taken: one logarithm for dozens of parts.
 */
const SMALL = 1e-250;

/** sum of count * ln(1 - share + share * term). */
function logProduct(terms: Float64Array, counts: Float64Array, share: number): number {
  let log = 0;
  let product = 1;
  for (let i = 0; i < terms.length; i += 1) {
    const factor = 1 - share + share * terms[i]!;
    if (counts[i] === 1) {
      product *= factor;
      if (product < SMALL) {
        log += Math.log(product);
        product = 1;
      }
    } else log += counts[i]! * Math.log(factor);
  }
  return log + Math.log(product);
}

/**
 * The posterior on one grid. Likelihoods are summed in a form that takes the share out of the inner work: pi e^a for
 * parts that failed, 1 - pi + pi e^a for those that may be immune, over 1 - pi + pi e^-H(entry) for those watched from
 * a reading on.
 */
function weigh(
  observations: readonly Observation[],
  prior: LifePrior,
  { scaleAxis, shapeAxis, shareAxis }: { scaleAxis: Axis; shapeAxis: Axis; shareAxis: Axis | null },
): Weighed {
  const logit0 = Math.log(prior.share / (1 - prior.share));
  const normal = (x: number, mean: number, sd: number): number => -0.5 * ((x - mean) / sd) ** 2;
  const { shownTerms, openTerm, entries, openCounts, lateCounts, shownCount } = layOut(observations);
  const openTerms = new Float64Array(openTerm.length);
  const lateTerms = new Float64Array(entries.length);
  const logits = shareAxis === null ? [Infinity] : values(shareAxis);
  const shares = logits.map((logit) => (logit === Infinity ? 1 : 1 / (1 + Math.exp(-logit))));
  const [logScales, logShapes] = [values(scaleAxis), values(shapeAxis)];
  const logs = new Float64Array(logShapes.length * logScales.length * logits.length);
  let at = 0;
  for (const logShape of logShapes) {
    for (const logScale of logScales) {
      const life = { scale: Math.exp(logScale), shape: Math.exp(logShape) };
      let fixed =
        normal(logScale, prior.logScale, prior.logScaleSd) + normal(logShape, prior.logShape, prior.logShapeSd);
      for (const { count, term } of shownTerms) fixed += count * term(life);
      for (let i = 0; i < openTerms.length; i += 1) openTerms[i] = openTerm[i]!(life);
      for (let i = 0; i < lateTerms.length; i += 1) lateTerms[i] = -cumulativeHazard(life, entries[i]!);
      if (shareAxis === null) {
        let log = fixed;
        for (let i = 0; i < openTerms.length; i += 1) log += openCounts[i]! * openTerms[i]!;
        for (let i = 0; i < lateTerms.length; i += 1) log -= lateCounts[i]! * lateTerms[i]!;
        logs[at] = log;
        at += 1;
        continue;
      }
      for (let i = 0; i < openTerms.length; i += 1) openTerms[i] = Math.exp(openTerms[i]!);
      for (let i = 0; i < lateTerms.length; i += 1) lateTerms[i] = Math.exp(lateTerms[i]!);
      for (const [k, logit] of logits.entries()) {
        const share = shares[k]!;
        let log = fixed + normal(logit, logit0, prior.logitSd) + shownCount * Math.log(share);
        log += logProduct(openTerms, openCounts, share) - logProduct(lateTerms, lateCounts, share);
        logs[at] = log;
        at += 1;
      }
    }
  }
  const most = logs.reduce((top, log) => Math.max(top, log), -Infinity);
  const weights = logs.map((log) => Math.exp(log - most));
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  for (let i = 0; i < weights.length; i += 1) weights[i]! /= total;
  const perScale = logits.length;
  const perShape = logScales.length * perScale;
  const moment = (axis: readonly number[], indexOf: (i: number) => number): [number, number] => {
    let middle = 0;
    for (let i = 0; i < weights.length; i += 1) middle += weights[i]! * axis[indexOf(i)]!;
    let square = 0;
    for (let i = 0; i < weights.length; i += 1) square += weights[i]! * (axis[indexOf(i)]! - middle) ** 2;
    return [middle, Math.sqrt(square)];
  };
  const shapeIndex = (i: number): number => Math.floor(i / perShape);
  const scaleIndex = (i: number): number => Math.floor(i / perScale) % logScales.length;
  const shareIndex = (i: number): number => i % perScale;
  const [meanLogScale, sdLogScale] = moment(logScales, scaleIndex);
  const [meanLogShape, sdLogShape] = moment(logShapes, shapeIndex);
  const [meanShare, sdShare] = shareAxis === null ? [1, 0] : moment(shares, shareIndex);
  const [meanLogit, sdLogit] = shareAxis === null ? [Infinity, 0] : moment(logits, shareIndex);
  const nodes: PosteriorNode[] = [];
  weights.forEach((weight, i) => {
    if (weight > LEAST_WEIGHT)
      nodes.push({
        scale: Math.exp(logScales[scaleIndex(i)]!),
        shape: Math.exp(logShapes[shapeIndex(i)]!),
        share: shares[shareIndex(i)]!,
        weight,
      });
  });
  return {
    logit: { mean: meanLogit, sd: sdLogit },
    posterior: { nodes, moments: { meanLogScale, sdLogScale, meanLogShape, sdLogShape, meanShare, sdShare } },
  };
}

const around = (mean: number, sd: number, halfWidth: number, points: number): Axis => ({
  from: mean - halfWidth * sd,
  to: mean + halfWidth * sd,
  points,
});

export interface TwoStagePosterior {
  readonly first: Posterior;
  readonly second: Posterior;
  /** End points of the second grid; logit is null when the share is fixed at all. */
  readonly secondAxes: {
    readonly logScale: readonly [number, number];
    readonly logShape: readonly [number, number];
    readonly logit: readonly [number, number] | null;
  };
}

/**
 * Posterior of a life from a workshop's own observations, on two grids: the first over the prior mean +- k sd, the
 * second over the first posterior's mean +- 5 sd (its sd floored at a third of a step of the first). Source: Bayes'
 * rule on a grid; priors of ln scale, ln shape and logit share are normal.
 */
export function lifePosterior(
  observations: readonly Observation[],
  prior: LifePrior,
  spec: GridSpec = GRID_DEFAULTS,
): TwoStagePosterior {
  const everybody = prior.share >= ALL;
  const logit0 = Math.log(prior.share / (1 - prior.share));
  const scale1 = around(prior.logScale, prior.logScaleSd, spec.scaleHalfWidth, spec.scalePoints);
  const shape1 = around(prior.logShape, prior.logShapeSd, spec.shapeHalfWidth, spec.shapePoints);
  const share1 = everybody ? null : around(logit0, prior.logitSd, spec.shareHalfWidth, spec.sharePoints);
  const first = weigh(observations, prior, { scaleAxis: scale1, shapeAxis: shape1, shareAxis: share1 });
  const floored = (sd: number, axis: Axis): number => Math.max(sd, (axis.to - axis.from) / (axis.points - 1) / 3);
  const { moments } = first.posterior;
  const scale2 = around(moments.meanLogScale, floored(moments.sdLogScale, scale1), SECOND_HALF_WIDTH, spec.scalePoints);
  const shape2 = around(moments.meanLogShape, floored(moments.sdLogShape, shape1), SECOND_HALF_WIDTH, spec.shapePoints);
  const share2 =
    share1 === null
      ? null
      : around(first.logit.mean, floored(first.logit.sd, share1), SECOND_HALF_WIDTH, spec.sharePoints);
  const second = weigh(observations, prior, { scaleAxis: scale2, shapeAxis: shape2, shareAxis: share2 });
  return {
    first: first.posterior,
    second: second.posterior,
    secondAxes: {
      logScale: [scale2.from, scale2.to],
      logShape: [shape2.from, shape2.to],
      logit: share2 === null ? null : [share2.from, share2.to],
    },
  };
}

/**
 * Predictive risk of failing in (from, to] given alive at `from`, for a part that is not among the observations: sum of
 * weighted failures over the sum of weighted survivors, never a mean of risks.
 */
export function predictiveRisk(nodes: readonly PosteriorNode[], from: number, to: number): number {
  let failing = 0;
  let alive = 0;
  for (const { weight, ...life } of nodes) {
    const surviving = Math.exp(logSurviving(life, from));
    const susceptible = surviving - (1 - life.share);
    failing -= weight * susceptible * Math.expm1(-hazardIncrement(life, from, to - from));
    alive += weight * surviving;
  }
  return failing / alive;
}
