import { useId, type ComponentProps, type ReactNode } from 'react';

export const INPUT =
  'min-h-11 w-full rounded-md border border-rule-strong bg-sheet px-3 text-ink placeholder:text-soft aria-invalid:border-2 aria-invalid:border-ink';

/** A label with its control, a hint and, where something is wrong, what and the mend. */
export function Field({
  label,
  hint,
  error,
  children,
  className = '',
}: {
  label: string;
  hint?: ReactNode;
  error?: string | undefined;
  className?: string;
  children: (control: { id: string; 'aria-invalid': boolean; 'aria-describedby': string | undefined }) => ReactNode;
}): ReactNode {
  const id = useId();
  const note = error ?? hint;
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block font-semibold">
        {label}
      </label>
      {children({
        id,
        'aria-invalid': error !== undefined,
        'aria-describedby': note === undefined ? undefined : `${id}-note`,
      })}
      {note !== undefined && (
        <p
          id={`${id}-note`}
          role={error === undefined ? undefined : 'alert'}
          className={`mt-1 text-sm ${error === undefined ? 'text-soft' : 'font-semibold'}`}
        >
          {error === undefined ? note : `▲ ${error.charAt(0).toUpperCase()}${error.slice(1)}`}
        </p>
      )}
    </div>
  );
}

export function TextField({
  label,
  hint,
  error,
  className,
  ...input
}: ComponentProps<'input'> & { label: string; hint?: ReactNode; error?: string | undefined }): ReactNode {
  return (
    <Field label={label} hint={hint} error={error} {...(className ? { className } : {})}>
      {(control) => <input {...input} {...control} className={INPUT} />}
    </Field>
  );
}
