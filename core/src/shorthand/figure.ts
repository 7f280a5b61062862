/** Readings above this are typing errors on a road vehicle, whatever the unit. */
export const MOST_DISTANCE = 3_000_000;
/** First model year anyone brings in. */
export const FIRST_YEAR = 1950;

/**
 * A figure as people type it: `148k`, `148.5k`, `148 000`, `148,000`, `148.000`, `1'480`. Returns null when the text is
 * no figure. A dot or comma followed by exactly three digits groups thousands; otherwise it is the decimal mark.
 */
export function parseFigure(text: string): number | null {
  const match = /^([+-]?)(\d[\d\s.,'\u00a0\u202f]*)(k?)$/i.exec(text.trim());
  if (!match) return null;
  const [, sign, body, thousand] = match;
  const compact = body!.replace(/[\s'\u00a0\u202f]/g, '');
  const grouped = /^\d{1,3}([.,]\d{3})+$/.test(compact) && thousand === '';
  const plain = grouped ? compact.replace(/[.,]/g, '') : compact.replace(',', '.');
  if (!/^\d+(\.\d+)?$/.test(plain)) return null;
  return Number(plain) * (thousand === '' ? 1 : 1000) * (sign === '-' ? -1 : 1);
}
