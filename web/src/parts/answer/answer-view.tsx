import type { AnswerRow, EngineSummary, Settings, Visit, WireUpkeep } from '@crosspeen/contract';
import type { Answer, VehicleOutlook } from '../../api/answer.ts';
import type { DistanceUnit } from '@crosspeen/core';
import { useCallback, useEffect, useState, type ReactNode } from 'react';
import { Strip } from '../../editors/strip/view/strip.tsx';
import type { AnswerSource } from '../../api/queries.ts';
import { Held } from '../held.tsx';
import { Asking } from './asking.tsx';
import { FactsTable } from './facts-table.tsx';
import { UpkeepTable } from '../upkeep/upkeep-table.tsx';
import { upkeepLine } from '../upkeep/words.ts';

/** Words as they open a sentence. */
const opening = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

export interface AnswerViewProps {
  readonly answer: Answer;
  readonly unit: DistanceUnit;
  readonly settings: Settings;
  /** Buttons beside the heading. */
  readonly actions?: ReactNode;
  readonly visits?: readonly Visit[];
  readonly notches?: VehicleOutlook['notches'];
  readonly onMoveVisit?: (visit: Visit, day: number) => void;
  /** Whose answer it is, for taking its chances apart. */
  readonly source: AnswerSource;
  /** The open questions, and what to do with their answers. */
  readonly questions?: ReactNode;
  /** What was reported of the vehicle, and what shows so. */
  readonly reported?: ReactNode;
  readonly onSchool?: (row: AnswerRow) => void;
  /** What can be done about one weak point, shown in its details. */
  readonly rowActions?: (weakPointId: string) => ReactNode;
  /** What can be done about one recurring task. */
  readonly taskActions?: (task: WireUpkeep) => ReactNode;
  /** The same, shown with how the task is done. */
  readonly taskMore?: (task: WireUpkeep) => ReactNode;
  /** The row that is open to begin with. */
  readonly opened?: string | null;
}

/** Engine and actions. */
function AnswerHead({
  engine,
  answer,
  actions,
}: {
  engine: EngineSummary;
  answer: Answer;
  actions: ReactNode;
}): ReactNode {
  return (
    <header className="flex flex-wrap items-center justify-between gap-3">
      <div>
        <h2 className="mb-1 text-2xl">
          {engine.maker} {engine.code} <span className="font-medium text-soft">{engine.name}</span>
        </h2>
        <p>
          {opening(answer.variants.map(({ name }) => name).join(' or '))}. Timing by {engine.timingDrive}; valves{' '}
          {engine.interference ? <strong>hit the pistons</strong> : 'clear the pistons'} if timing slips.
        </p>
        {answer.usage.rejected.length > 0 && (
          <p className="font-semibold">
            ▲ {answer.usage.rejected.length === 1 ? 'One reading runs' : `${answer.usage.rejected.length} readings run`}{' '}
            backwards and {answer.usage.rejected.length === 1 ? 'is' : 'are'} left out; see History.
          </p>
        )}
      </div>
      {actions}
    </header>
  );
}

/** One answer: the engine, the strip, and the same facts as a table. */
export default function AnswerView({
  answer,
  unit,
  settings,
  actions,
  visits,
  notches,
  onMoveVisit,
  rowActions,
  taskActions,
  taskMore,
  source,
  questions,
  reported,
  onSchool,
  opened = null,
}: AnswerViewProps): ReactNode {
  const [open, setOpen] = useState<string | null>(opened);
  useEffect(() => {
    if (opened !== null) document.getElementById(`row-${opened}`)?.scrollIntoView({ block: 'start' });
  }, [opened]);
  const { engine } = answer;
  const overdue = upkeepLine(answer.upkeep, answer.today, unit);
  const select = useCallback((id: string) => {
    setOpen((before) => (before === id ? null : id));
    requestAnimationFrame(() =>
      document.getElementById(`row-${id}`)?.scrollIntoView({ block: 'nearest', behavior: 'smooth' }),
    );
  }, []);
  return (
    <div className="grid grid-cols-1 gap-4">
      <AnswerHead engine={engine} answer={answer} actions={actions} />
      {answer.holds.length > 0 && (
        <div>
          <Held holds={answer.holds} />
        </div>
      )}
      <Asking answer={answer} unit={unit} onSelect={select} />
      {overdue && (
        <p>
          <a href="#upkeep" className="inline-flex min-h-11 items-center font-semibold underline">
            ▲ Upkeep: {overdue}
          </a>
        </p>
      )}
      {reported}
      {questions}
      {answer.drawing && (
        <Strip
          answer={answer}
          drawing={answer.drawing}
          unit={unit}
          settings={settings}
          selected={open}
          onSelect={select}
          {...(visits ? { visits } : {})}
          {...(notches ? { notches } : {})}
          {...(onMoveVisit ? { onMoveVisit } : {})}
        />
      )}
      <FactsTable
        answer={answer}
        unit={unit}
        settings={settings}
        open={open}
        onOpen={select}
        why={source}
        {...(onSchool ? { onSchool } : {})}
        {...(rowActions ? { rowActions } : {})}
      />
      <UpkeepTable
        upkeep={answer.upkeep}
        today={answer.today}
        unit={unit}
        {...(taskActions ? { actions: taskActions } : {})}
        {...(taskMore ? { more: taskMore } : {})}
      />
      <p className="text-sm text-soft">
        Chances rest on published statements, this vehicle’s own clocks and history, and what this workshop has seen on
        its own vehicles. They support a trained judgement: the maker’s current procedure, local rules and licensed
        practice come first.
      </p>
    </div>
  );
}
