import { call } from '../../api/client.ts';
import { endpoints, type UpkeepCreate, type WireUpkeep } from '@crosspeen/contract';
import type { DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { Choices } from '../../ui/choices.tsx';
import { RecordSheet } from './record-sheet.tsx';
import { TextField } from '../../ui/field.tsx';
import { FormDay, FormDistance } from '../../ui/form-fields.tsx';
import { fieldProblem } from '../../ui/problem.tsx';
import { isoTyped, kmTyped } from '../../ui/typed-fields.tsx';
import { lastDoneText } from '../../parts/upkeep/words.ts';

type Certainty = NonNullable<UpkeepCreate['certainty']>;

const ANSWERS = [
  { value: 'done', label: 'It was done' },
  { value: 'never', label: 'Never, up to that day' },
] as const satisfies readonly { value: Certainty; label: string }[];

const NO_DATE = 'write a date such as today or 05/2024, or the reading instead';

interface UpkeepValues {
  readonly certainty: Certainty;
  readonly day: string;
  readonly distance: string;
  readonly note: string;
}

/** Records when a recurring task was done, or that it never was; date or reading, each completes the other. */
export default function UpkeepDialog({
  vehicleId,
  task,
  unit,
  today,
  onClose,
}: {
  vehicleId: string;
  task: WireUpkeep;
  unit: DistanceUnit;
  today: number;
  onClose: () => void;
}): ReactNode {
  const { control, register, setValue, handleSubmit } = useForm<UpkeepValues>({
    defaultValues: { certainty: 'done', day: '', distance: '', note: '' },
  });
  const { certainty, distance } = useWatch({ control }) as UpkeepValues;
  const add = useChange((body: UpkeepCreate, key) =>
    call(endpoints.vehicles.addUpkeep, { params: { id: vehicleId }, body, key }),
  );
  const send = handleSubmit((values) =>
    add.mutate(
      {
        taskId: task.taskId,
        certainty: values.certainty,
        day: isoTyped(values.day, today),
        km: kmTyped(values.distance, unit),
        note: values.note.trim() || null,
      },
      { onSuccess: onClose },
    ),
  );
  return (
    <RecordSheet
      title={task.title}
      description={`Last done: ${lastDoneText(task.lastDay, today).toLowerCase()}`}
      add={add}
      fields={['day', 'km', 'note']}
      onSend={() => void send()}
      onClose={onClose}
    >
      <Choices
        label="Was it done?"
        value={certainty}
        onChange={(value) => setValue('certainty', value)}
        options={ANSWERS}
      />
      <FormDay
        control={control}
        name="day"
        label={certainty === 'done' ? 'Done on' : 'Up to'}
        today={today}
        hint="About is enough: 05/2024, or 2024"
        {...(distance.trim() === '' ? { needed: NO_DATE } : {})}
        wrong={NO_DATE}
        said={fieldProblem(add.error, 'day')}
      />
      <FormDistance
        control={control}
        name="distance"
        label="At"
        unit={unit}
        hint="May stay empty where there is a date"
        wrong="is not a number: write 120k or 120,000"
        said={fieldProblem(add.error, 'km')}
      />
      <TextField label="Note" {...register('note')} error={fieldProblem(add.error, 'note')} />
    </RecordSheet>
  );
}
