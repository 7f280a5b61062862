import type { Pack } from '@crosspeen/contract';
import {
  averageSpeedKmh,
  DAYS_PER_YEAR,
  customOf,
  DEFAULT_LIMITS,
  limitFor,
  SAFETY_LIMIT,
  parseSpans,
  scaleForShare,
  SHARE_BY_WORD,
  susceptibleShare,
  toldLife,
  type CustomarySpan,
  type Span,
} from '@crosspeen/core';
import type { Even } from './even.ts';

type Family = Pack['families'][number];
type Part = Pack['components'][number]['parts'][number];

/** A weak point as a life to draw from: the told windows as Weibull lives, each clock as days at a rate. */
export interface DrawnPoint {
  readonly key: string;
  /** The share of these engines that can fail of it at all. */
  readonly share: number;
  readonly variants: readonly string[] | null;
  readonly lives: readonly { readonly clock: Span['clock']; readonly shape: number; readonly scale: number }[];
  /** How far it customarily runs; empty where nobody renews it by interval. */
  readonly custom: readonly CustomarySpan[];
  /** Chance within a year from which on a workshop renews it. */
  readonly limit: number;
  readonly look: { readonly detects: number; readonly warnsDays: (kmPerDay: number) => number } | null;
  /** What goes in here: the newest original part. */
  readonly part: Part | undefined;
  readonly endedBy: string | undefined;
}

const spans = (text: string): readonly Span[] => {
  const parsed = parseSpans(text);
  if (!parsed.ok) throw new Error(parsed.problem);
  return parsed.value;
};

const HOURS_KM = averageSpeedKmh({});
/** Units of a clock that pass in a day at `kmPerDay`. */
export const rate = (clock: Span['clock'], kmPerDay: number): number =>
  clock === 'age' ? 1 : clock === 'hours' ? kmPerDay / HOURS_KM : kmPerDay;

/** The weak points of a family as the fleet lives them. */
export function drawTold(pack: Pack, family: Family): DrawnPoint[] {
  const components = new Map(pack.components.map((component) => [component.key, component]));
  return family.weakPoints.map((point): DrawnPoint => {
    const component = components.get(point.component)!;
    const told = { nature: point.nature, share: SHARE_BY_WORD[point.share], componentClass: component.class };
    return {
      key: point.key,
      share: susceptibleShare(told),
      variants: point.appliesTo.variants ?? null,
      endedBy: point.retiredByRevision,
      lives: point.causes.flatMap((cause) => {
        const windows = spans(cause);
        return windows.map((span) => {
          const life = toldLife(span, told);
          return {
            clock: span.clock,
            shape: life.shape,
            scale: scaleForShare(life.scale, life.shape, 1 / windows.length),
          };
        });
      }),
      custom: customOf(
        point.statements.map(({ asks, doubted, interval }) => ({
          asks,
          doubted: doubted === true,
          interval: interval ? spans(interval) : [],
          region: null,
        })),
        null,
      ),
      limit: limitFor(point.consequence, point.safety, DEFAULT_LIMITS, SAFETY_LIMIT),
      look: point.look
        ? {
            detects: point.look.detects,
            warnsDays: (kmPerDay) =>
              Math.min(...spans(point.look!.warns).map(({ clock, from }) => from / rate(clock, kmPerDay))),
          }
        : null,
      part: component.parts.find(({ grade }) => grade === 'original'),
    };
  });
}

/** A recurring task as the workshop keeps it up: how many days pass from one time to the next at a pace. */
export interface DrawnTask {
  readonly key: string;
  readonly everyDays: (kmPerDay: number) => number;
}

/** What the workshop itself does again and again; what owners do between visits is on nobody's record. */
export const drawTasks = (family: Family): DrawnTask[] =>
  family.upkeep.flatMap(({ key, ownerCan, statements }) => {
    const told = statements.flatMap(({ interval }) => (interval ? [spans(interval)] : []));
    return ownerCan || told.length === 0
      ? []
      : [
          {
            key,
            everyDays: (kmPerDay) =>
              Math.min(...told.map((list) => Math.min(...list.map(({ clock, from }) => from / rate(clock, kmPerDay))))),
          },
        ];
  });

/** Hazard that a part has lived through after so many days at `kmPerDay`. */
const livedThrough = ({ lives }: Pick<DrawnPoint, 'lives'>, days: number, kmPerDay: number): number =>
  lives.reduce((sum, { clock, shape, scale }) => sum + ((days * rate(clock, kmPerDay)) / scale) ** shape, 0);

/** Chance that a part of so many days fails within a year, told of a vehicle that may have it in it. */
export const yearChance = (drawn: Pick<DrawnPoint, 'lives' | 'share'>, days: number, kmPerDay: number): number =>
  drawn.share * -Math.expm1(livedThrough(drawn, days, kmPerDay) - livedThrough(drawn, days + DAYS_PER_YEAR, kmPerDay));

/**
 * Day on which a part installed on `install` fails at `kmPerDay`: where its cumulative hazard reaches an exponential
 * number; Infinity beyond a century.
 */
export function drawLife(drawn: Pick<DrawnPoint, 'lives'>, install: number, kmPerDay: number, even: Even): number {
  const wanted = -Math.log(even());
  const hazard = (days: number): number => livedThrough(drawn, days, kmPerDay);
  let [low, high] = [0, 36_525];
  if (hazard(high) < wanted) return Infinity;
  while (high - low > 0.5) {
    const middle = (low + high) / 2;
    if (hazard(middle) < wanted) low = middle;
    else high = middle;
  }
  return install + high;
}
