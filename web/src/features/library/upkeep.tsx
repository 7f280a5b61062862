import { call } from '../../api/client.ts';
import {
  type WeakPointId,
  endpoints,
  type LibraryFamily,
  type LibraryTask,
  may,
  type SessionState,
  type Settings,
  type TaskDraft,
} from '@crosspeen/contract';
import {
  minutesText,
  formatSpans,
  SEASONS,
  UPKEEP_KINDS,
  USUAL_NEGLECT,
  type Season,
  type UpkeepKind,
} from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useForm, useWatch, type UseFormSetValue } from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { read } from '../../api/queries.ts';
import { SEASON_WORDS, UPKEEP_KIND_WORDS } from '../../parts/upkeep/words.ts';
import { Button } from '../../ui/button.tsx';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { Field, INPUT, TextField } from '../../ui/field.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../ui/problem.tsx';
import { optionsOf } from '../../ui/select.tsx';
import { spansText } from '../../ui/units.ts';
import { WritingForm } from '../../ui/writing-form.tsx';

/** What is typed of a task; figures as text. */
interface TaskValues {
  readonly title: string;
  readonly kind: UpkeepKind;
  readonly how: string;
  readonly minutes: string;
  readonly ownerCan: boolean;
  readonly season: Season | 'any';
  readonly interval: string;
  readonly words: string;
  /** How many times as fast each weak point wears, by its id; empty where the task does not keep it. */
  readonly protects: Readonly<Record<string, string>>;
  readonly inUse: boolean;
}

const ownSaid = (task: LibraryTask | null) => task?.statements.find(({ kind }) => kind === 'bench');

const valuesOf = (task: LibraryTask | null): TaskValues => {
  const said = ownSaid(task);
  return {
    title: task?.title ?? '',
    kind: task?.kind ?? 'look',
    how: task?.how ?? '',
    minutes: task ? String(task.minutes) : '',
    ownerCan: task?.ownerCan ?? false,
    season: task?.season ?? 'any',
    interval: said ? formatSpans(said.interval) : '',
    words: said?.words ?? '',
    protects: Object.fromEntries(task?.protects.map(({ weakPointId, factor }) => [weakPointId, String(factor)]) ?? []),
    inUse: task?.inUse ?? true,
  };
};

const draftOf = (values: TaskValues, familyId: string): TaskDraft => ({
  familyId: familyId as TaskDraft['familyId'],
  title: values.title,
  kind: values.kind,
  how: values.how,
  minutes: Number(values.minutes),
  ownerCan: values.ownerCan,
  season: values.season === 'any' ? null : values.season,
  protects: Object.entries(values.protects)
    .filter(([, factor]) => factor.trim() !== '')
    .map(([weakPointId, factor]) => ({
      weakPointId: weakPointId as TaskDraft['protects'][number]['weakPointId'],
      factor: Number(factor.replace(',', '.').replace(/^x/i, '')),
    })),
  statement:
    values.interval.trim() === ''
      ? null
      : { words: values.words.trim() || 'How often we do it here.', interval: values.interval.trim() },
  inUse: values.inUse,
});

const FIELDS = ['title', 'kind', 'how', 'minutes', 'season', 'statement.interval', 'statement.words'];

/** Weak points that it protects, and how much its neglect hastens them. */
function ProtectsPart({
  family,
  values,
  said,
  keptPath,
  setValue,
}: {
  family: LibraryFamily;
  values: TaskValues;
  said: (path: string) => string | undefined;
  keptPath: (id: string) => string;
  setValue: UseFormSetValue<TaskValues>;
}): ReactNode {
  return (
    <fieldset className="sm:col-span-2">
      <legend className="font-semibold">Left undone, what wears faster</legend>
      <ul className="mt-1 max-h-[30dvh] divide-y divide-rule overflow-y-auto rounded-md border border-rule">
        {family.points.map(({ id, title }) => {
          const factor = values.protects[id] ?? '';
          const error = factor.trim() === '' ? undefined : said(keptPath(id));
          return (
            <ProtectedPoint
              key={id}
              id={id}
              factor={factor}
              setValue={setValue}
              values={values}
              title={title}
              error={error}
            />
          );
        })}
      </ul>
    </fieldset>
  );
}

