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
  /**
   * Length of a bin over the mean time until a failure is repaired: Infinity where it is repaired at once, 0 where it
   * never is.
   */
  readonly binOverLag: number;
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

/**
 * Mean years for which a failure is driven with before somebody repairs it, by consequence. What stops the vehicle is
 * repaired the same day; a stain never is.
 */
export const REPAIR_LAG_YEARS = {
  engine: 0,
  stranded: 0,
  damage: 0.25,
  leak: 1,
  drivability: 1,
  emissions: 1.5,
  cosmetic: Infinity,
} as const;

/** Defaults where nothing about the earlier life is known; a workshop's own view of its trade. */
export const UNKNOWN_DEFAULTS = { customSpread: 0.2, followChance: 0.6, knownFailureChance: 0.5, bins: 10 } as const;

/** One kind of vehicle, bin by bin: installations at the end of each, and what failed in it and is still in there. */
interface Process {
  readonly installed: Float64Array;
  readonly failed: Float64Array;
}

/** Chance that a failure is still not repaired at the end of its own bin, and after each bin that follows. */
interface Waiting {
  readonly own: number;
  readonly later: number;
}

/**
 * How long failures wait for their repair. By the published cases a failure counts from the beginning of its bin; in
 * `middle` failures are spread evenly over it, which is accurate with few bins.
 */
function waitingFor(binOverLag: number, place: InstallGrid['place']): Waiting {
  if (binOverLag === 0) return { own: 1, later: 1 };
  const later = Math.exp(-binOverLag);
  return { own: place === 'end' ? later : -Math.expm1(-binOverLag) / binOverLag, later };
}

/**
 * Chances of one part: `first` at the end of each bin for the one it was built with; `later` at the end of its own bin
 * and of each that follows for one that was put in since.
 */
interface Standing {
  readonly first: Float64Array;
  readonly later: Float64Array;
}

/** What happens to one part in each bin; of a later one counted from its own bin. */
interface Steps {
  readonly first: Float64Array;
  readonly later: Float64Array;
}

const [BROKEN, RENEWED] = [
  { first: new Scratch(), later: new Scratch() },
  { first: new Scratch(), later: new Scratch() },
] as const;

const takePair = ({ first, later }: Readonly<Record<'first' | 'later', Scratch>>, size: number): Standing => ({
  first: first.take(size),
  later: later.take(size),
});

/**
 * The expected installations and failures of each bin, for one kind of vehicle: susceptible or not, kept to the custom
 * or not. Failure and custom compete inside a bin: each counts at the other's middle.
 */
function renewals(
  { survival, custom }: Readonly<Record<'survival' | 'custom', Standing>>,
  { knownFailureChance, bins }: Pick<UnknownGround, 'knownFailureChance' | 'bins'>,
  { own, later: still }: Waiting,
  { installed, failed }: Process,
): void {
  const [broken, renewed]: [Steps, Steps] = [takePair(BROKEN, bins + 1), takePair(RENEWED, bins + 1)];
  const unknown = 1 - knownFailureChance;
  for (let m = 1; m <= bins; m += 1) {
    const [was, is] = [survival.first[m - 1]!, survival.first[m]!];
    const [due, kept] = [custom.first[m - 1]!, custom.first[m]!];
    broken.first[m] = (unknown * (was - is) * (due + kept)) / 2;
    renewed.first[m] = ((due - kept) * (was + is)) / 2;
  }
  for (let m = 0; m < bins; m += 1) {
    const [was, is] = [m === 0 ? 1 : survival.later[m - 1]!, survival.later[m]!];
    const [due, kept] = [m === 0 ? 1 : custom.later[m - 1]!, custom.later[m]!];
    broken.later[m] = (unknown * (was - is) * (due + kept)) / 2;
    renewed.later[m] = ((due - kept) * (was + is)) / 2;
  }
  installed[0] = 1;
  failed[0] = 0;
  for (let k = 1; k <= bins; k += 1) {
    let [breaking, put] = [broken.first[k]!, renewed.first[k]!];
    for (let j = 1; j < k; j += 1) {
      breaking += installed[j]! * broken.later[k - j]!;
      put += installed[j]! * renewed.later[k - j]!;
      // Nothing is renewed by custom while it is failed.
      put += failed[j]! * (1 - still);
      failed[j]! *= still;
    }
    put += breaking * (1 - own);
    // What went in within this bin may go again within it.
    const fresh = put / (1 - renewed.later[0]! - (1 - own) * broken.later[0]!);
    installed[k] = fresh;
    failed[k] = (breaking + fresh * broken.later[0]!) * own;
  }
}

