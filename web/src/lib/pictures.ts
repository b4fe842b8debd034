import { shallowRef, toRaw, watch } from 'vue'
import { api, type Drop } from '@/api/client'
import type { components } from '@/api/schema'
import { askHere } from './core'

export type Loaded = components['schemas']['Loaded']
/** Whose hold is drawn, and from where it is seen. */
export type Asked = { person: string; hold: string; view: 'front' | 'back' }

/** Asks the server, and without a connection the core on this device; undefined where no rope runs through it. */
async function loadingOf(drop: Drop, asked: Asked): Promise<Loaded | undefined> {
  const body = { drop, ...asked }
  try {
    const answer = await api.POST('/api/v1/pictures/loading', { body })
    if (answer.data || answer.error.errors) return answer.data
  } catch {
    // Without a connection this device draws.
  }
  return (await askHere<Loaded>('loading', body)).answer
}

/** The pictures of a hold; those of before are gone at once when another hold is shown. */
export function useLoading(drop: () => Drop | undefined, asked: () => Asked | undefined) {
  const loaded = shallowRef<Loaded>()
  let last = 0
  watch(
    () => {
      const d = drop()
      const a = asked()
      if (!d || !a) return ''
      const h = d.people?.find((p) => p.id === a.person)?.holds?.find((o) => o.id === a.hold)
      // What is drawn of a hold; of a brake of the team all that is entered of the team.
      return JSON.stringify([
        a,
        h
          ? [h.device, h.mode, h.position, h.point, h.threaded, h.open, h.leaves, h.extra_friction, h.role, h.links]
          : d.team,
        // What the models say decides too: a change in the store shows.
        d.models,
      ])
    },
    async (key) => {
      const mine = ++last
      loaded.value = undefined
      const d = toRaw(drop())
      const a = asked()
      if (!key || !d || !a) return
      const answer = await loadingOf(d, a).catch(() => undefined)
      if (mine === last) loaded.value = answer
    },
    { immediate: true },
  )
  return loaded
}
