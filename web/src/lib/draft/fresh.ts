import { toRaw } from 'vue'
import { api, type Drop } from '@/api/client'
import { keptMark } from '@/lib/behind'
import { canonical } from '@/lib/same'
import { etagVersion, present, type Open } from './open'

/** Takes what the store has learnt since the drop was opened. */
export function useFresh(
  { id, drop, version }: Open,
  is: { ready: () => boolean; mine: () => boolean },
  overlay: (id: string, d: Drop) => Promise<Drop>,
  differs: () => void,
) {
  let refreshing = false
  let wanted = false

  /**
   * Takes what the store has now, one request at a time. An answer is dropped when
   * something changed after it was requested, or when it is this device's old copy.
   */
  async function refresh() {
    wanted = true
    if (refreshing) return
    refreshing = true
    try {
      while (wanted && is.ready()) {
        wanted = false
        const of = id.value
        const answer = await api.GET('/api/v1/drops/{id}', { params: { path: { id: of } } }).catch(() => undefined)
        if (!answer || answer.response.status >= 500 || answer.response.headers.has(keptMark)) {
          // Asked again in a while.
          wanted = true
          return
        }
        if (!answer.data) continue
        const theirs = await overlay(of, answer.data)
        if (!wanted && id.value === of) take(theirs, etagVersion(answer.response))
      }
    } finally {
      refreshing = false
    }
  }

  /** Takes of a drop that was not changed here all the store has, of one that was what is the store's alone. */
  function take(theirs: Drop, theirVersion: number) {
    // An answer from before one's own last save is too late.
    if (!drop.value || theirVersion < version.value) return
    const mine = toRaw(drop.value)
    const next = is.mine() ? present(mine, theirs) : theirs
    if (next === theirs) version.value = theirVersion
    if (canonical(next) === canonical(mine)) return
    drop.value = next
    differs()
  }

  return { refresh, stale: () => wanted, want: (is: boolean) => (wanted = is) }
}
