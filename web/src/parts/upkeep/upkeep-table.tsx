import type { WireUpkeep } from '@crosspeen/contract';
import { minutesText, type DistanceUnit, type UpkeepStanding } from '@crosspeen/core';
import { ChevronRight } from 'lucide-react';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { Button } from '../../ui/button.tsx';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { spansText } from '../../ui/units.ts';
import { lastDoneText, neglectText, SEASON_WORDS, taskDueText, UPKEEP_KIND_WORDS } from './words.ts';

interface UpkeepTableProps {
  readonly upkeep: readonly WireUpkeep[];
  readonly today: number;
  readonly unit: DistanceUnit;
  /** What can be done about one task; none where no vehicle is on file. */
  readonly actions?: (task: WireUpkeep) => ReactNode;
  /** The same, for what is asked for less often. */
  readonly more?: (task: WireUpkeep) => ReactNode;
}

/** What a standing is marked with, so that colour is never alone. */
const STANDING_MARK: Readonly<Record<UpkeepStanding, string>> = {
  overdue: '▲ ',
  due: '● ',
  unknown: '? ',
  later: '',
  no_interval: '',
};

/** How a task is done, who says how often, and what it keeps. */
function Told({ task, unit, more }: { task: WireUpkeep; unit: DistanceUnit; more: ReactNode }): ReactNode {
  const neglect = neglectText(task);
  return (
    <div className="grid gap-2 px-3 py-2 sm:grid-cols-2">
      <div>
        <p>{task.how}</p>
        {task.cautions.map((caution) => (
          <p key={caution} className="mt-1 font-semibold">
            ▲ {caution}
          </p>
        ))}
        {task.protects.length > 0 && (
          <p className="mt-1 text-soft">
            Left undone, it wears faster: {task.protects.map(({ title, factor }) => `${title} (x${factor})`).join(', ')}
            .
          </p>
        )}
        {neglect && <p className="mt-1 font-semibold">{neglect}</p>}
        {more && <p className="mt-2">{more}</p>}
      </div>
      <ul>
        {task.statements.map((said, i) => (
          <li key={i}>
            <strong>{said.authority}</strong>
            {said.interval.length > 0 && `, every ${spansText(said.interval, unit)}`}
            {said.doubted && ' (published, but specialists do not follow it)'}
            <span className="block text-soft">{said.words}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** A task by name, with its state on a phone. */
function TaskTitle({
  open,
  task,
  setOpen,
}: {
  open: string | null;
  task: WireUpkeep;
  setOpen: Dispatch<SetStateAction<string | null>>;
}): ReactNode {
  return (
    <button
      type="button"
      data-row
      aria-expanded={open === task.taskId}
      onClick={() => setOpen(open === task.taskId ? null : task.taskId)}
      className="flex min-h-11 items-start gap-2 text-left font-semibold hover:underline"
    >
      <ChevronRight
        size={18}
        aria-hidden
        className={`mt-1 shrink-0 transition-transform ${open === task.taskId ? 'rotate-90' : ''}`}
      />
      <span>
        {task.title}
        <span className="block text-sm font-normal text-soft">
          {[
            UPKEEP_KIND_WORDS[task.kind],
            minutesText(task.minutes),
            task.season && SEASON_WORDS[task.season],
            task.ownerCan && 'the owner can do it',
          ]
            .filter(Boolean)
            .join(', ')}
        </span>
      </span>
    </button>
  );
}

/** What is done again and again, what is overdue first: when it was last done, and by when it is due again. */
export function UpkeepTable({ upkeep, today, unit, actions, more }: UpkeepTableProps): ReactNode {
  const [open, setOpen] = useState<string | null>(null);
  if (upkeep.length === 0) return null;
  const columns: TableColumn<WireUpkeep>[] = [
    { id: 'task', head: 'Task', names: true, cell: (task) => <TaskTitle open={open} task={task} setOpen={setOpen} /> },
    {
      id: 'due',
      head: 'Due',
      cell: (task) => (
        <span className={task.standing === 'overdue' ? 'font-semibold' : ''}>
          {STANDING_MARK[task.standing]}
          {taskDueText(task, today, unit)}
          {task.by && <span className="block text-sm text-soft">{task.by}</span>}
        </span>
      ),
    },
    { id: 'last', head: 'Last done', from: 'md', cell: ({ lastDay }) => lastDoneText(lastDay, today) },
    ...(actions ? [{ id: 'actions', head: '', cell: actions } satisfies TableColumn<WireUpkeep>] : []),
  ];
  return (
    <section aria-labelledby="upkeep" className="scroll-mt-4">
      <h2 id="upkeep" className="mb-2 text-2xl">
        Upkeep
      </h2>
      <DataTable
        label="Upkeep"
        caption="What is done again and again, what is overdue first"
        columns={columns}
        rows={upkeep}
        rowKey={({ taskId }) => taskId}
        detail={(task) => (open === task.taskId ? <Told task={task} unit={unit} more={more?.(task)} /> : null)}
      />
    </section>
  );
}

/** The buttons of a task on a vehicle on file. */
export function TaskActions({
  task,
  busy,
  onToday,
  onSay,
}: {
  task: WireUpkeep;
  busy: boolean;
  onToday: () => void;
  onSay: () => void;
}): ReactNode {
  return (
    <span className="flex flex-wrap justify-end gap-2">
      <Button aria-label={`Done today: ${task.title}`} onClick={onToday} disabled={busy}>
        Done today
      </Button>
      <Button look="quiet" aria-label={`Done on another day: ${task.title}`} onClick={onSay}>
        Another day…
      </Button>
    </span>
  );
}
