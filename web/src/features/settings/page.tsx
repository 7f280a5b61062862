import { call } from '../../api/client.ts';
import {
  addressOf,
  endpoints,
  type LimitPicture,
  may,
  type SessionState,
  type Settings,
  settings as settingsSchema,
} from '@crosspeen/contract';
import { CONSEQUENCE_WORDS, CONSEQUENCES, DUTY_KEYS, DUTY_QUESTIONS, PROOF_CLASSES, SCHOOLS } from '@crosspeen/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import { useForm, type UseFormRegister, type Control } from 'react-hook-form';
import { toast } from 'sonner';
import { read } from '../../api/queries.ts';
import { readAgain } from '../../api/read-again.ts';
import { Button } from '../../ui/button.tsx';
import { TextField } from '../../ui/field.tsx';
import { LimitMeans } from './limit-field.tsx';
import { settingsOf, valuesOf, type Values } from './values.ts';
import { SCHOOL_WORDS } from '../../parts/answer/schools.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../ui/problem.tsx';
import { SaveLink } from '../../ui/save-link.tsx';
import { DATE_OPTIONS, NUMBER_OPTIONS, UNIT_OPTIONS, WEEKDAY_OPTIONS, zoneOptions } from '../../parts/shop/options.ts';
import { optionsOf } from '../../ui/select.tsx';
import { SettingsTabs } from '../../parts/shop/settings-tabs.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';

const LABELS = {
  workshopName: 'Workshop',
  distanceUnit: 'Distances in',
  currency: 'Currency',
  labourRateMinor: 'Labour',
  weekMinutes: 'Minutes of work in a week',
  taxRate: 'Tax',
  serviceKm: 'Service distance in km',
  serviceDays: 'Service days',
  holdDays: 'Days until it can be brought in',
  visitOwnerMinor: 'Cost of a visit to the owner',
  usualKmPerYear: 'Usual use in km',
  safetyLimit: 'Safety limit',
  limits: 'Limits',
  proofFor: 'Proof of a renewal',
  schools: 'Schools',
  failureCostMinor: 'Cost of failures',
  dutyFactors: 'Factors of use',
  timeZone: 'Time zone',
  numberFormat: 'Numbers',
  dateFormat: 'Dates',
  backupAt: 'Backup each day at',
  backupsKept: 'Backups kept',
};

/** Name, money, times and formats of the workshop. */
function WorkshopPart({
  register,
  said,
  control,
  opened,
}: {
  register: UseFormRegister<Values>;
  said: (path: string) => string | undefined;
  control: Control<Values>;
  opened: Settings;
}): ReactNode {
  return (
    <fieldset className="grid gap-4 rounded-md border border-rule bg-sheet p-4 sm:grid-cols-3">
      <legend className="px-1 font-narrow text-2xl font-semibold">Workshop</legend>
      <TextField label="Name" {...register('workshopName')} error={said('workshopName')} />
      <FormSelect
        control={control}
        name="distanceUnit"
        label="Distances in"
        hint="A vehicle keeps its own odometer’s unit"
        options={UNIT_OPTIONS}
      />
      <FormSelect control={control} name="firstWeekday" label="Week starts on" options={WEEKDAY_OPTIONS} />
      <TextField
        label="Currency"
        {...register('currency')}
        error={said('currency')}
        hint="Three letters, such as EUR"
      />
      <TextField
        label="Labour, an hour"
        {...register('labourRate')}
        error={said('labourRateMinor')}
        inputMode="decimal"
        hint={`In ${opened.currency}, before tax`}
      />
      <TextField
        label="Hours of work in a week"
        {...register('weekHours')}
        error={said('weekMinutes')}
        inputMode="decimal"
        hint="What all bays can do together"
      />
      <TextField label="Tax, %" {...register('taxPercent')} error={said('taxRate')} inputMode="decimal" />
      <FormSelect
        control={control}
        name="timeZone"
        label="Time zone"
        options={zoneOptions(opened.timeZone)}
        error={said('timeZone')}
      />
      <FormSelect control={control} name="numberFormat" label="Numbers" options={NUMBER_OPTIONS} />
      <FormSelect control={control} name="dateFormat" label="Dates" options={DATE_OPTIONS} />
      <TextField
        label="Backup each day at"
        {...register('backupAt')}
        error={said('backupAt')}
        placeholder="02:30"
        hint="The workshop’s time; empty makes none"
      />
      <TextField
        label="Backups kept"
        {...register('backupsKept')}
        error={said('backupsKept')}
        inputMode="numeric"
        hint="Older ones go"
      />
    </fieldset>
  );
}

