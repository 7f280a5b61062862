import { call } from '../../api/client.ts';
import { type BodyOf, endpoints } from '@crosspeen/contract';
import { useSure } from '../../api/sure.ts';
import { isoFromDay, type DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import { useChange } from '../../api/changing.tsx';
import { RecordSheet } from './record-sheet.tsx';
import { fieldProblem } from '../../ui/problem.tsx';
import { FormDay, FormDistance } from '../../ui/form-fields.tsx';
import { isoTyped, kmTyped } from '../../ui/typed-fields.tsx';
import { distanceText } from '../../ui/units.ts';

/**
 * Adds what the meter shows. A reading below an earlier one is taken too: it is shown, and not used.
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
  const { control, handleSubmit } = useForm({ defaultValues: { day: isoFromDay(today), reading: '' } });
  const add = useChange((body: BodyOf<typeof endpoints.vehicles.addReading>, key) =>
    call(endpoints.vehicles.addReading, { params: { id: vehicleId }, body, key }),
  );
  const keep = useSure(add);
  const send = handleSubmit(({ day, reading }) =>
    keep({ day: isoTyped(day, today)!, km: kmTyped(reading, unit)! }, { onSuccess: onClose }),
  );
  const [noReading, noDate] = [
    'write what the meter shows, for example 148k or 148,250',
    'write a date such as today or 14.5.2026',
  ];
  return (
    <RecordSheet
      title="Add a reading"
      description={`Expected about ${distanceText(expectedKm, unit, 100)} today`}
      add={add}
      fields={['km', 'day']}
      save="Add the reading"
      onSend={() => void send()}
      onClose={onClose}
    >
      <FormDistance
        control={control}
        name="reading"
        label="The meter shows"
        unit={unit}
        needed={noReading}
        wrong={noReading}
        said={fieldProblem(add.error, 'km')}
      />
      <FormDay
        control={control}
        name="day"
        label="On"
        today={today}
        needed={noDate}
        wrong={noDate}
        said={fieldProblem(add.error, 'day')}
      />
    </RecordSheet>
  );
}
