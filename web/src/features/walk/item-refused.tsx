import { type WalkEntry } from '@crosspeen/contract';
import { type ReactNode } from 'react';
import { Button } from '../../ui/button.tsx';
import { oneDigitText } from '../../ui/formats.ts';
import { Notice } from '../../ui/notice.tsx';
import type { Waiting } from '../../offline/queue.ts';
import { waitingWords } from '../../offline/refused.ts';
import { RESULT_WORDS } from './standing.ts';
import { type ItemActions } from './item-entering.tsx';

/** An entry that contradicts what stands, to be decided. */
export function WaitingEntry({ entry, actions }: { entry: WalkEntry; actions: ItemActions | null }): ReactNode {
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

/** A refused entry or photo, and what can be done about it. */
export function RefusedEntry({ waiting, actions }: { waiting: Waiting; actions: ItemActions | null }): ReactNode {
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
                <Button onClick={() => actions.onDesk(waiting)}>Hand it to the desk</Button>
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
