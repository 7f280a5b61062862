import { customOf } from '../history/custom.ts';
import {
  fillUnknown,
  INSTALL_PLACE,
  REPAIR_LAG_YEARS,
  UNKNOWN_DEFAULTS,
  type UnknownWeights,
} from '../history/unknown.ts';
import { cumulativeHazard } from '../life/hazard.ts';
import { hazardSinceInstall, type ClockLife, type LifeBranch } from '../life/risk.ts';
import { Scratch } from '../numeric/scratch.ts';
import { DAYS_PER_YEAR } from '../units/day.ts';
import type { ClocksByKind } from '../usage/clock.ts';
import { NONE_FAILED } from './mixture.ts';
import type { Source, WeakPointFact } from './types.ts';

/**
 * "I think it was done": how far such a record is believed, by where it comes from, and how far off its date may be.
 */
const BELIEVED = {
  chance: { own: 0.95, invoice: 0.95, stamp: 0.85, owner: 0.75, seller: 0.5 } as const satisfies Readonly<
    Record<Source, number>
  >,
  unsaid: 0.75,
  spreadDays: 180,
} as const;

/** Probability that a record of the kind `believed` is true. */
export const believedChance = (source: Source | null): number =>
  source === null ? BELIEVED.unsaid : BELIEVED.chance[source];

/** A life that is possible, and how likely it is. */
export interface WeighedBranch extends LifeBranch {
  readonly weight: number;
}

/**
 * Installations that are possible, with weights laid out by installation, then life; survival included, not normalised.
 * The weights may stand in room that the next question takes again: whoever keeps them copies them out.
 */
export interface Installs extends UnknownWeights {
  readonly days: Float64Array;
  /** Days about which it may have failed; the weights of `failed` belong to them. */
  readonly failedDays: Float64Array;
}

/** Years until a failure is repaired, by what it does: what must not be driven with is repaired at once. */
export const lagYearsOf = ({ consequence, safety }: Pick<WeakPointFact, 'consequence' | 'safety'>): number =>
  safety ? 0 : REPAIR_LAG_YEARS[consequence];

/** Use from new until now. */
interface Lifetime {
  readonly startDay: number;
  readonly nowDay: number;
  /** Market in which the vehicle was sold; null if unknown. */
  readonly market: string | null;
}

/**
 * Number of customary intervals of a weak point that have passed from new until now, on the clock
 * that passes them first; 0 if none is customary.
 */
export const customRun = (
  { statements }: Pick<WeakPointFact, 'statements'>,
  clocks: ClocksByKind,
  { startDay, nowDay, market }: Lifetime,
): number =>
  customOf(statements, market).reduce((most, { clock: kind, at }) => {
    const clock = clocks[kind];
    return clock ? Math.max(most, (clock.at(nowDay) - clock.at(startDay)) / at) : most;
  }, 0);

const [TOLD, LIVED] = [new Scratch(), new Scratch()] as const;
const [SUSCEPTIBLE, IMMUNE, FAILED] = [new Scratch(), new Scratch(), new Scratch()] as const;

/** Part of the time since new when a part went in: the one it was built with, then one in the middle of each bin. */
const PASSED = Array.from({ length: UNKNOWN_DEFAULTS.bins + 1 }, (_, bin) =>
  bin === 0 ? 0 : (bin - INSTALL_PLACE.middle) / UNKNOWN_DEFAULTS.bins,
);

/** Days of the possible installations of the vehicle asked about last: all its weak points share them. */
let last: { readonly startDay: number; readonly nowDay: number; readonly days: Float64Array } | null = null;

function daysOf(startDay: number, nowDay: number): Float64Array {
  if (last?.startDay === startDay && last.nowDay === nowDay) return last.days;
  const days = Float64Array.from(PASSED, (passed) => startDay + passed * (nowDay - startDay));
  last = { startDay, nowDay, days };
  return days;
}

/** Parts of a whole hazard, bin by bin: up to the end of the bin, and of the part put in within it. */
interface PartsOfHazard {
  readonly told: Float64Array;
  readonly lived: Float64Array;
}

/** By shape: a library has few, and every vehicle asks for them. */
const PARTS = new Map<number, PartsOfHazard>();
/** Shapes that are remembered at once. */
const MOST_SHAPES = 4096;

