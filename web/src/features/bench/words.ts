import type { BenchRow } from '@crosspeen/contract';
import { DAYS_PER_YEAR, fromKm, typicalLife, type DistanceUnit } from '@crosspeen/core';
import { oneDigitText, wholeText } from '../../ui/formats.ts';

type Cause = BenchRow['causes'][number];
type Told = Pick<BenchRow, 'causes' | 'componentClass' | 'nature' | 'share'>;

/** One figure on a window's clock, `ratio` times the typical life that was told. */
function figure(span: Cause[number], told: Told, ratio: number, unit: DistanceUnit): string {
  const value = typicalLife(span, told) * ratio;
  switch (span.clock) {
    case 'distance':
      return `${wholeText(Math.round(fromKm(value, unit) / 1000) * 1000)}\u00a0${unit}`;
    case 'age':
      return `${oneDigitText(value / DAYS_PER_YEAR)}\u00a0years`;
    case 'hours':
      return `${wholeText(value)}\u00a0engine hours`;
  }
}

/** A typical life in the weak point's own clocks: "127,000 km or 9.9 years" at `ratio` times what is published. */
export const lifeText = (told: Told, ratio: number, unit: DistanceUnit): string =>
  told.causes.map((cause) => cause.map((span) => figure(span, told, ratio, unit)).join(' or ')).join('; ');

/** The same for the first clock alone, where a row has room for one figure. */
export const shortLifeText = (told: Told, ratio: number, unit: DistanceUnit): string =>
  figure(told.causes[0]![0]!, told, ratio, unit);

/** The same in a word or two, for a list. */
export function enoughShort(row: Parameters<typeof enoughWords>[0]): string {
  return row.enough === 'yes' ? enoughWords(row) : 'Not enough yet';
}

/** Whether the workshop's own vehicles say something, in words. */
export function enoughWords({
  enough,
  failures,
  parts,
  ownLife,
  publishedLife,
}: Pick<BenchRow, 'enough' | 'failures' | 'parts' | 'ownLife' | 'publishedLife'>): string {
  if (enough === 'few_failures')
    return `Not enough yet: ${failures === 0 ? 'none has failed' : failures === 1 ? 'one has failed' : `${failures} have failed`} among ${parts}. The published value is used.`;
  if (enough === 'hardly_narrower') return 'Not enough yet: our own vehicles hardly narrow what is published.';
  if (ownLife.low > publishedLife.middle) return 'Lasts longer on our vehicles than what is published.';
  if (ownLife.high < publishedLife.middle) return 'Fails earlier on ours than published.';
  return 'Our vehicles agree with what is published.';
}
