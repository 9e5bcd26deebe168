/** The page's side of what is kept for a sitting without network. */

/**
 * From now on what this page needs is kept; what it has loaded already is asked for once more, to be kept too.
 * Whether the page can be loaded without network then.
 */
export async function keepForOffline(): Promise<boolean> {
  // Browsers offer it on https and on the machine itself only.
  if (!('serviceWorker' in navigator)) return false
  const { serviceWorker } = navigator
  const taken = new Promise<void>((done) => {
    if (serviceWorker.controller) done()
    else serviceWorker.addEventListener('controllerchange', () => done(), { once: true })
  })
  try {
    await serviceWorker.register('/sw.js')
  } catch {
    // Without it the answers are still kept; only a page that is loaded again needs the network.
    return false
  }
  await taken
  const asked = new Map<string, boolean>()
  // What was under way when keeping began has come by the second round.
  for (let round = 0; round < 2; round++) {
    if (round > 0) await new Promise((done) => setTimeout(done, UNDER_WAY_MS))
    await Promise.all(
      loaded()
        .filter((url) => !asked.has(url))
        .map(async (url) => {
          asked.set(url, true)
          if ((await caches.match(url)) === undefined) await fetch(url).catch(() => asked.set(url, false))
        }),
    )
  }
  return [...asked.values()].every(Boolean)
}

const UNDER_WAY_MS = 1500

/** Scripts, fonts and answers of the server that this page has loaded, streams left out. */
const loaded = (): string[] =>
  performance
    .getEntriesByType('resource')
    .map((entry) => new URL(entry.name))
    .filter(
      (url) =>
        url.origin === location.origin &&
        /^\/(assets|api)\//.test(url.pathname) &&
        !url.pathname.endsWith('/events'),
    )
    .map(String)

/** What the server told one person is not kept for the next, nor a sitting that is handed in. */
export async function forgetKept(): Promise<void> {
  if ('caches' in window) await caches.delete('kept')
}
