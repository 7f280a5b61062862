import { endpoints, type AnswerRow, type Visit, type VisitCreate, type WireUpkeep } from '@crosspeen/contract';
import { isoFromDay, workOfJob, workTogether, type WorkItem, type WorkTogether } from '@crosspeen/core';
import { useMemo } from 'react';
import { useForm, useFormState, useWatch, type UseFormReturn } from 'react-hook-form';
import type { Answer, VehicleOutlook } from '../../api/answer.ts';
import { useChange } from '../../api/changing.tsx';
import { call } from '../../api/client.ts';
import { distanceTyped, isoTyped, kmTyped } from '../../ui/typed-fields.tsx';
import { isQuiteNew } from '../job/quite-new.ts';
import { usualPart } from '../job/usual-part.ts';

export type Job = VisitCreate['jobs'][number];

export interface VisitValues {
  readonly day: string;
  readonly distance: string;
  readonly note: string;
  readonly jobs: readonly Job[];
  readonly tasks: VisitCreate['tasks'];
}

/** What a visit dialog is opened with. */
export interface VisitOpening {
  readonly data: VehicleOutlook;
  readonly visit: Visit | null;
  /** The weak point it begins with. */
  readonly first: string | null;
  /** The recurring task it begins with. */
  readonly firstTask: string | null;
}

/** The job that a row begins with: a look where the verdict is Look, else a renewal with the usual part. */
function jobBegun(row: AnswerRow, parts: VehicleOutlook['parts']): Job {
  return {
    weakPointId: row.weakPointId,
    action: row.verdict === 'look' && row.look ? 'look' : 'renew',
    ...usualPart(parts[row.componentKey]),
  };
}

/** The values that the form opens with. */
function valuesAtOpening({ data: { vehicle, answer, parts }, visit, first, firstTask }: VisitOpening): VisitValues {
  const firstRow = answer.rows.find(({ weakPointId }) => weakPointId === first);
  return {
    day: visit?.day ?? isoFromDay(answer.today + 14),
    distance: visit ? distanceTyped(visit.km, vehicle.odometerUnit) : '',
    note: visit?.note ?? '',
    jobs:
      visit?.jobs.map(({ weakPointId, action, grade, partNumber, revision }) => ({
        weakPointId,
        action,
        grade,
        partNumber,
        revision,
      })) ?? (firstRow ? [jobBegun(firstRow, parts)] : []),
    tasks:
      visit?.tasks.map(({ taskId }) => taskId) ??
      answer.upkeep.filter(({ taskId }) => taskId === firstTask).map(({ taskId }) => taskId),
  };
}

/** Changes to the jobs on a visit. */
export interface JobChoice {
  /** Puts a job on the visit with what goes in with it, or takes it off. */
  readonly toggle: (id: string) => void;
  readonly act: (id: string, action: Job['action']) => void;
  readonly alter: (id: string, patch: Partial<Job>) => void;
  /** Puts a renewal on the visit, with what goes in with it. */
  readonly addRenewal: (row: AnswerRow) => void;
}

/** The choice of jobs of an open visit: what is toggled, and what goes in new beside it. */
function jobChoice(
  { answer, parts }: VehicleOutlook,
  jobs: readonly Job[],
  setJobs: (now: readonly Job[]) => void,
): JobChoice {
  const begun = (id: string): Job =>
    jobBegun(
      answer.rows.find(({ weakPointId }) => weakPointId === id)!,
      parts,
    );
  /** Renewals that a job brings along; a part that is quite new is not renewed again. */
  const goesWith = (id: string): Job[] => {
    const row = answer.rows.find(({ weakPointId }) => weakPointId === id)!;
    return answer.rows
      .filter(
        (other) =>
          other.verdict !== 'behind_it' &&
          row.work?.renewWith.includes(other.component) &&
          !jobs.some(({ weakPointId }) => weakPointId === other.weakPointId) &&
          !isQuiteNew(other, answer.today),
      )
      .map((other) => ({ ...jobBegun(other, parts), action: 'renew' as const }));
  };
  const alter = (id: string, patch: Partial<Job>): readonly Job[] =>
    jobs.map((job) => (job.weakPointId === id ? { ...job, ...patch } : job));
  return {
    toggle: (id) => {
      if (jobs.some((job) => job.weakPointId === id)) {
        setJobs(jobs.filter((job) => job.weakPointId !== id));
        return;
      }
      const job = begun(id);
      setJobs([...jobs, job, ...(job.action === 'renew' ? goesWith(id) : [])]);
    },
    act: (id, action) => setJobs([...alter(id, { action }), ...(action === 'renew' ? goesWith(id) : [])]),
    alter: (id, patch) => setJobs(alter(id, patch)),
    addRenewal: ({ weakPointId }) =>
      setJobs([...jobs, { ...begun(weakPointId), action: 'renew' }, ...goesWith(weakPointId)]),
  };
}

