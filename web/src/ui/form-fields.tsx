import type { DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useController, type Control, type FieldPathByValue, type FieldValues } from 'react-hook-form';
import { SelectField, type Option } from './select.tsx';
import { DayField, DistanceField, isoTyped, kmTyped } from './typed-fields.tsx';

interface Bound<Values extends FieldValues> {
  readonly control: Control<Values>;
  readonly name: FieldPathByValue<Values, string>;
  readonly label: string;
  readonly hint?: string;
  /** What is said where it is left empty; left out where it may be. */
  readonly needed?: string;
  /** What is said of something that is none. */
  readonly wrong: string;
  /** What the server says of it. */
  readonly said?: string | undefined;
}

/** A field of a form that takes what people type: what is wrong with it is said once the form was sent. */
function useTyped<Values extends FieldValues>(
  { control, name, needed, wrong, said }: Bound<Values>,
  read: (text: string) => unknown,
) {
  const validate = (text: string): true | string =>
    text.trim() === '' ? (needed ?? true) : read(text) !== null || wrong;
  const { field, formState } = useController({ control, name, rules: { validate } });
  const value = field.value as string;
  // Looked at as it stands: what one field needs may hang on another.
  const fault = formState.isSubmitted ? validate(value) : true;
  return { value, onChange: (text: string) => field.onChange(text), error: fault === true ? said : fault };
}

/** A date of a form, typed or picked. */
export function FormDay<Values extends FieldValues>({
  today,
  ...bound
}: Bound<Values> & { readonly today: number }): ReactNode {
  const typed = useTyped(bound, (text) => isoTyped(text, today));
  return (
    <DayField
      label={bound.label}
      today={today}
      {...typed}
      {...(bound.hint === undefined ? {} : { hint: bound.hint })}
    />
  );
}

/** A reading of a form. */
export function FormDistance<Values extends FieldValues>({
  unit,
  ...bound
}: Bound<Values> & { readonly unit: DistanceUnit }): ReactNode {
  const typed = useTyped(bound, (text) => kmTyped(text, unit));
  return (
    <DistanceField
      label={bound.label}
      unit={unit}
      {...typed}
      {...(bound.hint === undefined ? {} : { hint: bound.hint })}
    />
  );
}

/** A choice of a form. */
export function FormSelect<Values extends FieldValues, T extends string>({
  control,
  name,
  onPick,
  ...select
}: {
  readonly control: Control<Values>;
  readonly name: FieldPathByValue<Values, string>;
  readonly label: string;
  readonly options: readonly Option<T>[];
  readonly placeholder?: string;
  readonly hint?: ReactNode;
  readonly error?: string | undefined;
  readonly disabled?: boolean;
  readonly autoFocus?: boolean;
  /** What else follows from the choice. */
  readonly onPick?: (value: T) => void;
}): ReactNode {
  const { field } = useController({ control, name });
  return (
    <SelectField
      {...select}
      value={field.value}
      onChange={(value: T) => {
        field.onChange(value);
        onPick?.(value);
      }}
    />
  );
}
