import { isoFromDay, type DistanceUnit } from '@crosspeen/core';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { change } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { DayField, DistanceField, isoTyped, kmTyped } from '../../ui/typed-fields.tsx';
import { distanceText } from '../../ui/units.ts';

/**
 * Adds what the meter shows. A reading below an earlier one is taken too: it is shown, and left out of the reckoning.
 */
export default function ReadingDialog({
  vehicleId,
  unit,
  today,
  expectedKm,
  onClose,
}: {
  vehicleId: string;
  unit: DistanceUnit;
  today: number;
  expectedKm: number;
  onClose: () => void;
}): ReactNode {
  const [day, setDay] = useState(isoFromDay(today));
  const [text, setText] = useState('');
  const [tried, setTried] = useState(false);
  const add = useChange((body: { day: string; km: number }, key) =>
    change('POST', `/api/vehicles/${vehicleId}/readings`, body, key),
  );
  const km = kmTyped(text, unit);
  const iso = isoTyped(day, today);
  return (
    <Dialog
      open
      onClose={onClose}
      title="Add a reading"
      description={`Expected about ${distanceText(expectedKm, unit, 100)} today`}
    >
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(true);
          if (km !== null && iso !== null) add.mutate({ day: iso, km }, { onSuccess: onClose });
        }}
      >
        <DistanceField
          label="The meter shows"
          value={text}
          onChange={setText}
          unit={unit}
          error={
            tried && km === null
              ? 'write what the meter shows, for example 148k or 148,250'
              : fieldProblem(add.error, 'km')
          }
        />
        <DayField
          label="On"
          value={day}
          onChange={setDay}
          today={today}
          error={tried && iso === null ? 'write a date such as today or 14.5.2026' : fieldProblem(add.error, 'day')}
        />
        <FormProblem error={add.error} fields={['km', 'day']} />
        <Button look="main" type="submit" disabled={add.isPending}>
          Add the reading
        </Button>
      </form>
    </Dialog>
  );
}
