/**
 * A vehicle is made before it is first registered, by half a year at most: the one rule by which production dates are
 * held against a registration. Days.
 */
export const MADE_BEFORE_REGISTERED = 183;

/**
 * Days that production may lie before and after the day of registration as understood: a bare year stands for its
 * middle.
 */
const SLACK = {
  exact: { before: MADE_BEFORE_REGISTERED, after: 0 },
  year: { before: 2 * MADE_BEFORE_REGISTERED, after: MADE_BEFORE_REGISTERED },
} as const;

/** First registration: a day number, and whether it is the exact day or the middle of a year. */
export interface Registered {
  readonly registeredDay: number | null;
  readonly registeredExact: boolean;
}

/**
 * The span in which a vehicle was made, as its middle (day number) and half its length in days; the middle is null when
 * nobody knows when it was registered.
 */
export function productionSpan({ registeredDay, registeredExact }: Registered): {
  readonly day: number | null;
  readonly slackDays: number;
} {
  const { before, after } = registeredExact ? SLACK.exact : SLACK.year;
  return { day: registeredDay === null ? null : registeredDay + (after - before) / 2, slackDays: (after + before) / 2 };
}

/**
 * Tells whether a vehicle registered on `registeredDay` may have been made from `fromDay` to
 * `toDay` (day numbers; null is open or unknown). An unknown day excludes nothing.
 */
export const mayBeMade = (registeredDay: number | null, fromDay: number | null, toDay: number | null): boolean =>
  registeredDay === null ||
  ((fromDay === null || registeredDay >= fromDay) &&
    (toDay === null || registeredDay - MADE_BEFORE_REGISTERED <= toDay));
