import { useQuery, useQueryClient } from '@tanstack/react-query';
import { may, type SessionState, type SessionUser } from '@crosspeen/contract';
import { lazy, Suspense, useEffect, type ReactNode } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { UndoProvider } from './api/changing.tsx';
import { ProblemError, rememberCsrfToken } from './api/client.ts';
import { read } from './api/queries.ts';
import { LookupPage } from './features/lookup/page.tsx';
import { Shell } from './features/shell/shell.tsx';
import { setFormats } from './ui/formats.ts';
import { Button } from './ui/button.tsx';
import { Empty, Waiting } from './ui/notice.tsx';

/**
 * A page that is fetched when it is asked for. The one that the address names is fetched while it is asked who is
 * signed in, and drawn at once where it is there by then: what is waited for behind a fallback is held back longer.
 */
function page<Given extends object>(
  address: RegExp,
  load: () => Promise<{ default: (given: Given) => ReactNode }>,
): (given: Given) => ReactNode {
  let loaded: ((given: Given) => ReactNode) | null = null;
  const fetched = async (): Promise<{ default: (given: Given) => ReactNode }> => {
    const module = await load();
    loaded = module.default;
    return module;
  };
  const Lazy = lazy(fetched);
  if (address.test(window.location.pathname)) fetched().catch(() => undefined);
  return function Page(given: Given): ReactNode {
    const Loaded = loaded ?? Lazy;
    return <Loaded {...given} />;
  };
}

const VehiclesPage = page(/^\/vehicles$/, () => import('./features/vehicles/list.tsx'));
const VehiclePage = page(/^\/vehicles\/[^/]+\/(outlook|visits|history)$/, () => import('./features/vehicles/page.tsx'));
const BenchPage = page(/^\/bench$/, () => import('./features/bench/list.tsx'));
const BenchPointPage = page(/^\/bench\/./, () => import('./features/bench/point.tsx'));
const IntakePage = page(/^\/vehicles\/intake$/, () => import('./features/intake/page.tsx'));
const LibraryPage = page(/^\/library$/, () => import('./features/library/page.tsx'));
const LibraryEnginePage = page(/^\/library\/engines\/(?!write)/, () => import('./features/library/engine.tsx'));
const LibraryPointPage = page(/^\/library\/points\/[^/]+$/, () => import('./features/library/point.tsx'));
const LibraryWritePage = page(/^\/library\/(points\/[^/]+\/)?write$/, () => import('./features/library/write.tsx'));
const EngineWritePage = page(/^\/library\/engines\/write$/, () => import('./features/library/engine-write.tsx'));
const LibraryNoticePage = page(/^\/library\/notices\/(?!write)[^/]+$/, () => import('./features/library/notice.tsx'));
const LibraryNoticeWritePage = page(
  /^\/library\/notices\/([^/]+\/)?write$/,
  () => import('./features/library/notice-write.tsx'),
);
const LibraryComparePage = page(/^\/library\/compare$/, () => import('./features/library/compare.tsx'));
const WalkPage = page(/^\/vehicles\/[^/]+\/walk$/, () => import('./features/walk/page.tsx'));
const LookupWalkPage = page(/^\/walk$/, async () => ({
  default: (await import('./features/walk/page.tsx')).LookupWalkPage,
}));
const PurchasePage = page(/^\/purchase$/, () => import('./features/purchase/page.tsx'));
const ComplaintPage = page(/^\/vehicles\/[^/]+\/complaint$/, () => import('./features/triage/page.tsx'));
const WeekPage = page(/^\/week$/, () => import('./features/visits/week.tsx'));
const SetUpPage = lazy(() => import('./features/set-up/page.tsx'));
const LinkPage = lazy(() => import('./features/session/link.tsx'));
const Door = lazy(() => import('./features/session/door.tsx'));
const AccountPage = page(/^\/account$/, () => import('./features/account/page.tsx'));
const PeoplePage = page(/^\/settings\/people$/, () => import('./features/people/page.tsx'));
const BackupsPage = page(/^\/settings\/backups$/, () => import('./features/settings/backups.tsx'));
const SettingsPage = page(/^\/settings$/, () => import('./features/settings/page.tsx'));

const Nowhere = (): ReactNode => (
  <Empty page title="There is no such page">
    The address may be old. The lookup line finds every engine and vehicle.
  </Empty>
);

