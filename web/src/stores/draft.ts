import { replaceEqualDeep } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, toRaw, watch, type Ref } from 'vue'
import { api, must, Refused, type Drop, type Fault, type Finding, type Report } from '@/api/client'
import { keptMark } from '@/lib/behind'
import { expire } from '@/lib/checking'
import { askHere } from '@/lib/core'
import { canonical } from '@/lib/same'
import { aboutKeys } from '@/lib/words'
import { useOutbox } from './outbox'

/** What a check is to give beside findings. */
type CheckQuery = { figures: boolean; curves: boolean; checks: boolean; person?: string }
import { useSession } from './session'

type Kept = { version: number; drop: Drop }
type State = 'loading' | 'ready' | 'missing' | 'failed'
/** Where the draft is: kept by the server, on its way, or only on this device. */
type Keeping = 'kept' | 'keeping' | 'waiting' | 'refused' | 'not-mine'

const undoDepth = 100

/**
 * The drop that is open. Every edit is checked at once, kept on this device at
 * once, and sent to the server as soon as there is a connection.
 */
export const useDraft = defineStore('draft', () => {
  const session = useSession()
  const outbox = useOutbox()
  const id = ref('')
  const state = ref<State>('loading')
  const failure = ref('')
  const drop = ref<Drop>()
  const version = ref(0)
  const report = shallowRef<Report>()
  /** What a check refused, and what was refused as the drop was to be kept. */
  const checkFaults = shallowRef<Fault[]>([])
  const keepFaults = shallowRef<Fault[]>([])
  const faults = computed(() => {
    const same = (f: Fault) => checkFaults.value.some((c) => c.pointer === f.pointer && c.detail === f.detail)
    return [...checkFaults.value, ...keepFaults.value.filter((f) => !same(f))]
  })
  const keeping = ref<Keeping>('kept')
  const online = ref(true)
  /** Without a connection: the core on this device checks. */
  const here = ref(false)
  /** The version somebody else wrote while this draft was being edited. */
  const conflict = ref<number>()
  /** The version that this draft began from, where somebody else was faster. */
  const base = ref<number>()
  const undoable = ref<string[]>([])
  /** What was undone, until something else is changed. */
  const redoable = ref<string[]>([])

  /** Whose curves are needed: '' for the first who hangs; undefined for none. */
  const curvesOf = ref<string>()
  /** The checks of today are needed. */
  const checksWanted = ref(false)

  /** What a check is to give beyond findings and figures. */
  const wanted = computed(() => `${curvesOf.value} ${checksWanted.value}`)

  /** Counts what was changed here, and so is to be kept. */
  let edits = 0
  /** Counts what differs from before, here or in the store, and so is to be checked. */
  const changes = ref(0)
  const checkedChange = ref(-1)
  /** What was found is of the drop as it is shown. */
  const judged = computed(() => checkedChange.value === changes.value && !faults.value.length)
  let checking = false
  let checkedFor = ''
  let sending = false
  let refreshing = false
  let refreshWanted = false
  let keepTimer: ReturnType<typeof setTimeout> | undefined

  const storageKey = computed(() => `draft:${session.account}:${session.team?.id}:${id.value}`)

  async function open(dropId: string) {
    // What was edited last in the drop that is left goes first.
    clearTimeout(keepTimer)
    if (id.value !== dropId && keeping.value === 'waiting') await keep()
    id.value = dropId
    state.value = 'loading'
    drop.value = undefined
    report.value = undefined
    conflict.value = undefined
    checkFaults.value = keepFaults.value = []
    await load()
  }

  async function load() {
    const of = id.value
    const local = readLocal()
    refreshWanted = false
    // Steps back lead from what stood here before.
    undoable.value = redoable.value = []
    try {
      const answer = await api.GET('/api/v1/drops/{id}', { params: { path: { id: of } } })
      // Another drop was opened meanwhile: this answer is not its.
      if (id.value !== of) return
      const theirs = must(answer)
      online.value = true
      version.value = etagVersion(answer.response)
      refreshWanted ||= answer.response.headers.has(keptMark)
      outbox.overlay(of, theirs)
      drop.value = theirs
      if (local) {
        drop.value = present(local.drop, theirs)
        if (local.version !== version.value) {
          base.value = local.version
          conflict.value = version.value
        } else scheduleKeep()
      }
      keeping.value = local ? 'waiting' : 'kept'
      state.value = 'ready'
      checkedChange.value = -1
      void check()
      // What changed while it was fetched may not be in it.
      if (refreshWanted) void refresh()
    } catch (e) {
      if (id.value !== of) return
      if (e instanceof Refused && e.status === 404) state.value = 'missing'
      else if (local) {
        // No connection: what is on this device is shown.
        drop.value = local.drop
        version.value = local.version
        online.value = false
        keeping.value = 'waiting'
        state.value = 'ready'
        checkedChange.value = -1
        void check()
      } else {
        failure.value = e instanceof Refused ? e.message : 'The server does not answer.'
        state.value = 'failed'
      }
    }
  }

  /**
   * Takes what the store has now, one request at a time. An answer is dropped when
   * something changed after it was requested, or when it is this device's old copy.
   */
  async function refresh() {
    refreshWanted = true
    if (refreshing) return
    refreshing = true
    try {
      while (refreshWanted && state.value === 'ready') {
        refreshWanted = false
        const of = id.value
        const answer = await api.GET('/api/v1/drops/{id}', { params: { path: { id: of } } }).catch(() => undefined)
        if (!answer || answer.response.status >= 500 || answer.response.headers.has(keptMark)) {
          // Asked again in a while.
          refreshWanted = true
          return
        }
        if (answer.data && !refreshWanted && id.value === of) take(answer.data, etagVersion(answer.response))
      }
    } finally {
      refreshing = false
    }
  }

  /** Takes of a drop that was not changed here all the store has, of one that was what is the store's alone. */
  function take(theirs: Drop, theirVersion: number) {
    // An answer from before one's own last save is too late.
    if (!drop.value || theirVersion < version.value) return
    const of = id.value
    outbox.overlay(of, theirs)
    const mine = toRaw(drop.value)
    const next = keeping.value === 'kept' || keeping.value === 'not-mine' ? theirs : present(mine, theirs)
    if (next === theirs) version.value = theirVersion
    if (canonical(next) === canonical(mine)) return
    drop.value = next
    changes.value++
    void check()
  }

  /** Shows here at once what was recorded on this device. */
  function overlay() {
    if (!drop.value) return
    outbox.overlay(id.value, drop.value)
    changes.value++
    void check()
  }

  /** Changes the drop. While a value is dragged the changes are one step of undo. */
  function edit(change: (d: Drop) => void, dragging = false) {
    if (!drop.value) return
    if (!dragging) undoable.value = [...undoable.value.slice(1 - undoDepth), JSON.stringify(toRaw(drop.value))]
    redoable.value = []
    change(drop.value)
    changed()
  }

  function undo() {
    step(undoable, redoable)
  }

  function redo() {
    step(redoable, undoable)
  }

  /** Takes the last state of one pile, and lays what stands onto the other. */
  function step(from: Ref<string[]>, onto: Ref<string[]>) {
    const last = from.value.at(-1)
    if (!last || !drop.value) return
    from.value = from.value.slice(0, -1)
    onto.value = [...onto.value.slice(1 - undoDepth), JSON.stringify(toRaw(drop.value))]
    // What the store has learnt since stands.
    drop.value = present(JSON.parse(last) as Drop, toRaw(drop.value))
    changed()
  }

  function changed() {
    edits++
    changes.value++
    if (!session.may('save-drop')) {
      // One may look what would be, and keeps nothing.
      keeping.value = 'not-mine'
      void check()
      return
    }
    writeLocal()
    keeping.value = 'waiting'
    void check()
    scheduleKeep()
  }

  /** Checks the newest edit; while one check runs, later edits wait for it. */
  async function check() {
    if (checking) return
    checking = true
    try {
      if (drop.value && expire(drop.value)) changes.value++
      while (drop.value && (checkedChange.value !== changes.value || checkedFor !== wanted.value)) {
        const change = changes.value
        const of = id.value
        const asked = wanted.value
        const whose = curvesOf.value
        const query = {
          figures: true,
          curves: whose !== undefined,
          checks: checksWanted.value,
          ...(whose ? { person: whose } : {}),
        }
        const answer = await ask(query)
        // Another drop was opened meanwhile: its own check is next.
        if (id.value !== of) continue
        // What is as it was stays the same object, so that only what changed is drawn again.
        if (answer.report) report.value = replaceEqualDeep(report.value, answer.report)
        checkFaults.value = answer.errors ?? []
        checkedChange.value = change
        checkedFor = asked
      }
    } catch {
      // Neither the server nor this device could check it.
      here.value = false
    } finally {
      checking = false
    }
  }

  /** Asks the server, and without a connection the core on this device. */
  async function ask(asked: CheckQuery): Promise<{ report?: Report; errors?: Fault[] }> {
    const document = toRaw(drop.value!)
    try {
      const answer = await api.POST('/api/v1/check', { params: { query: asked }, body: document })
      online.value = true
      here.value = false
      // A server that is too busy, or broken, has judged nothing: this device does.
      if (answer.data || answer.error.errors) return { report: answer.data, errors: answer.error?.errors }
    } catch {
      online.value = false
    }
    const { answer, errors } = await askHere<Report>('check', document, { options: asked })
    here.value = true
    return { report: answer, errors }
  }

  watch(wanted, () => void check())
  // Checks run out while nothing else changes.
  useIntervalFn(() => void (drop.value && expire(drop.value) && (changes.value++, check())), 30_000)

  function scheduleKeep() {
    clearTimeout(keepTimer)
    keepTimer = setTimeout(() => void keep(), 500)
  }

  async function keep() {
    clearTimeout(keepTimer)
    if (!drop.value || conflict.value !== undefined || sending || keeping.value !== 'waiting') return
    const edit = edits
    const of = id.value
    sending = true
    keeping.value = 'keeping'
    try {
      const answer = await api.PUT('/api/v1/drops/{id}', {
        params: { path: { id: id.value }, header: { 'If-Match': `"${version.value}"` } },
        body: toRaw(drop.value),
      })
      online.value = true
      // A check that found no connection is still to be made.
      void check()
      if (id.value !== of) return
      if (answer.response.status === 412) {
        base.value = version.value
        conflict.value = etagVersion(answer.response)
        keeping.value = 'waiting'
        return
      }
      const why = answer.error
      // A refusal that names no field is shown by its words.
      keepFaults.value = why ? (why.errors ?? [{ pointer: '', detail: why.detail ?? why.title }]) : []
      if (answer.error) {
        keeping.value = 'refused'
        return
      }
      version.value = answer.data.version
      keeping.value = edit === edits ? 'kept' : 'waiting'
      if (keeping.value === 'kept') {
        localStorage.removeItem(storageKey.value)
        // The service worker has the newest for when there is no connection.
        void api.GET('/api/v1/drops/{id}', { params: { path: { id: of } } }).catch(() => undefined)
      } else {
        writeLocal()
        scheduleKeep()
      }
    } catch {
      online.value = false
      keeping.value = 'waiting'
    } finally {
      sending = false
    }
  }

  /** Keeps this draft over what somebody else wrote. */
  function keepMine() {
    version.value = conflict.value ?? version.value
    conflict.value = undefined
    writeLocal()
    void keep()
  }

  /** Keeps both changes put together, over a version of theirs. */
  function putTogether(both: Drop, over: number) {
    if (!drop.value) return
    undoable.value = [...undoable.value.slice(1 - undoDepth), JSON.stringify(toRaw(drop.value))]
    redoable.value = []
    drop.value = both
    version.value = over
    conflict.value = undefined
    changed()
  }

  /** Gives this draft up for what somebody else wrote. */
  function takeTheirs() {
    localStorage.removeItem(storageKey.value)
    return open(id.value)
  }

  // Without a connection, or with a slow one, try again until there is an answer.
  useIntervalFn(() => {
    if (state.value !== 'ready') return
    if (refreshWanted) void refresh()
    if (online.value) return
    checkedChange.value = -1
    void check().then(() => (online.value && keeping.value === 'waiting' ? keep() : undefined))
  }, 2000)

  function writeLocal() {
    localStorage.setItem(
      storageKey.value,
      JSON.stringify({ version: version.value, drop: toRaw(drop.value!) } satisfies Kept),
    )
  }

  function readLocal(): Kept | undefined {
    const text = localStorage.getItem(storageKey.value)
    try {
      return text ? (JSON.parse(text) as Kept) : undefined
    } catch {
      // Half a draft is no draft; the server's is whole.
      return undefined
    }
  }

  outbox.onSent(() => void refresh())

  const findings = computed<Finding[]>(() => report.value?.findings ?? [])
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
    report,
    faults,
    findings,
    keeping,
    online,
    here,
    conflict,
    base,
    version,
    judged,
    undoable,
    redoable,
    curvesOf,
    checksWanted,
    open,
    load,
    refresh,
    overlay,
    edit,
    undo,
    redo,
    about,
    faultAt,
    keepMine,
    putTogether,
    takeTheirs,
  }
})

/** A drop of this device with what is the store's as the store has it. */
function present(mine: Drop, theirs: Drop): Drop {
  const records = new Map(theirs.items?.map((i) => [i.id, i]))
  const familiar = new Map(theirs.people?.map((p) => [p.id, p.familiar]))
  return {
    ...mine,
    checks: theirs.checks,
    partner_checks: theirs.partner_checks,
    worn_checks: theirs.worn_checks,
    policy: theirs.policy,
    items: mine.items?.map((i) => records.get(i.id) ?? i),
    people: mine.people?.map((p) => (familiar.has(p.id) ? { ...p, familiar: familiar.get(p.id) } : p)),
  }
}

function etagVersion(response: Response): number {
  return Number(response.headers.get('ETag')?.replaceAll('"', ''))
}
