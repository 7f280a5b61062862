import { knownPairs } from '@crosspeen/contract';
import { OLDER } from '@crosspeen/core';
import type { Subject } from './answer.ts';

/** Parts of a subject that an answered question settles. */
export type Known = Pick<Subject, 'variantKey' | 'model' | 'market' | 'features' | 'fitted' | 'services'>;

/** A subject's known parts with one question answered; null when the question is none that can be answered in words. */
export function withAnswer(known: Known, about: string, answer: string): Known | null {
  const [kind, key = ''] = about.split(/:(.*)/s) as [string, string?];
  switch (kind) {
    case 'variant':
      return { ...known, variantKey: answer };
    case 'model':
      return { ...known, model: answer };
    case 'market':
      return { ...known, market: answer };
    case 'feature':
      return key === '' || (answer !== 'yes' && answer !== 'no')
        ? null
        : { ...known, features: { ...known.features, [key]: answer === 'yes' } };
    case 'fitted':
      return key === '' ? null : { ...known, fitted: { ...known.fitted, [key]: answer === OLDER ? '' : answer } };
    case 'history':
      return key === '' || answer !== 'never'
        ? null
        : {
            ...known,
            services: [
              ...known.services,
              {
                componentKey: key,
                certainty: 'not_done',
                day: null,
                grade: 'original',
                revision: null,
                source: null,
                cameOut: null,
              },
            ],
          };
    default:
      return null;
  }
}

/**
 * What else is known, as it stands in an address: `market=hot and dusty;feature:ac=yes`. What cannot be understood is
 * left out.
 */
export function knownFrom(known: Known, text: string): Known {
  return knownPairs(text).reduce((so, { about, answer }) => withAnswer(so, about, answer) ?? so, known);
}
