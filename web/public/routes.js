// Part of the service worker: what changes something or asks for a check goes
// straight to the server, without waking the worker.
self.addEventListener('install', (event) => {
  event.addRoutes?.(
    ['POST', 'PUT', 'DELETE'].map((requestMethod) => ({ condition: { requestMethod }, source: 'network' })),
  )
})
