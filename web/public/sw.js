// Keeps the application itself on the device, so that it opens at once, also without a network; it then says that it is not
// live. Values are never kept: what is old must not look new.
const shell = 'shell-1'

self.addEventListener('install', (event) => {
  event.waitUntil(caches.open(shell).then((cache) => cache.addAll(['/', '/theme.js', '/sparrow.svg'])))
  self.skipWaiting()
})

self.addEventListener('activate', (event) => {
  event.waitUntil(self.clients.claim())
})

self.addEventListener('fetch', (event) => {
  const { request } = event
  const { origin, pathname } = new URL(request.url)
  if (request.method !== 'GET' || origin !== self.location.origin) return
  if (/^\/(?:api|in|live|mqtt|shared|problems)(?:\/|$)/.test(pathname)) return
  if (request.mode === 'navigate') event.respondWith(newestPage(request))
  // Their names carry a hash: what is kept under one is right.
  else if (pathname.startsWith('/assets/')) event.respondWith(keptOrFetched(request))
})

async function newestPage(request) {
  const cache = await caches.open(shell)
  try {
    const answer = await fetch(request)
    // What is downloaded by a link, as a certificate, is no page.
    if (answer.ok && answer.headers.get('Content-Type')?.startsWith('text/html'))
      await keep(cache, answer.clone())
    return answer
  } catch {
    // No network: every page is the same document.
    return (await cache.match('/')) ?? Response.error()
  }
}

/** With a new page the files of the old one are let go. */
async function keep(cache, page) {
  const [before, now] = await Promise.all([
    cache.match('/').then((kept) => kept?.text()),
    page.clone().text(),
  ])
  if (before === now) return
  for (const request of await cache.keys())
    if (new URL(request.url).pathname.startsWith('/assets/')) await cache.delete(request)
  await cache.put('/', page)
}

async function keptOrFetched(request) {
  const cache = await caches.open(shell)
  const kept = await cache.match(request)
  if (kept) return kept
  const answer = await fetch(request)
  if (answer.ok) await cache.put(request, answer.clone())
  return answer
}

// What is told of alarms. Told again it takes the place of what was told before, and makes no sound.
self.addEventListener('push', (event) => {
  const { title = 'Jaunty Sparrow', body = '', link = '/guard' } = event.data?.json() ?? {}
  event.waitUntil(
    self.registration.showNotification(title, {
      body,
      tag: link,
      data: { link },
      icon: '/icon-192.png',
      badge: '/icon-192.png',
    }),
  )
})

self.addEventListener('notificationclick', (event) => {
  event.notification.close()
  // It leads nowhere else than here.
  const { href, origin } = new URL(event.notification.data?.link ?? '/guard', self.location.origin)
  event.waitUntil(self.clients.openWindow(origin === self.location.origin ? href : '/guard'))
})
