/** Cyrillic and Greek letters, lower case, that look like Latin ones; from Unicode's confusables (UTS 39). */
const LATIN_FOR: Readonly<Record<string, string>> = {
  а: 'a',
  в: 'b',
  с: 'c',
  ԁ: 'd',
  е: 'e',
  ё: 'e',
  ѐ: 'e',
  һ: 'h',
  н: 'h',
  і: 'i',
  ї: 'i',
  ј: 'j',
  к: 'k',
  ӏ: 'l',
  м: 'm',
  о: 'o',
  р: 'p',
  ԛ: 'q',
  г: 'r',
  ѕ: 's',
  т: 't',
  у: 'y',
  ѵ: 'v',
  ԝ: 'w',
  х: 'x',
  α: 'a',
  β: 'b',
  ε: 'e',
  η: 'n',
  ι: 'i',
  κ: 'k',
  ν: 'v',
  ο: 'o',
  ρ: 'p',
  τ: 't',
  υ: 'u',
  χ: 'x',
  γ: 'y',
  ω: 'w',
};

const ALPHABETS = [/\p{Script=Latin}/u, /\p{Script=Cyrillic}/u, /\p{Script=Greek}/u] as const;

/** Tells whether a name has letters of more than one of the Latin, Cyrillic and Greek alphabets. */
export const mixesAlphabets = (name: string): boolean => ALPHABETS.filter((alphabet) => alphabet.test(name)).length > 1;

/** A name as the eye reads it: two names with one skeleton look alike. Accents are left out. */
export const skeletonOf = (name: string): string =>
  [...name.toLowerCase()]
    .map((letter) => LATIN_FOR[letter] ?? letter)
    .join('')
    .normalize('NFD')
    .replace(/\p{M}/gu, '');
