import { isoFromDay, yearOfDay } from '../units/day.ts';
import { toKm, type DistanceUnit } from '../units/distance.ts';
import { parseDay } from './date.ts';
import { FIRST_YEAR, MOST_DISTANCE, parseFigure } from './figure.ts';

/** Longest line that is read; anything longer was pasted by mistake. */
const LONGEST_LINE = 200;
const MOST_SEVERITY = 5;

export type ChipKind = 'words' | 'reading' | 'registered' | 'displacement' | 'severity';

/** One thing understood in the line, with where it stands, so that it can be corrected in place. */
export interface Chip {
  readonly kind: ChipKind;
  readonly text: string;
  /** Offsets into the line: start inclusive, end exclusive. */
  readonly start: number;
  readonly end: number;
}

export interface LineProblem {
  readonly code:
    | 'empty'
    | 'too_long'
    | 'two_readings'
    | 'two_dates'
    | 'absurd_reading'
    | 'negative_reading'
    | 'future'
    | 'too_old'
    | 'severity'
    | 'no_engine'
    | 'no_such_date';
  /** The problem and its mend, in plain words. */
  readonly message: string;
}

export interface UnderstoodLine {
  readonly chips: readonly Chip[];
  readonly problems: readonly LineProblem[];
  /** The remaining words: engine code, make, model, plate or name, in the order typed. */
  readonly words: readonly string[];
  /** The same with everything but letters and digits taken out, in lower case. */
  readonly compact: string;
  readonly reading: {
    readonly value: number;
    readonly unit: DistanceUnit;
    readonly km: number;
    readonly unitTyped: boolean;
  } | null;
  /** Day of first registration; for a bare year its middle. */
  readonly registered: { readonly day: number; readonly exact: boolean } | null;
  readonly displacementL: number | null;
  /** Multiplies the distance clock; 1 is ordinary use. */
  readonly severity: number;
}

/** Lower case, letters and digits only, accents kept apart from their letters: how codes and plates are compared. */
export const compactKey = (text: string): string =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');

