import type { WeibullLife } from '../life/elicit.ts';
import { cumulativeHazard } from '../life/hazard.ts';
import { fastExp } from '../numeric/fast.ts';
import { normalCdf } from '../numeric/normal.ts';

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
export const UNKNOWN_DEFAULTS = { customSpread: 0.2, followChance: 0.6, knownFailureChance: 0.5, bins: 16 } as const;

/** Where the parts of one kind of vehicle (susceptible or not, kept to the custom or not) now stand, by installation bin. */
function renewalWeights(survival: Float64Array, custom: Float64Array, knownFailureChance: number, bins: number): Float64Array {
  const step = new Float64Array(bins + 1);
  for (let m = 1; m <= bins; m += 1) {
    // Failure and custom compete inside a bin: each counts at the other's middle.
    const failed = ((survival[m - 1]! - survival[m]!) * (custom[m - 1]! + custom[m]!)) / 2;
    const renewed = ((custom[m - 1]! - custom[m]!) * (survival[m - 1]! + survival[m]!)) / 2;
    step[m] = (1 - knownFailureChance) * failed + renewed;
  }
  const installed = new Float64Array(bins + 1);
  installed[0] = 1;
  for (let k = 1; k <= bins; k += 1) {
    let sum = 0;
    for (let i = 0; i < k; i += 1) sum += installed[i]! * step[k - i]!;
    installed[k] = sum;
  }
  for (let i = 0; i <= bins; i += 1) installed[i]! *= survival[bins - i]! * custom[bins - i]!;
  return installed;
}

/** Where the parts of vehicles now stand when a part `follow` of them is kept to the custom. */
function kept(alive: Float64Array, everyone: Float64Array, notYet: Float64Array, follow: number, knownFailureChance: number, bins: number): Float64Array {
  // What neither fails nor is renewed stays as it was built.
  const free = alive === everyone ? new Float64Array(bins + 1) : renewalWeights(alive, everyone, knownFailureChance, bins);
  if (alive === everyone) free[0] = 1;
  if (follow === 0) return free;
  const followed = renewalWeights(alive, notYet, knownFailureChance, bins);
  for (let i = 0; i <= bins; i += 1) free[i] = (1 - follow) * free[i]! + follow * followed[i]!;
  return free;
}

/** What the installation depends on beside the life: the same for every life that is possible. */
export type UnknownGround = Omit<UnknownHistory, 'lives' | 'share'>;

export interface UnknownWeights {
  /** For each life, the weight of every installation in a susceptible vehicle, survival included. */
  readonly susceptible: readonly Float64Array[];
  /** The same in a vehicle that is not: no life enters. */
  readonly immune: Float64Array;
}

/**
 * The renewal process of unknownInstall for several lives at once. `hazards` holds, for each life, the cumulative hazard at 0, 1/bins, ..., 1 of the life so far.
 * Weights are for a share of all and of none: the caller multiplies by the share and what is left of it.
 */
export function unknownWeights(hazards: readonly Float64Array[], ground: UnknownGround): UnknownWeights {
  const { clocksNow, custom, customSpread, followChance, knownFailureChance, bins } = ground;
  if (!Number.isInteger(bins) || bins < 1) throw new RangeError(`bins must be a positive whole number, got ${bins}`);
  for (const [name, value] of Object.entries({ followChance, knownFailureChance })) {
    if (!(value >= 0 && value <= 1)) throw new RangeError(`${name} must lie in [0, 1], got ${value}`);
  }
  const everyone = new Float64Array(bins + 1).fill(1);
  const follow = custom === null ? 0 : followChance;
  const sd = (custom ?? 1) * customSpread;
  const below = custom === null ? 0 : normalCdf(-custom / sd);
  const notYet = custom === null ? everyone : everyone.map((_, k) => 1 - (normalCdf(((clocksNow[0]! * k) / bins - custom) / sd) - below) / (1 - below));
  return {
    susceptible: hazards.map((hazard) => {
      const alive = new Float64Array(bins + 1);
      for (let i = 0; i <= bins; i += 1) alive[i] = fastExp(-hazard[i]!);
      return kept(alive, everyone, notYet, follow, knownFailureChance, bins);
    }),
    immune: kept(everyone, everyone, notYet, follow, knownFailureChance, bins),
  };
}

/**
 * Installation of the part now fitted when nobody knows: a discretised renewal process from new. The part is replaced at failure, or at the custom
 * (normal around the customary interval, truncated at 0) in the vehicles kept to it; an earlier failure that would be known carries weight
 * 1 - knownFailureChance. Susceptibility belongs to the vehicle, so susceptible and other vehicles are renewed apart.
 * Source: renewal equation on a grid (Feller, vol. 2, ch. XI), competing causes at the middle of a bin. Installs sit at the end of their bin.
 * Throws RangeError unless bins is a positive whole number and every chance lies in [0, 1].
 */
export function unknownInstall({ lives, share, ...ground }: UnknownHistory): InstallNode[] {
  if (!(share >= 0 && share <= 1)) throw new RangeError(`share must lie in [0, 1], got ${share}`);
  const { bins, clocksNow } = ground;
  const hazard = Float64Array.from({ length: Number.isInteger(bins) && bins > 0 ? bins + 1 : 0 }, (_, k) => lives.reduce((sum, life, s) => sum + cumulativeHazard(life, (clocksNow[s]! * k) / bins), 0));
  const { susceptible, immune } = unknownWeights([hazard], ground);
  return Array.from(immune, (weight, k) => ({ fraction: k / bins, susceptible: share * susceptible[0]![k]!, immune: (1 - share) * weight }));
}
