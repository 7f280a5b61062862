import { historyAnswer, knownPairs } from '@crosspeen/contract';
import { DAYS_PER_YEAR, dayFromIso, OLDER, type ServiceFact } from '@crosspeen/core';
import type { Subject } from './subject.ts';

/** Parts of a subject that an answered question settles. */
export type Known = Pick<Subject, 'variantKey' | 'model' | 'market' | 'features' | 'fitted' | 'services'>;

/** "Lately" stands for about a year ago. */
export const LATELY_DAYS = DAYS_PER_YEAR;

/** What an answer is given on: the day it is, and the day on which the meter showed a reading, where that is known. */
export interface AnsweredOn {
  readonly today: number;
  readonly dayAt: ((km: number) => number) | null;
}

/** What is answered about a part's history, as its record; null where it is no such answer. */
function historyFact(componentKey: string, answer: string, { today, dayAt }: AnsweredOn): ServiceFact | null {
  const said = historyAnswer(answer);
  if (said === null) return null;
  const bare = { componentKey, day: null, grade: 'original', revision: null, source: null, cameOut: null } as const;
  if (said.kind !== 'renewed') return { ...bare, certainty: said.kind === 'never' ? 'not_done' : 'unknown' };
  const day =
    said.day !== null ? dayFromIso(said.day)! : said.km !== null ? (dayAt?.(said.km) ?? today) : today - LATELY_DAYS;
  return { ...bare, certainty: 'believed', day: Math.min(today, day), grade: said.grade, source: 'owner' };
}

/** A subject's known parts with one question answered; null when the question is none that can be answered in words. */
export function withAnswer(known: Known, about: string, answer: string, on: AnsweredOn): Known | null {
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
    case 'history': {
      const fact = key === '' ? null : historyFact(key, answer, on);
      return fact === null ? null : { ...known, services: [...known.services, fact] };
    }
    default:
      return null;
  }
}

/**
 * What else is known, as it stands in an address: `market=hot and dusty;feature:ac=yes`. What cannot be understood is
 * left out.
 */
export function knownFrom(known: Known, text: string, on: AnsweredOn): Known {
  return knownPairs(text).reduce((so, { about, answer }) => withAnswer(so, about, answer, on) ?? so, known);
}
