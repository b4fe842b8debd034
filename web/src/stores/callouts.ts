import { useEventListener, useIntervalFn } from '@vueuse/core'
import { useQueryClient } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, type CalloutDocument, type CalloutKnown, type CalloutMark, type Fault } from '@/api/client'
import { timeWords, today } from '@/lib/records'
import { useSession } from './session'

/** A callout on this device: whose it is, and whether the server has all of it. */
type Kept = { account: string; document: CalloutDocument; sent: boolean; refused?: Fault[] }

const prefix = 'callout:'

/** Each account has its own, so that nobody's tap is sent in the name of somebody else. */
const keyOf = (account: string, id: string) => `${prefix}${account}:${id}`

function read(): Map<string, Kept> {
  const keys = Object.keys(localStorage).filter((k) => k.startsWith(prefix))
  return new Map(keys.map((k) => [k, JSON.parse(localStorage.getItem(k)!) as Kept]))
}

const now = () => new Date().toISOString()

/**
 * Callouts on this device. Each is kept here as it changes, and sent as soon as there is a
 * connection; what other devices marked comes back with the answer.
 */
export const useCallouts = defineStore('callouts', () => {
  const session = useSession()
  const client = useQueryClient()
  const all = shallowRef(read())
  const failure = ref('')
  const mine = computed(() =>
    [...all.value]
      .filter(([, k]) => k.account === session.account)
      .map(([key, k]) => [key.slice(keyOf(k.account, '').length), k] as const),
  )
  const unsent = computed(() => mine.value.filter(([, k]) => !k.sent && !k.refused))
  const reread = () => (all.value = read())
  useEventListener('storage', (e) => {
    if (e.key === null || e.key.startsWith(prefix)) reread()
  })

  const of = (id: string) => all.value.get(keyOf(session.account, id))

  /** Keeps a callout on this device; false where it has no room. */
  function keep(id: string, kept: Kept): boolean {
    failure.value = ''
    try {
      localStorage.setItem(keyOf(kept.account, id), JSON.stringify(kept))
    } catch {
      failure.value = 'This device has no room left: the last tap is NOT kept. Write it on paper.'
      return false
    }
    reread()
    return true
  }

  /** Begins a callout now, and gives its id. */
  function begin(exercise = false): string {
    const id = crypto.randomUUID()
    const at = now()
    const document: CalloutDocument = {
      format: 'callout',
      version: 1,
      name: `${exercise ? 'Exercise' : 'Callout'} ${timeWords(at).slice(0, 16)}`,
      day: today(),
      began_at: at,
      known_at: at,
      known: {},
      ...(exercise ? { exercise } : {}),
    }
    // An empty callout is not sent: it is one from the first word on. One that was left empty
    // makes room.
    for (const [was, k] of mine.value)
      if (k.sent && k.document.began_at === k.document.known_at && !k.document.marks)
        localStorage.removeItem(keyOf(k.account, was))
    keep(id, { account: session.account, document, sent: true })
    return id
  }

  /** Changes a callout of this device, and sends it. */
  function change(id: string, how: (d: CalloutDocument) => CalloutDocument) {
    const was = of(id)
    if (was && keep(id, { account: was.account, document: how(was.document), sent: false })) void send()
  }

  const know = (id: string, known: CalloutKnown, more: Partial<CalloutDocument> = {}) =>
    change(id, (d) => ({ ...d, ...more, known, known_at: now() }))

  function mark(id: string, what: CalloutMark['what'], used?: CalloutDocument['used'], words = '') {
    const made = { id: crypto.randomUUID(), at: now(), what, by: session.name, ...(words ? { words } : {}) }
    change(id, (d) => ({ ...d, ...(used ? { used } : {}), marks: [...(d.marks ?? []), made] }))
  }

  function reason(id: string, rule: string, subject: string, words: string) {
    const made = { id: crypto.randomUUID(), at: now(), rule, subject, words, by: session.name }
    change(id, (d) => ({ ...d, reasons: [...(d.reasons ?? []), made] }))
  }

  /** Takes a callout that another device began onto this one. */
  function take(id: string, document: CalloutDocument) {
    if (!of(id)) keep(id, { account: session.account, document, sent: true })
  }

  /** Forgets a callout that the server has, or one that was refused and read. */
  function forget(id: string) {
    localStorage.removeItem(keyOf(session.account, id))
    reread()
  }

  async function send() {
    if (!unsent.value.length || !session.signedIn) return
    await navigator.locks.request('callouts', { ifAvailable: true }, async (lock) => {
      if (lock) await sendAll().catch(() => undefined)
    })
  }

  /** Sends what is left of a callout, after what is being sent; false while the server has not all of it. */
  async function sendWhole(id: string): Promise<boolean> {
    await navigator.locks.request('callouts', () => sendAll().catch(() => undefined))
    return of(id)?.sent ?? true
  }

  async function sendAll() {
    for (const [id, kept] of unsent.value) {
      const given = JSON.stringify(kept.document)
      const answer = await api.PUT('/api/v1/callouts/{id}', { params: { path: { id } }, body: kept.document })
      const { status } = answer.response
      if (status === 429 || status === 401 || status >= 500) return
      const newest = of(id)
      // What was tapped meanwhile is sent with the next.
      if (!newest || JSON.stringify(newest.document) !== given) continue
      if (answer.data) keep(id, { ...newest, document: answer.data.callout, sent: true })
      else
        keep(id, { ...newest, refused: answer.error?.errors ?? [{ pointer: '', detail: answer.error?.detail ?? '' }] })
      await client.invalidateQueries({ queryKey: ['callouts'] })
    }
  }

  useEventListener('online', () => void send())
  useIntervalFn(() => void send(), 5000)
  return { all, mine, unsent, failure, of, begin, change, know, mark, reason, take, forget, send, sendWhole }
})
