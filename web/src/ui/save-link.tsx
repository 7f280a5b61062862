import type { ReactNode } from 'react';

/** A link that saves a file; it looks like the button it is. */
export const SaveLink = ({
  href,
  name = true,
  children,
}: {
  href: string;
  name?: string | true;
  children: ReactNode;
}): ReactNode => (
  <a
    href={href}
    download={name}
    className="inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
  >
    {children}
  </a>
);