/** The usual service and use. */
function ServicePart({
  opened,
  register,
  said,
}: {
  opened: Settings;
  register: UseFormRegister<Values>;
  said: (path: string) => string | undefined;
}): ReactNode {
  return (
    <fieldset className="grid gap-4 rounded-md border border-rule bg-sheet p-4 sm:grid-cols-3">
      <legend className="px-1 font-narrow text-2xl font-semibold">Service interval</legend>
      <TextField
        label={`Distance, ${opened.distanceUnit}`}
        {...register('serviceDistance')}
        error={said('serviceKm')}
        inputMode="numeric"
        hint="Chances are for the time until the next service"
      />
      <TextField
        label="Or days"
        {...register('serviceDays')}
        error={said('serviceDays')}
        inputMode="numeric"
        hint="Whichever comes first"
      />
      <TextField
        label={`Usual use, ${opened.distanceUnit} a year`}
        {...register('usualDistance')}
        error={said('usualKmPerYear')}
        inputMode="numeric"
        hint="For a vehicle with too few readings"
      />
      <TextField
        label="Brought in within, days"
        {...register('holdDays')}
        error={said('holdDays')}
        inputMode="numeric"
        hint="What reaches its limit before that is on Hold"
      />
      <TextField
        label={`A visit costs its owner, ${opened.currency}`}
        {...register('visitOwner')}
        error={said('visitOwnerMinor')}
        inputMode="decimal"
        hint="Half a day of his time; plans make fewer visits for it"
      />
    </fieldset>
  );
}

/** How cautious the workshop is, by consequence. */
function LimitsPart({
  register,
  said,
  picture,
  control,
}: {
  register: UseFormRegister<Values>;
  said: (path: string) => string | undefined;
  picture: LimitPicture | undefined;
  control: Control<Values>;
}): ReactNode {
  return (
    <fieldset className="grid gap-4 rounded-md border border-rule bg-sheet p-4 sm:grid-cols-4">
      <legend className="px-1 font-narrow text-2xl font-semibold">How cautious we are</legend>
      <p className="text-soft sm:col-span-4">
        Most chance of failing before the next service that we accept, in %. Over it, the item is renewed or looked at.
        Empty never asks for work. Below each: how many of our own vehicles have something over the limit, and how that
        count falls as the limit is loosened from 0.1 % on the left to 100 % on the right.
      </p>
      {CONSEQUENCES.map((consequence) => (
        <div key={consequence}>
          <TextField
            label={`${consequence.charAt(0).toUpperCase()}${consequence.slice(1)}, %`}
            hint={CONSEQUENCE_WORDS[consequence]}
            {...register(`limits.${consequence}`)}
            error={said(`limits.${consequence}`)}
            inputMode="decimal"
          />
          <LimitMeans picture={picture} consequence={consequence} control={control} />
        </div>
      ))}
      <TextField
        label="Safety, %"
        hint="fire, burns, loss of brakes or steering: stricter than all"
        {...register('safetyPercent')}
        error={said('safetyLimit')}
        inputMode="decimal"
      />
    </fieldset>
  );
}

