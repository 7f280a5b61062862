import { call } from '../../../api/client.ts';
import {
  endpoints,
  type PlanningUpdate,
  type Settings,
  USUAL_PLANNING,
  type Vehicle,
  vehiclePlanning,
  type VehiclePlanning,
} from '@crosspeen/contract';
import { useState, type ReactNode } from 'react';
import { useForm, useFormState, type UseFormRegister, type Control } from 'react-hook-form';
import { useChange } from '../../../api/changing.tsx';
import { Button } from '../../../ui/button.tsx';
import { Dialog } from '../../../ui/dialog.tsx';
import { TextField } from '../../../ui/field.tsx';
import { FormDay, FormDistance } from '../../../ui/form-fields.tsx';
import { numberTyped } from '../../../ui/formats.ts';
import { Conflict, fieldProblem, FormProblem, isConflict } from '../../../ui/problem.tsx';
import { distanceTyped, isoTyped, kmTyped } from '../../../ui/typed-fields.tsx';
import { aboutMoneyText } from '../../../ui/units.ts';
import { OTHER_PER_YEAR } from '../work/keeping-model.ts';
import { planningWords } from '../work/planning-words.ts';

interface PlanningValues {
  readonly keepUntil: string;
  readonly notBefore: string;
  readonly worth: string;
  readonly loss: string;
  readonly other: string;
  readonly visitBudget: string;
  readonly yearBudget: string;
  readonly visitHours: string;
  readonly coolingBeforeSummer: boolean;
  readonly inspection: string;
  readonly tripDay: string;
  readonly tripDistance: string;
}

const whole = (minor: number | null): string => (minor === null ? '' : String(minor / 100));
const minor = (text: string): number | null => (text.trim() === '' ? null : Math.round(numberTyped(text) * 100));

const valuesOf = (planning: VehiclePlanning, unit: Vehicle['odometerUnit']): PlanningValues => ({
  keepUntil: planning.keepUntil ?? '',
  notBefore: planning.notBefore ?? '',
  worth: whole(planning.worthMinor),
  loss: String(Math.round(planning.lossPerYear * 1000) / 10),
  other: whole(planning.otherPerYearMinor),
  visitBudget: whole(planning.visitBudgetMinor),
  yearBudget: whole(planning.yearBudgetMinor),
  visitHours: planning.visitMinutes === null ? '' : String(Math.round((planning.visitMinutes / 60) * 100) / 100),
  coolingBeforeSummer: planning.coolingBeforeSummer,
  inspection: planning.inspection ?? '',
  tripDay: planning.trip?.day ?? '',
  tripDistance: planning.trip === null ? '' : distanceTyped(planning.trip.km, unit),
});

const planningOf = (values: PlanningValues, unit: Vehicle['odometerUnit'], today: number): VehiclePlanning => {
  const trip = isoTyped(values.tripDay, today);
  return {
    keepUntil: isoTyped(values.keepUntil, today),
    notBefore: isoTyped(values.notBefore, today),
    worthMinor: minor(values.worth),
    lossPerYear: values.loss.trim() === '' ? USUAL_PLANNING.lossPerYear : numberTyped(values.loss) / 100,
    otherPerYearMinor: minor(values.other),
    visitBudgetMinor: minor(values.visitBudget),
    yearBudgetMinor: minor(values.yearBudget),
    visitMinutes: values.visitHours.trim() === '' ? null : Math.round(numberTyped(values.visitHours) * 60),
    coolingBeforeSummer: values.coolingBeforeSummer,
    inspection: isoTyped(values.inspection, today),
    trip: trip === null ? null : { day: trip, km: kmTyped(values.tripDistance, unit) ?? 0 },
  };
};

const WRONG_DAY = 'write a date such as +8m or 14.5.2027';
const WRONG_NUMBER = 'is not a number: write 450';

