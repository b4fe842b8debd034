import { useIntervalFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, toRaw } from 'vue'
import { api, must, Refused, type Drop, type Fault, type Finding } from '@/api/client'
import { keptMark } from '@/lib/behind'
import { useFresh } from '@/lib/draft/fresh'
import { useJudging } from '@/lib/draft/judging'
import { useKeeping } from '@/lib/draft/keeping'
import { etagVersion, present } from '@/lib/draft/open'
import { useSteps } from '@/lib/draft/steps'
import { aboutKeys } from '@/lib/words'
import { useOutbox } from './outbox'

type State = 'loading' | 'ready' | 'missing' | 'failed'

/**
 * The drop that is open. Every edit is checked at once, kept on this device at
 * once, and sent to the server as soon as there is a connection.
 */
export const useDraft = defineStore('draft', () => {
  const outbox = useOutbox()
  const open = { id: ref(''), drop: ref<Drop>(), version: ref(0), online: ref(true) }
  const { id, drop, version, online } = open
  const state = ref<State>('loading')
  const failure = ref('')

  const judging = useJudging(open)
  const keeping = useKeeping(open)
  const steps = useSteps(open, changed)
  const fresh = useFresh(
    open,
    {
      ready: () => state.value === 'ready',
      mine: () => keeping.keeping.value !== 'kept' && keeping.keeping.value !== 'not-mine',
    },
    outbox.overlay,
    judging.differs,
  )

  const faults = computed(() => {
    const checked = judging.faults.value
    const same = (f: Fault) => checked.some((c) => c.pointer === f.pointer && c.detail === f.detail)
    return [...checked, ...keeping.faults.value.filter((f) => !same(f))]
  })
  const judged = computed(() => judging.current.value && !faults.value.length)

  async function openDrop(dropId: string) {
    state.value = 'loading'
    // What was edited last in the drop that is left goes first.
    if (id.value !== dropId) await keeping.keep()
    id.value = dropId
    drop.value = undefined
    judging.clear()
    await load()
  }

  async function load() {
    const of = id.value
    keeping.clear()
    fresh.want(false)
    steps.clear()
    const local = keeping.local()
    try {
      const answer = await api.GET('/api/v1/drops/{id}', { params: { path: { id: of } } })
      // Another drop was opened meanwhile: this answer is not its.
      if (id.value !== of) return
      const theirs = await outbox.overlay(of, must(answer))
      if (id.value !== of) return
      online.value = true
      version.value = etagVersion(answer.response)
      if (answer.response.headers.has(keptMark)) fresh.want(true)
      drop.value = local ? present(local.drop, theirs) : theirs
      if (local) keeping.resume(local)
      else keeping.keeping.value = 'kept'
      ready()
      // What changed while it was fetched may not be in it.
      if (fresh.stale()) void fresh.refresh()
    } catch (e) {
      if (id.value !== of) return
      if (e instanceof Refused && e.status === 404) state.value = 'missing'
      else if (local) {
        // No connection: what is on this device is shown.
        drop.value = await outbox.overlay(of, local.drop)
        if (id.value !== of) return
        version.value = local.version
        online.value = false
        keeping.keeping.value = 'waiting'
        ready()
      } else {
        failure.value = e instanceof Refused ? e.message : 'The server does not answer.'
        state.value = 'failed'
      }
    }
  }

  function ready() {
    state.value = 'ready'
    void judging.again()
  }

  /** Shows here at once what was recorded on this device. */
  async function overlay() {
    const of = id.value
    for (let mine = drop.value; mine; mine = drop.value) {
      const shown = await outbox.overlay(of, toRaw(mine))
      if (id.value !== of) return
      // What came from the server meanwhile may know more than what was asked with.
      if (drop.value !== mine) continue
      drop.value = present(toRaw(mine), shown)
      return judging.differs()
    }
  }

  /** Changes the drop. While a value is dragged the changes are one step of undo. */
  function edit(change: (d: Drop) => void, dragging = false) {
    if (!drop.value) return
    if (!dragging) steps.note()
    change(drop.value)
    changed()
  }

  function changed() {
    keeping.changed()
    judging.differs()
  }

  /** Keeps both changes put together, over a version of theirs. */
  function putTogether(both: Drop, over: number) {
    if (!drop.value) return
    steps.note()
    drop.value = both
    version.value = over
    keeping.conflict.value = undefined
    changed()
  }

  /** Gives this draft up for what somebody else wrote. */
  function takeTheirs() {
    keeping.forget()
    return openDrop(id.value)
  }

  // Without a connection, or with a slow one, try again until there is an answer.
  useIntervalFn(() => {
    if (state.value !== 'ready') return
    if (fresh.stale()) void fresh.refresh()
    if (online.value) return
    void judging.again().then(() => (online.value ? keeping.keep() : undefined))
  }, 2000)
  outbox.onSent(() => void fresh.refresh())

  const findings = computed<Finding[]>(() => judging.report.value?.findings ?? [])
  const byKey = computed(() => {
    const map = new Map<string, Finding[]>()
    for (const f of findings.value) {
      for (const key of aboutKeys(f)) map.set(key, [...(map.get(key) ?? []), f])
    }
    return map
  })

  /** Findings about any of some things. */
  function about(...keys: string[]): Finding[] {
    return [...new Set(keys.flatMap((k) => byKey.value.get(k) ?? []))]
  }

  function faultAt(pointer: string): string | undefined {
    return faults.value.find((f) => f.pointer === pointer)?.detail
  }

  return {
    id,
    state,
    failure,
    drop,
    version,
    online,
    report: judging.report,
    here: judging.here,
    curvesOf: judging.curvesOf,
    checksWanted: judging.checksWanted,
    faults,
    findings,
    judged,
    keeping: keeping.keeping,
    busy: keeping.busy,
    full: keeping.full,
    conflict: keeping.conflict,
    base: keeping.base,
    undoable: steps.undoable,
    redoable: steps.redoable,
    open: openDrop,
    load,
    refresh: fresh.refresh,
    overlay,
    edit,
    undo: steps.undo,
    redo: steps.redo,
    about,
    faultAt,
    keepMine: keeping.keepMine,
    putTogether,
    takeTheirs,
  }
})
