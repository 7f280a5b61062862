import type { Settings, Vehicle, VehicleUpdate } from '@crosspeen/contract';
import { DUTY_KEYS, DUTY_QUESTIONS, type DutyKey, type DutyLevel } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { change } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Choices } from '../../ui/choices.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { factorTyped } from '../../ui/typed-fields.tsx';

interface DutyValues {
  readonly duty: Readonly<Record<DutyKey, DutyLevel | 'unknown'>>;
  readonly severity: string;
}

/** How the vehicle is used, in plain questions; what each answer does stands beside it. */
export default function DutyDialog({
  vehicle,
  settings,
  onClose,
}: {
  vehicle: Vehicle;
  settings: Settings;
  onClose: () => void;
}): ReactNode {
  const { control, register, setValue, handleSubmit, formState } = useForm<DutyValues>({
    defaultValues: {
      duty: Object.fromEntries(DUTY_KEYS.map((key) => [key, vehicle.duty[key] ?? 'unknown'])),
      severity: `x${vehicle.severity}`,
    },
  });
  const answers = useWatch({ control, name: 'duty' });
  const save = useChange((body: VehicleUpdate, key) => change('PUT', `/api/vehicles/${vehicle.id}`, body, key));
  const send = handleSubmit(({ duty, severity }) => {
    const { engine: _engine, id: _id, ...fields } = vehicle;
    const known = DUTY_KEYS.flatMap((key) => (duty[key] === 'unknown' ? [] : [[key, duty[key]] as const]));
    save.mutate(
      { ...fields, duty: Object.fromEntries(known), severity: factorTyped(severity)! },
      { onSuccess: onClose },
    );
  });
  const options = (key: DutyKey) => {
    const { some, much } = DUTY_QUESTIONS[key];
    const factors = settings.dutyFactors[key];
    return [
      { value: 'unknown', label: 'Not known' },
      { value: 'no', label: 'No' },
      { value: 'some', label: `${some} x${factors.some}` },
      { value: 'much', label: `${much} x${factors.much}` },
    ] as const;
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="How is it used?"
      description="What is not known counts as ordinary use. The factors are the shop’s own view; the owner sets them in the settings."
      wide
    >
      <form className="grid gap-4" noValidate onSubmit={(event) => void send(event)}>
        {DUTY_KEYS.map((key) => (
          <div key={key}>
            <Choices
              label={DUTY_QUESTIONS[key].question}
              value={answers[key]}
              onChange={(level) => setValue(`duty.${key}`, level)}
              options={options(key)}
            />
            <p className="mt-0.5 text-sm text-soft">
              Hastens {DUTY_QUESTIONS[key].clock === 'distance' ? 'distance' : 'age'} on{' '}
              {DUTY_QUESTIONS[key].classes === null ? 'every part' : `${DUTY_QUESTIONS[key].classes.join(', ')} parts`}.
            </p>
          </div>
        ))}
        <TextField
          label="And by your own judgement"
          hint="x1 leaves it at the answers; x1.3 counts every distance harder still"
          {...register('severity', {
            validate: (text) => factorTyped(text) !== null || 'write x0.2 to x5; x1 is usual use',
          })}
          error={formState.errors.severity?.message ?? fieldProblem(save.error, 'severity')}
          autoComplete="off"
        />
        <FormProblem error={save.error} fields={['severity']} />
        <Button look="main" type="submit" disabled={save.isPending}>
          Save how it is used
        </Button>
      </form>
    </Dialog>
  );
}
