import type { Answer } from '../../api/answer.ts';
import { call } from '../../api/client.ts';
import {
  type TaskId,
  endpoints,
  type Settings,
  type PartOptionByComponent,
  type AnswerRow,
  type Visit,
  type VisitCreate,
  type WireUpkeep,
} from '@crosspeen/contract';
import type { VehicleOutlook } from '../../api/answer.ts';
import {
  minutesText,
  dayFromIso,
  distanceAtDay,
  isoFromDay,
  labourCost,
  workOfJob,
  workTogether,
  type WorkItem,
  type WorkTogether,
} from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useMemo, useState, type ReactNode } from 'react';
import {
  useForm,
  useFormState,
  useWatch,
  type UseFormSetValue,
  type UseFormRegister,
  type Control,
} from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { postFigures } from '../../editors/strip/model/lanes.ts';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../ui/problem.tsx';
import { FormDay, FormDistance } from '../../ui/form-fields.tsx';
import { distanceTyped, isoTyped, kmTyped } from '../../ui/typed-fields.tsx';
import { distanceText, moneyText, percentText } from '../../ui/units.ts';
import { taskDueText } from '../upkeep/words.ts';
import { Teardown } from './teardown.tsx';
import { allWork } from '../job/all-work.ts';
import { JobRow } from './job-row.tsx';
import { isQuiteNew } from '../job/quite-new.ts';
import { usualPart } from '../job/usual-part.ts';
import { WeekRoom } from './week-load.tsx';

const InThere = lazy(async () => ({ default: (await import('../planner/in-there.tsx')).InThere }));

type Job = VisitCreate['jobs'][number];

interface VisitValues {
  readonly day: string;
  readonly distance: string;
  readonly note: string;
  readonly jobs: readonly Job[];
  readonly tasks: VisitCreate['tasks'];
}
const NO_DATE = 'write a date such as +14d or 14.5.2027';

/** The day, the reading expected then, and a note. */
function WhenPart({
  control,
  answer,
  save,
  unit,
  expected,
  register,
}: {
  control: Control<VisitValues>;
  answer: Answer;
  save: { readonly error: Error | null };
  unit: 'km' | 'mi' | 'h';
  expected: number | null;
  register: UseFormRegister<VisitValues>;
}): ReactNode {
  return (
    <div className="grid gap-4 sm:grid-cols-3">
      <FormDay
        control={control}
        name="day"
        label="On"
        today={answer.today}
        needed={NO_DATE}
        wrong={NO_DATE}
        said={fieldProblem(save.error, 'day')}
      />
      <FormDistance
        control={control}
        name="distance"
        label="At about"
        unit={unit}
        wrong="is not a number: write 150k, or leave it empty"
        hint={expected === null ? '' : `Empty = estimate, ${distanceText(expected, unit, 100)}`}
        said={fieldProblem(save.error, 'km')}
      />
      <TextField label="Note" {...register('note')} error={fieldProblem(save.error, 'note')} />
    </div>
  );
}

/** The jobs to choose from, each with what it adds. */
function JobsPart({
  isSubmitted,
  jobs,
  tasks,
  rows,
  parts,
  settings,
  operations,
  workOf,
  added,
  toggle,
  act,
  alter,
}: {
  isSubmitted: boolean;
  jobs: readonly Job[];
  tasks: readonly TaskId[];
  rows: AnswerRow[];
  parts: PartOptionByComponent;
  settings: Settings | undefined;
  operations: Map<string, { key: string; name: string; minutes: number; needs: string[] }>;
  workOf: (row: AnswerRow, action: Job['action']) => WorkItem;
  added: (row: AnswerRow) => { minutes: number; alone: number };
  toggle: (id: string) => void;
  act: (id: string, action: Job['action']) => void;
  alter: (id: string, patch: Partial<Job>) => void;
}): ReactNode {
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">Jobs</legend>
      {isSubmitted && jobs.length + tasks.length === 0 && (
        <p role="alert" className="mb-1 font-semibold">
          ▲ Put at least one job on the visit
        </p>
      )}
      <ul className="max-h-[42dvh] divide-y divide-rule overflow-y-auto rounded-md border border-rule">
        {rows.map((row) => {
          const job = jobs.find(({ weakPointId }) => weakPointId === row.weakPointId);
          return (
            <JobRow
              key={row.weakPointId}
              row={row}
              job={job ?? null}
              parts={parts[row.componentKey] ?? []}
              settings={settings}
              minutes={(action) => workTogether(operations, [workOf(row, action)]).minutes}
              adds={job === undefined && jobs.length > 0 ? added(row) : null}
              onToggle={() => toggle(row.weakPointId)}
              onAct={(action) => act(row.weakPointId, action)}
              onPart={(part) => alter(row.weakPointId, part)}
            />
          );
        })}
      </ul>
    </fieldset>
  );
}

