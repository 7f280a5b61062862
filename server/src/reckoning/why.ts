import { SAID, type WireQuestion, type WireWhy } from '@crosspeen/contract';
import { explain, openQuestions } from '@crosspeen/core';
import { Problem } from '../platform/problem.ts';
import { questionOf, type Grounds } from './answer.ts';

/** Questions worth asking, as they cross the wire. */
export const wireQuestions = (grounds: Grounds): WireQuestion[] =>
  openQuestions(questionOf(grounds).input) as unknown as WireQuestion[];

/** One chance taken apart, as it crosses the wire. Throws not_found. */
export function whyOf(grounds: Grounds, weakPointId: string): WireWhy {
  const why = explain(questionOf(grounds).input, weakPointId);
  if (why === null) throw new Problem(SAID.doesNotApply);
  return {
    chance: why.chance,
    steps: why.steps.map((step) => ({ ...step })),
    running: why.running.map((point) => ({ ...point })),
  };
}
