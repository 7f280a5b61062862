import { CloudOff } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { Waiting } from '../../offline/queue.ts';
import { handToDesk, tryAgain, waitingWords } from '../../offline/refused.ts';
import { useWaiting, type WaitingState } from '../../offline/waiting.tsx';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { vehiclePath } from '../../ui/paths.ts';

const KINDS = { entry: ['entry', 'entries'], photo: ['photo', 'photos'], note: ['note', 'notes'] } as const;

/** Number of things of each kind: `3 entries, 1 photo`. */
const counted = (waiting: readonly Waiting[]): string =>
  (Object.keys(KINDS) as Waiting['kind'][])
    .map((kind) => [waiting.filter((one) => one.kind === kind).length, KINDS[kind]] as const)
    .filter(([count]) => count > 0)
    .map(([count, [one, several]]) => `${count} ${count === 1 ? one : several}`)
    .join(', ');

/** A refused thing in the list of what waits. */
function Refused({ waiting }: { waiting: Waiting }): ReactNode {
  return (
    <li className="grid gap-2 py-2">
      <p>
        {waiting.about && `${waiting.about}. `}
        <strong>Not taken: {waitingWords(waiting)}.</strong> {waiting.refused}
      </p>
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => void tryAgain(waiting)}>Try again</Button>
        {waiting.kind === 'entry' && <Button onClick={() => void handToDesk(waiting)}>Hand it to the desk</Button>}
      </div>
    </li>
  );
}

/** What waits of one vehicle, with the way to its walk. */
function OfVehicle({ waiting, onClose }: { waiting: readonly Waiting[]; onClose: () => void }): ReactNode {
  const { vehicleId, vehicleName } = waiting[0]!;
  const refused = waiting.filter((one) => one.refused !== null);
  return (
    <li className="py-3">
      <p className="flex flex-wrap items-center justify-between gap-3">
        <span>
          <strong className="figure text-xl">{vehicleName || 'A vehicle'}</strong>: {counted(waiting)}
        </span>
        <Link
          to={vehiclePath(vehicleId, 'walk')}
          onClick={onClose}
          className="inline-flex min-h-11 items-center font-semibold underline"
        >
          Open its walk
        </Link>
      </p>
      {refused.length > 0 && (
        <ul className="divide-y divide-rule border-t border-rule">
          {refused.map((one) => (
            <Refused key={one.id} waiting={one} />
          ))}
        </ul>
      )}
    </li>
  );
}

const sentence = ({ last }: WaitingState): string =>
  last === 'signed_out'
    ? 'Your sign-in is over: sign in again and it is sent.'
    : 'It is sent by itself, from any page, as soon as the workshop’s server answers. Nothing is lost if you close this.';

/** Says on every page how much waits on this device, and opens the list of it; nothing where nothing waits. */
export function WaitingBadge(): ReactNode {
  const waiting = useWaiting();
  const [open, setOpen] = useState(false);
  const { mine, others } = waiting;
  const total = mine.length + others.reduce((sum, { count }) => sum + count, 0);
  const refused = mine.filter((one) => one.refused !== null).length;
  if (total === 0) return null;
  const vehicles = [...new Set(mine.map(({ vehicleId }) => vehicleId))];
  return (
    <>
      <button
        type="button"
        className="flex min-h-11 items-center gap-1.5 rounded-md border border-rule-strong px-2.5 font-semibold hover:bg-well"
        onClick={() => setOpen(true)}
      >
        <CloudOff size={20} aria-hidden />
        {refused > 0 ? `▲ ${refused} not taken` : `${total} to send`}
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title="Waiting on this device" description={sentence(waiting)}>
        <ul className="divide-y divide-rule">
          {vehicles.map((id) => (
            <OfVehicle
              key={id}
              waiting={mine.filter(({ vehicleId }) => vehicleId === id)}
              onClose={() => setOpen(false)}
            />
          ))}
          {others.map(({ name, count }) => (
            <li key={name} className="py-3">
              {count} of {name} {count === 1 ? 'waits' : 'wait'} here until they sign in.
            </li>
          ))}
        </ul>
        {mine.length > refused && (
          <Button look="main" onClick={waiting.sendNow}>
            Send now
          </Button>
        )}
      </Dialog>
    </>
  );
}
