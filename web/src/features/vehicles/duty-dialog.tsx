import { call } from '../../api/client.ts';
import { type AnswerRow, endpoints, type Settings, type Vehicle, type VehicleUpdate } from '@crosspeen/contract';
import type { VehicleOutlook } from '../../api/answer.ts';
import { DUTY_KEYS, DUTY_QUESTIONS, type DutyKey, type DutyLevel } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { Button } from '../../ui/button.tsx';
import { Choices } from '../../ui/choices.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { factorTyped } from '../../ui/typed-fields.tsx';

interface DutyValues {
  readonly duty: Readonly<Record<DutyKey, DutyLevel | 'unknown'>>;
  readonly severity: string;
  readonly features: Readonly<Record<string, 'yes' | 'no' | 'unknown'>>;
}

const FEATURE_OPTIONS = [
  { value: 'unknown', label: 'Not known' },
  { value: 'no', label: 'No' },
  { value: 'yes', label: 'Yes' },
] as const;

/** How the vehicle is used, in plain questions; what each answer does stands beside it. */
export default function DutyDialog({
  vehicle,
  features,
  rows,
  settings,
  onClose,
}: {
  vehicle: Vehicle;
  features: VehicleOutlook['features'];
  /** For what in particular each answer makes wear faster. */
  rows: readonly AnswerRow[];
  settings: Settings;
  onClose: () => void;
}): ReactNode {
  const { control, register, setValue, handleSubmit, formState } = useForm<DutyValues>({
    defaultValues: {
      duty: Object.fromEntries(DUTY_KEYS.map((key) => [key, vehicle.duty[key] ?? 'unknown'])),
      severity: `x${vehicle.severity}`,
      features: Object.fromEntries(
        features.map(({ key }) => [
          key,
          { true: 'yes', false: 'no', undefined: 'unknown' }[`${vehicle.features[key]}`],
        ]),
      ) as DutyValues['features'],
    },
  });
  const [answers, has] = useWatch({ control, name: ['duty', 'features'] });
  const inParticular = (of: (hasten: AnswerRow['hastens'][number]) => boolean): string =>
    rows.flatMap(({ title, hastens }) => hastens.filter(of).map(({ factor }) => `${title} x${factor}`)).join(', ');
  const save = useChange((body: VehicleUpdate, key) =>
    call(endpoints.vehicles.update, { params: { id: vehicle.id }, body, key }),
  );
  const send = handleSubmit(({ duty, severity, features: said }) => {
    const { engine: _engine, id: _id, ...fields } = vehicle;
    const known = DUTY_KEYS.flatMap((key) => (duty[key] === 'unknown' ? [] : [[key, duty[key]] as const]));
    save.mutate(
      {
        ...fields,
        duty: Object.fromEntries(known),
        severity: factorTyped(severity)!,
        features: {
          ...Object.fromEntries(Object.entries(fields.features).filter(([key]) => said[key] === undefined)),
          ...Object.fromEntries(
            Object.entries(said).flatMap(([key, answer]) => (answer === 'unknown' ? [] : [[key, answer === 'yes']])),
          ),
        },
      },
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
      description="What is not known counts as ordinary use. The factors are the workshop’s own view; the owner sets them in the settings."
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
              {inParticular(({ use }) => use === key) && ` In particular: ${inParticular(({ use }) => use === key)}.`}
            </p>
          </div>
        ))}
        {features.map(({ key, name, howToTell }) => (
          <div key={key}>
            <Choices
              label={`${name}?`}
              value={has[key] ?? 'unknown'}
              onChange={(answer) => setValue(`features.${key}`, answer)}
              options={FEATURE_OPTIONS}
            />
            <p className="mt-0.5 text-sm text-soft">
              {howToTell && `To tell it: ${howToTell}. `}
              {inParticular(({ feature }) => feature === key) &&
                `Wears faster with it: ${inParticular(({ feature }) => feature === key)}.`}
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
