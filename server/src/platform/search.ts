/** What a row is found by: its words in lower case, those it has. */
export const foundBy = (words: readonly (string | null | undefined)[]): string =>
  words.filter(Boolean).join(' ').toLowerCase();

/** A word as a pattern of `like` that finds it anywhere, with the pattern's own signs taken as they are typed. */
export const likePattern = (word: string): string => `%${word.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`;

/** So many words of a search are looked for; what is typed beyond them is not. */
const MOST_WORDS = 8;

/** The words of a search, each as a pattern. */
export const searchPatterns = (typed: string): string[] =>
  typed.trim().split(/\s+/).filter(Boolean).slice(0, MOST_WORDS).map(likePattern);

/**
 * SQL: the column holds every pattern. One condition a pattern, which a trigram index can serve; `like all` it cannot.
 * `bound` names a value's place.
 */
export const holdsAll = (column: string, patterns: readonly string[], bound: (value: unknown) => string): string =>
  patterns.length === 0 ? 'true' : patterns.map((pattern) => `${column} like ${bound(pattern)}`).join(' and ');
