import type { AnswerRow, PartOption, ServiceCreate } from '@crosspeen/contract';
import type { Certainty, Condition, DistanceUnit, Grade, Source } from '@crosspeen/core';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { change } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Choices } from '../../ui/choices.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { SelectField, TextField } from '../../ui/field.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { DayField, DistanceField, isoTyped, kmTyped } from '../../ui/typed-fields.tsx';

const CERTAINTY_OPTIONS = [
  { value: 'done', label: 'Renewed' },
  { value: 'believed', label: 'Believed, about then' },
  { value: 'unknown', label: 'Nobody knows' },
  { value: 'not_done', label: 'Never renewed' },
] as const satisfies readonly { value: Certainty; label: string }[];

export const GRADE_OPTIONS = [
  { value: 'original', label: 'Original' },
  { value: 'equivalent', label: 'Equivalent' },
  { value: 'cheap', label: 'Cheap', hint: 'reckoned to live two thirds as long' },
] as const satisfies readonly { value: Grade; label: string; hint?: string }[];

const SOURCE_OPTIONS: readonly { readonly value: Source | ''; readonly label: string }[] = [
  { value: '', label: 'Not said' },
  { value: 'own', label: 'Our own work' },
  { value: 'invoice', label: 'An invoice' },
  { value: 'stamp', label: 'A stamp in the book' },
  { value: 'owner', label: 'The owner says so' },
  { value: 'seller', label: 'The seller said so' },
];
const CAME_OUT_OPTIONS = [
  { value: '', label: 'Nobody looked' },
  { value: 'sound', label: 'Still good' },
  { value: 'worn', label: 'Worn' },
  { value: 'failed', label: 'Had failed' },
] as const satisfies readonly { value: Condition | ''; label: string }[];

/** Has it been done? When, at which reading, with which part; or that nobody knows. */
export default function RecordDialog({
  vehicleId,
  row,
  parts,
  unit,
  today,
  onClose,
}: {
  vehicleId: string;
  row: AnswerRow;
  parts: readonly PartOption[];
  unit: DistanceUnit;
  today: number;
  onClose: () => void;
}): ReactNode {
  const [certainty, setCertainty] = useState<Certainty>('done');
  const [day, setDay] = useState('');
  const [distance, setDistance] = useState('');
  const [grade, setGrade] = useState<Grade>('original');
  const [part, setPart] = useState('');
  const [source, setSource] = useState<Source | ''>('');
  const [cameOut, setCameOut] = useState<Condition | ''>('');
  const [note, setNote] = useState('');
  const [tried, setTried] = useState(false);
  const add = useChange((body: ServiceCreate, key) => change('POST', `/api/vehicles/${vehicleId}/services`, body, key));
  const dated = certainty === 'done' || certainty === 'believed';
  const iso = isoTyped(day, today);
  const km = kmTyped(distance, unit);
  const dayError =
    day.trim() !== '' && iso === null
      ? 'is no date; write 14.5.2024, 05/2024 or 2024'
      : day.trim() === '' && distance.trim() === ''
        ? 'give the date or the reading of the work; about is enough when it is only believed'
        : undefined;
  const kmError = distance.trim() !== '' && km === null ? 'is no figure; write 120k or 120,000' : undefined;
  const chosen = parts.find(({ number }) => number === part);
  const pick = (number: string): void => {
    setPart(number);
    const found = parts.find((option) => option.number === number);
    if (found) setGrade(found.grade);
  };
  return (
    <Dialog open onClose={onClose} title="Has it been done?" description={`${row.component}, for “${row.title}”`}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          setTried(true);
          if (dated && (dayError !== undefined || kmError !== undefined)) return;
          add.mutate(
            {
              weakPointId: row.weakPointId,
              certainty,
              day: dated ? iso : null,
              km: dated ? km : null,
              grade,
              partNumber: chosen?.number ?? null,
              revision: chosen?.revision ?? null,
              source: source || null,
              cameOut: certainty === 'done' ? cameOut || null : null,
              note: note.trim() || null,
            },
            { onSuccess: onClose },
          );
        }}
      >
        <Choices label="What is known" value={certainty} onChange={setCertainty} options={CERTAINTY_OPTIONS} />
        {dated && (
          <>
            <div className="grid gap-4 sm:grid-cols-2">
              <DistanceField
                label="At the reading"
                value={distance}
                onChange={setDistance}
                unit={unit}
                hint="One of the two is enough"
                error={tried ? (kmError ?? fieldProblem(add.error, 'km')) : undefined}
              />
              <DayField
                label="On the date"
                value={day}
                onChange={setDay}
                today={today}
                error={tried ? (dayError ?? fieldProblem(add.error, 'day')) : undefined}
              />
            </div>
            {parts.length > 0 && (
              <SelectField
                label="Part fitted"
                value={part}
                onChange={(event) => pick(event.target.value)}
                hint={chosen?.howToTell ? `How to tell: ${chosen.howToTell}` : 'Made-up part numbers'}
              >
                <option value="">Not known</option>
                {parts.map((option) => (
                  <option key={option.number} value={option.number}>
                    {option.number}, {option.name}
                    {option.revision ? `, revision ${option.revision}` : ''}
                  </option>
                ))}
              </SelectField>
            )}
            <Choices label="Grade" value={grade} onChange={setGrade} options={GRADE_OPTIONS} />
            {certainty === 'done' && (
              <Choices
                label="The part that came out"
                value={cameOut}
                onChange={setCameOut}
                options={CAME_OUT_OPTIONS}
              />
            )}
            <SelectField
              label="How is it known?"
              value={source}
              onChange={(event) => setSource(event.target.value as Source | '')}
              hint={certainty === 'believed' ? 'An invoice is believed more than a word' : undefined}
            >
              {SOURCE_OPTIONS.map((option) => (
                <option key={option.value} value={option.value}>
                  {option.label}
                </option>
              ))}
            </SelectField>
          </>
        )}
        <TextField
          label="Note"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          error={fieldProblem(add.error, 'note')}
          placeholder={certainty === 'believed' ? 'Who says so?' : ''}
        />
        <FormProblem error={add.error} fields={['km', 'day', 'note']} />
        <Button look="main" type="submit" disabled={add.isPending}>
          Put it on record
        </Button>
      </form>
    </Dialog>
  );
}
