/** JSON with the keys of every object in order: the database gives them back in an order of its own. */
const ordered = (value: unknown): string =>
  JSON.stringify(value ?? null, (_key, entry: unknown) =>
    typeof entry === 'object' && entry !== null && !Array.isArray(entry)
      ? Object.fromEntries(Object.entries(entry).sort(([a], [b]) => (a < b ? -1 : 1)))
      : entry,
  );

/**
 * Tells whether two JSON values are equal, whatever the order of their keys; a missing value equals
 * null.
 */
export const sameJson = (a: unknown, b: unknown): boolean => ordered(a) === ordered(b);