function partsOf(shape: number): PartsOfHazard {
  const known = PARTS.get(shape);
  if (known !== undefined) return known;
  const { bins } = UNKNOWN_DEFAULTS;
  const parts = {
    told: Float64Array.from({ length: bins + 1 }, (_, bin) => (bin / bins) ** shape),
    lived: Float64Array.from(PASSED, (passed) => (1 - passed) ** shape),
  };
  if (PARTS.size >= MOST_SHAPES) PARTS.clear();
  PARTS.set(shape, parts);
  return parts;
}

/**
 * The renewal process from new, laid on this vehicle's own path (bins of equal time since new, so that a parked vehicle
 * still ages), for every life. `customs`: customary intervals run from new until now; a failure waits `lagYears` for
 * its repair.
 */
export function openInstalls(
  clocks: readonly ClockLife[],
  branches: readonly WeighedBranch[],
  { customs, lagYears }: { readonly customs: number; readonly lagYears: number },
  { startDay, nowDay }: Lifetime,
): Installs {
  const { bins } = UNKNOWN_DEFAULTS;
  const [told, lived] = [TOLD.takeEmpty(bins + 1), LIVED.takeEmpty(bins + 1)];
  const days = daysOf(startDay, nowDay);
  for (const { shape, scale, clock, duty } of clocks) {
    // (part * run)^shape = part^shape * run^shape: one power for each clock.
    const whole = cumulativeHazard({ shape, scale }, duty * (clock.at(nowDay) - clock.at(startDay)));
    const parts = partsOf(shape);
    for (let bin = 0; bin <= bins; bin += 1) {
      told[bin]! += whole * parts.told[bin]!;
      lived[bin]! += whole * parts.lived[bin]!;
    }
  }
  const size = days.length * branches.length;
  const weights = { susceptible: SUSCEPTIBLE.take(size), immune: IMMUNE.take(size), failed: FAILED.take(size) };
  fillUnknown(
    { told, lived, place: 'middle' },
    branches,
    {
      ...UNKNOWN_DEFAULTS,
      clocksNow: [customs],
      custom: customs > 0 ? 1 : null,
      binOverLag: lagYears === 0 ? Infinity : (nowDay - startDay) / bins / (lagYears * DAYS_PER_YEAR),
    },
    weights,
  );
  return { days, ...weights, failedDays: lagYears === 0 ? NONE_FAILED.failedDays : days };
}

/** Parts of a believed renewal: its date may be off to either side. */
export const BELIEVED_PARTS = [
  { offset: -1, part: 0.25 },
  { offset: 0, part: 0.5 },
  { offset: 1, part: 0.25 },
] as const;

/** The unknown with a believed renewal mixed in: `chance` that it was done about `day`. */
export function withBelief(
  open: Installs,
  { clocks, branches }: { readonly clocks: readonly ClockLife[]; readonly branches: readonly WeighedBranch[] },
  { day, chance }: { readonly day: number; readonly chance: number },
  { startDay, nowDay }: Lifetime,
): Installs {
  const count = branches.length;
  const from = open.days.length * count;
  const [susceptible, immune] = [
    new Float64Array(from + BELIEVED_PARTS.length * count),
    new Float64Array(from + BELIEVED_PARTS.length * count),
  ];
  for (let at = 0; at < from; at += 1) {
    susceptible[at] = (1 - chance) * open.susceptible[at]!;
    immune[at] = (1 - chance) * open.immune[at]!;
  }
  const days = BELIEVED_PARTS.map(({ offset }) =>
    Math.max(startDay, Math.min(nowDay, day + offset * BELIEVED.spreadDays)),
  );
  BELIEVED_PARTS.forEach(({ part }, i) =>
    branches.forEach(({ power, factor, share }, k) => {
      const at = from + i * count + k;
      susceptible[at] =
        chance * part * share * Math.exp(-hazardSinceInstall({ clocks, power, factor }, days[i]!, nowDay));
      immune[at] = chance * part * (1 - share);
    }),
  );
  return {
    days: Float64Array.of(...open.days, ...days),
    susceptible,
    immune,
    failedDays: open.failedDays,
    failed: open.failed.subarray(0, open.failedDays.length * count).map((weight) => (1 - chance) * weight),
  };
}