function ProtectedPoint({
  id,
  factor,
  setValue,
  values,
  title,
  error,
}: {
  id: WeakPointId;
  factor: string;
  setValue: UseFormSetValue<TaskValues>;
  values: TaskValues;
  title: string;
  error: string | undefined;
}): ReactNode {
  return (
    <li className="flex flex-wrap items-center gap-x-3 px-3">
      <label className="flex min-h-11 min-w-0 flex-1 items-center gap-3">
        <input
          type="checkbox"
          className="size-5 shrink-0 accent-(--accent)"
          checked={factor.trim() !== ''}
          onChange={(event) =>
            setValue('protects', { ...values.protects, [id]: event.target.checked ? `${USUAL_NEGLECT}` : '' })
          }
        />
        {title}
      </label>
      {factor.trim() !== '' && (
        <label className="flex items-center gap-2 text-sm text-soft">
          times as fast
          <input
            aria-label={`Times as fast: ${title}`}
            className={`${INPUT} w-20!`}
            inputMode="decimal"
            value={factor}
            onChange={(event) => setValue('protects', { ...values.protects, [id]: event.target.value })}
          />
        </label>
      )}
      {error && (
        <p role="alert" className="w-full pb-2 font-semibold">
          ▲ {error}
        </p>
      )}
    </li>
  );
}

function TaskDialog({
  task,
  family,
  onClose,
}: {
  task: LibraryTask | null;
  family: LibraryFamily;
  onClose: () => void;
}): ReactNode {
  const { control, register, setValue } = useForm<TaskValues>({ defaultValues: valuesOf(task) });
  const values = useWatch({ control }) as TaskValues;
  const save = useChange((over: number, key) => {
    const draft = draftOf(values, family.engine.familyId);
    return task === null
      ? call(endpoints.library.createTask, { body: draft, key })
      : call(endpoints.library.updateTask, { params: { id: task.taskId }, body: { draft, version: over }, key });
  });
  const submit = (over = task?.version ?? 1): void => save.mutate(over, { onSuccess: onClose });
  const said = (path: string): string | undefined =>
    fieldProblem(save.error, path) ?? fieldProblem(save.error, `draft.${path}`);
  const kept = Object.entries(values.protects).filter(([, factor]) => factor.trim() !== '');
  const keptPath = (id: string): string => `protects.${kept.findIndex(([key]) => key === id)}.factor`;
  const shown = [...FIELDS, ...kept.map(([id]) => keptPath(id))];
  return (
    <Dialog
      open
      onClose={onClose}
      title={task === null ? 'Write an upkeep task' : `Edit: ${task.title}`}
      description={`${family.engine.maker} ${family.engine.code}`}
      wide
    >
      <WritingForm className="grid gap-3 sm:grid-cols-2" onSend={() => submit()}>
        <TextField label="What is done" {...register('title')} error={said('title')} autoComplete="off" />
        <FormSelect
          control={control}
          name="kind"
          label="Kind"
          options={optionsOf(UPKEEP_KINDS, (kind) => UPKEEP_KIND_WORDS[kind])}
        />
        <Field className="sm:col-span-2" label="How, and what good looks like" error={said('how')}>
          {(field) => <textarea {...field} rows={2} className={`${INPUT} py-2`} {...register('how')} />}
        </Field>
        <TextField
          label="Minutes"
          inputMode="numeric"
          {...register('minutes')}
          error={said('minutes')}
          autoComplete="off"
        />
        <FormSelect
          control={control}
          name="season"
          label="Season"
          options={[
            { value: 'any', label: 'Any time of the year' },
            ...optionsOf(SEASONS, (season) => SEASON_WORDS[season]),
          ]}
        />
        <TextField
          label="How often, by this workshop"
          hint="Whichever first: 10k km | 1y. Empty: as the others say"
          {...register('interval')}
          error={said('statement.interval')}
          autoComplete="off"
        />
        <TextField label="Why so often" {...register('words')} error={said('statement.words')} autoComplete="off" />
        <label className="flex min-h-11 items-center gap-3">
          <input type="checkbox" className="size-5 accent-(--accent)" {...register('ownerCan')} />
          The owner of the vehicle can do it
        </label>
        {task !== null && (
          <label className="flex min-h-11 items-center gap-3">
            <input type="checkbox" className="size-5 accent-(--accent)" {...register('inUse')} />
            In use; without the tick it is not asked for any more
          </label>
        )}
        <ProtectsPart family={family} values={values} said={said} keptPath={keptPath} setValue={setValue} />
        <div className="sm:col-span-2">
          {isConflict(save.error) ? (
            <Conflict
              error={save.error}
              mine={{ title: values.title, how: values.how }}
              labels={{ title: 'What is done', how: 'How' }}
              onTheirs={onClose}
              onMine={(over) => submit(over)}
            />
          ) : (
            <FormProblem error={save.error} fields={[...shown, ...shown.map((field) => `draft.${field}`)]} />
          )}
        </div>
        <div className="flex gap-2 sm:col-span-2">
          <Button look="main" type="submit" disabled={save.isPending}>
            Save <kbd>Ctrl Enter</kbd>
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </WritingForm>
    </Dialog>
  );
}

