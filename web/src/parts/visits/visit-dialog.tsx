import type { Answer } from '../../api/answer.ts';
import {
  type TaskId,
  type Settings,
  type PartOptionByComponent,
  type AnswerRow,
  type Visit,
  type WireUpkeep,
} from '@crosspeen/contract';
import { minutesText, dayFromIso, distanceAtDay, labourCost } from '@crosspeen/core';
import { useVisitForm, type Job, type VisitForm, type VisitOpening, type VisitValues } from './use-visit-form.ts';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { type UseFormSetValue, type UseFormRegister, type Control } from 'react-hook-form';
import { read } from '../../api/queries.ts';
import { postFigures } from '../../editors/strip/model/lanes.ts';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../ui/problem.tsx';
import { FormDay, FormDistance } from '../../ui/form-fields.tsx';
import { aboutMoneyText, distanceText, percentText } from '../../ui/units.ts';
import { taskDueText } from '../upkeep/words.ts';
import { Teardown } from './teardown.tsx';
import { allWork } from '../job/all-work.ts';
import { JobRow } from './job-row.tsx';
import { WeekRoom } from './week-load.tsx';

const InThere = lazy(async () => ({ default: (await import('../../editors/planner/view/in-there.tsx')).InThere }));

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

/** The jobs to choose from, each with the minutes it adds. */
function JobsPart({
  form,
  rows,
  parts,
  settings,
}: {
  form: VisitForm;
  rows: readonly AnswerRow[];
  parts: PartOptionByComponent;
  settings: Settings | undefined;
}): ReactNode {
  const { values, choice, work } = form;
  const { jobs, tasks } = values;
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">Jobs</legend>
      {form.isSubmitted && jobs.length + tasks.length === 0 && (
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
              minutes={(action) => work.minutesOf(row, action)}
              adds={job === undefined && jobs.length > 0 ? work.added(row) : null}
              onToggle={() => choice.toggle(row.weakPointId)}
              onAct={(action) => choice.act(row.weakPointId, action)}
              onPart={(part) => choice.alter(row.weakPointId, part)}
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

/** The steps that the chosen work comes apart by. */
function TeardownPart({ form, rows }: { form: VisitForm; rows: readonly AnswerRow[] }): ReactNode {
  const { work, chosenTasks } = form;
  const { jobs } = form.values;
  const rowOf = (job: Job): AnswerRow => rows.find(({ weakPointId }) => weakPointId === job.weakPointId)!;
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">How it comes apart</summary>
      <Teardown
        steps={work.together.steps.map(({ key, ...step }) => ({ ...step, name: work.operations.get(key)!.name }))}
        jobs={[...jobs.map((job) => rowOf(job).title), ...chosenTasks.map(({ title }) => title)]}
        work={allWork(jobs.filter(({ action }) => action === 'renew').map((job) => rowOf(job).work))}
      />
    </details>
  );
}

/** Labour and its price before tax, and the chance that one of the jobs fails before the day. */
function SumPart({ form, answer, settings }: { form: VisitForm; answer: Answer; settings: Settings | undefined }) {
  const { minutes } = form.work.together;
  const { jobs } = form.values;
  if (minutes === 0 || !settings) return null;
  const figures =
    form.day === null || answer.drawing === null
      ? null
      : postFigures({ jobs, minutes }, answer.drawing.forecast, dayFromIso(form.day)!);
  const labour = aboutMoneyText(labourCost(minutes, settings.labourRateMinor), settings);
  const { apart } = form.work;
  return (
    <p className="figure text-lg">
      {minutesText(minutes)} labour, {labour} before tax and parts
      {apart > minutes && `; ${minutesText(apart)} if each came by itself`}
      {figures && jobs.length > 0 && `; ${percentText(figures.chanceBefore)} that one fails before`}
    </p>
  );
}

/** The conflict with a newer version of the visit, or what the server refused. */
function SavePart({ form, visit, onClose }: { form: VisitForm; visit: Visit | null; onClose: () => void }): ReactNode {
  const { save, values } = form;
  return (
    <>
      {visit && form.isSubmitted && (
        <Conflict
          error={save.error}
          mine={{ day: form.day, km: form.km ?? visit.km, note: values.note.trim() || null }}
          labels={{ day: 'Date', km: 'Reading in km', note: 'Note' }}
          onTheirs={onClose}
          onMine={(version) => void form.send(version)}
        />
      )}
      {!isConflict(save.error) && <FormProblem error={save.error} fields={['day', 'km', 'note']} />}
    </>
  );
}

/** Plans a visit or changes one: a date, a reading, and which weak points are renewed or looked at. */
export default function VisitDialog({ onClose, ...opening }: VisitOpening & { onClose: () => void }): ReactNode {
  const { data } = opening;
  const { vehicle, answer, parts } = data;
  const unit = vehicle.odometerUnit;
  const settings = useQuery(read.settings()).data;
  const [opened] = useState(opening.visit);
  const form = useVisitForm({ ...opening, visit: opened }, onClose);
  const { day } = form;
  const { jobs, tasks } = form.values;
  const rows = answer.rows.filter(
    ({ verdict, weakPointId }) =>
      verdict !== 'behind_it' || opened?.jobs.some((job) => job.weakPointId === weakPointId),
  );
  const expected = day === null ? null : distanceAtDay(answer.usage, dayFromIso(day)!);
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
          void form.send(opened?.version ?? null);
        }}
      >
        <WhenPart
          control={form.control}
          answer={answer}
          save={form.save}
          unit={unit}
          expected={expected}
          register={form.register}
        />
        <JobsPart form={form} rows={rows} parts={parts} settings={settings} />
        {settings && day !== null && (
          <Suspense fallback={null}>
            <InThere
              data={data}
              settings={settings}
              chosen={{
                day,
                jobs: jobs.map(({ weakPointId, action }) => ({ weakPointId, action })),
                tasks: tasks.map((taskId) => ({ taskId })),
              }}
              onAdd={form.choice.addRenewal}
            />
          </Suspense>
        )}
        {answer.upkeep.length > 0 && <TasksPart answer={answer} tasks={tasks} setValue={form.setValue} unit={unit} />}
        {form.work.together.steps.length > 0 && <TeardownPart form={form} rows={rows} />}
        {settings && day !== null && (
          <WeekRoom day={day} before={opened} minutes={form.work.together.minutes} settings={settings} />
        )}
        <SavePart form={form} visit={opened} onClose={onClose} />
        <div className="flex flex-wrap items-center justify-between gap-3">
          <SumPart form={form} answer={answer} settings={settings} />
          <Button className="ml-auto" look="main" type="submit" disabled={form.save.isPending}>
            {opened ? 'Save the visit' : 'Plan it'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
