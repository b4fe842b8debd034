import { api } from '@/api/client'

/** The first page of the list of drops, as pages ask for it: what is kept is kept by its address. */
export const firstDrops = { limit: 50 }

/** How many drops are kept on the device for when there is no signal, last changed first. */
const mostDrops = 20

/** Lets go of the answers that were kept for whoever was signed in. */
export async function forget() {
  if ('caches' in window) await caches.delete('answers')
}

/** Asks for what is needed without signal, so that the service worker keeps the answers. */
export async function warm() {
  const quiet = () => undefined
  const session = await api.GET('/api/v1/session').catch(quiet)
  if (!session?.data?.signed_in) return
  const list = await api.GET('/api/v1/drops', { params: { query: firstDrops } }).catch(quiet)
  await Promise.allSettled([
    api.GET('/api/v1/gear'),
    api.GET('/api/v1/people'),
    api.GET('/api/v1/policy'),
    api.GET('/api/v1/examinations/points'),
    api.GET('/api/v1/preplans'),
    api.GET('/api/v1/callouts'),
    api.GET('/api/v1/practice/classes'),
    api.GET('/api/v1/practice/skills'),
    api.GET('/api/v1/due'),
    api.GET('/api/v1/moves'),
    api.GET('/api/v1/schools'),
    api.GET('/api/v1/team/moves'),
    ...(list?.data ?? [])
      .slice(0, mostDrops)
      .map((d) => api.GET('/api/v1/drops/{id}', { params: { path: { id: d.id } } })),
  ])
}

/**
 * Puts the program on this device, so that one visit is enough to work without
 * signal. A newer program is taken at the next visit: no page is reloaded by
 * itself under somebody's hands.
 */
export function keepOnDevice() {
  // The first page made its requests before the service worker ran; they are made again.
  navigator.serviceWorker?.addEventListener('controllerchange', () => void warm())
  if (navigator.serviceWorker?.controller) void warm()
  addEventListener('load', () => void navigator.serviceWorker?.register('/sw.js').catch(() => undefined))
}
