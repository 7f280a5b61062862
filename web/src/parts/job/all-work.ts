import type { AnswerRow } from '@crosspeen/contract';

type Work = NonNullable<AnswerRow['work']>;

/** What several jobs take together, each thing once; null where nothing is told of any. */
export function allWork(works: readonly AnswerRow['work'][]): Work | null {
  const told = works.filter((work) => work !== null);
  if (told.length === 0) return null;
  const each = (of: (work: Work) => readonly string[]): string[] => [...new Set(told.flatMap(of))];
  return {
    cautions: each(({ cautions }) => cautions),
    renewWith: each(({ renewWith }) => renewWith),
    oneTime: each(({ oneTime }) => oneTime),
    fluids: each(({ fluids }) => fluids),
    afterwards: each(({ afterwards }) => afterwards),
    tools: [...new Map(told.flatMap(({ tools }) => tools).map((tool) => [tool.name, tool])).values()],
  };
}
