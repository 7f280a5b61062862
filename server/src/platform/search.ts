/** A word as a pattern of `like` that finds it anywhere, with the pattern's own signs taken as they are typed. */
export const likePattern = (word: string): string => `%${word.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`;