/** The views by their path. */
function Views({ session, user }: { session: SessionState; user: SessionUser }): ReactNode {
  return (
    <Routes>
      <Route element={<Shell session={session} />}>
        <Route index element={<LookupPage />} />
        <Route path="vehicles" element={<VehiclesPage session={session} />} />
        <Route path="vehicles/intake" element={<IntakePage session={session} />} />
        <Route path="vehicles/:id" element={<Navigate to="outlook" replace />} />
        <Route path="vehicles/:id/walk" element={<WalkPage session={session} />} />
        <Route path="vehicles/:id/complaint" element={<ComplaintPage session={session} />} />
        <Route path="vehicles/:id/:view" element={<VehiclePage />} />
        <Route path="walk" element={<LookupWalkPage />} />
        <Route path="purchase" element={<PurchasePage />} />
        <Route path="week" element={<WeekPage />} />
        <Route path="library" element={<LibraryPage session={session} />} />
        <Route path="library/engines/:id" element={<LibraryEnginePage session={session} />} />
        <Route
          path="library/engines/write"
          element={
            may(user.role, 'publishLibrary') ? (
              <EngineWritePage />
            ) : (
              <Empty page title="Engines are added by the owner">
                Write weak points of engines that are here, as drafts.
              </Empty>
            )
          }
        />
        <Route path="library/compare" element={<LibraryComparePage />} />
        <Route path="library/write" element={<LibraryWritePage session={session} />} />
        <Route path="library/points/:id" element={<LibraryPointPage session={session} />} />
        <Route path="library/points/:id/write" element={<LibraryWritePage session={session} />} />
        <Route path="library/notices/write" element={<LibraryNoticeWritePage session={session} />} />
        <Route path="library/notices/:id" element={<LibraryNoticePage session={session} />} />
        <Route path="library/notices/:id/write" element={<LibraryNoticeWritePage session={session} />} />
        <Route path="bench" element={<BenchPage />} />
        <Route path="bench/:id" element={<BenchPointPage />} />
        <Route path="settings" element={<SettingsPage session={session} />} />
        <Route
          path="settings/people"
          element={
            may(user.role, 'managePeople') ? (
              <PeoplePage session={session} />
            ) : (
              <Empty title="People are the owner’s">The owner of the workshop adds people and gives roles.</Empty>
            )
          }
        />
        <Route path="settings/backups" element={<BackupsPage session={session} />} />
        <Route path="account" element={<AccountPage session={session} />} />
        <Route path="*" element={<Nowhere />} />
      </Route>
    </Routes>
  );
}

/** Asks who is signed in as soon as an answer says that nobody is. */
function useSessionEndedElsewhere(): void {
  const client = useQueryClient();
  useEffect(
    () =>
      client.getQueryCache().subscribe((event) => {
        // A session that ended elsewhere: ask who is signed in, and the sign-in page appears with everything else kept.
        if (
          event.type === 'updated' &&
          (event.query.queryKey as readonly unknown[])[0] !== 'session' &&
          event.query.state.error instanceof ProblemError &&
          event.query.state.error.details.code === 'sign_in_required'
        ) {
          void client.invalidateQueries({ queryKey: ['session'] });
        }
      }),
    [client],
  );
}

/** Signs in first, then shows the view the address names. */
export function App(): ReactNode {
  const session = useQuery(read.session());
  useEffect(() => {
    rememberCsrfToken(session.data?.csrfToken ?? null);
  }, [session.data]);
  useSessionEndedElsewhere();
  if (session.isPending) return <Waiting what="the workshop" />;
  if (session.error)
    return (
      <Empty
        title="The workshop’s server does not answer"
        action={
          <Button look="main" onClick={() => void session.refetch()}>
            Try again
          </Button>
        }
      >
        {session.error.message}
      </Empty>
    );
  setFormats(session.data.formats);
  if (window.location.pathname === '/link')
    return (
      <Suspense fallback={<Waiting what="the link" />}>
        <LinkPage />
      </Suspense>
    );
  if (session.data.setUp === 'needed')
    return (
      <Suspense fallback={<Waiting what="the first page" />}>
        <SetUpPage />
      </Suspense>
    );
  if (session.data.user === null)
    return (
      <Suspense fallback={<Waiting what="the workshop" />}>
        <Door session={session.data} />
      </Suspense>
    );
  return (
    <UndoProvider>
      <Suspense fallback={<Waiting what="the page" />}>
        <Views session={session.data} user={session.data.user} />
      </Suspense>
    </UndoProvider>
  );
}
