const EXP_STEPS = 64;
const STEPS_A_LN2 = EXP_STEPS / Math.LN2;
/** ln 2 / 64 in two parts, the first with so few digits that its multiples are exact. */
const LN2_STEP_HIGH = 0.01083042469326756;
const LN2_STEP_LOW = 2.9815858269852933e-12;
const MOST_EXP = 709.78;
const LEAST_EXP = -708;
const LOG_BITS = 7;
const LOG_STEPS = 1 << LOG_BITS;
const LN2_HIGH = 0.6931471803691238;
const LN2_LOW = 1.9082149292705877e-10;
const LEAST_NORMAL = 2.2250738585072014e-308;

/**
 * Exponential and logarithm over tables of their own: kept in one closure, where bundlers leave them constant and the
 * engine can rely on it.
 */
const { exp, log } = (() => {
  const expTable = Float64Array.from({ length: EXP_STEPS }, (_, i) => 2 ** (i / EXP_STEPS));
  /** Powers of two from 2^-1074 to 2^1023. */
  const powers = Float64Array.from({ length: 2098 }, (_, i) => 2 ** (i - 1074));
  /**
   * Table over the steps of [1, 2): the middle of each step, its inverse and its logarithm, side by
   * side.
   */
  const logTable = Float64Array.from({ length: 3 * LOG_STEPS }, (_, i) => {
    const middle = 1 + (Math.floor(i / 3) + 0.5) / LOG_STEPS;
    return [middle, 1 / middle, Math.log(middle)][i % 3]!;
  });
  const number = new Float64Array(1);
  const halves = new Uint32Array(number.buffer);
  return {
    exp(this: void, x: number): number {
      if (!(x > LEAST_EXP && x < MOST_EXP)) return x >= MOST_EXP ? Infinity : x <= LEAST_EXP ? 0 : NaN;
      const n = Math.floor(x * STEPS_A_LN2 + 0.5) | 0;
      const r = x - n * LN2_STEP_HIGH - n * LN2_STEP_LOW;
      const base = expTable[n & (EXP_STEPS - 1)]!;
      const series = r * (1 + r * (0.5 + r * (1 / 6 + r * (1 / 24 + r * (1 / 120)))));
      return (base + base * series) * powers[(n >> 6) + 1074]!;
    },
    log(this: void, x: number): number {
      if (!(x >= LEAST_NORMAL && x < Infinity)) return Math.log(x);
      number[0] = x;
      const high = halves[1]!;
      const exponent = (high >>> 20) - 1023;
      const at = 3 * ((high >>> (20 - LOG_BITS)) & (LOG_STEPS - 1));
      // Scaled by an exact power of two into [1, 2): cheaper than writing the bits back.
      const r = (x * powers[1074 - exponent]! - logTable[at]!) * logTable[at + 1]!;
      const series = r * (1 + r * (-0.5 + r * (1 / 3 + r * (-0.25 + r * (0.2 - r * (1 / 6))))));
      return exponent * LN2_HIGH + (logTable[at + 2]! + (exponent * LN2_LOW + series));
    },
  };
})();

/**
 * e^x for the inner loops of a fleet, about three times as fast as the engine's own and within 1e-15 of it: 0 below
 * -708, Infinity above 709.78, NaN for NaN.
 * Source: table-driven evaluation (Tang 1989).
 */
export const fastExp = exp;

/**
 * ln x for the inner loops of a fleet, absolute error below 3e-16 (1 + |ln x|); the engine's own for subnormal,
 * infinite, negative numbers and NaN.
 * Source: table-driven evaluation (Tang 1990).
 */
export const fastLog = log;

/** Below this the short forms lose digits to cancellation and the careful ones are taken. */
const CAREFUL = 0.02;

/** e^x - 1 without cancellation. */
export function fastExpm1(x: number): number {
  return x > CAREFUL || x < -CAREFUL ? exp(x) - 1 : Math.expm1(x);
}

/** ln(1 + x) without cancellation. */
export function fastLog1p(x: number): number {
  return x > CAREFUL ? log(1 + x) : Math.log1p(x);
}
