import { useEventListener, useIntervalFn } from '@vueuse/core'
import { useQueryClient } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, type CalloutDocument, type CalloutKnown, type CalloutMark, type Fault } from '@/api/client'
import { judgedNothing, prefixes, useGiven, type Owned } from '@/lib/given'
import { timeWords, today } from '@/lib/records'
import { useSession } from './session'

/** A callout on this device, and whether the server has all of it. */
type Kept = { document: CalloutDocument; sent: boolean; refused?: Fault[] }

/** Each account has its own, so that nobody's tap is sent in the name of somebody else. */
const keyOf = (account: string, id: string) => `${prefixes.callout}${account}:${id}`

const now = () => new Date().toISOString()

/**
 * Callouts on this device. Each is kept here as it changes, and sent as soon as there is a
 * connection; what other devices marked comes back with the answer.
 */
export const useCallouts = defineStore('callouts', () => {
  const session = useSession()
  const client = useQueryClient()
  const given = useGiven<Kept>(prefixes.callout)
  const failure = ref('')
  const mine = computed(() => given.mine.value.map((k) => [k.key.slice(keyOf(k.account, '').length), k] as const))
  const unsent = computed(() => mine.value.filter(([, k]) => !k.sent && !k.refused))

  const of = (id: string) => given.mine.value.find((k) => k.key === keyOf(session.account, id))

  /** Keeps a callout on this device; false where it has no room. */
  function keep(id: string, kept: Kept & Owned): boolean {
    const room = given.put(keyOf(kept.account, id), kept)
    failure.value = room ? '' : 'This device has no room left: the last tap is NOT kept. Write it on paper.'
    return room
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
        given.remove(keyOf(k.account, was))
    keep(id, { ...given.owner(), document, sent: true })
    return id
  }

  /** Changes a callout of this device, and sends it. */
  function change(id: string, how: (d: CalloutDocument) => CalloutDocument) {
    const was = of(id)
    if (was && keep(id, { ...was, document: how(was.document), sent: false, refused: undefined })) void send()
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
    if (!of(id)) keep(id, { ...given.owner(), document, sent: true })
  }

  /** Forgets a callout that the server has, or one that was refused and read. */
  function forget(id: string) {
    given.remove(keyOf(session.account, id))
  }

  async function send() {
    if (unsent.value.length) await given.inTurn(sendAll)
  }

  /** Sends what is left of a callout, after what is being sent; false while the server has not all of it. */
  async function sendWhole(id: string): Promise<boolean> {
    await navigator.locks.request(prefixes.callout, () => sendAll().catch(() => undefined))
    return of(id)?.sent ?? true
  }

  async function sendAll() {
    for (const [id, kept] of unsent.value) {
      const given = JSON.stringify(kept.document)
      const answer = await api.PUT('/api/v1/callouts/{id}', { params: { path: { id } }, body: kept.document })
      if (!answer.data && judgedNothing(answer.response.status)) return
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
  return { mine, unsent, failure, of, begin, change, know, mark, reason, take, forget, send, sendWhole }
})
