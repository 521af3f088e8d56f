// Keeps White Barn usable while the barn cannot be reached: its own parts, and the last
// that was read of each page. What is logged or sealed meanwhile waits in the page's own
// queue.
const parts = 'barn-parts'
const record = 'barn-record'
const plates = 'barn-plates'
// Streams, and what only a device or a calendar asks for, are not kept.
const passing = /^\/api\/(live|devices\/me|calendar\/)/

self.addEventListener('install', () => self.skipWaiting())
self.addEventListener('activate', (e) => e.waitUntil(self.clients.claim()))
self.addEventListener('message', (e) => {
  if (e.data === 'forget') e.waitUntil(caches.delete(record))
  if (e.data === 'parts') e.waitUntil(fetchParts())
})

/** Fetches all parts that are not kept yet, and forgets those of an older build. */
async function fetchParts() {
  const answer = await fetch('/parts.json')
  if (!answer.ok) return
  const cache = await caches.open(parts)
  const wanted = new Set((await answer.json()).map((p) => new URL(p, location.origin + '/').href))
  for (const old of await cache.keys()) {
    if (new URL(old.url).pathname.startsWith('/assets/') && !wanted.has(old.url)) await cache.delete(old)
  }
  for (const url of wanted) if (!(await cache.match(url))) await cache.add(url)
}

async function fromNetworkFirst(request, cacheName, key) {
  const cache = await caches.open(cacheName)
  try {
    const answer = await fetch(request)
    if (answer.ok) await cache.put(key, answer.clone())
    else if (answer.status === 401) await caches.delete(record)
    // A proxy's word is not the barn's.
    if (answer.status < 502) return answer
    return (await cache.match(key)) ?? answer
  } catch (gone) {
    const last = await cache.match(key)
    if (last) return last
    throw gone
  }
}

async function fromCacheFirst(request) {
  const cache = await caches.open(parts)
  const there = await cache.match(request)
  if (there) return there
  const answer = await fetch(request)
  if (answer.ok) await cache.put(request, answer.clone())
  return answer
}

self.addEventListener('fetch', (e) => {
  const url = new URL(e.request.url)
  if (e.request.method !== 'GET' || url.origin !== location.origin) return
  const api = url.pathname.startsWith('/api/')
  if (e.request.mode === 'navigate' && !api) return e.respondWith(fromNetworkFirst(e.request, parts, '/'))
  if (url.pathname.startsWith('/assets/')) return e.respondWith(fromCacheFirst(e.request))
  // The whole of a trace is kept; a closer look is not, nor parts of a trial, which the page puts into the whole.
  const traces = url.pathname.endsWith('/traces')
  if (!api || passing.test(url.pathname) || url.pathname.endsWith('/parts')) return
  if (traces && url.searchParams.get('from') !== '0') return
  const key = traces ? url.pathname : url.pathname + url.search
  e.respondWith(fromNetworkFirst(e.request, url.pathname.startsWith('/api/taste/') ? plates : record, key))
})
