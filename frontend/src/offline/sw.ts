/// <reference lib="webworker" />
/**
 * Keeps an open sitting usable while the network is gone: the page, its scripts, and of the server's answers those that
 * it marks as fit to be kept. Everything is asked for anew as long as there is a network.
 */
import { CacheableResponsePlugin } from 'workbox-cacheable-response'
import { clientsClaim } from 'workbox-core'
import { ExpirationPlugin } from 'workbox-expiration'
import { registerRoute } from 'workbox-routing'
import { CacheFirst, NetworkFirst } from 'workbox-strategies'

declare const self: ServiceWorkerGlobalScope

/** A network that is only slow is waited for so long. */
const PATIENCE_S = 8
const PAGE = '/'

void self.skipWaiting()
clientsClaim()

registerRoute(
  ({ request }) => request.mode === 'navigate',
  new NetworkFirst({
    cacheName: 'pages',
    networkTimeoutSeconds: PATIENCE_S,
    // Every address is the same page.
    plugins: [{ cacheKeyWillBeUsed: () => Promise.resolve(PAGE) }],
  }),
)
registerRoute(
  ({ sameOrigin, url }) => sameOrigin && url.pathname.startsWith('/assets/'),
  new CacheFirst({ cacheName: 'assets', plugins: [new ExpirationPlugin({ maxEntries: 200 })] }),
)
registerRoute(
  ({ sameOrigin, url }) =>
    sameOrigin && url.pathname.startsWith('/api/') && !url.pathname.endsWith('/events'),
  new NetworkFirst({
    cacheName: 'kept',
    networkTimeoutSeconds: PATIENCE_S,
    plugins: [
      new CacheableResponsePlugin({ statuses: [200], headers: { 'X-Keep-Offline': '1' } }),
      new ExpirationPlugin({ maxEntries: 600, maxAgeSeconds: 12 * 3600 }),
    ],
  }),
)

self.addEventListener('activate', (event) =>
  event.waitUntil(caches.open('pages').then((pages) => pages.add(PAGE))),
)