/** Part of the vehicles kept to the custom that have not come to it by the end of each bin, into `notYet`. */
function notYetRenewed(
  custom: number,
  { customSpread, clocksNow, bins }: UnknownGround,
  place: InstallGrid['place'],
  { first, later }: Standing,
): void {
  const sd = custom * customSpread;
  const clockNow = clocksNow[0]!;
  const below = normalCdf(-custom / sd);
  const notYet = (passed: number): number =>
    1 - Math.max(0, normalCdf(((clockNow * passed) / bins - custom) / sd) - below) / (1 - below);
  const shift = INSTALL_PLACE[place];
  for (let k = 0; k <= bins; k += 1) {
    first[k] = notYet(k);
    later[k] = shift === 0 ? first[k]! : notYet(k + shift);
  }
}

/** Inputs of the unknown installation that are the same for every possible life. */
export type UnknownGround = Omit<UnknownHistory, 'lives' | 'share'>;

const EVERYONE = new Scratch();
const ALIVE = { first: new Scratch(), later: new Scratch() } as const;
const NOT_YET = { first: new Scratch(), later: new Scratch() } as const;
const FREE = { installed: new Scratch(), failed: new Scratch() } as const;
const FOLLOWED = { installed: new Scratch(), failed: new Scratch() } as const;
const KEPT = { installed: new Scratch(), failed: new Scratch() } as const;
const LOGS = new Scratch();

const takeProcess = ({ installed, failed }: typeof FREE, size: number): Process => ({
  installed: installed.take(size),
  failed: failed.take(size),
});

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

/** Weights of what may be in there, laid out by installation or by bin of the failure, then life. */
export interface UnknownWeights {
  readonly susceptible: Float64Array;
  readonly immune: Float64Array;
  /** Failed in this bin, and still in there; the place 0 is empty. */
  readonly failed: Float64Array;
}

function mustBeChances(values: Readonly<Record<string, number>>): void {
  for (const name in values) {
    const value = values[name]!;
    if (!(value >= 0 && value <= 1)) throw new RangeError(`${name} must lie in [0, 1], got ${value}`);
  }
}

/**
 * The renewal process of unknownInstall for several lives at once, into `susceptible`, `immune` and `failed`, laid out
 * by installation, then life. By `told` the earlier parts decide when the present one went in; from `lived` on it lives
 * on with each of `lives`, H = factor * H0^power. Weights include survival and the share.
 * Throws as unknownInstall does.
 */
