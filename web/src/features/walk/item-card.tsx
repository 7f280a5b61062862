import { vehiclePath } from '../../ui/paths.ts';
import {
  addressOf,
  endpoints,
  type WalkEntry,
  type WalkPhoto,
  type WalkResult,
  type WalkView,
  walkFigure,
} from '@crosspeen/contract';
import { minutesText, makesSense, measuredAs, type DistanceUnit } from '@crosspeen/core';
import { Camera, Check, CloudOff, TriangleAlert } from 'lucide-react';
import { type SetStateAction, type Dispatch, useId, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { Button } from '../../ui/button.tsx';
import { Chance } from '../../ui/chance.tsx';
import { Field, INPUT } from '../../ui/field.tsx';
import { numberTyped, oneDigitText } from '../../ui/formats.ts';
import { VerdictMark } from '../../ui/mark.tsx';
import { Notice } from '../../ui/notice.tsx';
import { dayText, distanceText } from '../../ui/units.ts';
import { SPOT_WORDS } from '../../parts/engine-map/engine-map.tsx';
import type { Waiting } from '../../offline/queue.ts';
import { waitingWords } from '../../offline/refused.ts';
import type { Said } from './entering.ts';
import { METHOD_WORDS, RESULT_WORDS, type ItemStanding } from './standing.ts';

/** What can be done with one item; left out where nothing can be recorded. */
export interface ItemActions {
  readonly onSay: (said: Said) => void;
  readonly onPhoto: (key: string, entryId: string | null, file: File) => void;
  readonly onUndo: (changeId: string) => void;
  readonly onSettle: (entryId: string, take: boolean) => void;
  /** Sends a refused thing again as it is. */
  readonly onTryAgain: (refused: Waiting) => void;
  /** Hands a refused entry to the desk. */
  readonly onDesk: (refused: Waiting, about: string) => void;
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
            ? `No gauge reads ${oneDigitText(value)} ${unit}. Press Keep again if it is so.`
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
        Keep
      </Button>
    </form>
  );
}

function Told({
  item: { step, told },
  actions,
}: {
  item: ItemStanding & { told: NonNullable<ItemStanding['told']> };
  actions: ItemActions | null;
}): ReactNode {
  const moved = step.chance !== null && step.chanceThen !== null && step.chance !== step.chanceThen;
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1" aria-live="polite">
      <strong className="inline-flex items-center gap-1.5 font-narrow text-xl">
        <Check size={20} aria-hidden /> {RESULT_WORDS[told.result]}
        {told.measured !== null && (
          <span className="figure">
            {oneDigitText(told.measured)} {told.unit}
          </span>
        )}
      </strong>
      {told.grade && <span>{told.grade}</span>}
      {told.note && <span>{told.note}</span>}
      {told.by && <span className="text-soft">{told.by}</span>}
      {told.waits && (
        <span className="inline-flex items-center gap-1 text-soft">
          <CloudOff size={16} aria-hidden /> on this device
        </span>
      )}
      {moved && (
        <span className="inline-flex items-center gap-2">
          <Chance chance={step.chanceThen!} /> <span className="text-soft">then, now</span>{' '}
          <Chance chance={step.chance!} />
        </span>
      )}
      {actions && told.changeId !== null && (
        <Button look="quiet" onClick={() => actions.onUndo(told.changeId!)}>
          Undo
        </Button>
      )}
    </div>
  );
}

/** What to do after something worn or failed was found. */
function Next({ view, step, result }: { view: WalkView; step: ItemStanding['step']; result: WalkResult }): ReactNode {
  if (view.vehicle === null || step.kind !== 'point' || (result !== 'worn' && result !== 'failed')) return null;
  const id = step.key.slice('point:'.length);
  const at = vehiclePath(view.vehicle.id);
  const link =
    'inline-flex min-h-11 items-center rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well';
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span className="text-soft">Next:</span>
      {step.verdict === 'hold' && <strong>Hold it: do not let it go like this.</strong>}
      <Link className={link} to={`${at}?open=visit:${id}`}>
        Put it on a visit
      </Link>
      {result === 'failed' && (
        <Link className={link} to={`${at}?open=record:${id}`}>
          It was renewed
        </Link>
      )}
      <Link className={link} to={`${at}?row=${id}`}>
        Look closer
      </Link>
    </div>
  );
}

