import type { AnswerRow } from '@crosspeen/contract';
import { isoFromDay, type DistanceUnit } from '@crosspeen/core';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { change } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { DayField, DistanceField, isoTyped, kmTyped } from '../../ui/typed-fields.tsx';

interface EventProps {
  readonly vehicleId: string;
  readonly unit: DistanceUnit;
  readonly today: number;
  readonly onClose: () => void;
}

const NO_DATE = 'write a date such as today or 14.5.2026';

/** It failed: when, since when, and whether that is why the vehicle came. */
export function FailureDialog({
  vehicleId,
  row,
  today,
  onClose,
}: Omit<EventProps, 'unit'> & { row: AnswerRow }): ReactNode {
  const [day, setDay] = useState(isoFromDay(today));
  const [since, setSince] = useState('');
  const [broughtIn, setBroughtIn] = useState(false);
  const [note, setNote] = useState('');
  const [tried, setTried] = useState(false);
  const add = useChange((body: object, key) => change('POST', `/api/vehicles/${vehicleId}/findings`, body, key));
  const [iso, sinceIso] = [isoTyped(day, today), since.trim() === '' ? null : isoTyped(since, today)];
  return (
    <Dialog open onClose={onClose} title="It has failed" description={`${row.title}, ${row.component}`}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(true);
          if (iso !== null && (since.trim() === '' || sinceIso !== null))
            add.mutate(
              {
                weakPointId: row.weakPointId,
                day: iso,
                result: 'failed',
                broughtIn,
                sinceDay: sinceIso,
                note: note.trim() || null,
              },
              { onSuccess: onClose },
            );
        }}
      >
        <DayField
          label="Found failed on"
          value={day}
          onChange={setDay}
          today={today}
          error={tried && iso === null ? NO_DATE : fieldProblem(add.error, 'day')}
        />
        <DayField
          label="Known to have been running on"
          value={since}
          onChange={setSince}
          today={today}
          hint="Only if the day of the failure is not known"
          error={tried && since.trim() !== '' && sinceIso === null ? NO_DATE : fieldProblem(add.error, 'sinceDay')}
        />
        <label className="flex min-h-11 items-start gap-3">
          <input
            type="checkbox"
            className="mt-1 size-5 accent-(--accent)"
            checked={broughtIn}
            onChange={(event) => setBroughtIn(event.target.checked)}
          />
          <span>
            <strong>It came to us because of this.</strong>{' '}
            <span className="text-soft">
              Then it is listed but not counted: we only saw it because it broke, and all that did not break went by
              unseen.
            </span>
          </span>
        </label>
        <TextField
          label="Note"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          error={fieldProblem(add.error, 'note')}
        />
        <FormProblem error={add.error} fields={['day', 'sinceDay', 'note']} />
        <Button look="main" type="submit" disabled={add.isPending}>
          Put it on record
        </Button>
      </form>
    </Dialog>
  );
}

/** A cluster was replaced: what the old one showed last, what the new one began at. */
export function ClusterDialog({ vehicleId, unit, today, onClose }: EventProps): ReactNode {
  const [day, setDay] = useState('');
  const [old, setOld] = useState('');
  const [fresh, setFresh] = useState('0');
  const [tried, setTried] = useState(false);
  const add = useChange((body: object, key) => change('POST', `/api/vehicles/${vehicleId}/meter-changes`, body, key));
  const [iso, oldKm, newKm] = [isoTyped(day, today), kmTyped(old, unit), kmTyped(fresh, unit)];
  return (
    <Dialog
      open
      onClose={onClose}
      title="Cluster replaced"
      description="Readings after that day start from the new cluster; the distance since new goes on."
    >
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(true);
          if (iso !== null && oldKm !== null && newKm !== null)
            add.mutate({ day: iso, oldKm, newKm, note: null }, { onSuccess: onClose });
        }}
      >
        <DayField
          label="On"
          value={day}
          onChange={setDay}
          today={today}
          error={tried && iso === null ? NO_DATE : fieldProblem(add.error, 'day')}
        />
        <div className="grid gap-4 sm:grid-cols-2">
          <DistanceField
            label="The old one showed"
            value={old}
            onChange={setOld}
            unit={unit}
            error={
              tried && oldKm === null ? 'write what it showed last; about is enough' : fieldProblem(add.error, 'oldKm')
            }
          />
          <DistanceField
            label="The new one began at"
            value={fresh}
            onChange={setFresh}
            unit={unit}
            error={
              tried && newKm === null ? 'write what it showed when it was put in' : fieldProblem(add.error, 'newKm')
            }
          />
        </div>
        <FormProblem error={add.error} fields={['day', 'oldKm', 'newKm']} />
        <Button look="main" type="submit" disabled={add.isPending}>
          Put it on record
        </Button>
      </form>
    </Dialog>
  );
}

/** Another engine was put in: its parts have clocks of their own from then on. */
export function EngineDialog({ vehicleId, unit, today, onClose }: EventProps): ReactNode {
  const [day, setDay] = useState('');
  const [run, setRun] = useState('');
  const [tried, setTried] = useState(false);
  const add = useChange((body: object, key) => change('POST', `/api/vehicles/${vehicleId}/engine-swaps`, body, key));
  const [iso, engineKm] = [isoTyped(day, today), run.trim() === '' ? null : kmTyped(run, unit)];
  const wrong = run.trim() !== '' && engineKm === null;
  return (
    <Dialog
      open
      onClose={onClose}
      title="Engine swapped"
      description="Work on engine parts before that day was on the other engine and counts no more; radiator, mounts and hoses stay with the vehicle."
    >
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(true);
          if (iso !== null && !wrong) add.mutate({ day: iso, engineKm, note: null }, { onSuccess: onClose });
        }}
      >
        <DayField
          label="On"
          value={day}
          onChange={setDay}
          today={today}
          error={tried && iso === null ? NO_DATE : fieldProblem(add.error, 'day')}
        />
        <DistanceField
          label="The engine put in had run"
          value={run}
          onChange={setRun}
          unit={unit}
          hint="0 for a new one; empty if nobody knows"
          error={tried && wrong ? 'is no figure; write 60k, 0, or leave it empty' : fieldProblem(add.error, 'engineKm')}
        />
        <FormProblem error={add.error} fields={['day', 'engineKm']} />
        <Button look="main" type="submit" disabled={add.isPending}>
          Put it on record
        </Button>
      </form>
    </Dialog>
  );
}
