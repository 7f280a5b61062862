import { call } from '../../api/client.ts';
import { type BodyOf, type AnswerRow, endpoints } from '@crosspeen/contract';
import type { VehicleOutlook } from '../../api/answer.ts';
import { SCHOOLS, type School } from '@crosspeen/core';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { Button } from '../../ui/button.tsx';
import { Choices } from '../../ui/choices.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { SCHOOL_WORDS } from '../../parts/answer/schools.tsx';

/** Another school for one weak point, or for the whole vehicle, with the reason. */
export default function SchoolDialog({
  vehicleId,
  row,
  choices,
  onClose,
}: {
  vehicleId: string;
  row: AnswerRow;
  choices: VehicleOutlook['choices'];
  onClose: () => void;
}): ReactNode {
  const [scope, setScope] = useState<'row' | 'vehicle'>('row');
  const [school, setSchool] = useState<School>(row.followed);
  const [reason, setReason] = useState('');
  const [tried, setTried] = useState(false);
  const choose = useChange((body: BodyOf<typeof endpoints.vehicles.chooseSchool>, key) =>
    call(endpoints.vehicles.chooseSchool, { params: { id: vehicleId }, body, key }),
  );
  const weakPointId = scope === 'row' ? row.weakPointId : null;
  const standing = choices.find((choice) => choice.weakPointId === weakPointId);
  return (
    <Dialog open onClose={onClose} title="Which school here?" description={row.title}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(true);
          if (reason.trim() !== '')
            choose.mutate({ weakPointId, school, reason: reason.trim() }, { onSuccess: onClose });
        }}
      >
        <Choices
          label="For"
          value={scope}
          onChange={setScope}
          options={[
            { value: 'row', label: 'This weak point' },
            { value: 'vehicle', label: 'The whole vehicle' },
          ]}
        />
        <Choices
          label="School"
          value={school}
          onChange={setSchool}
          options={SCHOOLS.map((value) => ({
            value,
            label: SCHOOL_WORDS[value].word,
            hint: SCHOOL_WORDS[value].means,
          }))}
        />
        <p className="text-soft">
          {SCHOOL_WORDS[school].word}: {SCHOOL_WORDS[school].means}.
          {row.safety && school === 'cost' ? ' A safety item is never left to it.' : ''}
        </p>
        <TextField
          label="Reason"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          placeholder="Goes to the breaker in spring"
          error={
            tried && reason.trim() === ''
              ? 'say why, so that the next one understands'
              : fieldProblem(choose.error, 'reason')
          }
        />
        <FormProblem error={choose.error} fields={['reason']} />
        <div className="flex flex-wrap gap-2">
          <Button look="main" type="submit" disabled={choose.isPending}>
            Save
          </Button>
          {standing && (
            <Button
              onClick={() => choose.mutate({ weakPointId, school: null, reason: null }, { onSuccess: onClose })}
              disabled={choose.isPending}
            >
              Back to the workshop’s own
            </Button>
          )}
        </div>
      </form>
    </Dialog>
  );
}
