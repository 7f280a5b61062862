import { compactKey } from './lookupLine.ts';

/** Possible meanings of the words of a line, once its engine is known. */
export interface Vocabulary {
  /** The engine's code, as it is compared. */
  readonly codeKey: string;
  /** Maker and name of the engine, in words. */
  readonly names: readonly string[];
  readonly models: readonly string[];
  readonly features: readonly { readonly key: string; readonly name: string }[];
  readonly symptoms: readonly { readonly key: string; readonly words: string; readonly codes: readonly string[] }[];
}

export const WORD_KINDS = ['engine', 'model', 'feature', 'symptom', 'unused'] as const;
export type WordKind = (typeof WORD_KINDS)[number];

/** A word of the line, or several that belong together, with what it is taken for. */
export interface LineWord {
  readonly text: string;
  readonly kind: WordKind;
  /** Model by name, features and symptoms by key; empty for the engine's own words and what is not used. */
  readonly means: readonly string[];
}

/** Shorter words say nothing of how something shows. */
const TELLING = 4;
/** Words of a model or a feature at most. */
const LONGEST = 4;

const bareWords = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/**
 * Tells whether a typed word is one of `words`, whatever its ending: rattles, rattling and rattle
 * are the same.
 */
const says = (typed: string, words: readonly string[]): boolean => {
  const stem = typed.replace(/(ing|es|ed|s|e)$/, '');
  return stem.length >= TELLING - 1 && words.some((word) => word.length >= TELLING && word.startsWith(stem));
};

/**
 * Tells whether a typed word matches `words`: each part of a hyphenated word must be there, and one
 * of them must carry a meaning.
 */
const tells = (typed: string, words: readonly string[]): boolean => {
  const parts = bareWords(typed);
  return parts.some((part) => says(part, words)) && parts.every((part) => says(part, words) || words.includes(part));
};

/**
 * Reads the words of a line for the engine that they name, the longest first: the engine's code and
 * names, a model, a feature, a symptom (a code of the public OBD-II standard, or a telling word;
 * several may match). Any other word is reported as unused.
 */
export function readWords(words: readonly string[], vocabulary: Vocabulary): LineWord[] {
  const names = compactKey(vocabulary.names.join(''));
  const meant = (typed: readonly string[]): Omit<LineWord, 'text'> | null => {
    const joined = compactKey(typed.join(''));
    if (joined === vocabulary.codeKey) return { kind: 'engine', means: [] };
    const models = vocabulary.models.filter((model) => compactKey(model) === joined);
    if (models.length > 0) return { kind: 'model', means: [models[0]!] };
    const features = vocabulary.features.filter(({ key, name }) =>
      [name, key].some((one) => compactKey(one) === joined),
    );
    if (features.length > 0) return { kind: 'feature', means: features.map(({ key }) => key) };
    if (typed.length > 1) return null;
    if (names.includes(joined)) return { kind: 'engine', means: [] };
    const symptoms = vocabulary.symptoms.filter(
      ({ words: told, codes }) =>
        codes.some((code) => code.toLowerCase() === joined) || tells(typed[0]!, bareWords(told)),
    );
    return symptoms.length > 0 ? { kind: 'symptom', means: symptoms.map(({ key }) => key) } : null;
  };
  const read: LineWord[] = [];
  for (let at = 0; at < words.length;) {
    let taken: LineWord | null = null;
    let length = Math.min(LONGEST, words.length - at);
    for (; length > 0 && taken === null; length -= 1) {
      const typed = words.slice(at, at + length);
      const found = meant(typed);
      if (found !== null) taken = { text: typed.join(' '), ...found };
    }
    read.push(taken ?? { text: words[at]!, kind: 'unused', means: [] });
    at += length + 1;
  }
  return narrowed(read);
}

/** Two words that both tell how something shows mean what both of them tell, where there is such a thing. */
function narrowed(read: readonly LineWord[]): LineWord[] {
  const symptoms = read.filter(({ kind }) => kind === 'symptom');
  const both = symptoms.reduce<readonly string[] | null>(
    (so, { means }) => (so === null ? means : so.filter((key) => means.includes(key))),
    null,
  );
  return both === null || both.length === 0
    ? [...read]
    : read.map((word) => (word.kind === 'symptom' ? { ...word, means: both } : word));
}
