import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import { endpoints, may, type SessionState, type SessionUser } from '@crosspeen/contract';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Keyboard, LogOut, Moon, Sun, UserRound } from 'lucide-react';
import {
  type SetStateAction,
  type Dispatch,
  lazy,
  startTransition,
  Suspense,
  useCallback,
  useEffect,
  useMemo,
  useState,
  type ReactNode,
} from 'react';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { useUndo } from '../../api/changing.tsx';
import { rememberCsrfToken } from '../../api/client.ts';
import { Dialog } from '../../ui/dialog.tsx';
import { useFocusKept } from '../../ui/focus.ts';
import { KEY_LIST, LINE_ID, useKeys, type KeyAction } from '../../parts/keys.ts';
import { Notice } from '../../ui/notice.tsx';
import { setTheme, useTheme, type Theme } from './preferences.ts';
import { useRest } from './rest.ts';
import { WaitingBadge } from './waiting-badge.tsx';
import { WaitingProvider } from '../../offline/waiting.tsx';

const Palette = lazy(() => import('./palette.tsx'));

const VIEWS = [
  { to: '/', label: 'Lookup' },
  { to: '/vehicles', label: 'Vehicles' },
  { to: '/week', label: 'Week' },
  { to: '/library', label: 'Library' },
  { to: '/bench', label: 'Bench' },
  { to: '/settings', label: 'Settings' },
];

const ROUND = 'grid size-11 place-items-center rounded-md hover:bg-well';

/** The name of the workshop, the views, and the account. */
function Header({
  user,
  setPaletteOpen,
  setKeysOpen,
  theme,
  atTablet,
  signOut,
}: {
  user: SessionUser;
  setPaletteOpen: Dispatch<SetStateAction<boolean>>;
  setKeysOpen: Dispatch<SetStateAction<boolean>>;
  theme: Theme;
  atTablet: boolean;
  signOut: Pick<Sending<void>, 'mutate'>;
}): ReactNode {
  return (
    <div className="mx-auto flex max-w-[1480px] flex-wrap items-center gap-x-4 gap-y-0 px-4">
      <NavLink
        to="/"
        className="font-narrow text-2xl font-semibold tracking-wide"
        aria-label="Crosspeen, to the lookup"
      >
        Crosspeen
      </NavLink>
      <nav aria-label="Views" className="order-last flex w-full overflow-x-auto sm:order-none sm:w-auto sm:flex-1">
        {VIEWS.filter(({ to }) => to !== '/settings' || may(user.role, 'editSettings')).map(({ to, label }) => (
          <NavLink
            key={to}
            to={to}
            end={to === '/'}
            className="border-b-4 border-transparent px-3 py-3 font-narrow text-xl font-medium hover:bg-well aria-[current=page]:border-accent"
          >
            {label}
          </NavLink>
        ))}
      </nav>
      <HeaderActions
        user={user}
        setPaletteOpen={setPaletteOpen}
        setKeysOpen={setKeysOpen}
        theme={theme}
        atTablet={atTablet}
        signOut={signOut}
      />
    </div>
  );
}

/** Commands, keys, theme and signing out. */
function HeaderActions({
  user,
  setPaletteOpen,
  setKeysOpen,
  theme,
  atTablet,
  signOut,
}: {
  user: SessionUser;
  setPaletteOpen: Dispatch<SetStateAction<boolean>>;
  setKeysOpen: Dispatch<SetStateAction<boolean>>;
  theme: Theme;
  atTablet: boolean;
  signOut: Pick<Sending<void>, 'mutate'>;
}): ReactNode {
  return (
    <div className="ml-auto flex items-center gap-1">
      <WaitingBadge />
      <NavLink
        to="/account"
        title="Your account"
        className="flex min-h-11 items-center rounded-md px-2 text-sm text-soft hover:bg-well aria-[current=page]:underline"
      >
        <UserRound size={20} className="lg:hidden" aria-hidden />
        <span className="sr-only lg:not-sr-only">
          {user.displayName}, {user.role}
        </span>
      </NavLink>
      <button
        type="button"
        className="hidden min-h-11 rounded-md px-2 text-sm text-soft hover:bg-well md:block"
        title="Commands (Ctrl K)"
        onClick={() => startTransition(() => setPaletteOpen(true))}
      >
        <span className="sr-only lg:not-sr-only">Commands</span> <kbd>Ctrl K</kbd>
      </button>
      <button type="button" className={ROUND} aria-label="Keys" title="Keys (?)" onClick={() => setKeysOpen(true)}>
        <Keyboard size={20} />
      </button>
      <button
        type="button"
        className={ROUND}
        aria-label={theme === 'dark' ? 'Light theme' : 'Dark theme'}
        title={theme === 'dark' ? 'Light theme' : 'Dark theme'}
        onClick={() => setTheme(theme === 'dark' ? 'light' : 'dark')}
      >
        {theme === 'dark' ? <Sun size={20} /> : <Moon size={20} />}
      </button>
      <button
        type="button"
        className={ROUND}
        aria-label={atTablet ? 'Change over' : 'Sign out'}
        title={atTablet ? 'Change over' : 'Sign out'}
        onClick={() => signOut.mutate()}
      >
        <LogOut size={20} />
      </button>
    </div>
  );
}

