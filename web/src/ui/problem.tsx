import { sameJson } from '@crosspeen/contract';
import type { ReactNode } from 'react';
import { ProblemError } from '../api/client.ts';
import { Notice } from './notice.tsx';

/** The server's message for one field of a form, if it named it. */
export const fieldProblem = (error: unknown, path: string): string | undefined =>
  error instanceof ProblemError
    ? error.details.fields?.find((field) => field.path === path || field.path.startsWith(`${path}.`))?.message
    : undefined;

/** What went wrong with a form as a whole; fields at fault say it themselves. */
export function FormProblem({ error, fields = [] }: { error: unknown; fields?: readonly string[] }): ReactNode {
  if (!error) return null;
  const named = error instanceof ProblemError ? (error.details.fields ?? []) : [];
  if (
    named.length > 0 &&
    named.every(({ path }) => fields.some((field) => path === field || path.startsWith(`${field}.`)))
  )
    return null;
  return <Notice role="alert">{(error as Error).message}</Notice>;
}

/** Whether somebody else was quicker; Conflict then shows both sides. */
export const isConflict = (error: unknown): boolean =>
  error instanceof ProblemError && error.details.code === 'changed_meanwhile';

function ConflictActions({
  onTheirs,
  onMine,
  current,
}: {
  onTheirs: () => void;
  onMine: (version: number) => void;
  current: { readonly version: number };
}): ReactNode {
  return (
    <span className="flex gap-2">
      <button
        type="button"
        className="min-h-11 rounded-md border border-rule-strong bg-sheet px-3 font-semibold"
        onClick={onTheirs}
      >
        Take theirs
      </button>
      <button
        type="button"
        className="min-h-11 rounded-md bg-accent px-3 font-semibold text-accent-ink"
        onClick={() => onMine(current.version)}
      >
        Save mine over it
      </button>
    </span>
  );
}

/** Differences between what is being saved and what stands now, after somebody else was quicker. */
export function Conflict({
  error,
  mine,
  labels,
  onTheirs,
  onMine,
  words,
}: {
  error: unknown;
  mine: Readonly<Record<string, unknown>>;
  labels: Readonly<Record<string, string>>;
  /** How a value is said that is more than a word or a figure. */
  words?: (value: unknown) => string;
  onTheirs: () => void;
  onMine: (version: number) => void;
}): ReactNode {
  if (!(error instanceof ProblemError) || error.details.code !== 'changed_meanwhile') return null;
  const current = error.details.current as (Record<string, unknown> & { version: number }) | undefined;
  if (!current) return null;
  const differing = Object.keys(labels).filter((key) => !sameJson(mine[key], current[key]));
  const shown = (value: unknown): string =>
    value === null || value === undefined || value === ''
      ? 'nothing'
      : typeof value === 'string' || typeof value === 'number'
        ? String(value)
        : (words ?? JSON.stringify)(value);
  return (
    <Notice role="alert" actions={<ConflictActions onTheirs={onTheirs} onMine={onMine} current={current} />}>
      <p className="font-semibold">
        Somebody else changed this since you opened it. Yours is kept here; nothing was overwritten.
      </p>
      <ul className="mt-1">
        {differing.map((key) => (
          <li key={key}>
            {labels[key]}: theirs “{shown(current[key])}”, yours “{shown(mine[key])}”
          </li>
        ))}
      </ul>
    </Notice>
  );
}
