import { minutesText } from '@crosspeen/core';
import type { AnswerRow, PartOption, Settings, VisitCreate } from '@crosspeen/contract';
import type { ReactNode } from 'react';
import { RowChance } from '../row-chance.tsx';
import { VerdictMark } from '../../ui/mark.tsx';
import { Select } from '../../ui/select.tsx';
import { moneyText } from '../../ui/units.ts';
import { WorkTold } from '../answer/told-more.tsx';

type Job = VisitCreate['jobs'][number];

/** What a job would add while its neighbours are apart, where that is less than it takes by itself. */
function Adds({ minutes, alone }: { minutes: number; alone: number }): ReactNode {
  if (minutes >= alone) return null;
  return (
    <span className="text-sm">
      <strong>+{minutesText(minutes)}</strong> <span className="text-soft">now, {minutesText(alone)} by itself</span>
    </span>
  );
}

/** A part as a list offers it. */
const partWords = ({ number, name, revision, grade, priceMinor }: PartOption, settings: Settings | undefined): string =>
  [
    number,
    name,
    revision && `rev. ${revision}`,
    grade,
    priceMinor !== null && settings && moneyText(priceMinor, settings),
  ]
    .filter(Boolean)
    .join(', ');

/** Renew or look, and which part. */
function JobChoices({
  row,
  job,
  onAct,
  minutes,
  parts,
  onPart,
  settings,
}: {
  row: AnswerRow;
  job: Job;
  onAct: (action: Job['action']) => void;
  minutes: (action: Job['action']) => number;
  parts: readonly PartOption[];
  onPart: (part: Pick<Job, 'partNumber' | 'revision' | 'grade'>) => void;
  settings: Settings | undefined;
}): ReactNode {
  return (
    <div className="flex flex-wrap gap-2 pb-2 pl-8">
      <Select<Job['action']>
        aria-label={`Work on ${row.title}`}
        className="w-auto!"
        value={job.action}
        onChange={onAct}
        options={[
          { value: 'renew', label: `Renew, ${minutesText(minutes('renew'))}` },
          ...(row.look ? [{ value: 'look' as const, label: `Look, ${minutesText(minutes('look'))}` }] : []),
        ]}
      />
      {job.action === 'renew' && parts.length > 0 && (
        <Select
          aria-label={`Part for ${row.title}`}
          className="w-auto! max-w-full"
          value={job.partNumber ?? ''}
          onChange={(number) => {
            const part = parts.find((option) => option.number === number);
            onPart(
              part
                ? { partNumber: part.number, revision: part.revision, grade: part.grade }
                : { partNumber: null, revision: null, grade: 'original' },
            );
          }}
          options={[
            { value: '', label: 'Part not chosen' },
            ...parts.map((part) => ({ value: part.number, label: partWords(part, settings) })),
          ]}
        />
      )}
    </div>
  );
}

/** The job's box, its name and what it adds. */
function JobChoiceRow({
  job,
  onToggle,
  row,
  adds,
}: {
  job: Job | null;
  onToggle: () => void;
  row: AnswerRow;
  adds: { readonly minutes: number; readonly alone: number } | null;
}): ReactNode {
  return (
    <div className="flex flex-wrap items-center gap-x-3">
      <label className="flex min-h-11 flex-1 cursor-pointer items-center gap-3">
        <input
          type="checkbox"
          className="size-5 shrink-0 accent-(--accent)"
          checked={job !== null}
          onChange={onToggle}
        />
        <span className="min-w-0">
          <span className="font-semibold">{row.title}</span> <span className="text-sm text-soft">{row.component}</span>
        </span>
      </label>
      {adds && <Adds {...adds} />}
      <VerdictMark verdict={row.verdict} />
      <RowChance row={row} />
    </div>
  );
}

/** A weak point in the list of a visit's jobs: whether it is on it, what is done, with which part. */
export function JobRow({
  row,
  job,
  parts,
  settings,
  minutes,
  adds,
  onToggle,
  onAct,
  onPart,
}: {
  row: AnswerRow;
  /** Null where it is not on the visit. */
  job: Job | null;
  parts: readonly PartOption[];
  settings: Settings | undefined;
  minutes: (action: Job['action']) => number;
  /** What it would add to the jobs that are chosen; null where it is one, or none is. */
  adds: { readonly minutes: number; readonly alone: number } | null;
  onToggle: () => void;
  onAct: (action: Job['action']) => void;
  onPart: (part: Pick<Job, 'partNumber' | 'revision' | 'grade'>) => void;
}): ReactNode {
  const { work } = row;
  return (
    <li className={`px-3 py-1 ${job ? 'bg-accent-wash' : ''}`}>
      <JobChoiceRow job={job} onToggle={onToggle} row={row} adds={adds} />
      {job && (
        <JobChoices
          row={row}
          job={job}
          onAct={onAct}
          minutes={minutes}
          parts={parts}
          onPart={onPart}
          settings={settings}
        />
      )}
      {job?.action === 'renew' && work && (
        <details className="pb-2 pl-8">
          <summary className="min-h-9 cursor-pointer font-semibold">
            {[
              work.cautions.length > 0 && '▲ Cautions',
              work.renewWith.length + work.oneTime.length > 0 && 'parts with it',
              work.tools.length > 0 && 'tools',
            ]
              .filter(Boolean)
              .join(', ')}
          </summary>
          <WorkTold work={work} />
        </details>
      )}
      {job?.action === 'look' && row.look && row.look.cautions.length > 0 && (
        <p className="pb-2 pl-8">▲ {row.look.cautions.join(' ')}</p>
      )}
    </li>
  );
}
