import type { SessionState } from '@crosspeen/contract';
import { useState, type ReactNode } from 'react';
import { BayPage } from './bay.tsx';
import { SignIn } from './sign-in.tsx';

/** Before anybody is in: the bay tablet's change-over, or name and password. */
export default function Door({ session }: { session: SessionState }): ReactNode {
  const [byPassword, setByPassword] = useState(false);
  if (session.bay === null || byPassword)
    return <SignIn session={session} onBay={session.bay === null ? undefined : () => setByPassword(false)} />;
  return <BayPage bay={session.bay} onPassword={() => setByPassword(true)} />;
}