/** What visits are planned by. */
function PlanningFields({
  control,
  today,
  save,
  unit,
  settings,
  register,
  money,
  said,
  fits,
}: {
  control: Control<PlanningValues>;
  today: number;
  save: { readonly error: Error | null };
  unit: 'km' | 'mi' | 'h';
  settings: Settings;
  register: UseFormRegister<PlanningValues>;
  money: (path: 'worthMinor' | 'otherPerYearMinor' | 'visitBudgetMinor' | 'yearBudgetMinor') => {
    validate: (text: string) => string | true;
  };
  said: (name: keyof PlanningValues, path: string) => string | undefined;
  fits: (path: keyof VehiclePlanning, read: (text: string) => unknown) => (text: string) => true | string;
}): ReactNode {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <FormDay
        control={control}
        name="keepUntil"
        label="Kept until"
        today={today}
        wrong={WRONG_DAY}
        hint="Nothing whose saving comes later is proposed"
        said={fieldProblem(save.error, 'planning.keepUntil')}
      />
      <FormDay
        control={control}
        name="notBefore"
        label="No visit before"
        today={today}
        wrong={WRONG_DAY}
        hint="What is due by then comes in then"
        said={fieldProblem(save.error, 'planning.notBefore')}
      />
      <FormDay
        control={control}
        name="inspection"
        label="Roadworthiness inspection on"
        today={today}
        wrong={WRONG_DAY}
        hint="What it would find fault with is done before"
        said={fieldProblem(save.error, 'planning.inspection')}
      />
      <FormDay
        control={control}
        name="tripDay"
        label="A long trip begins on"
        today={today}
        wrong={WRONG_DAY}
        hint="What falls due by its end is done before"
        said={fieldProblem(save.error, 'planning.trip.day')}
      />
      <FormDistance
        control={control}
        name="tripDistance"
        label="How far it goes"
        unit={unit}
        wrong="is not a number: write 2400"
        said={fieldProblem(save.error, 'planning.trip.km')}
      />
      <TextField
        label={`Most that one visit may cost (${settings.currency})`}
        inputMode="decimal"
        {...register('visitBudget', money('visitBudgetMinor'))}
        error={said('visitBudget', 'visitBudgetMinor')}
      />
      <TextField
        label={`Most that a year may cost (${settings.currency})`}
        inputMode="decimal"
        {...register('yearBudget', money('yearBudgetMinor'))}
        error={said('yearBudget', 'yearBudgetMinor')}
      />
      <TextField
        label="Most hours of work on one visit"
        inputMode="decimal"
        {...register('visitHours', { validate: fits('visitMinutes', (text) => Math.round(numberTyped(text) * 60)) })}
        error={said('visitHours', 'visitMinutes')}
      />
      <label className="flex min-h-11 cursor-pointer items-center gap-3 self-end">
        <input type="checkbox" className="size-5 accent-(--accent)" {...register('coolingBeforeSummer')} />
        <span>Cooling before the summer rather than in it</span>
      </label>
      <TextField
        label={`It would sell for (${settings.currency})`}
        inputMode="decimal"
        {...register('worth', money('worthMinor'))}
        error={said('worth', 'worthMinor')}
      />
      <TextField
        label="Worth that it loses in a year (%)"
        inputMode="decimal"
        {...register('loss', { validate: fits('lossPerYear', (text) => numberTyped(text) / 100) })}
        error={said('loss', 'lossPerYear')}
      />
      <TextField
        label={`Another vehicle would cost a year (${settings.currency})`}
        inputMode="decimal"
        hint={`Loss in value and work together; ${aboutMoneyText(OTHER_PER_YEAR, settings)} is taken where it is empty`}
        {...register('other', money('otherPerYearMinor'))}
        error={said('other', 'otherPerYearMinor')}
      />
    </div>
  );
}

/** Says what the visits of a vehicle are planned by. */
export default function PlanningDialog({
  vehicle,
  settings,
  today,
  onClose,
}: {
  vehicle: Vehicle;
  settings: Settings;
  today: number;
  onClose: () => void;
}): ReactNode {
  const [opened] = useState(vehicle);
  const unit = opened.odometerUnit;
  const { control, register, handleSubmit } = useForm<PlanningValues>({
    defaultValues: valuesOf(opened.planning ?? USUAL_PLANNING, unit),
  });
  const { errors, isSubmitted } = useFormState({ control });
  const [sent, setSent] = useState<VehiclePlanning | null>(null);
  const save = useChange((body: PlanningUpdate, key) =>
    call(endpoints.vehicles.planBy, { params: { id: opened.id }, body, key }),
  );
  const send = (version: number) =>
    handleSubmit((values) => {
      const planning = planningOf(values, unit, today);
      setSent(planning);
      save.mutate({ planning, version }, { onSuccess: onClose });
    })();
  const isNumber = (text: string): true | string => text.trim() === '' || numberTyped(text) > 0 || WRONG_NUMBER;
  /** What the contract itself says of a number, before anything is sent. */
  const fits =
    (path: keyof VehiclePlanning, read: (text: string) => unknown) =>
    (text: string): true | string => {
      if (text.trim() === '') return true;
      if (!(numberTyped(text) >= 0)) return WRONG_NUMBER;
      const { error } = vehiclePlanning.shape[path].safeParse(read(text));
      return error === undefined || error.issues[0]!.message;
    };
  const money = (path: 'worthMinor' | 'otherPerYearMinor' | 'visitBudgetMinor' | 'yearBudgetMinor') => ({
    validate: (text: string) => (isNumber(text) === true ? fits(path, minor)(text) : isNumber(text)),
  });
  const said = (name: keyof PlanningValues, path: string): string | undefined =>
    errors[name]?.message ?? fieldProblem(save.error, `planning.${path}`);
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title="What to plan by"
      description={`${opened.plate ?? opened.name}: as its owner says; leave empty what is open`}
    >
      <form
        className="grid gap-4"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void send(opened.version);
        }}
      >
        <PlanningFields
          control={control}
          today={today}
          save={save}
          unit={unit}
          settings={settings}
          register={register}
          money={money}
          said={said}
          fits={fits}
        />
        {sent && isSubmitted && (
          <Conflict
            error={save.error}
            mine={{ planning: sent }}
            labels={{ planning: 'What to plan by' }}
            words={(value) => planningWords(value as VehiclePlanning, settings, unit)}
            onTheirs={onClose}
            onMine={(version) => void send(version)}
          />
        )}
        {!isConflict(save.error) && <FormProblem error={save.error} fields={[]} />}
        <div className="flex justify-end">
          <Button look="main" type="submit" disabled={save.isPending}>
            Plan by this
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
