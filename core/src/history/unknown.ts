import type { WeibullLife } from '../life/elicit.ts';
import { cumulativeHazard } from '../life/hazard.ts';
import type { LifeBranch } from '../life/risk.ts';
import { fastExp, fastLog } from '../numeric/fast.ts';
import { normalCdf } from '../numeric/normal.ts';
import { Scratch } from '../numeric/scratch.ts';

export interface UnknownHistory {
  /** One life a clock, in the clock's unit, duty factor included. */
  readonly lives: readonly WeibullLife[];
  /** Clock readings now, counted from new; the use is taken as even over the life. */
  readonly clocksNow: readonly number[];
  readonly share: number;
  /** Customary interval on the first clock; null when nobody renews this part by interval. */
  readonly custom: number | null;
  /** Spread of the customary interval, as a part of it. */
  readonly customSpread: number;
  /** Chance that this vehicle is kept to the custom. */
  readonly followChance: number;
  /** Chance that an earlier failure would be known, or would have taken the vehicle away. */
  readonly knownFailureChance: number;
  readonly bins: number;
}

/** One possible installation of the part now fitted. Weights include survival until now and are not normalised. */
export interface InstallNode {
  /** Part of the life so far that had passed at the installation: 0 is the original part. */
  readonly fraction: number;
  /** Weight of its being there in a susceptible vehicle. */
  readonly susceptible: number;
  /** Weight of its being there in a vehicle that is not susceptible. */
  readonly immune: number;
}

/** Defaults where nothing about the earlier life is known; a workshop's own view of its trade. */
export const UNKNOWN_DEFAULTS = { customSpread: 0.2, followChance: 0.6, knownFailureChance: 0.5, bins: 10 } as const;

/**
 * Adds the expected installations at the end of each bin to `installed`, for one kind of vehicle:
 * susceptible or not, kept to the custom or not.
 */
function renewals(
  { survival, custom, step }: Readonly<Record<'survival' | 'custom' | 'step', Float64Array>>,
  { knownFailureChance, bins }: Pick<UnknownGround, 'knownFailureChance' | 'bins'>,
  installed: Float64Array,
): void {
  for (let m = 1; m <= bins; m += 1) {
    // Failure and custom compete inside a bin: each counts at the other's middle.
    const failed = ((survival[m - 1]! - survival[m]!) * (custom[m - 1]! + custom[m]!)) / 2;
    const renewed = ((custom[m - 1]! - custom[m]!) * (survival[m - 1]! + survival[m]!)) / 2;
    step[m] = (1 - knownFailureChance) * failed + renewed;
  }
  installed[0] = 1;
  for (let k = 1; k <= bins; k += 1) {
    let sum = 0;
    for (let back = 1; back <= k; back += 1) sum += installed[k - back]! * step[back]!;
    installed[k] = sum;
  }
}

/** Part of the vehicles kept to the custom that have not come to it by the end of each bin, into `notYet`. */
function notYetRenewed(custom: number, { customSpread, clocksNow, bins }: UnknownGround, notYet: Float64Array): void {
  const sd = custom * customSpread;
  const clockNow = clocksNow[0]!;
  const below = normalCdf(-custom / sd);
  for (let k = 0; k <= bins; k += 1) {
    const reached = normalCdf(((clockNow * k) / bins - custom) / sd);
    notYet[k] = 1 - Math.max(0, reached - below) / (1 - below);
  }
}

/** Inputs of the unknown installation that are the same for every possible life. */
export type UnknownGround = Omit<UnknownHistory, 'lives' | 'share'>;

const EVERYONE = new Scratch();
const ALIVE = new Scratch();
const NOT_YET = new Scratch();
const STEP = new Scratch();
const FREE = new Scratch();
const FOLLOWED = new Scratch();
const KEPT = new Scratch();
const LOGS = new Scratch();

/**
 * Position of an installation within its bin, in bins before the end: at the end, as in the
 * published cases, or in the middle, which is accurate with few bins.
 */
export const INSTALL_PLACE = { end: 0, middle: 0.5 } as const;

/** Use of the vehicle, bin by bin. */
export interface InstallGrid {
  /** Cumulative hazard at 0, 1/bins, ..., 1 of the life so far. */
  readonly told: Float64Array;
  /** Use of the present part since each possible installation, from the original one on. */
  readonly lived: Float64Array;
  readonly place: keyof typeof INSTALL_PLACE;
}

function mustBeBins(bins: number): void {
  if (!Number.isInteger(bins) || bins < 1) throw new RangeError(`bins must be a positive whole number, got ${bins}`);
}

