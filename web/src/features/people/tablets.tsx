import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import { type BayTablet, endpoints } from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import { readShop } from '../../api/people.ts';
import { makeTabletKey } from '../../api/tablet-key.ts';
import { Button } from '../../ui/button.tsx';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { TextField } from '../../ui/field.tsx';
import { Notice } from '../../ui/notice.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { instantText } from '../../ui/units.ts';

/** Making this browser a bay tablet. */
function AddTablet({
  setAdding,
  add,
  name,
  setName,
}: {
  setAdding: Dispatch<SetStateAction<boolean>>;
  add: Sending<void>;
  name: string;
  setName: Dispatch<SetStateAction<string>>;
}): ReactNode {
  return (
    <Dialog open onClose={() => setAdding(false)} title="Make this browser a bay tablet">
      <form
        className="grid gap-4"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <TextField
          label="Name of the tablet"
          value={name}
          onChange={(event) => setName(event.target.value)}
          error={fieldProblem(add.error, 'name')}
          hint="Such as Bay 1"
        />
        <FormProblem error={add.error} fields={['name']} />
        <div className="flex gap-2">
          <Button look="main" type="submit" disabled={add.isPending}>
            Make it one
          </Button>
          <Button onClick={() => setAdding(false)}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

/** The tablets of the shop. */
function TabletsPart({
  rows,
  error,
  columns,
  onAdd,
  children,
}: {
  rows: readonly BayTablet[];
  error: Error | null;
  columns: readonly TableColumn<BayTablet>[];
  onAdd: () => void;
  children: ReactNode;
}): ReactNode {
  return (
    <section aria-labelledby="tablets">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
        <h2 id="tablets" className="text-2xl">
          Bay tablets
        </h2>
        {!rows.some(({ here }) => here) && <Button onClick={onAdd}>Make this browser a bay tablet</Button>}
      </div>
      <p className="mb-3 max-w-3xl text-soft">
        A bay tablet stays at the bay. People change over with a short PIN, for what a mechanic may do; after five
        minutes without a touch it asks for a PIN again.
      </p>
      {error && <Notice role="alert">{error.message}</Notice>}
      {rows.length > 0 && <DataTable label="Bay tablets" columns={columns} rows={rows} rowKey={({ id }) => id} />}
      {children}
    </section>
  );
}

/** The tablets that stay at the bays, where people change over with a PIN. */
export function Tablets(): ReactNode {
  const client = useQueryClient();
  const list = useQuery(readShop.tablets());
  const [adding, setAdding] = useState(false);
  const [name, setName] = useState('');
  const settle = (answer: { rows: BayTablet[] }): void => {
    client.setQueryData(readShop.tablets().queryKey, answer);
    void client.invalidateQueries({ queryKey: ['people', 'changes'] });
  };
  const add = useMutation({
    mutationFn: async () => call(endpoints.people.addTablet, { body: { name, publicKey: await makeTabletKey() } }),
    onSuccess: (answer) => {
      settle(answer);
      setAdding(false);
      setName('');
      toast('This browser is a bay tablet now. Sign out, and it asks who is here.');
    },
  });
  const end = useMutation({
    mutationFn: (id: string) => call(endpoints.people.endTablet, { params: { id } }),
    onSuccess: settle,
  });
  const rows = list.data?.rows ?? [];
  const columns: readonly TableColumn<BayTablet>[] = [
    {
      id: 'name',
      head: 'Tablet',
      names: true,
      className: 'py-2',
      cell: (row) => (
        <>
          <strong>{row.name}</strong>
          {row.here && ' (this browser)'}
          {row.locked && <span className="block">Locked by wrong PINs; sign in at it with a password</span>}
        </>
      ),
    },
    { id: 'made', head: 'Since', cell: (row) => instantText(row.madeAt) },
    { id: 'seen', head: 'Last used', cell: (row) => (row.seenAt === null ? 'not yet' : instantText(row.seenAt)) },
    {
      id: 'end',
      head: <span className="sr-only">Put away</span>,
      cell: (row) => (
        <Button disabled={end.isPending} onClick={() => end.mutate(row.id)}>
          Put it away
        </Button>
      ),
    },
  ];
  return (
    <TabletsPart rows={rows} error={list.error ?? end.error} columns={columns} onAdd={() => setAdding(true)}>
      {adding && <AddTablet setAdding={setAdding} add={add} name={name} setName={setName} />}
    </TabletsPart>
  );
}
