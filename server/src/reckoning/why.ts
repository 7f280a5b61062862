import type { Settings, WireQuestion, WireWhy } from '@crosspeen/contract';
import { explain, openQuestions } from '@crosspeen/core';
import type { RevisedKnowledge } from '../knowledge/library.ts';
import { Problem } from '../platform/problem.ts';
import { questionOf, type Subject } from './answer.ts';

/** What an answer was given on. */
export interface Grounds {
  readonly knowledge: RevisedKnowledge;
  readonly subject: Subject;
  readonly settings: Settings;
  readonly today: number;
}

/** Questions worth asking, as they cross the wire. */
export const wireQuestions = ({ knowledge, subject, settings, today }: Grounds): WireQuestion[] =>
  openQuestions(questionOf(knowledge, subject, settings, today).input) as unknown as WireQuestion[];

/** One chance taken apart, as it crosses the wire. Throws not_found. */
export function whyOf({ knowledge, subject, settings, today }: Grounds, weakPointId: string): WireWhy {
  const why = explain(questionOf(knowledge, subject, settings, today).input, weakPointId);
  if (why === null)
    throw new Problem('not_found', { detail: 'This weak point does not apply to this engine as described.' });
  return {
    chance: why.chance,
    steps: why.steps.map((step) => ({ ...step })),
    running: why.running.map((point) => ({ ...point })),
  };
}
