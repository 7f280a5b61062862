import { RadioGroup } from 'radix-ui';
import type { ReactNode } from 'react';

/** A few exclusive choices as one row of large buttons; arrows move between them. Null: nothing is chosen yet. */
export function Choices<T extends string>({
  label,
  value,
  onChange,
  options,
}: {
  label: string;
  value: T | null;
  onChange: (value: T) => void;
  options: readonly { readonly value: T; readonly label: string; readonly hint?: string }[];
}): ReactNode {
  return (
    <div>
      <p className="mb-1 font-semibold">{label}</p>
      <RadioGroup.Root
        value={value ?? ''}
        onValueChange={(next) => onChange(next as T)}
        aria-label={label}
        className="flex flex-wrap gap-2"
      >
        {options.map((option) => (
          <RadioGroup.Item
            key={option.value}
            value={option.value}
            title={option.hint}
            className="min-h-11 rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well data-[state=checked]:border-accent data-[state=checked]:bg-accent-wash data-[state=checked]:shadow-[inset_0_0_0_1px_var(--accent)]"
          >
            {option.label}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
    </div>
  );
}
