import { DAYS_PER_YEAR } from '../units/day.ts';
import { toKm } from '../units/distance.ts';
import type { ClockKind } from '../usage/clock.ts';
import { parseFigure } from './figure.ts';

/** A span on one clock, canonical units (km, days, engine hours). `from` equals `to` for a single value. */
export interface Span {
  readonly clock: ClockKind;
  readonly from: number;
  readonly to: number;
  /**
   * The unit it was told in, where that is not the clock's usual one (km, years, hours): it is said again as it was
   * told.
   */
  readonly unit?: 'mi' | 'm' | 'd';
  /** True if the window has only a beginning; `to` then equals `from`. */
  readonly open?: true;
}

export type ShorthandResult<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problem: string };

/** Longer than any part lasts, by clock, canonical units: a slip of the keys. */
const LONGEST: Readonly<Record<ClockKind, number>> = { distance: 5_000_000, age: 100 * DAYS_PER_YEAR, hours: 200_000 };

interface SpanUnit {
  readonly clock: ClockKind;
  readonly factor: number;
  readonly told?: NonNullable<Span['unit']>;
}
const UNITS = {
  km: { clock: 'distance', factor: 1 },
  mi: { clock: 'distance', factor: toKm(1, 'mi'), told: 'mi' },
  y: { clock: 'age', factor: DAYS_PER_YEAR },
  m: { clock: 'age', factor: DAYS_PER_YEAR / 12, told: 'm' },
  d: { clock: 'age', factor: 1, told: 'd' },
  h: { clock: 'hours', factor: 1 },
} as const satisfies Record<string, SpanUnit>;

function parseSpan(text: string): ShorthandResult<Span> {
  const match = /^(.+?)\s*(km|mi|y|m|d|h)$/i.exec(text.trim());
  if (!match)
    return {
      ok: false,
      problem: `“${text.trim()}” needs a unit: km, mi, y (years), m (months), d (days) or h (engine hours)`,
    };
  const unit: SpanUnit = UNITS[match[2]!.toLowerCase() as keyof typeof UNITS];
  const open = /\+$/.test(match[1]!);
  const parts = match[1]!.replace(/\s*\+$/, '').split(/\s*[-–]\s*/);
  const ends = parts.map(parseFigure);
  if (parts.length > (open ? 1 : 2) || ends.some((end) => end === null)) {
    return { ok: false, problem: `“${text.trim()}” is no span; write 90-130k km, 8y, or 20k+ km for “from there on”` };
  }
  const last = ends[ends.length - 1]!;
  let first = ends[0]!;
  // In 90-130k the k belongs to both ends.
  if (parts.length === 2 && /k$/i.test(parts[1]!) && !/k$/i.test(parts[0]!) && first < last / 100) first *= 1000;
  if (!(first > 0) || first > last)
    return { ok: false, problem: `“${text.trim()}” must start above zero and end later than it starts` };
  if (last * unit.factor > LONGEST[unit.clock])
    return {
      ok: false,
      problem: `“${text.trim()}” is longer than anything lasts; check the number of digits and the unit`,
    };
  return {
    ok: true,
    value: {
      clock: unit.clock,
      from: first * unit.factor,
      to: last * unit.factor,
      ...(unit.told ? { unit: unit.told } : {}),
      ...(open ? { open: true } : {}),
    },
  };
}

/**
 * Parses windows and intervals in shorthand: `90-130k km | 8-10y`, `120k km | 6y`, `2000 h`, and a
 * window with only a beginning, `20k+ km`. Parts are joined by `|`, whichever first. Returns spans
 * in canonical units (km, days, hours), at most one for each clock, or the problem and its mend in
 * words.
 */
export function parseSpans(text: string): ShorthandResult<readonly Span[]> {
  const spans: Span[] = [];
  for (const part of text.split('|')) {
    const parsed = parseSpan(part);
    if (!parsed.ok) return parsed;
    if (spans.some((span) => span.clock === parsed.value.clock))
      return { ok: false, problem: `“${text.trim()}” names the same clock twice` };
    spans.push(parsed.value);
  }
  return { ok: true, value: spans };
}

/** A figure with six decimals at most; exactly three would be read as thousands, so a fourth is said. */
const figure = (value: number): string =>
  String(Math.round(value * 1e6) / 1e6).replace(/^(\d{1,3}\.\d{3})$/, (three) => `${three}0`);
/**
 * Tells whether a value is a whole number of quarters of a unit, within the error of floating
 * point.
 */
const quarters = (value: number, unit: number): boolean =>
  Math.abs((value / unit) * 4 - Math.round((value / unit) * 4)) < 1e-9 * Math.max(1, value / unit);

/**
 * The unit in which a span is said: as it was told; else thousands of km and years where they come out even, else km
 * and days.
 */
function said({ clock, from, to, unit }: Span): { readonly unit: string; readonly factor: number } {
  const thousands = (one: number, name: string): { unit: string; factor: number } =>
    [from, to].every((end) => end >= 1000 * one && quarters(end, 1000 * one))
      ? { unit: `k ${name}`, factor: 1000 * one }
      : { unit: ` ${name}`, factor: one };
  if (unit === 'mi') return thousands(UNITS.mi.factor, 'mi');
  if (unit !== undefined) return { unit, factor: UNITS[unit].factor };
  switch (clock) {
    case 'distance':
      return thousands(1, 'km');
    case 'age':
      return [from, to].every((end) => quarters(end, DAYS_PER_YEAR))
        ? { unit: 'y', factor: DAYS_PER_YEAR }
        : { unit: 'd', factor: 1 };
    case 'hours':
      return { unit: 'h', factor: 1 };
  }
}

/**
 * Spans as shorthand, the inverse of parseSpans to a millionth of the unit said: `90-130k km | 8-10y`. Example: 90,000
 * to 130,000 km gives `90-130k km`.
 */
export function formatSpans(spans: readonly Span[]): string {
  return spans
    .map((span) => {
      const { unit, factor } = said(span);
      if (span.open) return `${figure(span.from / factor)}${unit.startsWith('k') ? `k+${unit.slice(1)}` : `+${unit}`}`;
      return span.from === span.to
        ? `${figure(span.from / factor)}${unit}`
        : `${figure(span.from / factor)}-${figure(span.to / factor)}${unit}`;
    })
    .join(' | ');
}