interface Token {
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

const tokensOf = (line: string): Token[] =>
  [...line.matchAll(/[^\s]+/g)].map((match) => ({
    text: match[0],
    start: match.index,
    end: match.index + match[0].length,
  }));

const UNIT_WORDS: Readonly<Record<string, DistanceUnit>> = {
  km: 'km',
  kms: 'km',
  kilometres: 'km',
  kilometers: 'km',
  mi: 'mi',
  mls: 'mi',
  mile: 'mi',
  miles: 'mi',
  h: 'h',
  hrs: 'h',
  hours: 'h',
};
const unitOf = (text: string | undefined): DistanceUnit | undefined => {
  const key = text?.toLowerCase().replace(/[,;]$/, '');
  return key !== undefined && Object.hasOwn(UNIT_WORDS, key) ? UNIT_WORDS[key] : undefined;
};

const lone = (text: string): string => text.replace(/[,;]+$/, '');

/**
 * Reads a figure with its unit at a token; a unit may be glued on or stand as the next word, thousands may stand apart
 * (148 000).
 */
function readingAt(
  tokens: readonly Token[],
  at: number,
): { value: number; unit: DistanceUnit | undefined; used: number } | null {
  const text = lone(tokens[at]!.text);
  const glued = /^([+-]?\d[\d.,']*k?)(km|kms|mi|miles)$/i.exec(text);
  if (glued) {
    const value = parseFigure(glued[1]!);
    return value === null ? null : { value, unit: unitOf(glued[2]), used: 1 };
  }
  const apart = tokens[at + 1]?.text;
  if (
    /^[+-]?\d{1,3}$/.test(text) &&
    apart !== undefined &&
    /^\d{3}$/.test(lone(apart)) &&
    !/^\d{3}$/.test(lone(tokens[at + 2]?.text ?? ''))
  ) {
    const unit = unitOf(tokens[at + 2]?.text);
    return { value: Number(text + lone(apart)), unit, used: unit === undefined ? 2 : 3 };
  }
  const value = parseFigure(text);
  if (value === null) return null;
  const unit = unitOf(apart);
  return { value, unit, used: unit === undefined ? 1 : 2 };
}

const looksLikeDate = (text: string): boolean =>
  /^(\d{4}-\d{1,2}(-\d{1,2})?|\d{1,2}[./]\d{1,2}[./](\d{4}|\d{2})|\d{1,2}[./](19|20)\d{2})$/.test(text);
const looksLikeYear = (text: string): boolean => /^(19|20)\d{2}$/.test(text);

/**
 * Understands the lookup line: an engine code, make, model, plate or name with a reading, a year or date of first
 * registration, a displacement and a severity (`x1.3`), in any order. Never throws; what is wrong is listed with its
 * mend, and everything understood is still returned. `today` is a day number; `defaultUnit` counts for a reading typed
 * without km or mi. Rules for bare numbers: 1950 to 2099 is a year, four digits and more a reading, fewer belong to the
 * words (plates, codes).
 */
export function understandLine(line: string, today: number, defaultUnit: DistanceUnit): UnderstoodLine {
  const chips: Chip[] = [];
  const problems: LineProblem[] = [];
  const words: string[] = [];
  let reading: UnderstoodLine['reading'] = null;
  let registered: UnderstoodLine['registered'] = null;
  let displacementL: number | null = null;
  let severity = 1;
  const problem = (code: LineProblem['code'], message: string): void => {
    problems.push({ code, message });
  };
  const tooLong = line.length > LONGEST_LINE;
  if (tooLong)
    problem(
      'too_long',
      `The line has ${line.length} characters; keep it under ${LONGEST_LINE}: an engine code, a reading and a year are enough.`,
    );

  const takeReading = (value: number, unit: DistanceUnit | undefined, chip: Omit<Chip, 'kind'>): void => {
    chips.push({ kind: 'reading', ...chip });
    const km = toKm(value, unit ?? defaultUnit);
    if (reading !== null) {
      problem(
        'two_readings',
        `The line has two readings: ${reading.value.toLocaleString('en')} ${reading.unit} and ${value.toLocaleString('en')} ${unit ?? defaultUnit}. Leave the one the dash shows today.`,
      );
    } else if (value < 0) {
      problem('negative_reading', `A reading of ${value.toLocaleString('en')} cannot be: take the minus sign away.`);
    } else if (km > MOST_DISTANCE) {
      problem(
        'absurd_reading',
        `A reading of ${value.toLocaleString('en')} ${unit ?? defaultUnit} is more than any vehicle runs. Check the number of digits.`,
      );
    } else {
      reading = { value, unit: unit ?? defaultUnit, km, unitTyped: unit !== undefined };
    }
  };
  const takeDate = (text: string, chip: Omit<Chip, 'kind'>): void => {
    chips.push({ kind: 'registered', ...chip });
    const exact = !looksLikeYear(text);
    const parsed = parseDay(text, today);
    if (parsed === null)
      return problem(
        'no_such_date',
        `There is no date ${text}. Write the first registration as 2016, 05/2016 or 14.05.2016.`,
      );
    const year = yearOfDay(parsed);
    // A bare year stands for its middle, but a car of this year was not registered tomorrow.
    const day = !exact && year === yearOfDay(today) ? Math.min(parsed, today) : parsed;
    if (registered !== null)
      return problem('two_dates', `Two years stand in the line. Leave the year of first registration only.`);
    if (day > today)
      return problem(
        'future',
        `${exact ? isoFromDay(day) : year} has not come yet. Write the year of first registration.`,
      );
    if (year < FIRST_YEAR)
      return problem('too_old', `${year} is before ${FIRST_YEAR}. Check the year of first registration.`);
    registered = { day, exact };
    return undefined;
  };

  const tokens = tooLong ? [] : tokensOf(line);
  for (let i = 0; i < tokens.length; i += 1) {
    const token = tokens[i]!;
    const text = lone(token.text);
    const span = (used: number): Omit<Chip, 'kind'> => {
      const end = tokens[i + used - 1]!.end;
      return { text: line.slice(token.start, end), start: token.start, end };
    };
    const severe = /^[x×](\d+([.,]\d+)?)$/i.exec(text);
    const litres = /^(\d{1,2}[.,]\d)(l|ltr)?$/i.exec(text) ?? /^(\d{1,2})(l|ltr)$/i.exec(text);
    const figure = readingAt(tokens, i);
    if (severe) {
      const factor = Number(severe[1]!.replace(',', '.'));
      chips.push({ kind: 'severity', ...span(1) });
      if (factor >= 0.2 && factor <= MOST_SEVERITY) severity = factor;
      else
        problem(
          'severity',
          `A severity of ${text} is outside x0.2 to x${MOST_SEVERITY}. x1 is ordinary use, x1.3 hard use.`,
        );
    } else if (looksLikeDate(text) || (looksLikeYear(text) && figure?.unit === undefined)) {
      takeDate(text, span(1));
    } else if (litres && Number(litres[1]!.replace(',', '.')) > 0.1 && unitOf(tokens[i + 1]?.text) === undefined) {
      chips.push({ kind: 'displacement', ...span(1) });
      displacementL = Number(litres[1]!.replace(',', '.'));
    } else if (
      figure &&
      (figure.unit !== undefined || /k$/i.test(text) || Math.abs(figure.value) >= 1000 || figure.value < 0)
    ) {
      takeReading(figure.value, figure.unit, span(figure.used));
      i += figure.used - 1;
    } else {
      chips.push({ kind: 'words', ...span(1) });
      if (compactKey(text) !== '') words.push(text);
    }
  }
  const compact = compactKey(words.join(''));
  if (!tooLong && line.trim() === '')
    problem('empty', 'Type an engine code and a reading, for example QV20T 148k 2016, or a plate.');
  else if (!tooLong && compact === '' && displacementL === null)
    problem('no_engine', 'There is no engine code, make, plate or name in the line. Add one, for example QV20T.');
  return { chips, problems, words, compact, reading, registered, displacementL, severity };
}
