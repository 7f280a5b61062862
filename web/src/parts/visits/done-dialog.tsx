import { useSure } from '../../api/sure.ts';
import { call } from '../../api/client.ts';
import { endpoints, type Visit, type VisitDone } from '@crosspeen/contract';
import { isoFromDay, type DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useForm, useWatch, type UseFormSetValue, type Control } from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { Button } from '../../ui/button.tsx';
import { Choices } from '../../ui/choices.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { distanceText } from '../../ui/units.ts';
import { FormDay, FormDistance } from '../../ui/form-fields.tsx';
import { isoTyped, kmTyped } from '../../ui/typed-fields.tsx';

type Outcome = 'done' | 'done_sound' | 'done_worn' | 'done_failed' | 'sound' | 'worn' | 'failed' | 'skipped' | 'unsaid';

const RENEW_OUTCOMES = [
  { value: 'done', label: 'Renewed' },
  { value: 'done_sound', label: 'Renewed, old one still good' },
  { value: 'done_worn', label: 'Renewed, was worn' },
  { value: 'done_failed', label: 'Renewed, had failed' },
  { value: 'skipped', label: 'Not done' },
] as const satisfies readonly { value: Outcome; label: string }[];
const LOOK_OUTCOMES = [
  { value: 'sound', label: 'Looked: good' },
  { value: 'worn', label: 'Looked: worn' },
  { value: 'failed', label: 'Has failed' },
  { value: 'skipped', label: 'Not looked at' },
] as const satisfies readonly { value: Outcome; label: string }[];

const FOUND = {
  sound: 'sound',
  worn: 'worn',
  failed: 'failed',
  done_sound: 'sound',
  done_worn: 'worn',
  done_failed: 'failed',
} as const;

interface DoneValues {
  readonly day: string;
  readonly distance: string;
  readonly outcomes: Readonly<Record<string, Outcome>>;
  readonly tasksDone: readonly string[];
}
const [NO_DATE, NO_READING] = ['write a date such as today', 'write what the meter showed'];

function WhenFields({
  control,
  today,
  done,
  unit,
  expectedKm,
}: {
  control: Control<DoneValues>;
  today: number;
  done: { readonly error: Error | null };
  unit: DistanceUnit;
  expectedKm: number;
}): ReactNode {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <FormDay
        control={control}
        name="day"
        label="Done on"
        today={today}
        needed={NO_DATE}
        wrong={NO_DATE}
        said={fieldProblem(done.error, 'day')}
      />
      <FormDistance
        control={control}
        name="distance"
        label="The meter showed"
        unit={unit}
        needed={NO_READING}
        wrong={NO_READING}
        hint={`In ${unit}; about ${distanceText(expectedKm, unit, 100)} is expected`}
        said={fieldProblem(done.error, 'km')}
      />
    </div>
  );
}

/** Upkeep that was done with it. */
function TasksDone({
  visit,
  tasksDone,
  setValue,
}: {
  visit: Visit;
  tasksDone: readonly string[];
  setValue: UseFormSetValue<DoneValues>;
}): ReactNode {
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">Upkeep: tick what was done</legend>
      <ul className="divide-y divide-rule rounded-md border border-rule">
        {visit.tasks.map((task) => (
          <li key={task.taskId} className="px-3">
            <label className="flex min-h-11 cursor-pointer items-center gap-3">
              <input
                type="checkbox"
                className="size-5 shrink-0 accent-(--accent)"
                checked={tasksDone.includes(task.taskId)}
                onChange={(event) =>
                  setValue(
                    'tasksDone',
                    event.target.checked
                      ? [...tasksDone, task.taskId]
                      : tasksDone.filter((taskId) => taskId !== task.taskId),
                  )
                }
              />
              {task.title}
            </label>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}

/** Marks a visit done: what was renewed, what was found, at which reading. */
export default function DoneDialog({
  visit,
  unit,
  today,
  expectedKm,
  onClose,
}: {
  visit: Visit;
  unit: DistanceUnit;
  today: number;
  expectedKm: number;
  onClose: () => void;
}): ReactNode {
  // Nothing is recorded that nobody said: neither what a look found nor what the meter showed is filled in beforehand.
  const { control, setValue, handleSubmit } = useForm<DoneValues>({
    defaultValues: {
      day: isoFromDay(today),
      distance: '',
      outcomes: Object.fromEntries(
        visit.jobs.map((job) => [job.weakPointId, job.action === 'renew' ? 'done' : 'unsaid']),
      ),
      tasksDone: visit.tasks.map(({ taskId }) => taskId),
    },
  });
  const tasksDone = useWatch({ control, name: 'tasksDone' });
  const outcomes = useWatch({ control, name: 'outcomes' });
  const done = useChange((body: VisitDone, key) =>
    call(endpoints.visits.done, { params: { id: visit.id }, body, key }),
  );
  const keep = useSure(done);
  const send = handleSubmit(({ day, distance }) => {
    const resultOf = (job: Visit['jobs'][number]) => ({
      weakPointId: job.weakPointId,
      result: FOUND[outcomes[job.weakPointId] as keyof typeof FOUND],
    });
    const having = (wanted: readonly Outcome[]): Visit['jobs'] =>
      visit.jobs.filter((job) => wanted.includes(outcomes[job.weakPointId]!));
    keep(
      {
        version: visit.version,
        day: isoTyped(day, today)!,
        km: kmTyped(distance, unit)!,
        skipped: having(['skipped', 'unsaid']).map((job) => job.weakPointId),
        skippedTasks: visit.tasks.map(({ taskId }) => taskId).filter((taskId) => !tasksDone.includes(taskId)),
        findings: having(['sound', 'worn', 'failed']).map(resultOf),
        cameOut: having(['done_sound', 'done_worn', 'done_failed']).map(resultOf),
      },
      { onSuccess: onClose },
    );
  });
  const unsaid = visit.jobs.filter((job) => outcomes[job.weakPointId] === 'unsaid').length;
  return (
    <Dialog
      open
      onClose={onClose}
      title="The visit is done"
      description="Only renewed parts start again at 0 km and 0 years."
      wide
    >
      <form className="grid gap-4" noValidate onSubmit={(event) => void send(event)}>
        <WhenFields control={control} today={today} done={done} unit={unit} expectedKm={expectedKm} />
        <ul className="divide-y divide-rule rounded-md border border-rule empty:hidden">
          {visit.jobs.map((job) => (
            <li key={job.weakPointId} className="px-3 py-2">
              <Choices
                label={`${job.title}${job.partNumber && job.action === 'renew' ? `, ${job.partNumber}` : ''}`}
                value={outcomes[job.weakPointId] === 'unsaid' ? null : outcomes[job.weakPointId]!}
                onChange={(outcome) => setValue(`outcomes.${job.weakPointId}`, outcome)}
                options={job.action === 'renew' ? RENEW_OUTCOMES : LOOK_OUTCOMES}
              />
            </li>
          ))}
        </ul>
        {visit.tasks.length > 0 && <TasksDone visit={visit} tasksDone={tasksDone} setValue={setValue} />}
        {unsaid > 0 && (
          <p role="status">
            {unsaid === 1
              ? 'One look has no finding yet. Left so, it counts as not looked at.'
              : `${unsaid} looks have no finding yet. Left so, they count as not looked at.`}
          </p>
        )}
        <FormProblem error={done.error} fields={['day', 'km']} />
        <Button look="main" type="submit" disabled={done.isPending}>
          Mark it done
        </Button>
      </form>
    </Dialog>
  );
}
