import fc from 'fast-check';
import { fitLife } from './fit.ts';
import { logLikelihood, logSurviving, totalLogLikelihood, type Observation } from './observation.ts';
import { lifePosterior, predictiveRisk, type LifePrior } from './posterior.ts';

const life = { scale: 120_000, shape: 2.5, share: 1 };
const prior: LifePrior = {
  logScale: Math.log(150_000),
  logScaleSd: 0.35,
  logShape: Math.log(2.5),
  logShapeSd: 0.25,
  share: 0.5,
  logitSd: 0.8,
};

/** A repeatable source of even numbers in (0, 1): the "minimal standard" generator of Park and Miller. */
function evenNumbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 48_271) % 2_147_483_647;
    return state / 2_147_483_647;
  };
}

/**
 * Parts drawn from a known life, watched until an even censoring reading; optionally only those that lived to their
 * entry.
 */
function drawn(count: number, seed: number, entryUpTo = 0): Observation[] {
  const even = evenNumbers(seed);
  const out: Observation[] = [];
  while (out.length < count) {
    const failure = life.scale * (-Math.log(even())) ** (1 / life.shape);
    const watchedUntil = 60_000 + 120_000 * even();
    const entry = entryUpTo * even();
    if (failure <= entry || watchedUntil <= entry) continue;
    out.push(
      failure <= watchedUntil ? { kind: 'exact', at: failure, entry } : { kind: 'right', at: watchedUntil, entry },
    );
  }
  return out;
}

describe('log-likelihood of one observation', () => {
  test('closed forms of the exponential life: ln density, ln survival, ln interval', () => {
    const exponential = { scale: 1000, shape: 1, share: 1 };
    expect(logLikelihood(exponential, { kind: 'exact', at: 500 })).toBeCloseTo(-Math.log(1000) - 0.5, 12);
    expect(logLikelihood(exponential, { kind: 'right', at: 500 })).toBeCloseTo(-0.5, 12);
    expect(logLikelihood(exponential, { kind: 'interval', at: 500, until: 900 })).toBeCloseTo(
      Math.log(Math.exp(-0.5) - Math.exp(-0.9)),
      12,
    );
  });

  test('found worn is a failure to come inside the warning, not one since the last look', () => {
    const worn = logLikelihood(life, { kind: 'worn', at: 90_000, detection: 0.8, warning: 10_000 });
    expect(worn).toBeCloseTo(Math.log(0.8) + logLikelihood(life, { kind: 'interval', at: 90_000, until: 100_000 }), 12);
  });

  test('all that can happen to a part adds up to one: failed in one of two intervals, or still running', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 1, noNaN: true }),
        fc.double({ min: 0.5, max: 6, noNaN: true }),
        (share, shape) => {
          const some = { scale: 100_000, shape, share };
          const parts = [
            { kind: 'interval', at: 0, until: 70_000 },
            { kind: 'interval', at: 70_000, until: 150_000 },
            { kind: 'right', at: 150_000 },
          ] as const;
          expect(parts.reduce((sum, part) => sum + Math.exp(logLikelihood(some, part)), 0)).toBeCloseTo(1, 9);
        },
      ),
    );
  });

  test('a part watched from a reading on counts given that it lived to it', () => {
    expect(logLikelihood(life, { kind: 'right', at: 90_000, entry: 60_000 })).toBeCloseTo(
      logSurviving(life, 90_000) - logSurviving(life, 60_000),
      12,
    );
  });

  test('a count is as many observations', () => {
    const one: Observation = { kind: 'exact', at: 80_000 };
    expect(logLikelihood(life, { ...one, count: 7 })).toBeCloseTo(
      totalLogLikelihood(
        life,
        Array.from({ length: 7 }, () => one),
      ),
      9,
    );
  });

  test('a clean look makes a failure inside its window less likely by what it would have seen', () => {
    const looks = [{ at: 75_000, detection: 0.6, warning: 10_000 }];
    expect(
      logLikelihood(life, { kind: 'exact', at: 80_000, looks }) - logLikelihood(life, { kind: 'exact', at: 80_000 }),
    ).toBeCloseTo(Math.log(0.4), 12);
    expect(logLikelihood(life, { kind: 'exact', at: 90_000, looks })).toBe(
      logLikelihood(life, { kind: 'exact', at: 90_000 }),
    );
    // Its window: after the look, until its end.
    const without = logLikelihood(life, { kind: 'exact', at: 75_000 });
    expect(logLikelihood(life, { kind: 'exact', at: 75_000, looks })).toBe(without);
    expect(logLikelihood(life, { kind: 'exact', at: 85_000, looks })).toBeLessThan(
      logLikelihood(life, { kind: 'exact', at: 85_000 }),
    );
  });

  test('looks whose windows overlap in part: the density weighed piece by piece, summed by small steps', () => {
    const looks = [
      { at: 60_000, detection: 0.5, warning: 15_000 },
      { at: 70_000, detection: 0.8, warning: 20_000 },
      { at: 20_000, detection: 0.9, warning: 1000 },
    ];
    const whole = { ...life, share: 1 };
    const weighed = (from: number, to: number): number => {
      const steps = 40_000;
      const width = (to - from) / steps;
      let sum = 0;
      for (let i = 0; i < steps; i += 1) {
        const x = from + (i + 0.5) * width;
        const density =
          (whole.shape / whole.scale) *
          (x / whole.scale) ** (whole.shape - 1) *
          Math.exp(-((x / whole.scale) ** whole.shape));
        const missed = looks.reduce(
          (product, { at, detection, warning }) => product * (x > at && x <= at + warning ? 1 - detection : 1),
          1,
        );
        sum += density * missed * width;
      }
      return sum;
    };
    expect(logLikelihood(whole, { kind: 'interval', at: 55_000, until: 80_000, looks })).toBeCloseTo(
      Math.log(weighed(55_000, 80_000)),
      4,
    );
    expect(logLikelihood(whole, { kind: 'worn', at: 65_000, detection: 0.7, warning: 12_000, looks })).toBeCloseTo(
      Math.log(0.7 * weighed(65_000, 77_000)),
      4,
    );
    const tail = Math.exp(-((90_000 / whole.scale) ** whole.shape));
    expect(logLikelihood(whole, { kind: 'right', at: 72_000, looks })).toBeCloseTo(
      Math.log(weighed(72_000, 90_000) + tail),
      4,
    );
  });

  test('where all have it in them, surviving is e^-H to the last digit; beyond a life that nothing is left of, no chance is', () => {
    const exponential = { scale: 1000, shape: 1, share: 1 };
    expect(logSurviving(exponential, 800_000)).toBeCloseTo(-800, 9);
    expect(logSurviving({ ...exponential, share: 0.5 }, 800_000)).toBeCloseTo(Math.log(0.5), 12);
    // Two intervals far out, where every survival underflows.
    expect(logLikelihood(exponential, { kind: 'interval', at: 900_000, until: 901_000 })).toBeCloseTo(
      -900 + Math.log(1 - Math.exp(-1)),
      9,
    );
  });
});

