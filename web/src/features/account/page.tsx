import { call } from '../../api/client.ts';
import { endpoints, LEAST_PASSWORD, type SessionState, type SignedInAt } from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import { readShop } from '../../api/people.ts';
import { Button } from '../../ui/button.tsx';
import { DataTable, type TableColumn } from '../../ui/data-table.tsx';
import { TextField } from '../../ui/field.tsx';
import { Notice, Waiting } from '../../ui/notice.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { instantText } from '../../ui/units.ts';
import { browserOf } from './browser.ts';

const BOX = 'grid content-start gap-4 rounded-md border border-rule bg-sheet p-4';

function OwnPassword(): ReactNode {
  const [current, setCurrent] = useState('');
  const [password, setPassword] = useState('');
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: () => call(endpoints.session.changePassword, { body: { current, password } }),
    onSuccess: async () => {
      setCurrent('');
      setPassword('');
      toast('Password changed. You are signed out everywhere else.');
      await client.invalidateQueries({ queryKey: ['sign-ins'] });
    },
  });
  return (
    <form
      className={BOX}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <h2 className="text-2xl">Password</h2>
      <TextField
        label="Your password now"
        type="password"
        value={current}
        onChange={(event) => setCurrent(event.target.value)}
        error={fieldProblem(save.error, 'current')}
        autoComplete="current-password"
      />
      <TextField
        label="New password"
        type="password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        error={fieldProblem(save.error, 'password')}
        hint={`${LEAST_PASSWORD} characters or more; a few words that do not belong together`}
        autoComplete="new-password"
      />
      <FormProblem error={save.error} fields={['current', 'password']} />
      <div>
        <Button look="main" type="submit" disabled={save.isPending}>
          Change the password
        </Button>
      </div>
    </form>
  );
}

function OwnPin(): ReactNode {
  const [current, setCurrent] = useState('');
  const [pin, setPin] = useState('');
  const save = useMutation({
    mutationFn: (own: string | null) => call(endpoints.session.setPin, { body: { current, pin: own } }),
    onSuccess: (_done, own) => {
      setCurrent('');
      setPin('');
      toast(own === null ? 'PIN taken away.' : 'PIN set. It works at the bay tablets only.');
    },
  });
  return (
    <form
      className={BOX}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(pin);
      }}
    >
      <h2 className="text-2xl">PIN for the bay tablets</h2>
      <p className="text-soft">Short, and good at a bay tablet only, for what a mechanic may do.</p>
      <TextField
        label="Your password"
        type="password"
        value={current}
        onChange={(event) => setCurrent(event.target.value)}
        error={fieldProblem(save.error, 'current')}
        autoComplete="current-password"
      />
      <TextField
        label="PIN"
        type="password"
        inputMode="numeric"
        value={pin}
        onChange={(event) => setPin(event.target.value)}
        error={fieldProblem(save.error, 'pin')}
        hint="4 to 8 digits"
        autoComplete="off"
      />
      <FormProblem error={save.error} fields={['current', 'pin']} />
      <div className="flex flex-wrap gap-2">
        <Button look="main" type="submit" disabled={save.isPending}>
          Set the PIN
        </Button>
        <Button disabled={save.isPending} onClick={() => save.mutate(null)}>
          Have no PIN
        </Button>
      </div>
    </form>
  );
}

function OwnSignIns(): ReactNode {
  const client = useQueryClient();
  const list = useQuery(readShop.signIns());
  const end = useMutation({
    mutationFn: (id: string) => call(endpoints.session.endSignIn, { params: { id } }),
    onSuccess: (answer) => client.setQueryData(readShop.signIns().queryKey, answer),
  });
  if (!list.data) return <Waiting what="where you are signed in" />;
  const columns: readonly TableColumn<SignedInAt>[] = [
    {
      id: 'where',
      head: 'Where',
      names: true,
      className: 'py-2',
      cell: (row) => (
        <>
          {row.tablet ?? browserOf(row.agent)}
          {row.here && <strong> (here)</strong>}
        </>
      ),
    },
    { id: 'began', head: 'Since', cell: (row) => instantText(row.beganAt), from: 'md' },
    { id: 'seen', head: 'Last used', cell: (row) => instantText(row.seenAt) },
    {
      id: 'end',
      head: <span className="sr-only">End it</span>,
      cell: (row) =>
        row.here ? null : (
          <Button disabled={end.isPending} onClick={() => end.mutate(row.id)}>
            Sign out there
          </Button>
        ),
    },
  ];
  return (
    <section aria-labelledby="sign-ins" className="max-w-4xl">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
        <h2 id="sign-ins" className="text-2xl">
          Where you are signed in
        </h2>
        {list.data.rows.length > 1 && (
          <Button disabled={end.isPending} onClick={() => end.mutate('others')}>
            Sign out everywhere else
          </Button>
        )}
      </div>
      {end.error && <Notice role="alert">{end.error.message}</Notice>}
      <DataTable label="Sign-ins" columns={columns} rows={list.data.rows} rowKey={(row) => row.id} />
    </section>
  );
}

/** One's own account: password, PIN, and where one is signed in. */
export default function AccountPage({ session }: { session: SessionState }): ReactNode {
  const { displayName, name, role } = session.user!;
  return (
    <div className="grid gap-6">
      <div>
        <h1 className="text-3xl">Your account</h1>
        <p className="text-soft">
          {displayName}, {role}; you sign in as <strong>{name}</strong>.
        </p>
      </div>
      {session.byPin ? (
        <Notice>
          With a PIN, at a bay tablet, password and PIN are not changed. Sign in with your password for that.
        </Notice>
      ) : (
        <div className="grid max-w-4xl gap-4 md:grid-cols-2">
          <OwnPassword />
          <OwnPin />
        </div>
      )}
      <OwnSignIns />
    </div>
  );
}