/** What is done again and again on one engine, who says how often, and how often it is on record. */
export function UpkeepTasks({
  family,
  session,
  settings,
}: {
  family: LibraryFamily;
  session: SessionState;
  settings: Settings;
}): ReactNode {
  const tasks = useQuery(read.libraryUpkeep(family.engine.familyId));
  const [writing, setWriting] = useState<LibraryTask | 'new' | null>(null);
  const owner = may(session.user!.role, 'publishLibrary');
  const unit = settings.distanceUnit;
  const columns: TableColumn<LibraryTask>[] = [
    {
      id: 'task',
      head: 'Task',
      names: true,
      className: 'py-2.5',
      cell: (task) => (
        <>
          <span className={`font-semibold ${task.inUse ? '' : 'line-through'}`}>{task.title}</span>
          <span className="block text-sm font-normal text-soft">
            {[
              UPKEEP_KIND_WORDS[task.kind],
              minutesText(task.minutes),
              task.season && SEASON_WORDS[task.season],
              task.ownerCan && 'the owner can do it',
              !task.inUse && 'out of use',
            ]
              .filter(Boolean)
              .join(', ')}
          </span>
        </>
      ),
    },
    {
      id: 'often',
      head: 'How often, and who says so',
      cell: ({ statements }) =>
        statements.map(({ authority, interval, words, doubted }, i) => (
          <span key={i} className="block" title={words}>
            {authority}: {interval.length === 0 ? 'no interval' : spansText(interval, unit)}
            {doubted && ', not followed'}
          </span>
        )),
    },
    {
      id: 'keeps',
      head: 'Left undone, wears faster',
      from: 'lg',
      className: 'text-sm',
      cell: ({ protects }) =>
        protects.map(({ weakPointId, title, factor }) => (
          <span key={weakPointId} className="block">
            {title}, x{factor}
          </span>
        )),
    },
    {
      id: 'done',
      head: 'Recorded',
      figure: true,
      from: 'md',
      cell: ({ done, vehicles }) =>
        done === 0 ? 'never' : `${done} on ${vehicles === 1 ? '1 vehicle' : `${vehicles} vehicles`}`,
    },
    ...(owner
      ? [
          {
            id: 'edit',
            head: '',
            cell: (task) => (
              <Button look="quiet" aria-label={`Edit: ${task.title}`} onClick={() => setWriting(task)}>
                Edit
              </Button>
            ),
          } satisfies TableColumn<LibraryTask>,
        ]
      : []),
  ];
  return (
    <section aria-labelledby="upkeep">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-2">
        <h2 id="upkeep" className="text-2xl">
          Upkeep
        </h2>
        {owner && <Button onClick={() => setWriting('new')}>Write an upkeep task</Button>}
      </div>
      {tasks.error ? (
        <Empty
          title="The upkeep cannot be shown"
          action={<Button onClick={() => void tasks.refetch()}>Try again</Button>}
        >
          {tasks.error.message}
        </Empty>
      ) : !tasks.data ? (
        <Waiting what="the upkeep" />
      ) : (
        <DataTable
          label="Upkeep"
          caption={`What is done again and again on ${family.engine.code}`}
          columns={columns}
          rows={tasks.data.rows}
          rowKey={({ taskId }) => taskId}
          none={<p className="p-3 text-soft">No upkeep task yet. Write the first one, or import a pack.</p>}
        />
      )}
      {writing && (
        <TaskDialog task={writing === 'new' ? null : writing} family={family} onClose={() => setWriting(null)} />
      )}
    </section>
  );
}
