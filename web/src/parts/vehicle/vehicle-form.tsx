import type { VehicleOutlook } from '../../api/answer.ts';
import { DISTANCE_UNITS } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { useForm, useWatch, type UseFormRegister, type Control } from 'react-hook-form';
import type { ReactNode } from 'react';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { TextField } from '../../ui/field.tsx';
import { Waiting } from '../../ui/notice.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { DayField, factorTyped, isoTyped } from '../../ui/typed-fields.tsx';
import type { VehicleValues } from './vehicle-values.ts';
import { optionsOf } from '../../ui/select.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';
import type { EngineChoice } from '@crosspeen/contract';

const UNIT_WORDS = { km: 'km', mi: 'miles', h: 'engine hours' } as const;

/** The variant, where the engine has several. */
function VariantField({
  control,
  said,
  entry,
}: {
  control: Control<VehicleValues>;
  said: (name: keyof VehicleValues, path?: string) => string | undefined;
  entry: EngineChoice | undefined;
}): ReactNode {
  return (
    <FormSelect
      control={control}
      name="variantKey"
      label="Variant"
      error={said('variantKey')}
      hint={
        entry?.variants.map((variant) => variant.howToTell).filter(Boolean)[0]
          ? 'To tell them apart, see the lookup'
          : undefined
      }
      options={[
        { value: '', label: 'Not known' },
        ...(entry?.variants ?? []).map(({ key, name }) => ({ value: key, label: name })),
      ]}
    />
  );
}

/** First registration and first visit. */
function RegistrationFields({
  control,
  register,
  said,
}: {
  control: Control<VehicleValues>;
  register: UseFormRegister<VehicleValues>;
  said: (name: keyof VehicleValues, path?: string) => string | undefined;
}): ReactNode {
  return (
    <div className="grid grid-cols-2 gap-3">
      <FormSelect
        control={control}
        name="odometerUnit"
        label="Odometer in"
        options={optionsOf(DISTANCE_UNITS, (unit) => UNIT_WORDS[unit])}
      />
      <TextField
        label="Use"
        hint="x1 usual, x1.3 hard"
        {...register('severity', {
          validate: (text) => factorTyped(text) !== null || 'write x0.2 to x5; x1 is usual use',
        })}
        error={said('severity')}
        autoComplete="off"
      />
    </div>
  );
}

/** Market and serial number. */
function MarketFields({
  register,
  said,
}: {
  register: UseFormRegister<VehicleValues>;
  said: (name: keyof VehicleValues, path?: string) => string | undefined;
}): ReactNode {
  return (
    <div className="grid grid-cols-2 gap-3">
      <TextField
        label="Sold in"
        hint="Region, if known"
        {...register('market')}
        error={said('market')}
        autoComplete="off"
      />
      <TextField
        label="Engine number"
        {...register('serial', {
          validate: (text) =>
            text.trim() === '' || /\d/.test(text) || 'write the digits of the serial, or leave it empty',
        })}
        error={said('serial')}
        inputMode="numeric"
        autoComplete="off"
      />
    </div>
  );
}

function FormFaults({ error }: { error: unknown }): ReactNode {
  return (
    <div className="sm:col-span-2">
      <FormProblem
        error={error}
        fields={[
          'plate',
          'name',
          'model',
          'variantKey',
          'firstRegistered',
          'firstSeen',
          'market',
          'serial',
          'severity',
          'contact',
          'note',
        ]}
      />
    </div>
  );
}

/** The fields of a vehicle. */
export function VehicleForm({
  familyId,
  features = [],
  initial,
  today,
  error,
  pending,
  submit,
  onSubmit,
  children,
}: {
  familyId: string;
  features?: VehicleOutlook['features'];
  initial: VehicleValues;
  today: number;
  error: unknown;
  pending: boolean;
  submit: string;
  onSubmit: (values: VehicleValues) => void;
  children?: ReactNode;
}): ReactNode {
  const engines = useQuery(read.engines());
  const form = useForm<VehicleValues>({ defaultValues: initial });
  const {
    register,
    handleSubmit,
    setValue,
    control,
    formState: { errors },
  } = form;
  const registered = useWatch({ control, name: 'registered' });
  const firstSeen = useWatch({ control, name: 'firstSeen' });
  const entry = engines.data?.rows.find(({ engine }) => engine.familyId === familyId);
  const models = [...new Set(entry?.variants.flatMap((variant) => variant.models) ?? [])];
  const said = (name: keyof VehicleValues, path: string = name): string | undefined =>
    (errors[name] as { message?: string } | undefined)?.message ?? fieldProblem(error, path);
  // A choice drawn before its options are there would show none of them chosen.
  if (engines.isPending) return <Waiting what="the engines" />;
  return (
    <form className="grid gap-4 sm:grid-cols-2" onSubmit={(event) => void handleSubmit(onSubmit)(event)} noValidate>
      <TextField
        label="Plate"
        {...register('plate', {
          validate: (plate, values) =>
            plate.trim() !== '' || values.name.trim() !== '' || 'give a plate or a name, so that it can be found again',
        })}
        error={said('plate')}
        autoFocus
        autoComplete="off"
      />
      <TextField
        label="Name"
        hint="If it has no plate, or one you know it by"
        {...register('name')}
        error={said('name')}
        autoComplete="off"
      />
      <TextField label="Model" list="models-known" {...register('model')} error={said('model')} autoComplete="off" />
      <datalist id="models-known">
        {models.map((model) => (
          <option key={model} value={model} />
        ))}
      </datalist>
      <VariantField control={control} said={said} entry={entry} />
      <DayField
        label="First registered"
        value={registered}
        onChange={(text) => setValue('registered', text, { shouldValidate: errors.registered !== undefined })}
        today={today}
        error={said('registered', 'firstRegistered')}
      />
      <input
        type="hidden"
        {...register('registered', {
          validate: (text) =>
            text.trim() === '' ||
            isoTyped(text, today) !== null ||
            'write a date such as 14.5.2016, 05/2016 or 2016, or leave it empty if not known',
        })}
      />
      <RegistrationFields control={control} register={register} said={said} />
      <DayField
        label="First came to us"
        value={firstSeen}
        onChange={(text) => setValue('firstSeen', text, { shouldValidate: errors.firstSeen !== undefined })}
        today={today}
        error={said('firstSeen')}
        hint="Empty: with its first reading"
      />
      <input
        type="hidden"
        {...register('firstSeen', {
          validate: (text) =>
            text.trim() === '' || isoTyped(text, today) !== null || 'write a date such as 14.5.2024, or leave it empty',
        })}
      />
      <MarketFields register={register} said={said} />
      {features.map(({ key, name, howToTell }) => (
        <FormSelect
          key={key}
          control={control}
          name={`features.${key}`}
          label={`Has ${name}`}
          hint={howToTell ?? undefined}
          options={[
            { value: '', label: 'Not known' },
            { value: 'yes', label: 'Yes' },
            { value: 'no', label: 'No' },
          ]}
        />
      ))}
      <TextField
        className="sm:col-span-2"
        label="Contact"
        hint="A name and a number"
        {...register('contact')}
        error={said('contact')}
        autoComplete="off"
      />
      <TextField className="sm:col-span-2" label="Note" {...register('note')} error={said('note')} />
      {children && <div className="sm:col-span-2">{children}</div>}
      <FormFaults error={error} />
      <div className="sm:col-span-2">
        <Button look="main" type="submit" disabled={pending}>
          {submit}
        </Button>
      </div>
    </form>
  );
}
