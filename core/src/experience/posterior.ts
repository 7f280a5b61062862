import { hazardIncrement } from '../life/hazard.ts';
import { logSurviving, totalLogLikelihood, type Observation, type ShareLife } from './observation.ts';

/** What is believed before the workshop's own vehicles speak: normal on ln scale, ln shape and logit share. */
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

export const GRID_DEFAULTS: GridSpec = { scalePoints: 21, scaleHalfWidth: 4, shapePoints: 15, shapeHalfWidth: 3.5, sharePoints: 13, shareHalfWidth: 3.5 };

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

interface Axis { readonly from: number; readonly to: number; readonly points: number }

/** One point of the grid with its normalised weight. */
export interface PosteriorNode extends ShareLife { readonly weight: number }

export interface Posterior {
  readonly nodes: readonly PosteriorNode[];
  readonly moments: Moments;
}

const values = ({ from, to, points }: Axis): number[] => Array.from({ length: points }, (_, i) => (points === 1 ? from : from + ((to - from) * i) / (points - 1)));

interface Weighed { readonly nodes: readonly (PosteriorNode & { readonly logScale: number; readonly logShape: number; readonly logit: number })[]; readonly posterior: Posterior; readonly logit: { readonly mean: number; readonly sd: number } }

function weigh(observations: readonly Observation[], prior: LifePrior, scaleAxis: Axis, shapeAxis: Axis, shareAxis: Axis | null): Weighed {
  const logit0 = Math.log(prior.share / (1 - prior.share));
  const normal = (x: number, mean: number, sd: number): number => -0.5 * ((x - mean) / sd) ** 2;
  const raw: { logScale: number; logShape: number; logit: number; scale: number; shape: number; share: number; log: number }[] = [];
  for (const logit of shareAxis === null ? [Infinity] : values(shareAxis)) {
    const share = shareAxis === null ? 1 : 1 / (1 + Math.exp(-logit));
    for (const logShape of values(shapeAxis)) {
      for (const logScale of values(scaleAxis)) {
        const life = { scale: Math.exp(logScale), shape: Math.exp(logShape), share };
        const log = normal(logScale, prior.logScale, prior.logScaleSd) + normal(logShape, prior.logShape, prior.logShapeSd)
          + (shareAxis === null ? 0 : normal(logit, logit0, prior.logitSd)) + totalLogLikelihood(life, observations);
        raw.push({ logScale, logShape, logit, ...life, log });
      }
    }
  }
  const most = raw.reduce((top, { log }) => Math.max(top, log), -Infinity);
  const total = raw.reduce((sum, { log }) => sum + Math.exp(log - most), 0);
  const nodes = raw.map(({ log, ...node }) => ({ ...node, weight: Math.exp(log - most) / total }));
  const mean = (of: (node: (typeof nodes)[number]) => number): number => nodes.reduce((sum, node) => sum + node.weight * of(node), 0);
  const moment = (of: (node: (typeof nodes)[number]) => number): [number, number] => {
    const middle = mean(of);
    return [middle, Math.sqrt(Math.max(0, mean((node) => (of(node) - middle) ** 2)))];
  };
  const [meanLogScale, sdLogScale] = moment(({ logScale }) => logScale);
  const [meanLogShape, sdLogShape] = moment(({ logShape }) => logShape);
  const [meanShare, sdShare] = shareAxis === null ? [1, 0] : moment(({ share }) => share);
  const [meanLogit, sdLogit] = shareAxis === null ? [Infinity, 0] : moment(({ logit }) => logit);
  return { nodes, logit: { mean: meanLogit, sd: sdLogit }, posterior: { nodes, moments: { meanLogScale, sdLogScale, meanLogShape, sdLogShape, meanShare, sdShare } } };
}

const around = (mean: number, sd: number, halfWidth: number, points: number): Axis => ({ from: mean - halfWidth * sd, to: mean + halfWidth * sd, points });

export interface TwoStagePosterior {
  readonly first: Posterior;
  readonly second: Posterior;
  /** End points of the second grid; logit is null when the share is fixed at all. */
  readonly secondAxes: { readonly logScale: readonly [number, number]; readonly logShape: readonly [number, number]; readonly logit: readonly [number, number] | null };
}

/**
 * Posterior of a life from a workshop's own observations, on two grids: the first over the prior mean +- k sd, the second over the first posterior's
 * mean +- 5 sd (its sd floored at a third of a step of the first). Source: Bayes' rule on a grid; priors of ln scale, ln shape and logit share are normal.
 */
export function lifePosterior(observations: readonly Observation[], prior: LifePrior, spec: GridSpec = GRID_DEFAULTS): TwoStagePosterior {
  const everybody = prior.share >= ALL;
  const logit0 = Math.log(prior.share / (1 - prior.share));
  const scale1 = around(prior.logScale, prior.logScaleSd, spec.scaleHalfWidth, spec.scalePoints);
  const shape1 = around(prior.logShape, prior.logShapeSd, spec.shapeHalfWidth, spec.shapePoints);
  const share1 = everybody ? null : around(logit0, prior.logitSd, spec.shareHalfWidth, spec.sharePoints);
  const first = weigh(observations, prior, scale1, shape1, share1);
  const floored = (sd: number, axis: Axis): number => Math.max(sd, (axis.to - axis.from) / (axis.points - 1) / 3);
  const { moments } = first.posterior;
  const scale2 = around(moments.meanLogScale, floored(moments.sdLogScale, scale1), SECOND_HALF_WIDTH, spec.scalePoints);
  const shape2 = around(moments.meanLogShape, floored(moments.sdLogShape, shape1), SECOND_HALF_WIDTH, spec.shapePoints);
  const share2 = share1 === null ? null : around(first.logit.mean, floored(first.logit.sd, share1), SECOND_HALF_WIDTH, spec.sharePoints);
  const second = weigh(observations, prior, scale2, shape2, share2);
  return {
    first: first.posterior,
    second: second.posterior,
    secondAxes: { logScale: [scale2.from, scale2.to], logShape: [shape2.from, shape2.to], logit: share2 === null ? null : [share2.from, share2.to] },
  };
}

/**
 * Predictive risk of failing in (from, to] given alive at `from`, for a part that is not among the observations: sum of weighted failures over the
 * sum of weighted survivors, never a mean of risks.
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
