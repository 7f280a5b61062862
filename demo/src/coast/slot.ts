import type { PackInput } from '@crosspeen/contract';

type PackPoint = PackInput['families'][number]['weakPoints'] extends readonly (infer Point)[] | undefined
  ? Point
  : never;
export type Needs = NonNullable<NonNullable<PackPoint['look']>['needs']>;
type PackComponent = PackInput['components'][number];

/** Where the work is reached from; each engine has these operations, as far as its build has them. */
export type Access = 'shields' | 'drain' | 'covers' | 'timing' | 'intake' | 'sump' | 'gearbox' | 'tank' | 'oil';

/**
 * A weak point as many engines of one build have it, before it is told for one of them. Windows in thousands of km,
 * years, or engine hours.
 */
export interface Slot {
  readonly component: string;
  readonly class: PackComponent['class'];
  readonly group: PackComponent['group'];
  readonly fittedTo?: 'vehicle';
  readonly title: string;
  readonly consequence: PackPoint['consequence'];
  readonly safety?: true;
  readonly effect: string;
  readonly signs: string;
  readonly share: PackPoint['share'];
  readonly km?: readonly [number, number];
  readonly years?: readonly [number, number];
  readonly hours?: readonly [number, number];
  readonly look?: {
    readonly how: string;
    readonly minutes: number;
    readonly detects: number;
    readonly warns: string;
    readonly cautions?: readonly string[];
    readonly needs?: Needs;
    /** What is taken off for it, beside its own minutes. */
    readonly off?: readonly Access[];
  };
  /** What the suspicion of it forbids. */
  readonly forbids?: PackPoint['forbids'];
  /** A safety item where the engine has a turbo to set alight what leaks on it. */
  readonly safetyWithTurbo?: true;
  readonly minutes: number;
  readonly access: readonly Access[];
  /** Price of one, minor units. */
  readonly price: number;
  /** One for each cylinder goes in, as a set. */
  readonly set?: 'cylinder';
  readonly tools?: readonly string[];
  readonly cautions?: readonly string[];
  readonly afterwards?: readonly string[];
  /** Renewed by interval, on these clocks: the book's lies near the first failures, the specialist's well before. */
  readonly interval?: readonly ('km' | 'years' | 'hours')[];
  /** A later part ends it. */
  readonly revision?: string;
  /** How that later part wears in its turn: the same part, looked at and renewed the same way. */
  readonly later?: Pick<Slot, 'title' | 'km' | 'years'> & Partial<Pick<Slot, 'effect' | 'signs'>>;
}
