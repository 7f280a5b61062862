import type { Answer } from '@crosspeen/contract';
import { OctagonAlert } from 'lucide-react';
import type { ReactNode } from 'react';

/** Complaints that hold the vehicle, each with its danger and what to do at once; nothing where none does. */
export function Held({ holds }: { holds: readonly Pick<Answer['holds'][number], 'words' | 'stop'>[] }): ReactNode {
  return holds.map(({ words, stop }, i) => (
    <div
      key={`${i} ${words}`}
      role="alert"
      className="mb-3 flex items-start gap-3 rounded-md border-4 border-ink bg-sheet px-4 py-3 text-xl"
    >
      <OctagonAlert size={30} aria-hidden className="shrink-0" />
      <p>
        <strong>Hold. {words}:</strong> {stop}
      </p>
    </div>
  ));
}
