import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import { endpoints } from '@crosspeen/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { rememberCsrfToken } from '../../api/client.ts';
import { Button } from '../../ui/button.tsx';
import { TextField } from '../../ui/field.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { fieldProblem, FormProblem } from '../../ui/problem.tsx';
import { instantText } from '../../ui/units.ts';

/** A password, typed twice. */
function PasswordForm({
  setUnlike,
  password,
  again,
  use,
  name,
  setPassword,
  setAgain,
  unlike,
}: {
  setUnlike: Dispatch<SetStateAction<boolean>>;
  password: string;
  again: string;
  use: Sending<void>;
  name: string;
  setPassword: Dispatch<SetStateAction<string>>;
  setAgain: Dispatch<SetStateAction<string>>;
  unlike: boolean;
}): ReactNode {
  return (
    <form
      className="grid gap-4 rounded-lg border border-rule-strong bg-sheet p-6"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        setUnlike(password !== again);
        if (password === again) use.mutate();
      }}
    >
      <input type="hidden" autoComplete="username" value={name} readOnly />
      <TextField
        label="Password"
        type="password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        error={fieldProblem(use.error, 'password')}
        hint="10 characters or more; a few words that do not belong together"
        autoComplete="new-password"
        autoFocus
      />
      <TextField
        label="The same again"
        type="password"
        value={again}
        onChange={(event) => setAgain(event.target.value)}
        error={unlike ? 'is not the same; type it once more' : undefined}
        autoComplete="new-password"
      />
      <FormProblem error={use.error} fields={['password']} />
      <Button look="main" type="submit" disabled={use.isPending}>
        Set the password and sign in
      </Button>
    </form>
  );
}

/** Where a one-time link leads: a password is chosen, once. The secret stands behind the # and is in no log. */
export default function LinkPage(): ReactNode {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [token] = useState(() => window.location.hash.slice(1));
  const [password, setPassword] = useState('');
  const [again, setAgain] = useState('');
  const [unlike, setUnlike] = useState(false);
  const meaning = useQuery({
    queryKey: ['link', token],
    queryFn: () => call(endpoints.session.lookAtLink, { body: { token } }),
    retry: false,
    staleTime: Infinity,
  });
  const use = useMutation({
    mutationFn: () => call(endpoints.session.useLink, { body: { token, password } }),
    onSuccess: (state) => {
      rememberCsrfToken(state.csrfToken);
      client.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'session' });
      client.setQueryData(['session'], state);
      void navigate('/', { replace: true });
    },
  });
  if (meaning.isPending) return <Waiting what="the link" />;
  if (meaning.error)
    return (
      <main className="px-5 py-16">
        <Empty page title="This link does not work">
          {meaning.error.message}
        </Empty>
      </main>
    );
  const { displayName, name, workshopName, until } = meaning.data;
  return (
    <main className="mx-auto max-w-xl px-5 py-10">
      <h1 className="mb-1 text-4xl">Welcome, {displayName}</h1>
      <p className="mb-6 text-soft">
        Choose a password for {workshopName}. You sign in as <strong>{name}</strong>. This link works once, until{' '}
        {instantText(until)}.
      </p>
      <PasswordForm
        setUnlike={setUnlike}
        password={password}
        again={again}
        use={use}
        name={name}
        setPassword={setPassword}
        setAgain={setAgain}
        unlike={unlike}
      />
    </main>
  );
}
