import { useState, type ReactNode } from 'react';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import type { Said } from './entering.ts';
import type { ItemStanding } from './standing.ts';

/** Finds several glances good together, after it has said which. */
export function AllGoodHere({
  glances,
  onAllGood,
}: {
  glances: readonly ItemStanding[];
  onAllGood: (said: Said[]) => void;
}): ReactNode {
  const [asking, setAsking] = useState(false);
  if (glances.length < 2) return null;
  return (
    <>
      <Button onClick={() => setAsking(true)}>{glances.length} glances good</Button>
      {asking && (
        <Dialog open onClose={() => setAsking(false)} title="Found good, each of them?">
          <ul className="list-disc pl-6 text-lg">
            {glances.map(({ step }) => (
              <li key={step.key}>
                <strong>{step.component ?? step.title}</strong>
                {step.good !== null && `: ${step.good}`}
              </li>
            ))}
          </ul>
          <p className="mt-3 text-soft">Everything else here is looked at and entered by itself.</p>
          <div className="mt-4 flex gap-2">
            <Button
              look="main"
              onClick={() => {
                setAsking(false);
                onAllGood(glances.map(({ step }) => ({ key: step.key, result: 'sound', seen: null })));
              }}
            >
              Save as good
            </Button>
            <Button onClick={() => setAsking(false)}>Cancel</Button>
          </div>
        </Dialog>
      )}
    </>
  );
}
