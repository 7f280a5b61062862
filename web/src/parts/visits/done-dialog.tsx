import type { Visit, VisitDone } from '@crosspeen/contract';
import { isoFromDay, type DistanceUnit } from '@crosspeen/core';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { change } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Choices } from '../../ui/choices.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { distanceText } from '../../ui/units.ts';
import { DayField, DistanceField, isoTyped, kmTyped } from '../../ui/typed-fields.tsx';

type Outcome = 'done' | 'done_sound' | 'done_worn' | 'done_failed' | 'sound' | 'worn' | 'failed' | 'skipped' | 'unsaid';

const RENEW_OUTCOMES = [
  { value: 'done', label: 'Renewed' },
  { value: 'done_sound', label: 'Renewed, old one still good' },
  { value: 'done_worn', label: 'Renewed, was worn' },
  { value: 'done_failed', label: 'Renewed, had failed' },
  { value: 'skipped', label: 'Left out after all' },
] as const satisfies readonly { value: Outcome; label: string }[];
const LOOK_OUTCOMES = [
  { value: 'sound', label: 'Looked: good' },
  { value: 'worn', label: 'Looked: worn' },
  { value: 'failed', label: 'Has failed' },
  { value: 'skipped', label: 'Not looked at' },
] as const satisfies readonly { value: Outcome; label: string }[];

const FOUND = {
  sound: 'sound',
  worn: 'worn',
  failed: 'failed',
  done_sound: 'sound',
  done_worn: 'worn',
  done_failed: 'failed',
} as const;

/** Marks a visit done: what was renewed, what was found, at which reading. */
export default function DoneDialog({
  visit,
  unit,
  today,
  expectedKm,
  onClose,
}: {
  visit: Visit;
  unit: DistanceUnit;
  today: number;
  expectedKm: number;
  onClose: () => void;
}): ReactNode {
  const [day, setDay] = useState(isoFromDay(today));
  // Nothing is recorded that nobody said: neither what a look found nor what the meter showed is filled in beforehand.
  const [distance, setDistance] = useState('');
  const [outcomes, setOutcomes] = useState<Readonly<Record<string, Outcome>>>(() =>
    Object.fromEntries(visit.jobs.map((job) => [job.weakPointId, job.action === 'renew' ? 'done' : 'unsaid'])),
  );
  const [tried, setTried] = useState(false);
  const done = useChange((body: VisitDone, key) => change('POST', `/api/visits/${visit.id}/done`, body, key));
  const iso = isoTyped(day, today);
  const km = kmTyped(distance, unit);
  const unsaid = visit.jobs.filter((job) => outcomes[job.weakPointId] === 'unsaid').length;
  return (
    <Dialog
      open
      onClose={onClose}
      title="The visit is done"
      description="Clocks start again for exactly what was renewed."
      wide
    >
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(true);
          if (iso === null || km === null) return;
          const resultOf = (job: Visit['jobs'][number]) => ({
            weakPointId: job.weakPointId,
            result: FOUND[outcomes[job.weakPointId] as keyof typeof FOUND],
          });
          const having = (wanted: readonly Outcome[]): Visit['jobs'] =>
            visit.jobs.filter((job) => wanted.includes(outcomes[job.weakPointId]!));
          done.mutate(
            {
              version: visit.version,
              day: iso,
              km,
              skipped: having(['skipped', 'unsaid']).map((job) => job.weakPointId),
              findings: having(['sound', 'worn', 'failed']).map(resultOf),
              cameOut: having(['done_sound', 'done_worn', 'done_failed']).map(resultOf),
            },
            { onSuccess: onClose },
          );
        }}
      >
        <div className="grid gap-4 sm:grid-cols-2">
          <DayField
            label="Done on"
            value={day}
            onChange={setDay}
            today={today}
            error={tried && iso === null ? 'write a date such as today' : fieldProblem(done.error, 'day')}
          />
          <DistanceField
            label="The meter showed"
            value={distance}
            onChange={setDistance}
            unit={unit}
            hint={`In ${unit}; about ${distanceText(expectedKm, unit, 100)} is expected`}
            error={tried && km === null ? 'write what the meter showed' : fieldProblem(done.error, 'km')}
          />
        </div>
        <ul className="divide-y divide-rule rounded-md border border-rule">
          {visit.jobs.map((job) => (
            <li key={job.weakPointId} className="px-3 py-2">
              <Choices
                label={`${job.title}${job.partNumber && job.action === 'renew' ? `, ${job.partNumber}` : ''}`}
                value={outcomes[job.weakPointId] === 'unsaid' ? null : outcomes[job.weakPointId]!}
                onChange={(outcome) => setOutcomes((before) => ({ ...before, [job.weakPointId]: outcome }))}
                options={job.action === 'renew' ? RENEW_OUTCOMES : LOOK_OUTCOMES}
              />
            </li>
          ))}
        </ul>
        {unsaid > 0 && (
          <p role="status">
            {unsaid === 1
              ? 'One look has no finding yet. Left so, it counts as not looked at.'
              : `${unsaid} looks have no finding yet. Left so, they count as not looked at.`}
          </p>
        )}
        <FormProblem error={done.error} fields={['day', 'km']} />
        <Button look="main" type="submit" disabled={done.isPending}>
          Mark it done
        </Button>
      </form>
    </Dialog>
  );
}
