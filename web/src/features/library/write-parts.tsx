import { DayField } from '../../ui/typed-fields.tsx';
import {
  CONSEQUENCE_LABELS,
  CONSEQUENCES,
  GROUPS,
  NATURES,
  STATEMENT_ASKS,
  SHAPE_BY_CLASS,
  SHARE_BY_WORD,
  STATEMENT_STRENGTHS,
  type ComponentClass,
  type ShareWord,
} from '@crosspeen/core';
import type { endpoints } from '@crosspeen/contract';
import { type AnswerOf } from '@crosspeen/contract';
import { type ReactNode } from 'react';
import { type Control, type UseFormRegister, type UseFormRegisterReturn, type UseFormSetValue } from 'react-hook-form';
import { STRENGTH_WORDS } from '../../editors/strip/view/marks.tsx';
import { TextField } from '../../ui/field.tsx';
import { componentNamed, type DraftValues } from './draft.ts';
import { ASKS_WORDS, CLASS_WORDS, GROUP_WORDS, NATURE_WORDS, SHARE_LABELS, WINDOW_HINTS } from './words.ts';
import { optionsOf } from '../../ui/select.tsx';
import { FormSelect } from '../../ui/form-fields.tsx';

const SHARES = Object.keys(SHARE_BY_WORD) as ShareWord[];

const CLASSES = Object.keys(SHAPE_BY_CLASS) as ComponentClass[];

/** The variants that it concerns. */
export function VariantsPart({
  variants,
  values,
  setValue,
  said,
}: {
  variants: readonly { readonly key: string; readonly name: string }[];
  values: DraftValues;
  setValue: UseFormSetValue<DraftValues>;
  said: (path: string) => string | undefined;
}): ReactNode {
  return (
    <fieldset className="sm:col-span-2">
      <legend className="mb-1 font-semibold">Which variants have it</legend>
      <div className="flex flex-wrap gap-x-5">
        {variants.map(({ key, name }) => (
          <VariantChoice key={key} variant={key} values={values} setValue={setValue} name={name} />
        ))}
      </div>
      <p className="text-sm text-soft">None ticked: all of them.</p>
      {said('variants') && (
        <p role="alert" className="text-sm font-semibold">
          ▲ {said('variants')}
        </p>
      )}
    </fieldset>
  );
}

function VariantChoice({
  variant,
  values,
  setValue,
  name,
}: {
  variant: string;
  values: DraftValues;
  setValue: UseFormSetValue<DraftValues>;
  name: string;
}): ReactNode {
  return (
    <label className="flex min-h-11 items-center gap-2">
      <input
        type="checkbox"
        className="size-5"
        checked={values.variants.includes(variant)}
        onChange={(event) =>
          setValue(
            'variants',
            event.target.checked ? [...values.variants, variant] : values.variants.filter((other) => other !== variant),
          )
        }
      />
      {name}
    </label>
  );
}

/** Fields of the form as its parts use them. */
export interface WritingFields {
  readonly control: Control<DraftValues>;
  readonly values: DraftValues;
  readonly setValue: UseFormSetValue<DraftValues>;
  readonly register: UseFormRegister<DraftValues>;
  /** Binds a text field. */
  readonly text: (
    key: Exclude<keyof DraftValues, 'safety' | 'variants'>,
  ) => UseFormRegisterReturn & { autoComplete: 'off' };
  /** The problem that the server named for a field. */
  readonly said: (path: string) => string | undefined;
}

/** The engine, and the component in it that goes wrong. */
export function EnginePart({
  form,
  engines,
  components,
  id,
  initial,
}: {
  form: WritingFields;
  engines: AnswerOf<typeof endpoints.library.engines>['rows'];
  components: AnswerOf<typeof endpoints.library.components>['rows'];
  id: string | null;
  initial: DraftValues;
}): ReactNode {
  const { control, values, text, said } = form;
  const fresh = values.component.trim() !== '' && !componentNamed(values.component, components);
  return (
    <>
      <FormSelect
        control={control}
        name="familyId"
        label="Engine"
        error={said('familyId')}
        disabled={id !== null}
        autoFocus={initial.familyId === ''}
        placeholder="Choose the engine"
        options={engines.map(({ engine }) => ({ value: engine.familyId, label: `${engine.maker} ${engine.code}` }))}
      />
      <TextField
        label="Component"
        hint={fresh ? 'New in the library: say below what it is' : 'A known one, or a new name'}
        list="components-known"
        {...text('component')}
        error={said('componentId') ?? said('newComponent')}
        autoFocus={values.familyId !== '' && id === null}
      />
      <datalist id="components-known">
        {components.map((component) => (
          <option key={component.id} value={component.name} />
        ))}
      </datalist>
      {fresh && (
        <FormSelect
          control={control}
          name="newClass"
          label="Made of"
          options={optionsOf(CLASSES, (key) => CLASS_WORDS[key])}
        />
      )}
      {fresh && (
        <FormSelect
          control={control}
          name="newGroup"
          label="Group"
          options={optionsOf(GROUPS, (key) => GROUP_WORDS[key])}
        />
      )}
    </>
  );
}