/** The upkeep to choose from. */
function TasksPart({
  answer,
  tasks,
  setValue,
  unit,
}: {
  answer: Answer;
  tasks: readonly TaskId[];
  setValue: UseFormSetValue<VisitValues>;
  unit: 'km' | 'mi' | 'h';
}): ReactNode {
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">Upkeep</legend>
      <ul className="max-h-[24dvh] divide-y divide-rule overflow-y-auto rounded-md border border-rule">
        {answer.upkeep.map((task) => (
          <TaskChoice key={task.taskId} task={task} tasks={tasks} setValue={setValue} answer={answer} unit={unit} />
        ))}
      </ul>
    </fieldset>
  );
}

function TaskChoice({
  task,
  tasks,
  setValue,
  answer,
  unit,
}: {
  task: WireUpkeep;
  tasks: readonly TaskId[];
  setValue: UseFormSetValue<VisitValues>;
  answer: Answer;
  unit: 'km' | 'mi' | 'h';
}): ReactNode {
  return (
    <li className={`px-3 ${tasks.includes(task.taskId) ? 'bg-accent-wash' : ''}`}>
      <label className="flex min-h-11 cursor-pointer flex-wrap items-center gap-x-3">
        <input
          type="checkbox"
          className="size-5 shrink-0 accent-(--accent)"
          checked={tasks.includes(task.taskId)}
          onChange={(event) =>
            setValue(
              'tasks',
              event.target.checked ? [...tasks, task.taskId] : tasks.filter((taskId) => taskId !== task.taskId),
            )
          }
        />
        <span className="min-w-0 flex-1 font-semibold">{task.title}</span>
        <span className="text-sm text-soft">
          {taskDueText(task, answer.today, unit)}, {minutesText(task.minutes)}
        </span>
      </label>
    </li>
  );
}

/** How what is chosen comes apart. */
function TeardownPart({
  together,
  operations,
  jobs,
  rows,
  chosenTasks,
}: {
  together: WorkTogether;
  operations: {
    readonly get: (key: string) => { key: string; name: string; minutes: number; needs: string[] } | undefined;
  };
  jobs: readonly Job[];
  rows: AnswerRow[];
  chosenTasks: readonly WireUpkeep[];
}): ReactNode {
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">How it comes apart</summary>
      <Teardown
        steps={together.steps.map(({ key, ...step }) => ({ ...step, name: operations.get(key)!.name }))}
        jobs={[
          ...jobs.map(({ weakPointId }) => rows.find((row) => row.weakPointId === weakPointId)!.title),
          ...chosenTasks.map(({ title }) => title),
        ]}
        work={allWork(
          jobs
            .filter(({ action }) => action === 'renew')
            .map(({ weakPointId }) => rows.find((row) => row.weakPointId === weakPointId)!.work),
        )}
      />
    </details>
  );
}

