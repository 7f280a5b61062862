import { type WalkResult, walkFigure } from '@crosspeen/contract';
import { makesSense, measuredAs } from '@crosspeen/core';
import { Camera } from 'lucide-react';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { Button } from '../../ui/button.tsx';
import { Field, INPUT } from '../../ui/field.tsx';
import { numberTyped, oneDigitText } from '../../ui/formats.ts';
import type { Waiting } from '../../offline/queue.ts';
import type { Said } from './entering.ts';
import { RESULT_WORDS, type ItemStanding } from './standing.ts';

/** What can be done with one item; left out where nothing can be recorded. */
export interface ItemActions {
  readonly onSay: (said: Said) => void;
  readonly onPhoto: (key: string, entryId: string | null, file: File) => void;
  readonly onUndo: (changeId: string) => void;
  readonly onSettle: (entryId: string, take: boolean) => void;
  /** Sends a refused thing again as it is. */
  readonly onTryAgain: (refused: Waiting) => void;
  /** Hands a refused entry to the desk. */
  readonly onDesk: (refused: Waiting) => void;
  readonly onDrop: (waitingId: string) => void;
}

const POINT_RESULTS: readonly WalkResult[] = ['sound', 'worn', 'failed', 'unseen'];

const TASK_RESULTS: readonly WalkResult[] = ['done', 'unseen'];

/** What is typed into the field of a measurement, and what it comes to. */
function Measuring({
  measure,
  onSay,
}: {
  measure: NonNullable<ItemStanding['step']['measure']>;
  onSay: (result: WalkResult, measured: number) => void;
}): ReactNode {
  const [typed, setTyped] = useState('');
  const [asked, setAsked] = useState<number | null>(null);
  const value = numberTyped(typed);
  const wrong =
    typed.trim() !== '' && !walkFigure.safeParse(value).success ? 'must be a figure, such as 2.5' : undefined;
  const { what, unit, limit, worse } = measure;
  const keep = (): void => {
    if (wrong !== undefined) return;
    // A slip of the hand is asked about once; who means it says so again.
    if (!makesSense(measure, value) && asked !== value) {
      setAsked(value);
      return;
    }
    onSay(measuredAs(measure, value), value);
    setTyped('');
    setAsked(null);
  };
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <Field
        label={`${what}, ${unit}`}
        className="w-56"
        hint={`worn ${worse === 'higher' ? 'from' : 'down to'} ${oneDigitText(limit)} ${unit}`}
        error={
          asked !== null && asked === value
            ? `No gauge reads ${oneDigitText(value)} ${unit}. Press Save again if it is so.`
            : wrong
        }
      >
        {(control) => (
          <input
            {...control}
            inputMode="decimal"
            autoComplete="off"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            className={`${INPUT} figure text-xl`}
          />
        )}
      </Field>
      <Button type="submit" className="mb-6" disabled={typed.trim() === '' || wrong !== undefined}>
        Save
      </Button>
    </form>
  );
}

/** The grades that the step offers. */
function GradeButtons({
  step,
  say,
}: {
  step: ItemStanding['step'];
  say: (result: WalkResult, more?: Partial<Said>) => void;
}): ReactNode {
  return (
    <div role="group" aria-label="What was found" className="grid gap-2 sm:grid-cols-2">
      {step.grades.map(({ words, means }) => (
        <Button key={words} className="min-h-14 justify-start text-left" onClick={() => say(means, { grade: words })}>
          {words.charAt(0).toUpperCase() + words.slice(1)}
        </Button>
      ))}
      <Button className="min-h-14 justify-start" onClick={() => say('unseen')}>
        {RESULT_WORDS.unseen}
      </Button>
    </div>
  );
}

/** What was found, with a note and a photo. */
export function Entering({
  step,
  say,
  meaning,
  note,
  setNote,
  file,
  actions,
  told,
  setOpen,
}: {
  step: ItemStanding['step'];
  say: (result: WalkResult, more?: Partial<Said>) => void;
  meaning: Partial<Record<'worn' | 'failed' | 'sound' | 'done' | 'unseen', string | null>>;
  note: string;
  setNote: Dispatch<SetStateAction<string>>;
  file: string;
  actions: ItemActions;
  told: ItemStanding['told'];
  setOpen: Dispatch<SetStateAction<boolean>>;
}): ReactNode {
  return (
    <>
      {step.grades.length > 0 && <GradeButtons step={step} say={say} />}
      {step.grades.length === 0 && (
        <div
          role="group"
          aria-label="What was found"
          className={`grid gap-2 ${step.kind === 'point' ? 'grid-cols-2 lg:grid-cols-4' : 'grid-cols-2'}`}
        >
          {(step.kind === 'point' ? POINT_RESULTS : TASK_RESULTS).map((result) => (
            <Button key={result} className="min-h-16 flex-col gap-0.5 py-2 text-center" onClick={() => say(result)}>
              <span className="font-narrow text-xl">{RESULT_WORDS[result]}</span>
              {meaning[result] && <span className="text-sm font-normal text-soft">{meaning[result]}</span>}
            </Button>
          ))}
        </div>
      )}
      {step.measure && (
        <Measuring
          measure={step.measure}
          onSay={(result, measured) => say(result, { measured, unit: step.measure!.unit })}
        />
      )}
      <NoteAndPhoto
        note={note}
        setNote={setNote}
        file={file}
        actions={actions}
        step={step}
        told={told}
        setOpen={setOpen}
      />
    </>
  );
}

/** A note, a photo, and the way to the earlier looks. */
function NoteAndPhoto({
  note,
  setNote,
  file,
  actions,
  step,
  told,
  setOpen,
}: {
  note: string;
  setNote: Dispatch<SetStateAction<string>>;
  file: string;
  actions: ItemActions;
  step: ItemStanding['step'];
  told: ItemStanding['told'];
  setOpen: Dispatch<SetStateAction<boolean>>;
}): ReactNode {
  return (
    <div className="flex flex-wrap items-end gap-2">
      <Field label="Note" className="min-w-0 flex-1 basis-56">
        {(control) => (
          <input
            {...control}
            maxLength={300}
            value={note}
            onChange={(event) => setNote(event.target.value)}
            className={INPUT}
          />
        )}
      </Field>
      <label
        htmlFor={file}
        className="inline-flex min-h-11 cursor-pointer items-center gap-2 rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold focus-within:outline-2 hover:bg-well"
      >
        <Camera size={20} aria-hidden /> Photo
        <input
          id={file}
          type="file"
          accept="image/jpeg,image/png,image/webp"
          capture="environment"
          className="sr-only"
          onChange={(event) => {
            const taken = event.target.files?.[0];
            if (taken) actions.onPhoto(step.key, told?.id ?? null, taken);
            event.target.value = '';
          }}
        />
      </label>
      {told !== null && (
        <Button look="quiet" onClick={() => setOpen(false)}>
          Close
        </Button>
      )}
    </div>
  );
}