/** What goes wrong: when, on how many, and what then happens. */
export function FailurePart({ form }: { form: WritingFields }): ReactNode {
  const { control, values, text, said } = form;
  return (
    <>
      <TextField
        className="sm:col-span-2"
        label="What goes wrong"
        placeholder="Thermostat housing cracks at the seam"
        {...text('title')}
        error={said('title')}
      />
      <TextField
        label="When it mostly fails"
        hint={WINDOW_HINTS[values.nature]}
        placeholder="90-130k km | 8-12y"
        {...text('windows')}
        error={said('causes')}
      />
      <FormSelect
        control={control}
        name="nature"
        label="Who has it"
        error={said('nature')}
        options={optionsOf(NATURES, (key) => NATURE_WORDS[key])}
      />
      <FormSelect
        control={control}
        name="share"
        label={SHARE_LABELS[values.nature]}
        options={optionsOf(SHARES, (key) => `${key}: ${Math.round(SHARE_BY_WORD[key] * 100)} %`)}
      />
      <FormSelect
        control={control}
        name="consequence"
        label="If it fails"
        options={optionsOf(CONSEQUENCES, (key) => CONSEQUENCE_LABELS[key])}
      />
      <TextField label="Minutes to renew" inputMode="numeric" {...text('renewMinutes')} error={said('renewMinutes')} />
      <TextField className="sm:col-span-2" label="What then happens" {...text('effect')} error={said('effect')} />
      <TextField
        className="sm:col-span-2"
        label="What tells, before or then"
        {...text('signs')}
        error={said('signs')}
      />
      <label className="flex min-h-11 items-center gap-2 sm:col-span-2">
        <input type="checkbox" className="size-5" {...form.register('safety')} />
        Safety: fire, burns, or control lost. Safety items always need a look.
      </label>
    </>
  );
}

/** The look that finds it beforehand. */
export function LookPart({ form }: { form: WritingFields }): ReactNode {
  const { text, said } = form;
  return (
    <>
      <TextField
        label="How to look"
        hint="Empty: nothing to see beforehand"
        {...text('lookHow')}
        error={said('look')}
      />
      <div className="grid grid-cols-3 gap-2">
        <TextField label="Minutes" inputMode="numeric" {...text('lookMinutes')} />
        <TextField label="Finds, in %" inputMode="numeric" {...text('lookDetects')} />
        <TextField label="Shows for" placeholder="10k km" {...text('lookWarns')} />
      </div>
    </>
  );
}

/** The window of production that has it. */
export function MadePart({ form, today }: { form: WritingFields; today: number }): ReactNode {
  const day = (key: 'producedFrom' | 'producedTo') => ({
    value: form.values[key],
    onChange: (typed: string) => form.setValue(key, typed),
    today,
    error: form.said(key),
  });
  return (
    <>
      <DayField label="Made from" hint="Empty: from the first" {...day('producedFrom')} />
      <DayField label="Made until" hint="Empty: to the last" {...day('producedTo')} />
    </>
  );
}

/** What the shop itself says of it. */
export function SayPart({ form }: { form: WritingFields }): ReactNode {
  const { control, text, said } = form;
  return (
    <>
      <TextField
        label="What we say of it"
        hint="Stands as our own bench’s word beside the others"
        {...text('says')}
        error={said('statement')}
      />
      <FormSelect
        control={control}
        name="strength"
        label="It rests on"
        options={[{ value: '', label: 'Not said' }, ...optionsOf(STATEMENT_STRENGTHS, (key) => STRENGTH_WORDS[key])]}
      />
      <div className="grid grid-cols-2 gap-2">
        <TextField label="We act at" placeholder="100k km | 8y" {...text('interval')} />
        <FormSelect
          control={control}
          name="asks"
          label="and then"
          options={optionsOf(STATEMENT_ASKS, (key) => ASKS_WORDS[key])}
        />
      </div>
      <TextField label="Ended by revision" {...text('revision')} error={said('retiredByRevision')} />
    </>
  );
}

/** What the driver watches. */
export function WatchPart({ form }: { form: WritingFields }): ReactNode {
  const { values, text, said } = form;
  return (
    <>
      <TextField
        label="What the driver watches"
        hint="Only where nobody renews it before it fails; empty elsewhere"
        placeholder="Check the oil level and top up"
        {...text('watchTask')}
        error={said('watch')}
      />
      {values.watchTask.trim() !== '' && (
        <TextField label="How often" placeholder="1000 km | 1m" {...text('watchEvery')} error={said('watch.every')} />
      )}
    </>
  );
}