/** Plans a visit or changes one: a date, a reading, and which weak points are renewed or looked at. */
export default function VisitDialog({
  data,
  visit,
  first,
  firstTask,
  onClose,
}: {
  data: VehicleOutlook;
  visit: Visit | null;
  first: string | null;
  /** The recurring task it is begun with. */
  firstTask: string | null;
  onClose: () => void;
}): ReactNode {
  const { vehicle, answer, parts } = data;
  const unit = vehicle.odometerUnit;
  const settings = useQuery(read.settings()).data;
  const [opened] = useState(visit);
  const rows = answer.rows.filter(
    ({ verdict, weakPointId }) =>
      verdict !== 'behind_it' || opened?.jobs.some((job) => job.weakPointId === weakPointId),
  );
  const start = (id: string): Job => {
    const row = rows.find(({ weakPointId }) => weakPointId === id)!;
    return {
      weakPointId: row.weakPointId,
      action: row.verdict === 'look' && row.look ? 'look' : 'renew',
      ...usualPart(parts[row.componentKey]),
    };
  };
  const { control, register, setValue, handleSubmit } = useForm<VisitValues>({
    defaultValues: {
      day: opened?.day ?? isoFromDay(answer.today + 14),
      distance: opened ? distanceTyped(opened.km, unit) : '',
      note: opened?.note ?? '',
      jobs:
        opened?.jobs.map(({ weakPointId, action, grade, partNumber, revision }) => ({
          weakPointId,
          action,
          grade,
          partNumber,
          revision,
        })) ?? (first === null ? [] : [start(first)]),
      tasks:
        opened?.tasks.map(({ taskId }) => taskId) ??
        answer.upkeep.filter(({ taskId }) => taskId === firstTask).map(({ taskId }) => taskId),
    },
  });
  const { isSubmitted } = useFormState({ control });
  const { day, distance, note, jobs, tasks } = useWatch({ control }) as VisitValues;
  const setJobs = (now: readonly Job[]): void => setValue('jobs', now);
  const save = useChange(({ body, version }: { body: VisitCreate; version: number | null }, key) =>
    opened && version !== null
      ? call(endpoints.visits.update, { params: { id: opened.id }, body: { ...body, version }, key })
      : call(endpoints.visits.plan, { params: { id: vehicle.id }, body, key }),
  );
  const iso = isoTyped(day, answer.today);
  const km = kmTyped(distance, unit);
  const number = iso === null ? null : dayFromIso(iso)!;
  const expected = number === null ? null : distanceAtDay(answer.usage, number);
  /** What goes in new with a job by itself: unless it is quite new, it is not fitted again. */
  const goesWith = (id: string): Job[] => {
    const row = rows.find(({ weakPointId }) => weakPointId === id)!;
    return rows
      .filter(
        (other) =>
          row.work?.renewWith.includes(other.component) &&
          !jobs.some(({ weakPointId }) => weakPointId === other.weakPointId) &&
          !isQuiteNew(other, answer.today),
      )
      .map((other) => ({ ...start(other.weakPointId), action: 'renew' as const }));
  };
  const toggle = (id: string): void => {
    if (jobs.some((job) => job.weakPointId === id)) {
      setJobs(jobs.filter((job) => job.weakPointId !== id));
      return;
    }
    const job = start(id);
    setJobs([...jobs, job, ...(job.action === 'renew' ? goesWith(id) : [])]);
  };
  const alter = (id: string, patch: Partial<Job>): void =>
    setJobs(jobs.map((job) => (job.weakPointId === id ? { ...job, ...patch } : job)));
  const act = (id: string, action: Job['action']): void =>
    setJobs([
      ...jobs.map((job) => (job.weakPointId === id ? { ...job, action } : job)),
      ...(action === 'renew' ? goesWith(id) : []),
    ]);
  const send = (version: number | null) =>
    handleSubmit((values) => {
      if (values.jobs.length + values.tasks.length === 0) return;
      save.mutate(
        {
          version,
          body: {
            day: isoTyped(values.day, answer.today)!,
            km: kmTyped(values.distance, unit),
            note: values.note.trim() || null,
            jobs: [...values.jobs],
            tasks: [...values.tasks],
          },
        },
        { onSuccess: onClose },
      );
    })();
  const operations = useMemo(
    () => new Map(answer.operations.map((operation) => [operation.key, operation])),
    [answer.operations],
  );
  const workOf = (row: (typeof rows)[number], action: Job['action']): WorkItem =>
    workOfJob({
      action,
      operation: row.operation,
      renewMinutes: row.renewMinutes,
      look: row.look && { minutes: row.look.minutes, off: row.look.off ?? [] },
    });
  const chosenTasks = answer.upkeep.filter(({ taskId }) => tasks.includes(taskId));
  const work = [
    ...jobs.map((job) =>
      workOf(
        rows.find(({ weakPointId }) => weakPointId === job.weakPointId)!,
        job.action,
      ),
    ),
    ...chosenTasks.map((task) => ({ operations: [], own: task.minutes })),
  ];
  const together = workTogether(operations, work);
  const apart = together.alone.reduce((sum, minutes) => sum + minutes, 0);
  /** What another job would add to those that are chosen, and what it takes by itself. */
  const added = (row: (typeof rows)[number]): { minutes: number; alone: number } => {
    const job = workOf(row, 'renew');
    return {
      minutes: workTogether(operations, [...work, job]).minutes - together.minutes,
      alone: workTogether(operations, [job]).minutes,
    };
  };
  const figures =
    number === null || answer.drawing === null
      ? null
      : postFigures({ jobs, minutes: together.minutes }, answer.drawing.forecast, number);
  return (
    <Dialog
      open
      onClose={onClose}
      title={opened ? 'Change the visit' : 'Plan a visit'}
      description={`${vehicle.plate ?? vehicle.name}, ${vehicle.engine.maker} ${vehicle.model ?? ''}`}
      wide
    >
      <form
        className="grid gap-4"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void send(opened?.version ?? null);
        }}
      >
        <WhenPart control={control} answer={answer} save={save} unit={unit} expected={expected} register={register} />
        <JobsPart
          isSubmitted={isSubmitted}
          jobs={jobs}
          tasks={tasks}
          rows={rows}
          parts={parts}
          settings={settings}
          operations={operations}
          workOf={workOf}
          added={added}
          toggle={toggle}
          act={act}
          alter={alter}
        />
        {settings && iso !== null && (
          <Suspense fallback={null}>
            <InThere
              data={data}
              settings={settings}
              chosen={{
                day: iso,
                jobs: jobs.map(({ weakPointId, action }) => ({ weakPointId, action })),
                tasks: tasks.map((taskId) => ({ taskId })),
              }}
              onAdd={(row) =>
                setJobs([...jobs, { ...start(row.weakPointId), action: 'renew' }, ...goesWith(row.weakPointId)])
              }
            />
          </Suspense>
        )}
        {answer.upkeep.length > 0 && <TasksPart answer={answer} tasks={tasks} setValue={setValue} unit={unit} />}
        {together.steps.length > 0 && (
          <TeardownPart together={together} operations={operations} jobs={jobs} rows={rows} chosenTasks={chosenTasks} />
        )}
        {settings && iso !== null && (
          <WeekRoom day={iso} before={opened} minutes={together.minutes} settings={settings} />
        )}
        {opened && isSubmitted && (
          <Conflict
            error={save.error}
            mine={{ day: iso, km: km ?? opened.km, note: note.trim() || null }}
            labels={{ day: 'Date', km: 'Reading in km', note: 'Note' }}
            onTheirs={onClose}
            onMine={(version) => void send(version)}
          />
        )}
        {!isConflict(save.error) && <FormProblem error={save.error} fields={['day', 'km', 'note']} />}
        <div className="flex flex-wrap items-center justify-between gap-3">
          <p className="figure text-lg">
            {together.minutes > 0 && settings
              ? `${minutesText(together.minutes)} labour, ${moneyText(labourCost(together.minutes, settings.labourRateMinor), settings)} before tax and parts${apart > together.minutes ? `; ${minutesText(apart)} if each came by itself` : ''}${figures && jobs.length > 0 ? `; ${percentText(figures.chanceBefore)} that one fails before` : ''}`
              : ''}
          </p>
          <Button look="main" type="submit" disabled={save.isPending}>
            {opened ? 'Save the visit' : 'Plan it'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
