import { CacheableResponsePlugin } from 'workbox-cacheable-response';
import { clientsClaim } from 'workbox-core';
import { ExpirationPlugin } from 'workbox-expiration';
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CacheFirst, NetworkFirst, type StrategyOptions } from 'workbox-strategies';
import { sendWaiting } from './sync.ts';

/** The part of a service worker's global scope that is used here; the page's own types know none. */
interface WorkerScope {
  readonly __WB_MANIFEST: (string | { url: string; revision: string | null })[];
  readonly skipWaiting: () => Promise<void>;
  readonly addEventListener: (name: 'sync', listener: (event: SyncEvent) => void) => void;
}
interface SyncEvent {
  readonly waitUntil: (work: Promise<unknown>) => void;
}
declare const self: WorkerScope;

/** Plugins as a strategy takes them; their own types are looser about what is left out. */
const plugins = (...made: object[]): Required<StrategyOptions>['plugins'] => made;
const kept = new CacheableResponsePlugin({ statuses: [200] });

void self.skipWaiting();
clientsClaim();
cleanupOutdatedCaches();
precacheAndRoute(self.__WB_MANIFEST);
registerRoute(new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/api\//, /^\/link/] }));
// Who is signed in, how numbers are written, and the sheet: the network first, and what was last read where there is
// none.
registerRoute(
  ({ url }) => /^\/api\/(session|settings|vehicles\/[^/]+\/walk)$/.test(url.pathname),
  new NetworkFirst({ cacheName: 'walks', networkTimeoutSeconds: 8, plugins: plugins(kept) }),
);
registerRoute(
  ({ url }) => /^\/api\/photos\//.test(url.pathname),
  new CacheFirst({ cacheName: 'photos', plugins: plugins(new ExpirationPlugin({ maxEntries: 200 }), kept) }),
);

/** The browser has a line again, and perhaps no page: what waits is sent from here. A failed round is tried again. */
self.addEventListener('sync', (event) => {
  const round = async (): Promise<void> => {
    const { ended } = await sendWaiting(() => undefined);
    if (ended === 'unreachable') throw new Error('No answer yet; the browser tries again.');
  };
  event.waitUntil(round());
});