export function fillUnknown(
  { told, lived, place }: InstallGrid,
  lives: readonly LifeBranch[],
  ground: UnknownGround,
  { susceptible, immune, failed }: UnknownWeights,
): void {
  const { custom, followChance, knownFailureChance, bins, binOverLag } = ground;
  mustBeBins(bins);
  mustBeChances({ followChance, knownFailureChance });
  if (!(binOverLag >= 0)) throw new RangeError(`binOverLag must not be negative, got ${binOverLag}`);
  const size = told.length;
  const everyone = EVERYONE.take(size);
  const alive = takePair(ALIVE, size);
  const [free, followed, kept] = [takeProcess(FREE, size), takeProcess(FOLLOWED, size), takeProcess(KEPT, size)];
  const logs = LOGS.take(size);
  for (let i = bins; i >= 0; i -= 1) {
    everyone[i] = 1;
    alive.first[i] = fastExp(-told[i]!);
    logs[i] = fastLog(lived[i]!);
  }
  // A part put in within the last bin is as old at its end as one of any bin is at the end of its own.
  for (let i = bins; i >= 1; i -= 1)
    alive.later[bins - i] = place === 'end' ? alive.first[bins - i]! : fastExp(-lived[i]!);
  const always: Standing = { first: everyone, later: everyone };
  const count = lives.length;
  const waiting = waitingFor(binOverLag, place);
  /** Weighs each life by how many of either kind of vehicle still have the part of installation `i`. */
  const weigh = (i: number, there: number, untouched: number, gone: number): void => {
    for (let k = 0; k < count; k += 1) {
      const { power, factor, share } = lives[k]!;
      const hazard = factor * (power === 1 ? lived[i]! : fastExp(power * logs[i]!));
      susceptible[i * count + k] = share * there * fastExp(-hazard);
      immune[i * count + k] = (1 - share) * untouched;
      failed[i * count + k] = share * gone;
    }
  };
  renewals({ survival: alive, custom: always }, ground, waiting, free);
  // A part that neither fails nor is renewed is the original.
  if (custom === null) {
    for (let i = 0; i <= bins; i += 1) weigh(i, free.installed[i]!, i === 0 ? 1 : 0, free.failed[i]!);
    return;
  }
  const notYet = takePair(NOT_YET, size);
  notYetRenewed(custom, ground, place, notYet);
  renewals({ survival: alive, custom: notYet }, ground, waiting, followed);
  // Where nothing fails only the custom renews. Where all of them can fail nobody asks, and the room holds old figures.
  const isSpared = lives.some(({ share }) => share < 1);
  if (isSpared) renewals({ survival: always, custom: notYet }, ground, waiting, kept);
  const [apart, held] = [1 - followChance, followChance];
  for (let i = 0; i <= bins; i += 1) {
    // Part of the vehicles kept to the custom whose present part has not come to it.
    const stillIn = held * (i === 0 ? notYet.first[bins]! : notYet.later[bins - i]!);
    weigh(
      i,
      apart * free.installed[i]! + stillIn * followed.installed[i]!,
      isSpared ? (i === 0 ? apart : 0) + stillIn * kept.installed[i]! : 0,
      apart * free.failed[i]! + held * followed.failed[i]!,
    );
  }
}

/** What may be in there when nobody knows: a part that is running, or one that has failed already. */
export interface UnknownPart {
  readonly running: readonly InstallNode[];
  /** Weight of a part that has failed and is still in there, in the same measure. */
  readonly failed: number;
}

/**
 * Installation of the part now fitted when nobody knows: a discretised renewal process from new. The part is replaced
 * some time after it failed, or at the custom (normal around the customary interval, truncated at 0) in the vehicles
 * kept to it; an earlier failure that would be known carries weight 1 - knownFailureChance. What has failed and waits
 * for its repair is not renewed by custom. Susceptibility belongs to the vehicle, so susceptible and other vehicles are
 * renewed apart.
 * Source: renewal equation on a grid (Feller, vol. 2, ch. XI), competing causes at the middle of a bin. Installs sit at
 * the end of their bin.
 * Throws RangeError unless bins is a positive whole number and every chance lies in [0, 1].
 */
export function unknownInstall({ lives, share, ...ground }: UnknownHistory): UnknownPart {
  mustBeChances({ share });
  const { bins, clocksNow } = ground;
  mustBeBins(bins);
  const size = bins + 1;
  const hazards = Float64Array.from({ length: size }, (_, k) =>
    lives.reduce((sum, life, s) => sum + cumulativeHazard(life, (clocksNow[s]! * k) / bins), 0),
  );
  const weights = {
    susceptible: new Float64Array(size),
    immune: new Float64Array(size),
    failed: new Float64Array(size),
  };
  fillUnknown(
    { told: hazards, lived: hazards.slice().reverse(), place: 'end' },
    [{ power: 1, factor: 1, share }],
    ground,
    weights,
  );
  return {
    running: Array.from(weights.immune, (immune, k) => ({
      fraction: k / bins,
      susceptible: weights.susceptible[k]!,
      immune,
    })),
    failed: weights.failed.reduce((sum, weight) => sum + weight, 0),
  };
}
