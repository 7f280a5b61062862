import type { PeopleChange, PeopleChangeKind } from '@crosspeen/contract';
import type { ReactNode } from 'react';
import { readShop } from '../../api/people.ts';
import type { TableColumn } from '../../ui/data-table.tsx';
import { PagedTable, usePagedList } from '../../ui/paged-list.tsx';
import { instantText } from '../../ui/units.ts';

/** What each entry of the trail says. */
const WORDS: Readonly<Record<PeopleChangeKind, (change: PeopleChange) => string>> = {
  set_up: () => 'set the workshop up',
  added: ({ after }) => `added as ${after}`,
  renamed: ({ before, after }) => `renamed from ${before} to ${after}`,
  role: ({ before, after }) => `role changed from ${before} to ${after}`,
  deactivated: () => 'no longer works here',
  reactivated: () => 'works here again',
  link_made: () => 'given a one-time link',
  link_ended: () => 'link ended',
  password_set: () => 'chose a password by the link',
  password_changed: () => 'changed the password',
  pin_set: () => 'set a PIN',
  pin_removed: () => 'took the PIN away',
  signed_out: () => 'ended a sign-in elsewhere',
  tablet_added: ({ after }) => `bay tablet “${after}” added`,
  tablet_ended: ({ before }) => `bay tablet “${before}” put away`,
  tablet_locked: ({ before }) => `bay tablet “${before}” locked by wrong PINs`,
  tablet_opened: ({ after }) => `bay tablet “${after}” opened with a password`,
};

const COLUMNS: readonly TableColumn<PeopleChange>[] = [
  { id: 'at', head: 'When', names: true, className: 'py-2', cell: ({ at }) => instantText(at) },
  { id: 'person', head: 'Who', cell: ({ person }) => person ?? '' },
  { id: 'what', head: 'What', cell: (change) => WORDS[change.kind](change) },
  {
    id: 'by',
    head: 'By',
    cell: ({ by, person }) => (by === null ? (person === null ? '' : 'code or link') : by === person ? '' : by),
  },
];

/** What was changed of people and rights, the latest first. */
export function Trail(): ReactNode {
  const list = usePagedList(({ page }) => readShop.peopleChanges(page), 'trail');
  return (
    <section aria-labelledby="trail">
      <h2 id="trail" className="mb-2 text-2xl">
        What was changed
      </h2>
      <PagedTable
        of={list}
        what="changes"
        label="Changes of people"
        columns={COLUMNS}
        rowKey={({ id }) => String(id)}
        empty={<p className="text-soft">Nothing was changed yet.</p>}
      />
    </section>
  );
}
