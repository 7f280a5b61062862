import {
  experienceOf,
  lifePosterior,
  predictiveRisk,
  publishedPrior,
  type LifePrior,
  type Nature,
  type Observation,
  type WeakPointFact,
} from '@crosspeen/core';
import { byTenths, historiesBench } from './histories.ts';
import { evenNumbers } from './kernel.ts';

/** Shops simulated, and saved vehicles in each. */
const SHOPS = 120;
const VEHICLES = 500;
/** The next step that is predicted, as a part of the published scale: about one service interval of an average life. */
const STEP = 0.12;

/**
 * What is published of the weak point that every simulated shop knows: a window of 90 to 180 thousand km in half of the
 * engines.
 */
const pointOf = (
  nature: Nature,
): Pick<WeakPointFact, 'causes' | 'componentClass' | 'nature' | 'share' | 'statements'> => ({
  causes: [[{ clock: 'distance', from: 90_000, to: 180_000 }]],
  componentClass: nature === 'wear' ? 'bearing' : 'early',
  nature,
  share: 0.5,
  statements: [
    { authority: 'a', kind: 'specialist', edition: null, region: null, words: '', interval: [], asks: 'renew' },
  ],
});

interface Truth {
  readonly scale: number;
  readonly shape: number;
  readonly share: number;
}

/** A standard normal number from two even ones (Box and Muller). */
const normal = (even: () => number): number => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even());

/** A true life as it may be, given what is published. */
const drawTruth = (even: () => number, prior: LifePrior, nature: Nature): Truth => ({
  scale: Math.exp(prior.logScale + prior.logScaleSd * normal(even)),
  shape: Math.exp(prior.logShape + prior.logShapeSd * normal(even)),
  share:
    nature === 'wear'
      ? 1
      : 1 / (1 + Math.exp(-(Math.log(prior.share / (1 - prior.share)) + prior.logitSd * normal(even)))),
});

interface Part {
  readonly observation: Observation;
  readonly reading: number;
  readonly failsAt: number;
}

/**
 * The vehicles of one shop: each came in at some reading, still running, and was last seen at another, or failed in
 * between.
 */
function drawShop(even: () => number, truth: Truth): Part[] {
  const parts: Part[] = [];
  while (parts.length < VEHICLES) {
    const failsAt = even() < truth.share ? truth.scale * (-Math.log(even())) ** (1 / truth.shape) : Infinity;
    const entry = 0.9 * even();
    const reading = entry + 0.7 * even();
    // Those that failed before they ever came are not on file.
    if (failsAt <= entry) continue;
    parts.push({
      failsAt,
      reading,
      observation: failsAt <= reading ? { kind: 'exact', at: failsAt, entry } : { kind: 'right', at: reading, entry },
    });
  }
  return parts;
}

/**
 * Shops simulated from known lives: what the posterior of each predicts for its running vehicles against what then
 * happens, by tenths of the predicted chance; and how often the 90 % interval of the typical life and of the share
 * covers the truth.
 */
function shopsBench(nature: Nature, say: (line: string) => void): void {
  const even = evenNumbers(1961);
  const point = pointOf(nature);
  const prior = publishedPrior(point);
  const told = Math.LN2 ** (1 / Math.exp(prior.logShape));
  const predictions: { chance: number; failed: boolean }[] = [];
  let lifeCovered = 0;
  let shareCovered = 0;
  let chanceError = 0;
  let running = 0;
  for (let shop = 0; shop < SHOPS; shop += 1) {
    const truth = drawTruth(even, prior, nature);
    const parts = drawShop(even, truth);
    const observations = parts.map(({ observation }) => observation);
    const { nodes } = lifePosterior(observations, prior).second;
    const { ownLife, ownShare } = experienceOf(point, observations);
    const trueLife = (truth.scale * Math.LN2 ** (1 / truth.shape)) / told;
    if (trueLife >= ownLife.low && trueLife <= ownLife.high) lifeCovered += 1;
    if (truth.share >= ownShare.low && truth.share <= ownShare.high) shareCovered += 1;
    const known = [{ ...truth, weight: 1 }];
    for (const { failsAt, reading } of parts) {
      if (failsAt <= reading) continue;
      const chance = predictiveRisk(nodes, reading, reading + STEP);
      predictions.push({ chance, failed: failsAt <= reading + STEP });
      chanceError += Math.abs(chance - predictiveRisk(known, reading, reading + STEP));
      running += 1;
    }
  }
  say(
    `${SHOPS} shops of ${VEHICLES} vehicles, lives of a ${nature === 'wear' ? 'wearing part' : 'fault'} drawn from what is published; ${predictions.length.toLocaleString('en')} vehicles still running are predicted one service ahead`,
  );
  say('tenth    predicted   observed');
  const error = byTenths(predictions, say);
  say(`mean absolute error by tenths             ${(error * 100).toFixed(2)} points`);
  say(`mean absolute error against the true life ${((chanceError / running) * 100).toFixed(2)} points a vehicle`);
  say(
    `90 % interval of the typical life covers the truth in ${((lifeCovered / SHOPS) * 100).toFixed(0)} of 100 shops${nature === 'wear' ? '' : `, that of the share in ${((shareCovered / SHOPS) * 100).toFixed(0)}`}`,
  );
}

/** Shops with known histories, of both natures; then vehicles of which nobody knows what was done. */
export function calibrationBench(say: (line: string) => void): void {
  for (const nature of ['defect', 'wear'] as const) shopsBench(nature, say);
  historiesBench(say);
}