/** Where a renewal must be shown. */
function ProofPart({ register }: { register: UseFormRegister<Values> }): ReactNode {
  return (
    <fieldset className="rounded-md border border-rule bg-sheet p-4">
      <legend className="px-1 font-narrow text-2xl font-semibold">Where we want proof</legend>
      <p className="mb-1 text-soft">
        Ticked: where nobody can show that such a part was ever renewed, it is judged as if it were the first one.
        Elsewhere it is judged by how likely it is the first one.
      </p>
      <div className="flex flex-wrap gap-x-6">
        {PROOF_CLASSES.map((key) => (
          <label key={key} className="flex min-h-11 items-center gap-2">
            <input type="checkbox" className="size-5" {...register(`proof.${key}`)} />
            {key.charAt(0).toUpperCase() + key.slice(1)}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/** The school for each consequence. */
function SchoolsPart({ control }: { control: Control<Values> }): ReactNode {
  return (
    <fieldset className="grid gap-4 rounded-md border border-rule bg-sheet p-4 sm:grid-cols-4">
      <legend className="px-1 font-narrow text-2xl font-semibold">Which school we follow</legend>
      <p className="text-soft sm:col-span-4">
        {SCHOOLS.map((school) => `${SCHOOL_WORDS[school].word}: ${SCHOOL_WORDS[school].means}`).join('. ')}. Cost is
        never followed for a safety item.
      </p>
      {CONSEQUENCES.map((consequence) => (
        <FormSelect
          key={consequence}
          control={control}
          name={`schools.${consequence}`}
          label={consequence.charAt(0).toUpperCase() + consequence.slice(1)}
          options={optionsOf(SCHOOLS, (school) => SCHOOL_WORDS[school].word)}
        />
      ))}
    </fieldset>
  );
}

/** What a failure costs, by consequence. */
function CostsPart({
  opened,
  register,
  said,
}: {
  opened: Settings;
  register: UseFormRegister<Values>;
  said: (path: string) => string | undefined;
}): ReactNode {
  return (
    <fieldset className="grid gap-4 rounded-md border border-rule bg-sheet p-4 sm:grid-cols-4">
      <legend className="px-1 font-narrow text-2xl font-semibold">What a failure costs</legend>
      <p className="text-soft sm:col-span-4">
        Beyond the renewal itself, in {opened.currency}: towing, neighbour parts, a lost day. The school of least cost
        weighs it against renewing early. The demo’s figures are made up.
      </p>
      {CONSEQUENCES.map((consequence) => (
        <TextField
          key={consequence}
          label={`${consequence.charAt(0).toUpperCase()}${consequence.slice(1)}, ${opened.currency}`}
          {...register(`failureCost.${consequence}`)}
          error={said(`failureCostMinor.${consequence}`)}
          inputMode="decimal"
        />
      ))}
    </fieldset>
  );
}

/** How much hard use hastens wear. */
function DutyPart({
  register,
  said,
}: {
  register: UseFormRegister<Values>;
  said: (path: string) => string | undefined;
}): ReactNode {
  return (
    <fieldset className="grid gap-4 rounded-md border border-rule bg-sheet p-4 sm:grid-cols-2">
      <legend className="px-1 font-narrow text-2xl font-semibold">How use counts</legend>
      <p className="text-soft sm:col-span-2">
        Each answer about a vehicle’s use makes a clock run so many times as fast for the parts it wears on. The
        workshop’s own view, not a measurement.
      </p>
      {DUTY_KEYS.map((key) => (
        <div key={key} role="group" aria-label={DUTY_QUESTIONS[key].question} className="grid grid-cols-2 gap-3">
          <p className="col-span-2 -mb-2 font-semibold">
            {DUTY_QUESTIONS[key].question}{' '}
            <span className="font-normal text-soft">
              {DUTY_QUESTIONS[key].clock === 'distance' ? 'distance' : 'age'};{' '}
              {DUTY_QUESTIONS[key].classes?.join(', ') ?? 'every part'}
            </span>
          </p>
          <TextField
            label={DUTY_QUESTIONS[key].some}
            {...register(`dutyFactors.${key}.some`)}
            error={said(`dutyFactors.${key}.some`)}
          />
          <TextField
            label={DUTY_QUESTIONS[key].much}
            {...register(`dutyFactors.${key}.much`)}
            error={said(`dutyFactors.${key}.much`)}
          />
        </div>
      ))}
    </fieldset>
  );
}

function SettingsForm({ settings }: { settings: Settings }): ReactNode {
  const client = useQueryClient();
  const [opened, setOpened] = useState(settings);
  const [sent, setSent] = useState<Settings | null>(null);
  const picture = useQuery(read.limitPicture()).data;
  const {
    register,
    handleSubmit,
    reset,
    control,
    formState: { isDirty },
  } = useForm<Values>({ defaultValues: valuesOf(opened) });
  // Nothing typed yet: follow what others save. Once something is typed, keep it and let the save tell of a conflict.
  if (!isDirty && settings.version > opened.version) setOpened(settings);
  useEffect(() => reset(valuesOf(opened)), [opened, reset]);
  const save = useMutation({
    mutationFn: (body: Settings) => call(endpoints.settings.save, { body }),
    onSuccess: async (saved) => {
      setOpened(saved);
      await client.invalidateQueries({ queryKey: ['session'] });
      await readAgain(client);
      toast('Settings saved. Every vehicle is judged by them from now on.');
    },
  });
  const [local, setLocal] = useState<readonly { path: string; message: string }[]>([]);
  const attempt = (body: Settings): void => {
    setSent(body);
    const checked = settingsSchema.safeParse(body);
    setLocal(
      checked.success
        ? []
        : checked.error.issues.map((issue) => ({
            path: issue.path.join('.'),
            message: Number.isNaN(
              issue.path.reduce<unknown>(
                (value, key) => (value as Record<PropertyKey, unknown>)?.[key as string],
                body,
              ),
            )
              ? 'must be a number'
              : issue.message,
          })),
    );
    if (checked.success) save.mutate(body);
  };
  const said = (path: string): string | undefined =>
    local.find((issue) => issue.path === path)?.message ?? fieldProblem(save.error, path);
  return (
    <form
      className="grid max-w-4xl gap-6"
      onSubmit={(event) =>
        void handleSubmit((values) => attempt(settingsOf(values, opened.distanceUnit, opened.version)))(event)
      }
      noValidate
    >
      <WorkshopPart register={register} said={said} control={control} opened={opened} />
      <ServicePart opened={opened} register={register} said={said} />
      <LimitsPart register={register} said={said} picture={picture} control={control} />
      <ProofPart register={register} />
      <SchoolsPart control={control} />
      <CostsPart opened={opened} register={register} said={said} />
      <DutyPart register={register} said={said} />
      {sent && (
        <Conflict
          error={save.error}
          mine={{ ...sent }}
          labels={LABELS}
          onTheirs={() => {
            save.reset();
            void client.fetchQuery({ ...read.settings(), staleTime: 0 }).then(setOpened);
          }}
          onMine={(version) => attempt({ ...sent, version })}
        />
      )}
      <FormProblem error={isConflict(save.error) ? null : save.error} />
      <div>
        <Button look="main" type="submit" disabled={save.isPending}>
          Save settings
        </Button>
      </div>
      <section aria-labelledby="everything" className="border-t border-rule pt-4">
        <h2 id="everything" className="text-2xl">
          Everything as a file
        </h2>
        <p className="mb-2 text-soft">
          All vehicles, records, the library, what was changed by whom: one compressed file of JSON lines that any
          program can read. ./crosspeen restore FILE reads it back. It holds the accounts’ password hashes: keep it like
          a key.
        </p>
        <SaveLink href={addressOf(endpoints.archive.download, {})}>Save everything</SaveLink>
      </section>
    </form>
  );
}

/** Units, money, service interval and how cautious the workshop is. The owner's. */
export default function SettingsPage({ session }: { session: SessionState }): ReactNode {
  const settings = useQuery(read.settings());
  if (!may(session.user!.role, 'editSettings'))
    return (
      <Empty title="Settings are the owner’s">
        Units, labour rate, service interval and limits are set by the owner of the workshop.
      </Empty>
    );
  if (!settings.data) return <Waiting what="the settings" />;
  return (
    <SettingsTabs>
      <SettingsForm settings={settings.data} />
    </SettingsTabs>
  );
}
