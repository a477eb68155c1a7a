/// <reference lib="webworker" />
import {
  addPlugins,
  cleanupOutdatedCaches,
  matchPrecache,
  precacheAndRoute,
} from 'workbox-precaching';
import { RangeRequestsPlugin } from 'workbox-range-requests';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { CacheFirst, NetworkFirst, NetworkOnly } from 'workbox-strategies';
import { AS_OF, KEPT_CACHE, keyOf, PARTS_CACHE, STATE } from './app/device/keys.ts';
import { keepShared } from './app/uploads/shared-files.ts';

/**
 * Answers for the server while it cannot be reached, of a student who has what they keep on the device: with the
 * application itself, and with what was brought here. It keeps nothing by itself.
 */
declare const self: ServiceWorkerGlobalScope;

/** The device answers after so many seconds in which the server has not. */
const PATIENCE = 5;

/**
 * Stores the application only while the device has what somebody keeps: when that is removed, a worker that is still
 * being installed, or still answers for an open page, leaves nothing behind.
 */
const whileKept = {
  cacheWillUpdate: async ({ response }: { response: Response }) =>
    response.status === 200 && (await caches.has(KEPT_CACHE)) ? response : null,
};

void self.skipWaiting();
self.addEventListener('activate', (event) => event.waitUntil(activate()));
cleanupOutdatedCaches();
addPlugins([whileKept]);
precacheAndRoute(self.__WB_MANIFEST, { directoryIndex: '' });

// The page is the server's, so that nobody works with an old one, as long as there is one to be had.
registerRoute(
  new NavigationRoute(
    new NetworkOnly({
      networkTimeoutSeconds: PATIENCE,
      plugins: [{ handlerDidError: () => matchPrecache('/index.html') }],
    }),
    { denylist: [/^\/api\//u, /\.\w+$/u] },
  ),
);

// Letters and decoders of PDFs, once one was needed.
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith('/assets/'),
  new CacheFirst({ cacheName: PARTS_CACHE, plugins: [whileKept] }),
);

// Files that another program shares with this one (Web Share Target): they wait on the device until the application has opened.
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname === '/shared',
  async ({ request }) => {
    const form = await request.formData();
    const files = form.getAll('files').filter((file) => file instanceof File);
    const kept = await keepShared(await ownerOf(), files);
    return Response.redirect(`/today?shared=${kept ? 'yes' : 'no'}`, 303);
  },
  'POST',
);

/** Whose things the device has. */
async function ownerOf(): Promise<string> {
  const found = await (await caches.open(KEPT_CACHE)).match(keyOf(STATE), { ignoreVary: true });
  return found ? ((await found.json()) as { person: string }).person : '';
}

registerRoute(
  ({ url, sameOrigin, request }) =>
    sameOrigin &&
    url.pathname.startsWith('/api/') &&
    // What is brought to the device comes from the server, however long it takes.
    request.cache !== 'no-store' &&
    !request.headers.get('accept')?.includes('text/event-stream'),
  new NetworkFirst({
    cacheName: KEPT_CACHE,
    networkTimeoutSeconds: PATIENCE,
    matchOptions: { ignoreVary: true },
    plugins: [
      {
        cacheKeyWillBeUsed: async ({ request }) => keyOf(request.url),
        cacheWillUpdate: async () => null,
        cachedResponseWillBeUsed: async ({ cachedResponse }) =>
          cachedResponse && marked(cachedResponse),
      },
      new RangeRequestsPlugin(),
    ],
  }),
);

async function activate(): Promise<void> {
  await self.clients.claim();
  if (await caches.has(KEPT_CACHE)) return;
  for (const name of await caches.keys()) await caches.delete(name);
}

function marked(reply: Response): Response {
  const headers = new Headers(reply.headers);
  headers.set(AS_OF, new Date(headers.get('date') ?? 0).toISOString());
  return new Response(reply.body, { status: reply.status, headers });
}
