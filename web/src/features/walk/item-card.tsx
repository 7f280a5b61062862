import { vehiclePath } from '../../ui/paths.ts';
import { addressOf, endpoints, type WalkPhoto, type WalkResult, type WalkView } from '@crosspeen/contract';
import { minutesText, type DistanceUnit } from '@crosspeen/core';
import { Check, CloudOff, TriangleAlert } from 'lucide-react';
import { useId, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { Button } from '../../ui/button.tsx';
import { Chance } from '../../ui/chance.tsx';
import { oneDigitText } from '../../ui/formats.ts';
import { VerdictMark } from '../../ui/mark.tsx';
import { dayText, distanceText } from '../../ui/units.ts';
import { SPOT_WORDS } from '../../parts/engine-map/engine-map.tsx';
import type { Said } from './entering.ts';
import { METHOD_WORDS, RESULT_WORDS, type ItemStanding } from './standing.ts';
import { type ItemActions, Entering } from './item-entering.tsx';
import { WaitingEntry, RefusedEntry } from './item-refused.tsx';

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
          step.needs,
          minutesText(step.minutes + step.teardownMinutes),
        ]
          .filter(Boolean)
          .join(' · ')}
      </p>
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
        <RefusedEntry key={waiting.id} waiting={waiting} actions={actions} />
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
            Change, add a photo
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
