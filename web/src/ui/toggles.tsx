import { ToggleGroup } from 'radix-ui';
import type { ReactNode } from 'react';

const LOOKS = {
  /** Large buttons, the chosen one filled. */
  buttons:
    'min-h-11 rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well data-[state=on]:border-transparent data-[state=on]:bg-accent data-[state=on]:text-accent-ink',
  /** Words beside each other, the chosen one underlined. */
  words:
    'figure min-h-11 rounded px-2.5 text-lg font-semibold data-[state=on]:bg-accent-wash data-[state=on]:underline',
} as const;

/** A view of several, one of which is on; the arrows move between them. */
export function Toggles<T extends string>({
  label,
  value,
  onChange,
  options,
  look = 'buttons',
}: {
  label: string;
  value: T;
  onChange: (value: T) => void;
  options: Readonly<Record<T, string>>;
  look?: keyof typeof LOOKS;
}): ReactNode {
  return (
    <ToggleGroup.Root
      type="single"
      value={value}
      // Pressing the one that is on again would leave none.
      onValueChange={(next) => next !== '' && onChange(next as T)}
      aria-label={label}
      className={`flex flex-wrap ${look === 'buttons' ? 'gap-2' : ''}`}
    >
      {(Object.keys(options) as T[]).map((key) => (
        <ToggleGroup.Item key={key} value={key} className={LOOKS[look]}>
          {options[key]}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
