import type { ComponentClass } from '../life/elicit.ts';
import type { ClockKind } from '../usage/clock.ts';

/** Questions about the use of a vehicle that a driver can answer. */
export const DUTY_KEYS = ['shortTrips', 'load', 'heat', 'hard', 'fuel', 'longOil', 'standing'] as const;
export type DutyKey = (typeof DUTY_KEYS)[number];

/** Answers that count; a question nobody has answered counts as ordinary use. */
export const DUTY_LEVELS = ['no', 'some', 'much'] as const;
export type DutyLevel = (typeof DUTY_LEVELS)[number];

export interface DutyQuestion {
  readonly question: string;
  readonly some: string;
  readonly much: string;
  /** The clock whose running it hastens. */
  readonly clock: Exclude<ClockKind, 'hours'>;
  /** Component classes it wears on; null for all. */
  readonly classes: readonly ComponentClass[] | null;
}

/** The questions, and which clock of which parts each answer hastens (accelerated life). */
export const DUTY_QUESTIONS: Readonly<Record<DutyKey, DutyQuestion>> = {
  shortTrips: {
    question: 'Short trips, never warm?',
    some: 'some',
    much: 'nearly all',
    clock: 'distance',
    classes: null,
  },
  load: {
    question: 'Towing, or heavy loads?',
    some: 'now and then',
    much: 'most days',
    clock: 'distance',
    classes: null,
  },
  heat: {
    question: 'Heat or dust?',
    some: 'in summer',
    much: 'always',
    clock: 'age',
    classes: ['rubber', 'plastic', 'gasket', 'electronics'],
  },
  hard: {
    question: 'Driven hard, or tuned?',
    some: 'now and then',
    much: 'always',
    clock: 'distance',
    classes: ['rubber', 'chain', 'bearing', 'gasket'],
  },
  fuel: {
    question: 'Poor fuel?',
    some: 'now and then',
    much: 'always',
    clock: 'distance',
    classes: ['gasket', 'sensor', 'electronics'],
  },
  longOil: {
    question: 'Long oil intervals?',
    some: 'by the book’s longest',
    much: 'longer than any book',
    clock: 'distance',
    classes: ['chain', 'bearing', 'rubber'],
  },
  standing: {
    question: 'Stands for weeks?',
    some: 'in winter',
    much: 'mostly',
    clock: 'age',
    classes: ['rubber', 'gasket', 'bearing', 'plastic'],
  },
};

export type DutyProfile = Partial<Record<DutyKey, DutyLevel>>;
export type DutyFactors = Readonly<Record<DutyKey, { readonly some: number; readonly much: number }>>;

/** A shop's starting view of how much each answer hastens the clock; the owner edits them. Not measured. */
export const DEFAULT_DUTY_FACTORS: DutyFactors = {
  shortTrips: { some: 1.1, much: 1.35 },
  load: { some: 1.1, much: 1.25 },
  heat: { some: 1.1, much: 1.25 },
  hard: { some: 1.1, much: 1.3 },
  fuel: { some: 1.05, much: 1.15 },
  longOil: { some: 1.1, much: 1.4 },
  standing: { some: 1.1, much: 1.25 },
};

/** No use makes a clock run slower or faster than this. */
const DUTY_RANGE = { least: 0.2, most: 5 } as const;

/**
 * Factors on the clocks of one part. Engine hours already count what is asked of the engine, so only the grade of a
 * part touches them.
 */
export interface ClockDuty {
  readonly distance: number;
  readonly age: number;
}

const held = (factor: number): number => Math.min(DUTY_RANGE.most, Math.max(DUTY_RANGE.least, factor));

/**
 * Factors by which a vehicle's use hastens the clocks of a part of class `componentClass`: the product of the answers
 * that touch it, times `severity` (a mechanic's own factor) on distance; each held in DUTY_RANGE. Source: accelerated
 * failure time, phi multiplies the clock.
 */
export function clockDuty(
  componentClass: ComponentClass,
  profile: DutyProfile,
  factors: DutyFactors,
  severity: number,
): ClockDuty {
  let distance = severity;
  let age = 1;
  for (const key of DUTY_KEYS) {
    const level = profile[key];
    if (level === undefined || level === 'no') continue;
    const { clock, classes } = DUTY_QUESTIONS[key];
    if (classes !== null && !classes.includes(componentClass)) continue;
    if (clock === 'distance') distance *= factors[key][level];
    else age *= factors[key][level];
  }
  return { distance: held(distance), age: held(age) };
}

/** Known use and features of a vehicle, as far as they may hasten a part. */
export interface UseKnown {
  readonly duty: DutyProfile;
  readonly features: Readonly<Record<string, boolean>>;
}

/** Weight of an answer: none, the root of its factor, or the whole factor. */
const PART_OF: Readonly<Record<DutyLevel, number>> = { no: 0, some: 0.5, much: 1 };

/**
 * Factors of use with what hastens this part in particular: a feature that is there counts in full, a use by how much
 * of it there is ("some" the root of the factor). Each held in DUTY_RANGE.
 */
export function hastened(
  base: ClockDuty,
  hastens: readonly {
    readonly use?: DutyKey;
    readonly feature?: string;
    readonly clock?: ClockKind;
    readonly factor: number;
  }[],
  { duty, features }: UseKnown,
): ClockDuty {
  let { distance, age } = base;
  for (const { use, feature, clock, factor } of hastens) {
    const part = use !== undefined ? PART_OF[duty[use] ?? 'no'] : features[feature!] === true ? 1 : 0;
    if (part === 0) continue;
    const times = factor ** part;
    if (clock !== 'age') distance *= times;
    if (clock !== 'distance') age *= times;
  }
  return { distance: held(distance), age: held(age) };
}

/** What somebody tells of how use or features hasten one part. */
export type Hastens = Parameters<typeof hastened>[1];

/**
 * Factors of one vehicle's use on the clocks of one part. A use that somebody tells of this very part counts as told
 * there; the shop's general factor for that use would count it a second time, and is left out.
 */
export function partDuty(
  { componentClass, hastens }: { readonly componentClass: ComponentClass; readonly hastens: Hastens },
  known: UseKnown,
  { factors, severity }: { readonly factors: DutyFactors; readonly severity: number },
): ClockDuty {
  const told = new Set(hastens.map(({ use }) => use));
  const others = Object.fromEntries(Object.entries(known.duty).filter(([key]) => !told.has(key as DutyKey)));
  return hastened(clockDuty(componentClass, others, factors, severity), hastens, known);
}

const SPEED_BY_TRIPS: Readonly<Record<DutyLevel, number>> = { no: 40, some: 32, much: 24 };

/**
 * Average speed while the engine runs, km/h, from how the vehicle is used: what turns its distance into engine hours.
 */
export function averageSpeedKmh(profile: DutyProfile): number {
  return SPEED_BY_TRIPS[profile.shortTrips ?? 'no'];
}