describe('fit', () => {
  test('finds the life that 2000 parts were drawn from', () => {
    const found = fitLife(drawn(2000, 11), false);
    expect(found.stopped).toBe('converged');
    expect(found.scale / 120_000).toBeCloseTo(1, 1);
    expect(Math.abs(found.shape / 2.5 - 1)).toBeLessThan(0.08);
  });

  test('ignoring that parts were only seen once they had lived to their entry makes them look longer-lived', () => {
    const late = drawn(1500, 5, 110_000);
    const honest = fitLife(late, false);
    const blind = fitLife(
      late.map((observation) => ({ ...observation, entry: 0 })),
      false,
    );
    expect(Math.abs(honest.scale / 120_000 - 1)).toBeLessThan(0.06);
    expect(blind.scale).toBeGreaterThan(honest.scale * 1.05);
  });

  test('nothing failed: there is nothing to fit', () =>
    expect(() => fitLife([{ kind: 'right', at: 5 }], false)).toThrow(/single failure/));
});

describe('posterior', () => {
  test('without observations it is the prior', () => {
    const { moments } = lifePosterior([], prior).second;
    expect(moments.meanLogScale).toBeCloseTo(prior.logScale, 9);
    expect(moments.sdLogScale).toBeCloseTo(0.35, 4);
  });

  test('many parts pull it to their own life and narrow it; few hardly move it', () => {
    const many = lifePosterior(drawn(200, 3), { ...prior, share: 1, logitSd: 0 }).second.moments;
    expect(Math.abs(Math.exp(many.meanLogScale) / 120_000 - 1)).toBeLessThan(0.08);
    expect(many.sdLogScale).toBeLessThan(0.06);
    const few = lifePosterior(drawn(2, 3), prior).second.moments;
    expect(few.sdLogScale).toBeGreaterThan(0.2);
  });

  test('survivors count: parts that came out fine make the next failure less likely', () => {
    const risk = (observations: readonly Observation[]): number =>
      predictiveRisk(lifePosterior(observations, prior).second.nodes, 90_000, 105_000);
    const fine = Array.from({ length: 12 }, (): Observation => ({ kind: 'right', at: 160_000 }));
    const failed = Array.from({ length: 4 }, (_, i): Observation => ({ kind: 'exact', at: 80_000 + i * 8000 }));
    expect(risk(fine)).toBeLessThan(risk([]));
    expect(risk(failed)).toBeGreaterThan(risk([]));
    expect(risk([...failed, ...fine])).toBeLessThan(risk(failed));
  });

  test('a predictive risk mixes numerators and denominators, not risks', () => {
    const nodes = [
      { scale: 50_000, shape: 4, share: 1, weight: 0.5 },
      { scale: 500_000, shape: 4, share: 1, weight: 0.5 },
    ];
    // At 90,000 the short life is all but gone: e^-(1.8^4) = e^-10.4976, so the long one speaks almost alone.
    const long = 1 - Math.exp(-(0.21 ** 4 - 0.18 ** 4));
    const aliveShort = Math.exp(-(1.8 ** 4));
    const aliveLong = Math.exp(-(0.18 ** 4));
    const short = 1 - Math.exp(-(2.1 ** 4 - 1.8 ** 4));
    expect(predictiveRisk(nodes, 90_000, 105_000)).toBeCloseTo(
      (aliveShort * short + aliveLong * long) / (aliveShort + aliveLong),
      12,
    );
  });
});