/** Work on a visit, with minutes counted once where jobs share a way in. */
export interface VisitWork {
  readonly operations: ReadonlyMap<string, Answer['operations'][number]>;
  readonly together: WorkTogether;
  /** Minutes if each came by itself. */
  readonly apart: number;
  /** Minutes of one job alone. */
  readonly minutesOf: (row: AnswerRow, action: Job['action']) => number;
  /** Minutes that another renewal adds to those chosen, and its minutes alone. */
  readonly added: (row: AnswerRow) => { minutes: number; alone: number };
}

const workOf = (row: AnswerRow, action: Job['action']): WorkItem =>
  workOfJob({
    action,
    operation: row.operation,
    renewMinutes: row.renewMinutes,
    look: row.look && { minutes: row.look.minutes, off: row.look.off ?? [] },
  });

/** Adds up the work of the jobs and tasks that are chosen. */
function useVisitWork({ answer }: VehicleOutlook, jobs: readonly Job[], chosenTasks: readonly WireUpkeep[]): VisitWork {
  const operations = useMemo(
    () => new Map(answer.operations.map((operation) => [operation.key, operation])),
    [answer.operations],
  );
  const work = [
    ...jobs.map(({ weakPointId, action }) =>
      workOf(
        answer.rows.find((row) => row.weakPointId === weakPointId)!,
        action,
      ),
    ),
    ...chosenTasks.map((task) => ({ operations: [], own: task.minutes })),
  ];
  const together = workTogether(operations, work);
  return {
    operations,
    together,
    apart: together.alone.reduce((sum, minutes) => sum + minutes, 0),
    minutesOf: (row, action) => workTogether(operations, [workOf(row, action)]).minutes,
    added: (row) => {
      const job = workOf(row, 'renew');
      return {
        minutes: workTogether(operations, [...work, job]).minutes - together.minutes,
        alone: workTogether(operations, [job]).minutes,
      };
    },
  };
}

/** The change that plans the visit or saves it. */
const useSaveVisit = (vehicleId: string, visit: Visit | null) =>
  useChange(({ body, version }: { body: VisitCreate; version: number | null }, key) =>
    visit && version !== null
      ? call(endpoints.visits.update, { params: { id: visit.id }, body: { ...body, version }, key })
      : call(endpoints.visits.plan, { params: { id: vehicleId }, body, key }),
  );

/** State of an open visit dialog: the form, the choice of jobs, the work, and how it is saved. */
export interface VisitForm extends Pick<UseFormReturn<VisitValues>, 'control' | 'register' | 'setValue'> {
  readonly values: VisitValues;
  readonly isSubmitted: boolean;
  /** The day typed as an ISO date, and the reading typed in km; null where there is none. */
  readonly day: string | null;
  readonly km: number | null;
  readonly choice: JobChoice;
  readonly chosenTasks: readonly WireUpkeep[];
  readonly work: VisitWork;
  readonly save: ReturnType<typeof useSaveVisit>;
  /** Sends the visit over the version given; null plans a new one. */
  readonly send: (version: number | null) => Promise<void>;
}

/** Holds an open visit dialog together. */
export function useVisitForm(opening: VisitOpening, onClose: () => void): VisitForm {
  const { data, visit } = opening;
  const { vehicle, answer } = data;
  const { control, register, setValue, handleSubmit } = useForm<VisitValues>({
    defaultValues: valuesAtOpening(opening),
  });
  const { isSubmitted } = useFormState({ control });
  const values = useWatch({ control }) as VisitValues;
  const save = useSaveVisit(vehicle.id, visit);
  const chosenTasks = answer.upkeep.filter(({ taskId }) => values.tasks.includes(taskId));
  const work = useVisitWork(data, values.jobs, chosenTasks);
  const send = (version: number | null): Promise<void> =>
    handleSubmit((sent) => {
      if (sent.jobs.length + sent.tasks.length === 0) return;
      const body = {
        day: isoTyped(sent.day, answer.today)!,
        km: kmTyped(sent.distance, vehicle.odometerUnit),
        note: sent.note.trim() || null,
        jobs: [...sent.jobs],
        tasks: [...sent.tasks],
      };
      save.mutate({ version, body }, { onSuccess: onClose });
    })();
  return {
    control,
    register,
    setValue,
    values,
    isSubmitted,
    day: isoTyped(values.day, answer.today),
    km: kmTyped(values.distance, vehicle.odometerUnit),
    choice: jobChoice(data, values.jobs, (now) => setValue('jobs', now)),
    chosenTasks,
    work,
    save,
    send,
  };
}
