import { Flag } from 'lucide-react';
import type { ReactNode } from 'react';

/** Something is wrong or worth knowing: what, and the mend. */
export function Notice({
  children,
  role = 'status',
  actions,
}: {
  children: ReactNode;
  role?: 'status' | 'alert';
  actions?: ReactNode;
}): ReactNode {
  return (
    <div role={role} className="flex flex-wrap items-start gap-3 rounded-md border-l-4 border-ink bg-well px-4 py-3">
      <Flag size={20} aria-hidden className="mt-0.5 shrink-0" />
      <div className="min-w-0 flex-1">{children}</div>
      {actions}
    </div>
  );
}

/** An empty view: what will be here, and the first step. */
export function Empty({
  title,
  children,
  action,
  page = false,
}: {
  title: string;
  children: ReactNode;
  action?: ReactNode;
  /** It is all of the page. */ page?: boolean;
}): ReactNode {
  const Heading = page ? 'h1' : 'h2';
  return (
    <section className="mx-auto max-w-xl rounded-md border border-dashed border-rule-strong px-6 py-10 text-center">
      <Heading className="mb-2 text-2xl">{title}</Heading>
      <p className="mb-4 text-soft">{children}</p>
      {action}
    </section>
  );
}

/** A list is being fetched; said once, quietly. */
export const Waiting = ({ what }: { what: string }): ReactNode => (
  <p role="status" className="px-2 py-8 text-center text-soft">
    Loading {what} …
  </p>
);