/** The frame of every view: name, views, theme, keys, palette, sign-out. */
export function Shell({ session }: { session: SessionState }): ReactNode {
  const navigate = useNavigate();
  useFocusKept(useLocation().pathname);
  const client = useQueryClient();
  const { undoLast } = useUndo();
  const theme = useTheme();
  const [keysOpen, setKeysOpen] = useState(false);
  const [paletteOpen, setPaletteOpen] = useState(false);
  const signOut = useMutation({
    mutationFn: () => call(endpoints.session.signOut),
    onSuccess: (state) => {
      rememberCsrfToken(null);
      client.setQueryData(['session'], state);
      // What one person read is not left for the next.
      client.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'session' });
      if ('caches' in globalThis) for (const kept of ['walks', 'photos']) caches.delete(kept).catch(() => undefined);
    },
  });
  const toLine = useMemo(
    () => (): void => {
      const line = document.getElementById(LINE_ID);
      if (line) line.focus();
      else void navigate('/', { state: { focusLine: true } });
    },
    [navigate],
  );
  const actions = useMemo<KeyAction[]>(
    () => [
      { key: '/', label: 'Look something up', run: toLine },
      { key: '?', label: 'List the keys', run: () => setKeysOpen(true) },
      { key: 'u', label: 'Undo what was just done', run: undoLast },
    ],
    [toLine, undoLast],
  );
  useKeys(actions);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        startTransition(() => setPaletteOpen((open) => !open));
      }
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  }, []);
  const user = session.user!;
  const atTablet = session.bay !== null;
  const { mutate: leave } = signOut;
  const onTouch = useCallback(() => {
    call(endpoints.session.stayAwake).catch(() => client.invalidateQueries({ queryKey: ['session'] }));
  }, [client]);
  useRest(
    atTablet,
    useMemo(() => ({ onTouch, onRest: () => leave() }), [onTouch, leave]),
  );
  return (
    <WaitingProvider userId={user.id}>
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-3">
        Skip to the page
      </a>
      <header className="border-b border-rule-strong bg-sheet">
        <Header
          user={user}
          setPaletteOpen={setPaletteOpen}
          setKeysOpen={setKeysOpen}
          theme={theme}
          atTablet={atTablet}
          signOut={signOut}
        />
      </header>
      <main id="main" className="mx-auto max-w-[1480px] px-4 py-4">
        {session.backupOld && (
          <div className="mb-3">
            <Notice role="alert">
              The last good backup is too old.{' '}
              <NavLink to="/settings/backups" className="font-semibold underline">
                Look at the backups
              </NavLink>
            </Notice>
          </div>
        )}
        <Outlet />
      </main>
      <Dialog open={keysOpen} onClose={() => setKeysOpen(false)} title="Keys">
        <dl className="grid grid-cols-[7rem_1fr] gap-y-2">
          {KEY_LIST.map(({ keys, what }) => [
            <dt key={keys}>
              <kbd>{keys}</kbd>
            </dt>,
            <dd key={`${keys}-what`}>{what}</dd>,
          ])}
        </dl>
      </Dialog>
      <Suspense>
        {paletteOpen && (
          <Palette
            onClose={() => setPaletteOpen(false)}
            actions={actions}
            views={VIEWS}
            onTheme={() => setTheme(theme === 'dark' ? 'light' : 'dark')}
            onSignOut={() => signOut.mutate()}
          />
        )}
      </Suspense>
    </WaitingProvider>
  );
}
