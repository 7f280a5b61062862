import { susceptibleShare, type LifeTold } from '../life/nature.ts';
import { toldShape } from '../outlook/part.ts';
import type { LifeNode, WeakPointFact } from '../outlook/types.ts';
import type { AuthorityKind, StatementStrength } from '../schools/statements.ts';
import { compressLives, posteriorQuantile } from './compress.ts';
import type { Observation } from './observation.ts';
import { lifePosterior, type LifePrior, type Posterior, type PosteriorNode } from './posterior.ts';

/**
 * Uncertainty of a published life, as the sd of ln scale, by the kind of authority; the strongest
 * one counts. These are the workshop's own views of its trade. A weak point that only the bench
 * speaks of is the least sure.
 */
const STATEMENT_SPREAD: Readonly<Record<AuthorityKind, number>> = {
  bulletin: 0.22,
  specialist: 0.25,
  parts_maker: 0.28,
  book: 0.3,
  regional_book: 0.3,
  bench: 0.35,
};
/** How what a statement rests on widens or narrows that. */
const STRENGTH_FACTOR: Readonly<Record<StatementStrength, number>> = { counted: 0.75, practice: 1, hearsay: 1.4 };
export const PRIOR_SPREAD = { logShape: 0.25, logit: 0.7 } as const;

/** Below so many failures a workshop's own figures say too little by themselves. */
const ENOUGH_FAILURES = 3;
/** The interval must have become narrower than this part of the prior's. */
const ENOUGH_NARROWING = 0.8;

/** Largest share that stays a parameter of its own. */
const MOST_SHARE = 0.98;

/**
 * Published life as a prior on the life used: scale 1, the published shape, and the published
 * share. Wear has no share to learn.
 */
export function publishedPrior(weakPoint: LifeTold & Pick<WeakPointFact, 'statements'>): LifePrior {
  const spreads = weakPoint.statements.map(
    ({ kind, strength }) => STATEMENT_SPREAD[kind] * STRENGTH_FACTOR[strength ?? 'practice'],
  );
  const spread = spreads.length === 0 ? STATEMENT_SPREAD.bench : Math.min(...spreads);
  return {
    logScale: 0,
    logScaleSd: spread,
    logShape: Math.log(toldShape(weakPoint)),
    logShapeSd: PRIOR_SPREAD.logShape,
    share: weakPoint.nature === 'wear' ? 1 : Math.min(MOST_SHARE, susceptibleShare(weakPoint)),
    logitSd: PRIOR_SPREAD.logit,
  };
}

export interface Spread {
  readonly middle: number;
  readonly low: number;
  readonly high: number;
}

export interface ExperienceSummary {
  /** The lives that remain possible, few enough to judge a fleet with. */
  readonly nodes: readonly LifeNode[];
  readonly parts: number;
  readonly failures: number;
  readonly worn: number;
  readonly renewed: number;
  /** Typical life (median of those that do fail) over the one published, with its 90 % interval; before and after. */
  readonly publishedLife: Spread;
  readonly ownLife: Spread;
  readonly publishedShare: Spread;
  readonly ownShare: Spread;
  /** Tells whether the workshop's own vehicles carry a statement by themselves, and if not, why. */
  readonly enough: 'yes' | 'few_failures' | 'hardly_narrower';
}

const medianLife = ({ scale, shape }: PosteriorNode): number => scale * Math.LN2 ** (1 / shape);

/** 95 % point of a standard normal variable: the ends of a 90 % interval. */
const Z95 = 1.6448536269514722;
const normalSpread = (middle: number, sd: number, of: (x: number) => number): Spread => ({
  middle: of(middle),
  low: of(middle - Z95 * sd),
  high: of(middle + Z95 * sd),
});
const logistic = (x: number): number => 1 / (1 + Math.exp(-x));

function spread(posterior: Posterior, of: (node: PosteriorNode) => number): Spread {
  return {
    middle: posteriorQuantile(posterior, of, 0.5),
    low: posteriorQuantile(posterior, of, 0.05),
    high: posteriorQuantile(posterior, of, 0.95),
  };
}

/**
 * Learns one weak point from a workshop's own parts. `observations` are on the life used, each part
 * once.
 */
export function experienceOf(
  weakPoint: LifeTold & Pick<WeakPointFact, 'statements'>,
  observations: readonly Observation[],
): ExperienceSummary {
  const prior = publishedPrior(weakPoint);
  const typical = Math.LN2 ** (1 / Math.exp(prior.logShape));
  const after = lifePosterior(observations, prior).second;
  const count = (of: Observation['kind'][]): number =>
    observations.reduce((sum, { kind, count: many = 1 }) => sum + (of.includes(kind) ? many : 0), 0);
  const failures = count(['exact', 'interval']);
  // The told shape hardly moves the median: the prior's spread of the typical life is that of its scale.
  const publishedLife = normalSpread(0, prior.logScaleSd, Math.exp);
  const ownLife = spread(after, (node) => medianLife(node) / typical);
  const width = ({ low, high }: Spread): number => Math.log(high / low);
  return {
    nodes: compressLives(after),
    parts: count(['exact', 'interval', 'right', 'worn']),
    failures,
    worn: count(['worn']),
    renewed: count(['right']),
    publishedLife,
    ownLife,
    publishedShare: normalSpread(Math.log(prior.share / (1 - prior.share)), prior.logitSd, logistic),
    ownShare: spread(after, ({ share }) => share),
    enough:
      failures < ENOUGH_FAILURES
        ? 'few_failures'
        : width(ownLife) > ENOUGH_NARROWING * width(publishedLife)
          ? 'hardly_narrower'
          : 'yes',
  };
}
