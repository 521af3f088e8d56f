// Keeps White Barn usable while the barn cannot be reached: its own parts, and
// the last that was read of what the fire shows. What is logged meanwhile waits in
// the page's own outbox.
const parts = 'barn-parts'
const record = 'barn-record'
const kept = /^\/api\/(session|pantry|trials\/\d+|cooks\/\d+\/(traces|clocks|due|alarms|forecast|so-far))$/

self.addEventListener('install', () => self.skipWaiting())
self.addEventListener('activate', (e) => e.waitUntil(self.clients.claim()))
self.addEventListener('message', (e) => {
  if (e.data === 'forget') e.waitUntil(caches.delete(record))
})

async function fromNetworkFirst(request, cacheName, key) {
  const cache = await caches.open(cacheName)
  try {
    const answer = await fetch(request)
    if (answer.ok) await cache.put(key, answer.clone())
    else if (answer.status === 401) await caches.delete(record)
    return answer
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
  if (e.request.method !== 'GET' || url.origin !== location.origin || url.pathname.startsWith('/taste')) return
  const api = url.pathname.startsWith('/api/')
  const zoomed = url.pathname.endsWith('/traces') && url.searchParams.get('from') !== '0'
  if (e.request.mode === 'navigate' && !api) e.respondWith(fromNetworkFirst(e.request, parts, '/'))
  else if (url.pathname.startsWith('/assets/')) e.respondWith(fromCacheFirst(e.request))
  else if (kept.test(url.pathname) && !zoomed) e.respondWith(fromNetworkFirst(e.request, record, url.pathname))
})
