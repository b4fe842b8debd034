import { ref, shallowRef, toRaw } from 'vue'
import { api, type Drop, type Fault, type Problem } from '@/api/client'
import { judgedNothing } from '@/lib/given'
import { useSession } from '@/stores/session'
import * as copy from './copy'
import { etagVersion, type Open } from './open'

/** Where the draft is: kept by the server, on its way, or only on this device. */
export type Keeping = 'kept' | 'keeping' | 'waiting' | 'refused' | 'not-mine'

/** After a change, and after an answer of a server that could not take it. */
const soonMs = 500
const laterMs = 4000

/** Keeps what is changed: on this device at once, by the server as soon as it takes it. */
export function useKeeping({ id, drop, version, online }: Open) {
  const session = useSession()
  const keeping = ref<Keeping>('kept')
  const faults = shallowRef<Fault[]>([])
  /** Why the server, which answers, could not take it for now. */
  const busy = ref('')
  /** This device has no room for what is changed: only the server keeps it. */
  const full = ref(false)
  /** The version somebody else wrote while this draft was being edited. */
  const conflict = ref<number>()
  /** The version that this draft began from, where somebody else was faster. */
  const base = ref<number>()

  /** Counts what was changed here, and so is to be kept. */
  let edits = 0
  /** Whose changes they are: nobody else sends them under their own name. */
  let author = ''
  let sending: Promise<void> | undefined
  let timer: ReturnType<typeof setTimeout> | undefined

  const owner = (): copy.Owner => ({ account: session.account, team: session.team?.id, id: id.value })

  function changed() {
    edits++
    author = session.account
    if (!session.may('save-drop')) {
      // One may look what would be, and keeps nothing.
      keeping.value = 'not-mine'
      return
    }
    write(owner())
    keeping.value = 'waiting'
    keepIn(soonMs)
  }

  function write(of: copy.Owner) {
    full.value = !copy.write(of, version.value, toRaw(drop.value!))
  }

  function keepIn(ms: number) {
    clearTimeout(timer)
    timer = setTimeout(() => void keep(), ms)
  }

  /** Sends what waits, one state after the other: each is over the version that the one before made. */
  async function keep(): Promise<void> {
    clearTimeout(timer)
    while (sending) await sending
    if (!drop.value || conflict.value !== undefined || keeping.value !== 'waiting' || author !== session.account) return
    sending = send().finally(() => (sending = undefined))
    await sending
  }

  async function send() {
    const edit = edits
    const of = owner()
    keeping.value = 'keeping'
    const answer = await put(toRaw(drop.value!)).catch(() => undefined)
    online.value = answer !== undefined
    if (id.value !== of.id) return
    busy.value = ''
    const status = answer?.response.status ?? 0
    if (answer?.data) {
      version.value = answer.data.version
      settle(edit, 'kept', of)
    } else if (status === 412) {
      base.value = version.value
      conflict.value = etagVersion(answer!.response)
      keeping.value = 'waiting'
    } else if (!answer || judgedNothing(status)) {
      // Nobody judged it. Without a connection it is sent once there is one.
      keeping.value = 'waiting'
      if (!answer) return
      busy.value = wordsOf(answer.error)
      keepIn(laterMs)
    } else {
      // A refusal that names no field is shown by its words.
      settle(edit, 'refused', of, answer.error?.errors ?? [{ pointer: '', detail: wordsOf(answer.error) }])
    }
  }

  function put(body: Drop) {
    return api.PUT('/api/v1/drops/{id}', {
      params: { path: { id: id.value }, header: { 'If-Match': `"${version.value}"` } },
      body,
    })
  }

  /** Takes what became of an edit; where it is not the last, that one is next. */
  function settle(edit: number, was: 'kept' | 'refused', of: copy.Owner, why: Fault[] = []) {
    if (edit !== edits) {
      faults.value = []
      keeping.value = 'waiting'
      write(of)
      keepIn(soonMs)
      return
    }
    faults.value = why
    keeping.value = was
    if (was === 'refused') return
    copy.remove(of)
    full.value = false
    // The service worker has the newest for when there is no connection.
    void api.GET('/api/v1/drops/{id}', { params: { path: { id: of.id } } }).catch(() => undefined)
  }

  /** Goes on with what this device has of a drop, over the version that the store has. */
  function resume(local: copy.Copy) {
    author = session.account
    keeping.value = 'waiting'
    if (local.version !== version.value) {
      base.value = local.version
      conflict.value = version.value
    } else keepIn(soonMs)
  }

  /** Keeps this draft over what somebody else wrote. */
  function keepMine() {
    version.value = conflict.value ?? version.value
    conflict.value = undefined
    write(owner())
    void keep()
  }

  function clear() {
    clearTimeout(timer)
    conflict.value = undefined
    faults.value = []
    busy.value = ''
    full.value = false
  }

  return {
    keeping,
    faults,
    busy,
    full,
    conflict,
    base,
    changed,
    keep,
    keepMine,
    resume,
    clear,
    local: () => copy.read(owner()),
    forget: () => copy.remove(owner()),
  }
}

/** What the server said, also where what stands before it answered with no problem at all. */
function wordsOf(p: Partial<Problem> | undefined): string {
  return p?.detail || p?.title || 'the server could not take it'
}
