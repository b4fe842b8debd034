import { useEventListener } from '@vueuse/core'
import { computed, shallowRef } from 'vue'
import { useSession } from '@/stores/session'

/** Who gave something on this device, and in which team: it is sent by them alone, and there. */
export type Owned = { account: string; team?: { id: string; name: string } }
export type Given<T> = T & Owned & { key: string }

/** The kinds of things that wait on a device, by what their keys begin with. */
export const prefixes = { record: 'outbox:', event: 'event:', callout: 'callout:', mark: 'mark:' }

/** What is on this device of one kind, in the order of the keys. */
export function read<T>(prefix: string): Given<T>[] {
  const keys = Object.keys(localStorage).filter((k) => k.startsWith(prefix))
  return keys.sort().map((key) => ({ ...(JSON.parse(localStorage.getItem(key)!) as T & Owned), key }))
}

/**
 * Things of one kind that were given on this device, in the order of their keys. Each has a
 * key of its own, so that two windows never write over each other.
 */
export function useGiven<T extends object>(prefix: string) {
  const session = useSession()
  const all = shallowRef(read<T>(prefix))
  const reread = () => (all.value = read<T>(prefix))
  useEventListener('storage', (e) => {
    if (e.key === null || e.key.startsWith(prefix)) reread()
  })

  /** Given by who is signed in, in the team that they are in now. */
  const mine = computed(() => all.value.filter((k) => k.account === session.account && isHere(k)))
  // What an earlier version kept names no team.
  const isHere = (k: Owned) => !k.team || k.team.id === session.team?.id

  function owner(): Owned {
    const { account, team } = session
    return { account, ...(team ? { team: { id: team.id, name: team.name } } : {}) }
  }

  /** Keeps something; false where this device has no room. */
  function put(key: string, what: T & Owned): boolean {
    try {
      localStorage.setItem(key, JSON.stringify({ ...what, key: undefined }))
    } catch {
      return false
    }
    reread()
    return true
  }

  /** Keeps what became of something. Where there is no room sending ends here, and is tried again. */
  function replace(what: Given<T>) {
    if (!put(what.key, what)) throw new Error('this device has no room left')
  }

  function remove(key: string) {
    localStorage.removeItem(key)
    reread()
  }

  /** Sends in one window at a time; what finds no connection is tried again by who calls. */
  async function inTurn(send: () => Promise<void>) {
    if (!session.signedIn) return
    await navigator.locks.request(prefix, { ifAvailable: true }, async (lock) => {
      if (lock) await send().catch(() => undefined)
    })
  }

  return { all, mine, isHere, owner, put, replace, remove, reread, inTurn }
}

/** Whether an answer says nothing of what was sent: it waits, and is sent again. */
export const judgedNothing = (status: number) => status === 401 || status === 429 || status >= 500
