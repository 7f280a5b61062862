import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import { endpoints, type SessionState } from '@crosspeen/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { rememberCsrfToken } from '../../api/client.ts';
import { Button } from '../../ui/button.tsx';
import { TextField } from '../../ui/field.tsx';
import { Notice } from '../../ui/notice.tsx';
import { ROLE_WORDS } from '../../parts/shop/roles.ts';

/** Name and password. */
function SignInForm({
  signIn,
  name,
  password,
  setName,
  setPassword,
}: {
  signIn: Sending<{ name: string; password: string }>;
  name: string;
  password: string;
  setName: Dispatch<SetStateAction<string>>;
  setPassword: Dispatch<SetStateAction<string>>;
}): ReactNode {
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        signIn.mutate({ name, password });
      }}
    >
      <TextField
        label="Name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        autoComplete="username"
        autoFocus
        required
      />
      <TextField
        label="Password"
        type="password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        autoComplete="current-password"
        required
      />
      {signIn.error && <Notice role="alert">{signIn.error.message}</Notice>}
      <Button look="main" type="submit" disabled={signIn.isPending}>
        Sign in
      </Button>
    </form>
  );
}

/** The demo's accounts, one press each. */
function DemoAccounts({
  session,
  signIn,
}: {
  session: SessionState;
  signIn: Pick<Sending<{ name: string; password: string }>, 'mutate' | 'isPending'>;
}): ReactNode {
  return (
    <div className="mt-6 border-t border-rule pt-4">
      <p className="mb-2 font-semibold">Or try the demo as</p>
      <div className="grid gap-2">
        {session.demoAccounts.map((account) => (
          <Button
            key={account.name}
            className="justify-between!"
            disabled={signIn.isPending}
            onClick={() => signIn.mutate(account)}
          >
            <span>{account.displayName}</span>
            <span className="font-normal text-soft">{ROLE_WORDS[account.role]}</span>
          </Button>
        ))}
      </div>
      <p className="mt-3 text-sm text-soft">Everything in the demo is made up: makes, engines, parts, people.</p>
    </div>
  );
}

/** Sign-in, with the demo accounts offered where the installation has any. */
export function SignIn({ session, onBay }: { session: SessionState; onBay?: (() => void) | undefined }): ReactNode {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const signIn = useMutation({
    mutationFn: (account: { name: string; password: string }) => call(endpoints.session.signIn, { body: account }),
    onSuccess: (state) => {
      rememberCsrfToken(state.csrfToken);
      client.setQueryData(['session'], state);
    },
  });
  return (
    <main className="mx-auto grid min-h-dvh max-w-4xl content-center gap-10 px-5 py-8 md:grid-cols-2">
      <section>
        <h1 className="mb-3 text-5xl">Crosspeen</h1>
        {session.demoAccounts.length === 0 && <p className="mb-3 text-2xl font-semibold">{session.workshopName}</p>}
        <p className="text-xl leading-snug">
          This engine, this mileage, this history: what fails next, how likely is it, and on which visit do we deal with
          it?
        </p>
        <p className="mt-6 text-soft">
          Figures here support a trained mechanic’s judgement. The maker’s current procedure, local rules and licensed
          practice come first.
        </p>
      </section>
      <section className="rounded-lg border border-rule-strong bg-sheet p-6">
        <h2 className="mb-4 text-2xl">Sign in</h2>
        <SignInForm signIn={signIn} name={name} password={password} setName={setName} setPassword={setPassword} />
        {onBay && (
          <p className="mt-4">
            <Button look="quiet" onClick={onBay}>
              Back to the bay tablet
            </Button>
          </p>
        )}
        {session.demoAccounts.length > 0 && <DemoAccounts session={session} signIn={signIn} />}
      </section>
    </main>
  );
}
