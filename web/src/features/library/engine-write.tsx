import { call } from '../../api/client.ts';
import {
  type BodyOf,
  ASPIRATIONS,
  endpoints,
  engineDraft,
  type EngineDraft,
  FUELS,
  TIMING_DRIVES,
} from '@crosspeen/contract';
import { useState, type ReactNode } from 'react';
import { useForm, type UseFormRegister, type UseFormHandleSubmit, type Control } from 'react-hook-form';
import { useNavigate, type NavigateFunction } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { Button } from '../../ui/button.tsx';
import { TextField } from '../../ui/field.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';
import { numberTyped } from '../../ui/formats.ts';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { optionsOf } from '../../ui/select.tsx';
import { WritingForm } from '../../ui/writing-form.tsx';

interface Values {
  maker: string;
  code: string;
  name: string;
  displacement: string;
  fuel: EngineDraft['fuel'];
  aspiration: EngineDraft['aspiration'];
  timingDrive: EngineDraft['timingDrive'];
  interference: 'hit' | 'clear';
  models: string;
}

const FIELDS = [
  'maker',
  'code',
  'name',
  'displacementL',
  'fuel',
  'aspiration',
  'timingDrive',
  'interference',
  'models',
];
const ASPIRATION_WORDS = { natural: 'Breathes by itself', turbo: 'Turbo' } as const;

/** Models as they are typed, one a line with its years: Corrow 2009-2015. Null where a line is none. */
export function modelsTyped(text: string): EngineDraft['models'] | null {
  const lines = text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
  const read = lines.map((line) => /^(.+?)[ ,]+(\d{4})\s*(?:-|–|to)\s*(\d{4})$/.exec(line));
  return read.some((found) => found === null || Number(found[2]) > Number(found[3]))
    ? null
    : read.map((found) => ({ model: found![1]!.trim(), from: Number(found![2]), to: Number(found![3]) }));
}

/** The fields of a new engine. */
function EngineForm({
  handleSubmit,
  attempt,
  register,
  said,
  control,
  save,
  navigate,
}: {
  handleSubmit: UseFormHandleSubmit<Values, Values>;
  attempt: ({ displacement, interference, models, ...values }: Values) => void;
  register: UseFormRegister<Values>;
  said: (path: string) => string | undefined;
  control: Control<Values>;
  save: { readonly error: Error | null; readonly isPending: boolean };
  navigate: NavigateFunction;
}): ReactNode {
  return (
    <WritingForm
      className="grid max-w-4xl gap-4 rounded-md border border-rule bg-sheet p-4 sm:grid-cols-3"
      onSend={() => void handleSubmit(attempt)()}
    >
      <TextField label="Make" {...register('maker')} error={said('maker')} autoFocus autoComplete="off" />
      <TextField label="Engine code" {...register('code')} error={said('code')} autoComplete="off" />
      <TextField
        label="Called"
        {...register('name')}
        error={said('name')}
        hint="Such as 2.0 petrol"
        autoComplete="off"
      />
      <TextField
        label="Displacement, litres"
        {...register('displacement')}
        error={said('displacementL')}
        inputMode="decimal"
        autoComplete="off"
      />
      <FormSelect control={control} name="fuel" label="Fuel" options={optionsOf(FUELS, (fuel) => fuel)} />
      <FormSelect
        control={control}
        name="aspiration"
        label="Air"
        options={optionsOf(ASPIRATIONS, (key) => ASPIRATION_WORDS[key])}
      />
      <FormSelect
        control={control}
        name="timingDrive"
        label="Timing by"
        options={optionsOf(TIMING_DRIVES, (drive) => drive)}
      />
      <FormSelect
        control={control}
        name="interference"
        label="If the timing slips, valves"
        options={[
          { value: 'hit', label: 'hit the pistons' },
          { value: 'clear', label: 'clear the pistons' },
        ]}
        hint="Not known? Say they hit"
      />
      <AlsoWritten said={said} register={register} />
      <div className="grid gap-3 sm:col-span-3">
        <FormProblem error={save.error} fields={FIELDS} />
        <div className="flex gap-2">
          <Button look="main" type="submit" disabled={save.isPending}>
            Add it and write a weak point
          </Button>
          <Button onClick={() => void navigate(-1)}>Cancel</Button>
        </div>
      </div>
    </WritingForm>
  );
}

/** Other ways in which the code is written. */
function AlsoWritten({
  said,
  register,
}: {
  said: (path: string) => string | undefined;
  register: UseFormRegister<Values>;
}): ReactNode {
  return (
    <div className="sm:col-span-3">
      <label className="mb-1 block font-semibold" htmlFor="models">
        Fitted to
      </label>
      <textarea
        id="models"
        rows={3}
        className="w-full rounded-md border border-rule-strong bg-sheet px-3 py-2"
        placeholder={'Corrow 2009-2015'}
        aria-invalid={said('models') !== undefined}
        aria-describedby="models-note"
        {...register('models')}
      />
      <p id="models-note" className={`text-sm ${said('models') === undefined ? 'text-soft' : 'font-semibold'}`}>
        {said('models') === undefined ? 'One model a line with its years; may be left empty' : `▲ ${said('models')}`}
      </p>
    </div>
  );
}

/** Adds an engine that no pack has brought: enough of it to write weak points and to save vehicles. */
export default function EngineWritePage(): ReactNode {
  const navigate = useNavigate();
  const { register, control, handleSubmit } = useForm<Values>({
    defaultValues: {
      maker: '',
      code: '',
      name: '',
      displacement: '',
      fuel: 'petrol',
      aspiration: 'natural',
      timingDrive: 'belt',
      interference: 'hit',
      models: '',
    },
  });
  const [local, setLocal] = useState<readonly { readonly path: string; readonly message: string }[]>([]);
  const save = useChange((body: BodyOf<typeof endpoints.library.addEngine>, key) =>
    call(endpoints.library.addEngine, { body, key }),
  );
  const attempt = ({ displacement, interference, models, ...values }: Values): void => {
    const fitted = modelsTyped(models);
    const body = {
      ...values,
      displacementL: numberTyped(displacement),
      interference: interference === 'hit',
      models: fitted ?? [],
    };
    const checked = engineDraft.safeParse(body);
    const faults = [
      ...(fitted === null
        ? [{ path: 'models', message: 'one model a line with its years, such as Corrow 2009-2015' }]
        : []),
      ...(checked.success ? [] : checked.error.issues.map(({ path, message }) => ({ path: path.join('.'), message }))),
    ];
    setLocal(faults);
    if (faults.length === 0) save.mutate(body, { onSuccess: ({ id }) => void navigate(`/library/write?engine=${id}`) });
  };
  const said = (path: string): string | undefined =>
    local.find((fault) => fault.path === path)?.message ?? fieldProblem(save.error, path);
  return (
    <>
      <h1 className="mb-1 text-3xl">Add an engine</h1>
      <p className="mb-4 max-w-3xl text-soft">
        One that no pack has brought. Its weak points are written next; variants and features come with a pack.
      </p>
      <EngineForm
        handleSubmit={handleSubmit}
        attempt={attempt}
        register={register}
        said={said}
        control={control}
        save={save}
        navigate={navigate}
      />
    </>
  );
}
