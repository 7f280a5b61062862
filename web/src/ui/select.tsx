import { Check, ChevronDown } from 'lucide-react';
import { Select as Radix } from 'radix-ui';
import type { ReactNode } from 'react';
import { Field, INPUT } from './field.tsx';

export interface Option<T extends string = string> {
  readonly value: T;
  readonly label: string;
}

/** The options of a list of keys with their words. */
export const optionsOf = <T extends string>(keys: readonly T[], words: (key: T) => string): readonly Option<T>[] =>
  keys.map((key) => ({ value: key, label: words(key) }));

// Radix keeps the empty string for "nothing chosen"; with us it is a choice like another.
const inside = (value: string): string => `=${value}`;

interface SelectProps<T extends string> {
  readonly value: string;
  readonly onChange: (value: T) => void;
  readonly options: readonly Option<T>[];
  /** What stands there while none of the options is chosen. */
  readonly placeholder?: string;
  readonly disabled?: boolean;
  readonly autoFocus?: boolean;
  readonly className?: string;
  readonly id?: string;
  readonly 'aria-label'?: string;
  readonly 'aria-invalid'?: boolean;
  readonly 'aria-describedby'?: string | undefined;
}

/** One of a list that opens: by finger, by the arrows, or by the first letters. */
export function Select<T extends string>({
  value,
  onChange,
  options,
  placeholder,
  disabled,
  className = '',
  ...trigger
}: SelectProps<T>): ReactNode {
  const known = options.some((option) => option.value === value);
  return (
    <Radix.Root
      value={known ? inside(value) : ''}
      onValueChange={(next) => next !== '' && onChange(next.slice(1) as T)}
      {...(disabled === undefined ? {} : { disabled })}
    >
      <Radix.Trigger
        {...trigger}
        // A space within what is typed to find an option would press the button as it is let go.
        onKeyUp={(event) => event.key === ' ' && event.preventDefault()}
        className={`${INPUT} inline-flex items-center justify-between gap-2 text-left enabled:cursor-pointer disabled:text-soft data-[placeholder]:text-soft ${className}`}
      >
        <span className="min-w-0 truncate">
          <Radix.Value placeholder={placeholder ?? ''} />
        </span>
        <Radix.Icon asChild>
          <ChevronDown size={18} className="shrink-0" aria-hidden />
        </Radix.Icon>
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          position="popper"
          sideOffset={4}
          collisionPadding={8}
          className="z-50 max-h-(--radix-select-content-available-height) min-w-(--radix-select-trigger-width) max-w-[calc(100vw-1rem)] overflow-hidden rounded-md border border-rule-strong bg-sheet text-ink shadow-lg"
        >
          <Radix.Viewport className="p-1">
            {options.map((option) => (
              <Radix.Item
                key={option.value}
                value={inside(option.value)}
                className="flex min-h-11 cursor-pointer items-center gap-2 rounded py-1 pl-2 pr-4 outline-none data-[highlighted]:bg-accent-wash data-[state=checked]:font-semibold"
              >
                <span className="w-5 shrink-0" aria-hidden>
                  <Radix.ItemIndicator>
                    <Check size={18} />
                  </Radix.ItemIndicator>
                </span>
                <Radix.ItemText>{option.label}</Radix.ItemText>
              </Radix.Item>
            ))}
          </Radix.Viewport>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** A choice with its label, a hint and, where something is wrong, what and the mend. */
export function SelectField<T extends string>({
  label,
  hint,
  error,
  className,
  ...select
}: SelectProps<T> & { label: string; hint?: ReactNode; error?: string | undefined }): ReactNode {
  return (
    <Field label={label} hint={hint} error={error} {...(className ? { className } : {})}>
      {(control) => <Select {...select} {...control} />}
    </Field>
  );
}
