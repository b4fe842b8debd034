import { useQueryClient } from '@tanstack/vue-query'
import { useDocumentVisibility, useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import type { Change } from '@/api/client'
import { askAgain, behind } from '@/lib/behind'
import { useDraft } from '@/stores/draft'
import { useSession } from '@/stores/session'

/** How long after a line that was refused a new one is tried. */
const again = 3000

/**
 * Listens to what changes in the team while somebody is signed in and looks, and
 * has what is shown fetched again. After a break in the line everything is. A page
 * that nobody sees does not listen: a browser has few lines to one server.
 */
export function useChanges() {
  const session = useSession()
  const draft = useDraft()
  const client = useQueryClient()
  const visibility = useDocumentVisibility()
  const left = ref(false)
  const line = computed(() => {
    const looks = visibility.value === 'visible' && !left.value
    return session.signedIn && looks ? `${session.account} ${session.team?.id}` : ''
  })
  /** Whether this page listened before, so that it may have missed something. */
  let listened = false
  let source: EventSource | undefined
  let timer: ReturnType<typeof setTimeout> | undefined

  function take(c: Change) {
    const keys = [
      c.records || c.all ? ['records', 'log', 'plan', 'skills', 'marks'] : [],
      c.gear || c.all ? ['gear'] : [],
      c.people || c.all ? ['people', 'members', 'partners'] : [],
      // How long a skill counts is the policy's, and which there are hangs on the models.
      c.people || c.policy || c.gear || c.all ? ['skills'] : [],
      c.policy || c.all ? ['policy'] : [],
      c.drops || c.gear || c.policy || c.all ? ['drops'] : [],
      // The board of the day, and whose papers it counts on, stand in the way of a release.
      c.drops || c.gear || c.policy || c.days || c.people || c.all ? ['plan'] : [],
      c.drops || c.all ? ['removed-drops'] : [],
      c.runs || c.all ? ['runs', 'run'] : [],
      c.practice || c.all ? ['joint', 'classes', 'marks'] : [],
      c.callouts || c.all ? ['callouts', 'preplans'] : [],
      c.days || c.drops || c.gear || c.people || c.policy || c.all ? ['days', 'week'] : [],
    ].flat()
    for (const key of new Set(keys)) void client.invalidateQueries({ queryKey: [key] })
    if (c.all || c.gear || c.people || c.policy || c.drops?.includes(draft.id)) void draft.refresh()
  }

  function listen(broken: boolean) {
    source = new EventSource('/api/v1/changes')
    source.addEventListener('open', () => {
      // What is shown may be older than the line, also than the first one.
      if (broken) take({ all: true })
      else void draft.refresh()
      broken = true
    })
    source.addEventListener('change', (e) => take(JSON.parse((e as MessageEvent<string>).data) as Change))
    source.addEventListener('error', () => {
      broken = true
      // The browser tries again by itself, but for an answer that refuses.
      if (source?.readyState !== EventSource.CLOSED) return
      timer = setTimeout(() => listen(true), again)
    })
  }

  function stop() {
    clearTimeout(timer)
    source?.close()
    source = undefined
  }

  watch(
    line,
    (l) => {
      stop()
      if (l) listen(listened)
      listened ||= l !== ''
    },
    { immediate: true },
  )
  // What this device had is shown until the server answers.
  useIntervalFn(async () => {
    if (!behind.size || !(await askAgain())) return
    void session.load()
    take({ all: true })
  }, again)
  // A page that is left may be kept for the way back, and must not keep its line.
  useEventListener('pagehide', () => (left.value = true))
  useEventListener('pageshow', () => (left.value = false))
  onScopeDispose(stop)
}