/** Number, name and state of an item. */
function ItemHead({ at, step }: { at: number; step: ItemStanding['step'] }): ReactNode {
  return (
    <div className="flex flex-wrap items-start justify-between gap-x-4 gap-y-1">
      <h3 className="min-w-0 flex-1 basis-72 text-xl">
        <span className="figure mr-2 text-soft">{at}</span>
        {step.title}
      </h3>
      <p className="text-soft">
        {[
          step.method && METHOD_WORDS[step.method],
          step.spot && SPOT_WORDS[step.spot],
          minutesText(step.minutes + step.teardownMinutes),
        ]
          .filter(Boolean)
          .join(' · ')}
      </p>
    </div>
  );
}

/** An entry that contradicts what stands, to be decided. */
function WaitingEntry({ entry, actions }: { entry: WalkEntry; actions: ItemActions | null }): ReactNode {
  return (
    <div className="mt-2">
      <Notice
        role="alert"
        actions={
          actions && (
            <div className="flex flex-wrap gap-2">
              <Button onClick={() => actions.onSettle(entry.id, true)}>Take this one</Button>
              <Button onClick={() => actions.onSettle(entry.id, false)}>Leave it out</Button>
            </div>
          )
        }
      >
        <strong>
          {entry.by}: {RESULT_WORDS[entry.result].toLowerCase()}
        </strong>
        {entry.measured !== null && ` ${oneDigitText(entry.measured)} ${entry.unit ?? ''}`}
        {entry.note && `, ${entry.note}`}.{' '}
        {entry.heldBecause === 'renewed_meanwhile'
          ? 'The part was renewed after that look, so it is not counted.'
          : 'Entered on another device at the same time; not counted until somebody decides.'}
      </Notice>
    </div>
  );
}