/**
 * The renewal process of unknownInstall for several lives at once, into `susceptible` and `immune`, laid out by
 * installation, then life. By `told` the earlier parts decide when the present one went in; from `lived` on it lives on
 * with each of `lives`, H = factor * H0^power. Weights include survival and the share.
 * Throws as unknownInstall does.
 */
export function fillUnknown(
  { told, lived, place }: InstallGrid,
  lives: readonly LifeBranch[],
  ground: UnknownGround,
  { susceptible, immune }: Readonly<Record<'susceptible' | 'immune', Float64Array>>,
): void {
  const { custom, followChance, knownFailureChance, bins } = ground;
  mustBeBins(bins);
  for (const [name, value] of Object.entries({ followChance, knownFailureChance })) {
    if (!(value >= 0 && value <= 1)) throw new RangeError(`${name} must lie in [0, 1], got ${value}`);
  }
  const size = told.length;
  const everyone = EVERYONE.take(size);
  const alive = ALIVE.take(size);
  const notYet = NOT_YET.take(size);
  const step = STEP.take(size);
  const free = FREE.take(size);
  const followed = FOLLOWED.take(size);
  const kept = KEPT.take(size);
  const logs = LOGS.take(size);
  for (let i = bins; i >= 0; i -= 1) {
    everyone[i] = 1;
    alive[i] = fastExp(-told[i]!);
    logs[i] = fastLog(lived[i]!);
  }
  const count = lives.length;
  /** Weighs each life by how many of either kind of vehicle still have the part of each installation. */
  const weigh = (failing: (i: number) => number, never: (i: number) => number): void => {
    for (let i = bins; i >= 0; i -= 1) {
      const [there, untouched] = [failing(i), never(i)];
      for (let k = 0; k < count; k += 1) {
        const { power, factor, share } = lives[k]!;
        const hazard = factor * (power === 1 ? lived[i]! : fastExp(power * logs[i]!));
        susceptible[i * count + k] = share * there * fastExp(-hazard);
        immune[i * count + k] = (1 - share) * untouched;
      }
    }
  };
  /** A part that neither fails nor is renewed is the original. */
  const built = (i: number): number => (i === 0 ? 1 : 0);
  renewals({ survival: alive, custom: everyone, step }, ground, free);
  if (custom === null) {
    weigh((i) => free[i]!, built);
    return;
  }
  notYetRenewed(custom, ground, notYet);
  renewals({ survival: alive, custom: notYet, step }, ground, followed);
  // Where nothing fails only the custom renews.
  renewals({ survival: everyone, custom: notYet, step }, ground, kept);
  /** Part of the vehicles kept to the custom whose present part, put in at installation `i`, has not come to it. */
  const stillIn = (i: number): number =>
    i === 0 || place === 'end' ? notYet[bins - i]! : (notYet[bins - i]! + notYet[bins - i + 1]!) / 2;
  const mixed = (i: number, without: number, within: Float64Array): number =>
    (1 - followChance) * without + followChance * within[i]! * stillIn(i);
  weigh(
    (i) => mixed(i, free[i]!, followed),
    (i) => mixed(i, built(i), kept),
  );
}

/**
 * Installation of the part now fitted when nobody knows: a discretised renewal process from new. The part is replaced
 * at failure, or at the custom (normal around the customary interval, truncated at 0) in the vehicles kept to it; an
 * earlier failure that would be known carries weight 1 - knownFailureChance. Susceptibility belongs to the vehicle, so
 * susceptible and other vehicles are renewed apart.
 * Source: renewal equation on a grid (Feller, vol. 2, ch. XI), competing causes at the middle of a bin. Installs sit at
 * the end of their bin.
 * Throws RangeError unless bins is a positive whole number and every chance lies in [0, 1].
 */
export function unknownInstall({ lives, share, ...ground }: UnknownHistory): InstallNode[] {
  if (!(share >= 0 && share <= 1)) throw new RangeError(`share must lie in [0, 1], got ${share}`);
  const { bins, clocksNow } = ground;
  mustBeBins(bins);
  const size = bins + 1;
  const hazards = Float64Array.from({ length: size }, (_, k) =>
    lives.reduce((sum, life, s) => sum + cumulativeHazard(life, (clocksNow[s]! * k) / bins), 0),
  );
  const [susceptible, immune] = [new Float64Array(size), new Float64Array(size)];
  fillUnknown(
    { told: hazards, lived: hazards.slice().reverse(), place: 'end' },
    [{ power: 1, factor: 1, share }],
    ground,
    { susceptible, immune },
  );
  return Array.from(immune, (weight, k) => ({ fraction: k / bins, susceptible: susceptible[k]!, immune: weight }));
}
