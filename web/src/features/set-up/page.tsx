import { call } from '../../api/client.ts';
import { type BodyOf, type Caution, CAUTIONS, endpoints, limitsOf, setUpRequest } from '@crosspeen/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useForm, useWatch, type UseFormRegister, type Control } from 'react-hook-form';
import { rememberCsrfToken } from '../../api/client.ts';
import { DATE_OPTIONS, NUMBER_OPTIONS, UNIT_OPTIONS, WEEKDAY_OPTIONS, zoneOptions } from '../../parts/shop/options.ts';
import { Button } from '../../ui/button.tsx';
import { TextField } from '../../ui/field.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';
import { setFormats } from '../../ui/formats.ts';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { optionsOf } from '../../ui/select.tsx';
import { WritingForm } from '../../ui/writing-form.tsx';
import { percentText } from '../../ui/units.ts';
import { readSetUp, usualValues, type Values } from './values.ts';

const CAUTION_WORDS: Readonly<Record<Caution, string>> = {
  careful: 'Careful: half the usual chance',
  usual: 'Usual',
  easy: 'Easy-going: twice the usual chance',
};
const BOX = 'grid gap-4 rounded-md border border-rule bg-sheet p-4 sm:grid-cols-3';
const LEGEND = 'px-1 font-narrow text-2xl font-semibold';

/** The workshop. */
function ShopPart({
  register,
  said,
  control,
  zone,
  limits,
}: {
  register: UseFormRegister<Values>;
  said: (path: string) => string | undefined;
  control: Control<Values>;
  zone: string;
  limits: { readonly engine: number | null; readonly stranded: number | null; readonly leak: number | null };
}): ReactNode {
  return (
    <fieldset className={BOX}>
      <legend className={LEGEND}>Workshop</legend>
      <TextField
        label="Name of the workshop"
        {...register('workshopName')}
        error={said('shop.workshopName')}
        autoComplete="organization"
      />
      <TextField
        label="Currency"
        {...register('currency')}
        error={said('shop.currency')}
        hint="Three letters, such as EUR"
      />
      <TextField
        label="Labour, an hour"
        {...register('labourRate')}
        error={said('shop.labourRateMinor')}
        inputMode="decimal"
        hint="Before tax"
      />
      <TextField label="Tax, %" {...register('taxPercent')} error={said('shop.taxRate')} inputMode="decimal" />
      <FormSelect control={control} name="distanceUnit" label="Distances in" options={UNIT_OPTIONS} />
      <FormSelect
        control={control}
        name="timeZone"
        label="Time zone"
        options={zoneOptions(zone)}
        error={said('shop.timeZone')}
      />
      <FormSelect control={control} name="firstWeekday" label="Week starts on" options={WEEKDAY_OPTIONS} />
      <FormSelect control={control} name="numberFormat" label="Numbers" options={NUMBER_OPTIONS} />
      <FormSelect control={control} name="dateFormat" label="Dates" options={DATE_OPTIONS} />
      <div className="sm:col-span-3">
        <FormSelect
          control={control}
          name="caution"
          label="How cautious"
          options={optionsOf(Object.keys(CAUTIONS) as Caution[], (key) => CAUTION_WORDS[key])}
          hint={`Most chance of failing before the next service that is let run: ${percentText(limits.engine!)} where the engine is at stake, ${percentText(limits.stranded!)} where it would stop on the road, ${percentText(limits.leak!)} for a leak`}
        />
      </div>
    </fieldset>
  );
}

/** Its owner. */
function OwnerPart({
  register,
  said,
}: {
  register: UseFormRegister<Values>;
  said: (path: string) => string | undefined;
}): ReactNode {
  return (
    <fieldset className={BOX}>
      <legend className={LEGEND}>You, the owner</legend>
      <TextField
        label="Your name"
        {...register('displayName')}
        error={said('owner.displayName')}
        hint="As colleagues know you"
        autoComplete="name"
      />
      <TextField
        label="Sign-in name"
        {...register('name')}
        error={said('owner.name')}
        hint="One word"
        autoComplete="username"
        autoCapitalize="none"
      />
      <TextField
        label="Password"
        type="password"
        {...register('password')}
        error={said('owner.password')}
        hint="10 characters or more; a few words that do not belong together"
        autoComplete="new-password"
      />
    </fieldset>
  );
}

/** The first page of a workshop of one's own: the shop, and its owner. */
export default function SetUpPage(): ReactNode {
  const client = useQueryClient();
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const { register, handleSubmit, control } = useForm<Values>({ defaultValues: usualValues(zone) });
  const [local, setLocal] = useState<readonly { path: string; message: string }[]>([]);
  const setUp = useMutation({
    mutationFn: (body: BodyOf<typeof endpoints.session.setUp>) => call(endpoints.session.setUp, { body }),
    onSuccess: (state) => {
      rememberCsrfToken(state.csrfToken);
      setFormats(state.formats);
      client.setQueryData(['session'], state);
    },
  });
  const attempt = (values: Values): void => {
    const { body, faults } = readSetUp(values);
    const checked = setUpRequest.safeParse(body);
    const all = [
      ...faults,
      ...(checked.success
        ? []
        : checked.error.issues.map((issue) => ({ path: issue.path.join('.'), message: issue.message }))),
    ];
    setLocal(all.filter(({ path }, at) => all.findIndex((other) => other.path === path) === at));
    if (all.length === 0) setUp.mutate(body);
  };
  const said = (path: string): string | undefined =>
    local.find((fault) => fault.path === path)?.message ?? fieldProblem(setUp.error, path);
  const { limits } = limitsOf(useWatch({ control, name: 'caution' }));
  return (
    <main className="mx-auto max-w-4xl px-5 py-8">
      <h1 className="mb-1 text-4xl">Set your workshop up</h1>
      <p className="mb-6 text-soft">Everything here can be changed later in Settings.</p>
      <WritingForm className="grid gap-6" onSend={() => void handleSubmit(attempt)()}>
        <fieldset className={BOX}>
          <legend className={LEGEND}>Set-up code</legend>
          <TextField
            label="Code"
            {...register('code')}
            error={said('code')}
            hint="Printed where the workshop was started"
            autoComplete="off"
            autoFocus
          />
        </fieldset>
        <ShopPart register={register} said={said} control={control} zone={zone} limits={limits} />
        <OwnerPart register={register} said={said} />
        <FormProblem error={setUp.error} fields={['code', 'shop', 'owner']} />
        <div>
          <Button look="main" type="submit" disabled={setUp.isPending}>
            Set it up and begin
          </Button>
        </div>
      </WritingForm>
    </main>
  );
}
