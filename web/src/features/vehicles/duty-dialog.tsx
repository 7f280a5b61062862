import type { Settings, Vehicle, VehicleUpdate } from '@crosspeen/contract';
import { DUTY_KEYS, DUTY_QUESTIONS, type DutyKey, type DutyLevel, type DutyProfile } from '@crosspeen/core';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { change } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Choices } from '../../ui/choices.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';

/** How the vehicle is used, in plain questions; what each answer does stands beside it. */
export default function DutyDialog({
  vehicle,
  settings,
  onClose,
}: {
  vehicle: Vehicle;
  settings: Settings;
  onClose: () => void;
}): ReactNode {
  const [duty, setDuty] = useState<DutyProfile>(vehicle.duty);
  const [severity, setSeverity] = useState(`x${vehicle.severity}`);
  const [tried, setTried] = useState(false);
  const save = useChange((body: VehicleUpdate, key) => change('PUT', `/api/vehicles/${vehicle.id}`, body, key));
  const factor = Number(severity.trim().replace(/^x/i, '').replace(',', '.'));
  const fits = factor >= 0.2 && factor <= 5;
  const answer = (key: DutyKey, level: DutyLevel | 'unknown'): void =>
    setDuty((before) => {
      const { [key]: _taken, ...rest } = before;
      return level === 'unknown' ? rest : { ...rest, [key]: level };
    });
  const options = (key: DutyKey) => {
    const { some, much } = DUTY_QUESTIONS[key];
    const factors = settings.dutyFactors[key];
    return [
      { value: 'unknown', label: 'Not known' },
      { value: 'no', label: 'No' },
      { value: 'some', label: `${some} x${factors.some}` },
      { value: 'much', label: `${much} x${factors.much}` },
    ] as const;
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="How is it used?"
      description="What is not known counts as ordinary use. The factors are the shop’s own view; the owner sets them in the settings."
      wide
    >
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(true);
          const { engine: _engine, id: _id, ...fields } = vehicle;
          if (fits) save.mutate({ ...fields, duty, severity: factor }, { onSuccess: onClose });
        }}
      >
        {DUTY_KEYS.map((key) => (
          <div key={key}>
            <Choices
              label={DUTY_QUESTIONS[key].question}
              value={duty[key] ?? 'unknown'}
              onChange={(level) => answer(key, level)}
              options={options(key)}
            />
            <p className="mt-0.5 text-sm text-soft">
              Hastens {DUTY_QUESTIONS[key].clock === 'distance' ? 'distance' : 'age'} on{' '}
              {DUTY_QUESTIONS[key].classes === null ? 'every part' : `${DUTY_QUESTIONS[key].classes.join(', ')} parts`}.
            </p>
          </div>
        ))}
        <TextField
          label="And by your own judgement"
          hint="x1 leaves it at the answers; x1.3 counts every distance harder still"
          value={severity}
          onChange={(event) => setSeverity(event.target.value)}
          error={tried && !fits ? 'write x0.2 to x5; x1 is usual use' : fieldProblem(save.error, 'severity')}
          autoComplete="off"
        />
        <FormProblem error={save.error} fields={['severity']} />
        <Button look="main" type="submit" disabled={save.isPending}>
          Save how it is used
        </Button>
      </form>
    </Dialog>
  );
}
