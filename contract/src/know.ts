export interface KnownPair {
  readonly about: string;
  readonly answer: string;
}

/**
 * Answered questions as they stand in an address: `market=hot and dusty;feature:ac=yes`. What has no form of an answer
 * is left out.
 */
export function knownPairs(text: string): KnownPair[] {
  return text.split(';').flatMap((pair) => {
    const at = pair.indexOf('=');
    return at <= 0
      ? []
      : [
          {
            about: pair.slice(0, at).trim(),
            answer: pair
              .slice(at + 1)
              .trim()
              .slice(0, 120),
          },
        ];
  });
}

/** The same text with one more answer; a question answered again keeps the later one. */
export const knownText = (text: string, { about, answer }: KnownPair): string =>
  [...knownPairs(text).filter((pair) => pair.about !== about), { about, answer }]
    .map((pair) => `${pair.about}=${pair.answer}`)
    .join(';');
