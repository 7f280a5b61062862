import { call } from '../../api/client.ts';
import { type Beginnings, endpoints, may, type SessionState } from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import { Check } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useChange } from '../../api/changing.tsx';
import { readShop } from '../../api/people.ts';
import { Button } from '../../ui/button.tsx';
import { FormProblem } from '../../ui/problem.tsx';

const LINK =
  'inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well';

function Step({
  done,
  title,
  children,
  actions,
}: {
  done: boolean;
  title: string;
  children: ReactNode;
  actions: ReactNode;
}): ReactNode {
  return (
    <li className="flex flex-wrap items-start justify-between gap-3 px-4 py-3">
      <div className="flex min-w-64 flex-1 gap-3">
        <span
          className={`mt-0.5 grid size-7 shrink-0 place-items-center rounded-full border ${done ? 'border-transparent bg-accent text-accent-ink' : 'border-rule-strong'}`}
        >
          {done && <Check size={18} aria-label="done" />}
        </span>
        <div>
          <h3 className="text-xl">{title}</h3>
          <p className="text-soft">{children}</p>
        </div>
      </div>
      <div className="flex flex-wrap gap-2">{actions}</div>
    </li>
  );
}

function Example({ example }: { example: Beginnings['example'] }): ReactNode {
  const take = useChange((_input: null, key) => call(endpoints.start.takeExample, { key }));
  const remove = useChange((id: string) => call(endpoints.changes.undo, { params: { id } }));
  return (
    <>
      {example.state === 'offered' && (
        <Button look="main" disabled={take.isPending} onClick={() => take.mutate(null)}>
          {take.isPending ? 'Taking it in …' : 'Take the example in'}
        </Button>
      )}
      {example.state === 'taken' && (
        <Button disabled={remove.isPending} onClick={() => remove.mutate(example.changeId)}>
          Remove the example
        </Button>
      )}
      <FormProblem error={take.error ?? remove.error} />
    </>
  );
}

/** What a workshop that begins does next; each step is ticked off by what is there. Nothing once all of it is done. */
export default function NextSteps({ session }: { session: SessionState }): ReactNode {
  const begun = useQuery(readShop.beginnings()).data;
  const { role } = session.user!;
  if (begun === undefined) return null;
  const steps = {
    pack: begun.engines > 0,
    vehicles: begun.vehicles > 0,
    written: begun.written > 0,
    people: begun.people > 1,
  };
  if (steps.pack && steps.vehicles) return null;
  return (
    <section aria-labelledby="next-steps" className="mb-8">
      <h2 id="next-steps" className="mb-1 text-2xl">
        Next steps
      </h2>
      <p className="mb-3 text-soft">In any order. What is taken in here can be taken back.</p>
      <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
        {may(role, 'publishLibrary') && (
          <Step
            done={steps.pack}
            title="Take a library pack in"
            actions={
              <>
                <Example example={begun.example} />
                <Link className={LINK} to="/library?shelf=packs">
                  Choose a pack
                </Link>
              </>
            }
          >
            Engines with their weak points.{' '}
            {begun.example.state !== 'none' &&
              'The example is made up, to try things with; removed with one action while nothing rests on it.'}
          </Step>
        )}
        {may(role, 'importFiles') && (
          <Step
            done={steps.vehicles}
            title="Bring vehicles from a spreadsheet"
            actions={
              <Link className={LINK} to="/vehicles/intake">
                Choose a file
              </Link>
            }
          >
            Plates, engines and readings as CSV; then services and findings. Their engines must be in the library first.
          </Step>
        )}
        <Step
          done={steps.written}
          title="Write the first weak point"
          actions={
            <Link className={LINK} to={steps.pack ? '/library/write' : '/library/engines/write'}>
              {steps.pack ? 'Write it' : 'Add an engine first'}
            </Link>
          }
        >
          What this workshop knows of an engine and nobody has written down yet.
        </Step>
        {may(role, 'managePeople') && (
          <Step
            done={steps.people}
            title="Add colleagues"
            actions={
              <Link className={LINK} to="/settings/people">
                Add somebody
              </Link>
            }
          >
            Each signs in with a name of their own; what they write carries it.
          </Step>
        )}
      </ul>
    </section>
  );
}
