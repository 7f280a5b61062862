import type { ComponentProps, ReactNode } from 'react';

type Look = 'main' | 'plain' | 'quiet';
const LOOKS: Record<Look, string> = {
  main: 'bg-accent text-accent-ink border-transparent hover:brightness-110',
  plain: 'bg-sheet text-ink border-rule-strong hover:bg-well',
  quiet: 'bg-transparent text-ink border-transparent hover:bg-well',
};

export interface ButtonProps extends ComponentProps<'button'> {
  readonly look?: Look;
  /** Key that does the same, printed beside the words. */
  readonly shortcut?: string;
}

/** A button large enough for a gloved hand. */
export function Button({
  look = 'plain',
  shortcut,
  className = '',
  children,
  type = 'button',
  ...rest
}: ButtonProps): ReactNode {
  return (
    <button
      type={type}
      {...rest}
      className={`inline-flex min-h-11 items-center justify-center gap-2 rounded-md border px-3.5 font-semibold disabled:cursor-not-allowed disabled:opacity-50 ${LOOKS[look]} ${className}`}
    >
      {children}
      {shortcut !== undefined && (
        <kbd className="hidden md:inline" aria-hidden>
          {shortcut}
        </kbd>
      )}
    </button>
  );
}