/** How to look, and what to take care of. */
function HowToLook({
  step,
  view,
  unit,
}: {
  step: ItemStanding['step'];
  view: WalkView;
  unit: DistanceUnit;
}): ReactNode {
  return (
    <div className="grid gap-1">
      {step.takesOff.length > 0 && (
        <p>
          <strong>First off:</strong> {step.takesOff.join(', ')} ({minutesText(step.teardownMinutes)})
        </p>
      )}
      <p className="text-lg">{step.how}</p>
      <p className="flex flex-wrap items-center gap-x-3 text-soft">
        {step.verdict && <VerdictMark verdict={step.verdict} />}
        {step.chance !== null && <Chance chance={step.chance} />}
        <span>{step.why}</span>
        {step.due && (
          <span>
            {step.due.day < view.today ? 'since' : 'by'} {dayText(step.due.day)} or at{' '}
            {distanceText(step.due.km, unit, 100)}
          </span>
        )}
      </p>
      {step.tools.length > 0 && <p className="text-soft">Takes: {step.tools.join(', ')}</p>}
      {step.cautions.map((caution) => (
        <p key={caution} className="flex items-start gap-2 font-semibold">
          <TriangleAlert size={18} aria-hidden className="mt-1 shrink-0" /> {caution}
        </p>
      ))}
    </div>
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
function Entering({
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

/** A refused entry or photo, and what can be done about it. */
function RefusedEntry({
  waiting,
  title,
  actions,
}: {
  waiting: Waiting;
  title: string;
  actions: ItemActions | null;
}): ReactNode {
  return (
    <div className="mt-2">
      <Notice
        role="alert"
        actions={
          actions && (
            <div className="flex flex-wrap gap-2">
              <Button onClick={() => actions.onTryAgain(waiting)}>Try again</Button>
              {waiting.kind === 'photo' ? (
                <SavePhoto picture={waiting.picture} onSaved={() => actions.onDrop(waiting.id)} />
              ) : (
                <Button onClick={() => actions.onDesk(waiting, title)}>Hand it to the desk</Button>
              )}
            </div>
          )
        }
      >
        <strong>Not taken: {waitingWords(waiting)}.</strong> {waiting.refused} It is still on this device.{' '}
        {waiting.kind === 'entry' && 'Enter it again here to correct it.'}
      </Notice>
    </div>
  );
}

/** Saves a refused photo as a file of the device, and only then lets go of it. */
function SavePhoto({ picture, onSaved }: { picture: Blob; onSaved: () => void }): ReactNode {
  const save = (): void => {
    const address = URL.createObjectURL(picture);
    const link = document.createElement('a');
    link.href = address;
    link.download = 'photo.jpg';
    link.click();
    URL.revokeObjectURL(address);
    onSaved();
  };
  return <Button onClick={save}>Save it as a file</Button>;
}

/** One item of a walk: how to look, what it means, and large buttons for what was found. */
export function ItemCard({
  item,
  view,
  at,
  unit,
  photos,
  actions,
}: {
  item: ItemStanding;
  view: WalkView;
  at: number;
  unit: DistanceUnit;
  photos: readonly WalkPhoto[];
  actions: ItemActions | null;
}): ReactNode {
  const { step, told, held, refused, photosHere } = item;
  const [open, setOpen] = useState(false);
  const [note, setNote] = useState('');
  const file = useId();
  const shown = told === null || open;
  const say = (result: WalkResult, more: Partial<Said> = {}): void => {
    actions?.onSay({ key: step.key, result, seen: told?.id ?? null, note: note.trim() || null, ...more });
    setNote('');
    setOpen(false);
  };
  const meaning: Partial<Record<WalkResult, string | null>> = {
    sound: step.good,
    worn: step.worn,
    failed: step.failed,
  };
  return (
    <li
      id={step.key}
      className={`scroll-mt-4 rounded-md border bg-sheet px-4 py-3 ${told === null ? 'border-rule-strong' : 'border-rule'}`}
    >
      <ItemHead at={at} step={step} />
      {step.linked.length > 0 && (
        <p className="mt-1 font-semibold">▲ Look here too: {step.linked.join(', ')} harms it.</p>
      )}
      {told !== null && (
        <div className="mt-1 grid gap-2">
          <Told item={{ ...item, told }} actions={actions} />
          <Next view={view} step={step} result={told.result} />
        </div>
      )}
      {held.map((entry) => (
        <WaitingEntry key={entry.id} entry={entry} actions={actions} />
      ))}
      {refused.map((waiting) => (
        <RefusedEntry key={waiting.id} waiting={waiting} title={step.title} actions={actions} />
      ))}
      {shown ? (
        <div className="mt-2 grid gap-3">
          <HowToLook step={step} view={view} unit={unit} />
          {actions && (
            <Entering
              step={step}
              say={say}
              meaning={meaning}
              note={note}
              setNote={setNote}
              file={file}
              actions={actions}
              told={told}
              setOpen={setOpen}
            />
          )}
        </div>
      ) : (
        actions && (
          <Button look="quiet" className="mt-1" onClick={() => setOpen(true)}>
            Say it otherwise, add a photo
          </Button>
        )
      )}
      {photosHere.length > 0 && (
        <p className="mt-2 inline-flex items-center gap-1 text-soft">
          <CloudOff size={16} aria-hidden /> {photosHere.length} {photosHere.length === 1 ? 'photo' : 'photos'} on this
          device
        </p>
      )}
      {photos.length > 0 && (
        <ul className="mt-2 flex flex-wrap gap-2" aria-label="Photos">
          {photos.map((photo) => (
            <li key={photo.id}>
              <a href={addressOf(endpoints.walk.photo, { params: { id: photo.id } })} target="_blank" rel="noreferrer">
                <img
                  src={addressOf(endpoints.walk.photo, { params: { id: photo.id }, query: { size: 'small' } })}
                  alt={`${step.title}, taken by ${photo.by}`}
                  className="h-24 rounded border border-rule"
                />
              </a>
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
