import type { More } from './more.ts';
import type { Access, Slot } from './slot.ts';
import type { SlotName } from './slots.ts';

/** One engine of the coast pack: a build, told for a maker, longer- or shorter-lived than the usual. */
export interface CoastFamily {
  readonly key: string;
  readonly maker: 'vellmar' | 'osterlin' | 'dunmarrow' | 'kestrane' | 'brandreth' | 'tarn-hollis';
  readonly code: string;
  readonly name: string;
  readonly displacementL: number;
  readonly fuel: 'petrol' | 'diesel';
  readonly aspiration: 'natural' | 'turbo';
  readonly drive: 'belt' | 'chain' | 'gears';
  readonly interference: boolean;
  readonly slots: readonly SlotName[];
  /** Factor on every distance of the usual windows; on years its root. */
  readonly lives: number;
  /** Prefix of the maker's part numbers of this engine. */
  readonly number: string;
  readonly variants: readonly {
    readonly key: string;
    readonly name: string;
    readonly from: string;
    readonly to?: string;
    readonly howToTell: string;
    readonly models: readonly string[];
  }[];
  /** What is told otherwise of this engine than of others of its build. */
  readonly told?: Partial<Record<SlotName, Partial<Slot>>>;
  /** The same for what practitioners say of it. */
  readonly said?: Partial<Record<SlotName, Partial<More>>>;
  /** Where the way in takes other minutes than on engines of its build. */
  readonly minutes?: Partial<Record<Access, number>>;
  /** The later variant left the works with the revised part of this weak point. */
  readonly revisedInLater?: SlotName;
  readonly note?: string;
}
