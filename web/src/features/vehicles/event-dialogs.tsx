import { useSure } from '../../api/sure.ts';
import { call } from '../../api/client.ts';
import { type BodyOf, type AnswerRow, endpoints } from '@crosspeen/contract';
import { isoFromDay, type DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useForm, type UseFormRegisterReturn } from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { RecordSheet } from './record-sheet.tsx';
import { TextField } from '../../ui/field.tsx';
import { FormDay, FormDistance } from '../../ui/form-fields.tsx';
import { fieldProblem } from '../../ui/problem.tsx';
import { isoTyped, kmTyped } from '../../ui/typed-fields.tsx';

interface EventProps {
  readonly vehicleId: string;
  readonly unit: DistanceUnit;
  readonly today: number;
  readonly onClose: () => void;
}

const NO_DATE = 'write a date such as today or 14.5.2026';
const DATE = { needed: NO_DATE, wrong: NO_DATE } as const;

/** Whether the failure is why the vehicle came. */
function BroughtIn({ field }: { field: UseFormRegisterReturn }): ReactNode {
  return (
    <label className="flex min-h-11 items-start gap-3">
      <input type="checkbox" className="mt-1 size-5 accent-(--accent)" {...field} />
      <span>
        <strong>It came to us because of this.</strong>{' '}
        <span className="text-soft">
          Then it is listed but not counted: we only saw it because it broke, and all that did not break went by unseen.
        </span>
      </span>
    </label>
  );
}

/** It failed: when, since when, and whether that is why the vehicle came. */
export function FailureDialog({
  vehicleId,
  row,
  today,
  onClose,
}: Omit<EventProps, 'unit'> & { row: AnswerRow }): ReactNode {
  const { control, register, handleSubmit } = useForm({
    defaultValues: { day: isoFromDay(today), since: '', broughtIn: false, note: '' },
  });
  const add = useChange((body: BodyOf<typeof endpoints.vehicles.addFinding>, key) =>
    call(endpoints.vehicles.addFinding, { params: { id: vehicleId }, body, key }),
  );
  const send = handleSubmit(({ day, since, broughtIn, note }) =>
    add.mutate(
      {
        weakPointId: row.weakPointId,
        day: isoTyped(day, today),
        result: 'failed',
        broughtIn,
        sinceDay: isoTyped(since, today),
        note: note.trim() || null,
      },
      { onSuccess: onClose },
    ),
  );
  return (
    <RecordSheet
      title="It has failed"
      description={`${row.title}, ${row.component}`}
      add={add}
      fields={['day', 'sinceDay', 'note']}
      onSend={() => void send()}
      onClose={onClose}
    >
      <FormDay
        control={control}
        name="day"
        label="Found failed on"
        today={today}
        {...DATE}
        said={fieldProblem(add.error, 'day')}
      />
      <FormDay
        control={control}
        name="since"
        label="Known to have been running on"
        today={today}
        wrong={NO_DATE}
        hint="Only if the day of the failure is not known"
        said={fieldProblem(add.error, 'sinceDay')}
      />
      <BroughtIn field={register('broughtIn')} />
      <TextField label="Note" {...register('note')} error={fieldProblem(add.error, 'note')} />
    </RecordSheet>
  );
}

/** A cluster was replaced: what the old one showed last, what the new one began at. */
export function ClusterDialog({ vehicleId, unit, today, onClose }: EventProps): ReactNode {
  const { control, handleSubmit } = useForm({ defaultValues: { day: '', old: '', fresh: '0' } });
  const add = useChange((body: BodyOf<typeof endpoints.vehicles.changeMeter>, key) =>
    call(endpoints.vehicles.changeMeter, { params: { id: vehicleId }, body, key }),
  );
  const keep = useSure(add);
  const send = handleSubmit(({ day, old, fresh }) =>
    keep(
      { day: isoTyped(day, today), oldKm: kmTyped(old, unit), newKm: kmTyped(fresh, unit), note: null },
      { onSuccess: onClose },
    ),
  );
  const [last, first] = ['write what it showed last; about is enough', 'write what it showed when it was put in'];
  return (
    <RecordSheet
      title="Cluster replaced"
      description="Readings after that day start from the new cluster; the distance since new goes on."
      add={add}
      fields={['day', 'oldKm', 'newKm']}
      onSend={() => void send()}
      onClose={onClose}
    >
      <FormDay control={control} name="day" label="On" today={today} {...DATE} said={fieldProblem(add.error, 'day')} />
      <div className="grid gap-4 sm:grid-cols-2">
        <FormDistance
          control={control}
          name="old"
          label="The old one showed"
          unit={unit}
          needed={last}
          wrong={last}
          said={fieldProblem(add.error, 'oldKm')}
        />
        <FormDistance
          control={control}
          name="fresh"
          label="The new one began at"
          unit={unit}
          needed={first}
          wrong={first}
          said={fieldProblem(add.error, 'newKm')}
        />
      </div>
    </RecordSheet>
  );
}

/** Another engine was put in: its parts have clocks of their own from then on. */
export function EngineDialog({ vehicleId, unit, today, onClose }: EventProps): ReactNode {
  const { control, handleSubmit } = useForm({ defaultValues: { day: '', run: '' } });
  const add = useChange((body: BodyOf<typeof endpoints.vehicles.swapEngine>, key) =>
    call(endpoints.vehicles.swapEngine, { params: { id: vehicleId }, body, key }),
  );
  const send = handleSubmit(({ day, run }) =>
    add.mutate({ day: isoTyped(day, today), engineKm: kmTyped(run, unit), note: null }, { onSuccess: onClose }),
  );
  return (
    <RecordSheet
      title="Engine swapped"
      description="Work on engine parts before that day was on the other engine and counts no more; radiator, mounts and hoses stay with the vehicle."
      add={add}
      fields={['day', 'engineKm']}
      onSend={() => void send()}
      onClose={onClose}
    >
      <FormDay control={control} name="day" label="On" today={today} {...DATE} said={fieldProblem(add.error, 'day')} />
      <FormDistance
        control={control}
        name="run"
        label="The engine put in had run"
        unit={unit}
        hint="0 for a new one; empty if not known"
        wrong="is no figure; write 60k, 0, or leave it empty"
        said={fieldProblem(add.error, 'engineKm')}
      />
    </RecordSheet>
  );
}
