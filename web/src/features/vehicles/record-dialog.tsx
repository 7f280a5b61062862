import { call } from '../../api/client.ts';
import { type AnswerRow, endpoints, type PartOption, type ServiceCreate } from '@crosspeen/contract';
import type { Certainty, Condition, DistanceUnit, Grade, Source } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useForm, useWatch, type UseFormSetValue, type Control } from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { Choices } from '../../ui/choices.tsx';
import { RecordSheet } from './record-sheet.tsx';
import { TextField } from '../../ui/field.tsx';
import { fieldProblem } from '../../ui/problem.tsx';
import { FormDay, FormDistance, FormSelect } from '../../ui/form-fields.tsx';
import { isoTyped, kmTyped } from '../../ui/typed-fields.tsx';
import { type Option } from '../../ui/select.tsx';

const CERTAINTY_OPTIONS = [
  { value: 'done', label: 'Renewed' },
  { value: 'believed', label: 'Believed, about then' },
  { value: 'unknown', label: 'Not known' },
  { value: 'not_done', label: 'Never renewed' },
] as const satisfies readonly { value: Certainty; label: string }[];

const GRADE_OPTIONS = [
  { value: 'original', label: 'Original' },
  { value: 'equivalent', label: 'Equivalent' },
  { value: 'cheap', label: 'Cheap', hint: 'expected life: three quarters' },
  { value: 'used', label: 'Used', hint: 'expected life: half' },
  { value: 'rebuilt', label: 'Rebuilt', hint: 'expected life: nine tenths' },
] as const satisfies readonly { value: Grade; label: string; hint?: string }[];

const SOURCE_OPTIONS: readonly Option<Source | ''>[] = [
  { value: '', label: 'Not said' },
  { value: 'own', label: 'Our own work' },
  { value: 'invoice', label: 'An invoice' },
  { value: 'stamp', label: 'A stamp in the book' },
  { value: 'owner', label: 'The owner says so' },
  { value: 'seller', label: 'The seller said so' },
];
const CAME_OUT_OPTIONS = [
  { value: '', label: 'Nobody looked' },
  { value: 'sound', label: 'Still good' },
  { value: 'worn', label: 'Worn' },
  { value: 'failed', label: 'Had failed' },
] as const satisfies readonly { value: Condition | ''; label: string }[];

interface RecordValues {
  readonly certainty: Certainty;
  readonly day: string;
  readonly distance: string;
  readonly grade: Grade;
  readonly part: string;
  readonly source: Source | '';
  readonly cameOut: Condition | '';
  readonly note: string;
}
const NOTHING_SAID: RecordValues = {
  certainty: 'done',
  day: '',
  distance: '',
  grade: 'original',
  part: '',
  source: '',
  cameOut: '',
  note: '',
};

/** Day and reading of the renewal. */
function WhenFields({
  control,
  unit,
  add,
  today,
  neither,
}: {
  control: Control<RecordValues>;
  unit: DistanceUnit;
  add: { readonly error: Error | null };
  today: number;
  neither: boolean;
}): ReactNode {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <FormDistance
        control={control}
        name="distance"
        label="At the reading"
        unit={unit}
        hint="One of the two is enough"
        wrong="is not a number: write 120k or 120,000 or 120,000"
        said={fieldProblem(add.error, 'km')}
      />
      <FormDay
        control={control}
        name="day"
        label="On the date"
        today={today}
        {...(neither
          ? { needed: 'give the date or the reading of the work; about is enough when it is only believed' }
          : {})}
        wrong="is no date; write 14.5.2024, 05/2024 or 2024"
        said={fieldProblem(add.error, 'day')}
      />
    </div>
  );
}

/** The part that went in. */
function PartField({
  control,
  parts,
  setValue,
  chosen,
}: {
  control: Control<RecordValues>;
  parts: readonly PartOption[];
  setValue: UseFormSetValue<RecordValues>;
  chosen: PartOption | undefined;
}): ReactNode {
  return (
    <FormSelect
      control={control}
      name="part"
      label="Part fitted"
      onPick={(picked) => {
        const found = parts.find(({ number }) => number === picked);
        if (found) setValue('grade', found.grade);
      }}
      hint={chosen?.howToTell ? `How to tell: ${chosen.howToTell}` : 'Made-up part numbers'}
      options={[
        { value: '', label: 'Not known' },
        ...parts.map(({ number, name, revision }) => ({
          value: number,
          label: `${number}, ${name}${revision ? `, revision ${revision}` : ''}`,
        })),
      ]}
    />
  );
}

/** Was it renewed? When, at which reading, with which part; or that nobody knows. */
export default function RecordDialog({
  vehicleId,
  row,
  parts,
  unit,
  today,
  onClose,
}: {
  vehicleId: string;
  row: AnswerRow;
  parts: readonly PartOption[];
  unit: DistanceUnit;
  today: number;
  onClose: () => void;
}): ReactNode {
  const { control, register, setValue, handleSubmit } = useForm<RecordValues>({ defaultValues: NOTHING_SAID });
  const { certainty, grade, part, cameOut, ...typed } = useWatch({ control }) as RecordValues;
  const add = useChange((body: ServiceCreate, key) =>
    call(endpoints.vehicles.addService, { params: { id: vehicleId }, body, key }),
  );
  const dated = certainty === 'done' || certainty === 'believed';
  // One of the two is enough.
  const neither = typed.day.trim() === '' && typed.distance.trim() === '';
  const chosen = parts.find(({ number }) => number === part);
  const send = handleSubmit(({ day, distance, source, note }) =>
    add.mutate(
      {
        weakPointId: row.weakPointId,
        certainty,
        day: dated ? isoTyped(day, today) : null,
        km: dated ? kmTyped(distance, unit) : null,
        grade,
        partNumber: chosen?.number ?? null,
        revision: chosen?.revision ?? null,
        source: source || null,
        cameOut: certainty === 'done' ? cameOut || null : null,
        note: note.trim() || null,
      },
      { onSuccess: onClose },
    ),
  );
  return (
    <RecordSheet
      title="Was it renewed?"
      description={`${row.component}, for “${row.title}”`}
      add={add}
      fields={['km', 'day', 'note']}
      onSend={() => void send()}
      onClose={onClose}
    >
      <Choices
        label="What is known"
        value={certainty}
        onChange={(known) => setValue('certainty', known)}
        options={CERTAINTY_OPTIONS}
      />
      {dated && (
        <>
          <WhenFields control={control} unit={unit} add={add} today={today} neither={neither} />
          {parts.length > 0 && <PartField control={control} parts={parts} setValue={setValue} chosen={chosen} />}
          <Choices label="Grade" value={grade} onChange={(known) => setValue('grade', known)} options={GRADE_OPTIONS} />
          {certainty === 'done' && (
            <Choices
              label="The part that came out"
              value={cameOut}
              onChange={(found) => setValue('cameOut', found)}
              options={CAME_OUT_OPTIONS}
            />
          )}
          <FormSelect
            control={control}
            name="source"
            label="How is it known?"
            hint={certainty === 'believed' ? 'An invoice is believed more than a word' : undefined}
            options={SOURCE_OPTIONS}
          />
        </>
      )}
      <TextField
        label="Note"
        {...register('note')}
        error={fieldProblem(add.error, 'note')}
        placeholder={certainty === 'believed' ? 'Who says so?' : ''}
      />
    </RecordSheet>
  );
}
