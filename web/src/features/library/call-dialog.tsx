import { call } from '../../api/client.ts';
import { type BodyOf, CALL_OUTCOMES, type CallOutcome, type CampaignRow, endpoints } from '@crosspeen/contract';
import { isoFromDay } from '@crosspeen/core';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { Button } from '../../ui/button.tsx';
import { Choices } from '../../ui/choices.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { OUTCOME_WORDS } from './words.ts';

/** What a campaign is about. */
export type About =
  { readonly weakPointId: string; readonly noticeId: null } | { readonly weakPointId: null; readonly noticeId: string };

/** Puts a call on record: what came of it, and what was said. */
export default function CallDialog({
  row,
  about,
  today,
  onClose,
}: {
  row: CampaignRow;
  about: About;
  today: number;
  onClose: () => void;
}): ReactNode {
  const [outcome, setOutcome] = useState<CallOutcome>('coming');
  const [note, setNote] = useState('');
  const add = useChange((body: BodyOf<typeof endpoints.notices.recordCall>, key) =>
    call(endpoints.notices.recordCall, { body, key }),
  );
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Called about ${row.plate ?? row.name}`}
      description={row.contact ?? 'No contact saved: add one on the vehicle.'}
    >
      <form
        className="grid gap-4"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(
            { vehicleId: row.vehicleId, ...about, day: isoFromDay(today), outcome, note: note.trim() || null },
            { onSuccess: onClose },
          );
        }}
      >
        <Choices
          label="What came of it"
          value={outcome}
          onChange={setOutcome}
          options={CALL_OUTCOMES.map((value) => ({ value, label: OUTCOME_WORDS[value] }))}
        />
        <TextField
          label="What was said"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          error={fieldProblem(add.error, 'note')}
          autoComplete="off"
        />
        <FormProblem error={add.error} fields={['note']} />
        <div>
          <Button look="main" type="submit" disabled={add.isPending}>
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
