import { endpoints, type DeskNote } from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { call } from '../../api/client.ts';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { vehiclePath } from '../../ui/paths.ts';
import { isoText } from '../../ui/units.ts';

/** A note with its vehicle; one press settles it, another opens it again. */
function Note({ note, onSettle, busy }: { note: DeskNote; onSettle: () => void; busy: boolean }): ReactNode {
  return (
    <li className="flex flex-wrap items-center justify-between gap-3 px-4 py-3">
      <p className="min-w-0 flex-1 basis-72">
        <Link to={vehiclePath(note.vehicleId)} className="figure mr-2 text-xl font-semibold hover:underline">
          {note.vehicle}
        </Link>
        {note.about && <strong>{note.about}: </strong>}
        <span className="break-words">{note.words}</span>{' '}
        <span className="text-soft">
          {note.by}, {isoText(note.day)}
        </span>
      </p>
      <Button onClick={onSettle} disabled={busy}>
        Settled
      </Button>
    </li>
  );
}

/** Notes that the bay has handed to the desk and nobody has settled; nothing where there is none. */
export function ForTheDesk(): ReactNode {
  const client = useQueryClient();
  const notes = useQuery(read.deskNotes());
  const settle = useMutation({
    mutationFn: (id: string) => call(endpoints.desk.settle, { params: { id }, body: { settled: true } }),
    onSettled: () => client.invalidateQueries({ queryKey: read.deskNotes().queryKey }),
  });
  if (!notes.data || notes.data.total === 0) return null;
  const { rows, total } = notes.data;
  return (
    <section aria-labelledby="for-the-desk" className="mb-8">
      <h2 id="for-the-desk" className="mb-1 text-2xl">
        For the desk
      </h2>
      <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
        {rows.map((note) => (
          <Note key={note.id} note={note} busy={settle.isPending} onSettle={() => settle.mutate(note.id)} />
        ))}
      </ul>
      {total > rows.length && <p className="mt-1 text-soft">{total - rows.length} more come after these.</p>}
    </section>
  );
}
