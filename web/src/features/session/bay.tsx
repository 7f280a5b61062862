import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import { type Bay, endpoints, type SessionState } from '@crosspeen/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Delete } from 'lucide-react';
import { type SetStateAction, type Dispatch, useEffect, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { rememberCsrfToken } from '../../api/client.ts';
import { signAsTablet } from '../../api/tablet-key.ts';
import { Button } from '../../ui/button.tsx';
import { Notice } from '../../ui/notice.tsx';

const DIGITS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0'] as const;
const LEAST = 4;
const MOST = 8;

/** Who is at the tablet. */
function WhoPart({
  bay,
  setPin,
  enter,
  setWho,
}: {
  bay: Bay;
  setPin: Dispatch<SetStateAction<string>>;
  enter: { readonly reset: () => void };
  setWho: Dispatch<SetStateAction<{ id: string; displayName: string } | null>>;
}): ReactNode {
  return (
    <section aria-labelledby="who">
      <h2 id="who" className="mb-3 text-2xl">
        Who is here?
      </h2>
      <ul className="grid gap-3 sm:grid-cols-2">
        {bay.people.map((person) => (
          <li key={person.id}>
            <Button
              className="min-h-16! w-full justify-start! text-xl"
              onClick={() => {
                setPin('');
                enter.reset();
                setWho(person);
              }}
            >
              {person.displayName}
            </Button>
          </li>
        ))}
      </ul>
      {bay.people.length === 0 && (
        <p className="text-soft">
          Nobody has a PIN yet. Everyone sets one under “Your account” after signing in with name and password.
        </p>
      )}
    </section>
  );
}

/** The keys of the PIN. */
function PinKeys({ setPin, pin }: { setPin: Dispatch<SetStateAction<string>>; pin: string }): ReactNode {
  return (
    <div className="grid grid-cols-3 gap-2">
      {DIGITS.map((digit) => (
        <Button
          key={digit}
          className={`min-h-16! text-2xl ${digit === '0' ? 'col-start-2' : ''}`}
          onClick={() => setPin((so) => (so + digit).slice(0, MOST))}
        >
          {digit}
        </Button>
      ))}
      <Button className="min-h-16!" aria-label="Take the last digit back" onClick={() => setPin(pin.slice(0, -1))}>
        <Delete size={24} aria-hidden />
      </Button>
    </div>
  );
}

/** The PIN, on keys that gloves hit. */
function PinPart({
  who,
  pin,
  enter,
  setPin,
  isPending,
  mutate,
  setWho,
}: {
  who: { id: string; displayName: string };
  pin: string;
  enter: { readonly error: Error | null };
  setPin: Dispatch<SetStateAction<string>>;
  isPending: boolean;
  mutate: Sending<{ personId: string; pin: string }>['mutate'];
  setWho: Dispatch<SetStateAction<{ id: string; displayName: string } | null>>;
}): ReactNode {
  return (
    <section aria-labelledby="pin" className="max-w-sm">
      <h2 id="pin" className="mb-3 text-2xl">
        {who.displayName}, your PIN
      </h2>
      <p
        role="status"
        aria-label={`${pin.length} digits typed`}
        className="mb-3 grid h-16 place-items-center rounded-md border border-rule-strong bg-sheet text-4xl tracking-[0.5em]"
      >
        {'•'.repeat(pin.length)}
      </p>
      {enter.error && (
        <div className="mb-3">
          <Notice role="alert">{enter.error.message}</Notice>
        </div>
      )}
      <PinKeys setPin={setPin} pin={pin} />
      <div className="mt-3 flex gap-2">
        <Button
          look="main"
          className="min-h-14! flex-1 text-xl"
          disabled={pin.length < LEAST || isPending}
          onClick={() => mutate({ personId: who.id, pin })}
        >
          Enter
        </Button>
        <Button className="min-h-14!" onClick={() => setWho(null)}>
          Somebody else
        </Button>
      </div>
    </section>
  );
}

/** Changes over with a PIN; the tablet signs for it with its own key. */
async function enterAsTablet(typed: { personId: string; pin: string }): Promise<SessionState> {
  const { challenge } = await call(endpoints.session.challengeBay);
  const signature = await signAsTablet(challenge, typed.personId);
  return call(endpoints.session.enterBay, { body: { ...typed, challenge, signature } });
}

/** A tablet after too many wrong PINs. */
function LockedPart(): ReactNode {
  return (
    <Notice role="alert">
      Too many wrong PINs were typed here, so this tablet is locked. Anybody who works here opens it by signing in with
      name and password.
    </Notice>
  );
}

/** The tablet at the bay while nobody is at it: pick a name, type a PIN; big enough for a glove. */
export function BayPage({ bay, onPassword }: { bay: Bay; onPassword: () => void }): ReactNode {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [who, setWho] = useState<Bay['people'][number] | null>(null);
  const [pin, setPin] = useState('');
  const enter = useMutation({
    mutationFn: enterAsTablet,
    onSuccess: (state) => {
      rememberCsrfToken(state.csrfToken);
      client.setQueryData(['session'], state);
      // Whatever the one before looked at.
      void navigate('/', { replace: true });
    },
    onError: () => {
      setPin('');
      void client.invalidateQueries({ queryKey: ['session'] });
    },
  });
  const { mutate, isPending } = enter;
  useEffect(() => {
    if (who === null || bay.locked) return;
    const onKey = (event: KeyboardEvent): void => {
      if (/^\d$/.test(event.key)) setPin((so) => (so + event.key).slice(0, MOST));
      else if (event.key === 'Backspace') setPin((so) => so.slice(0, -1));
      else if (event.key === 'Escape') setWho(null);
      else if (event.key === 'Enter' && pin.length >= LEAST && !isPending) mutate({ personId: who.id, pin });
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  }, [who, pin, isPending, mutate, bay.locked]);
  return (
    <main className="mx-auto max-w-3xl px-5 py-8">
      <p className="text-soft">Bay tablet</p>
      <h1 className="mb-6 text-4xl">{bay.tablet}</h1>
      {bay.locked ? (
        <LockedPart />
      ) : who === null ? (
        <WhoPart bay={bay} setPin={setPin} enter={enter} setWho={setWho} />
      ) : (
        <PinPart
          who={who}
          pin={pin}
          enter={enter}
          setPin={setPin}
          isPending={isPending}
          mutate={mutate}
          setWho={setWho}
        />
      )}
      <p className="mt-10">
        <Button look={bay.locked ? 'main' : 'quiet'} onClick={onPassword}>
          Sign in with name and password
        </Button>
      </p>
    </main>
  );
}
