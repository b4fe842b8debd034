import { useIntervalFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, type Drop, type Entry, type Fault, type WaitingAnswer, type WaitingAsked } from '@/api/client'
import { judgedNothing, prefixes, useGiven, type Given as Filed } from '@/lib/given'
import { sendPhotos } from '@/lib/photos'
import { today } from '@/lib/records'
import { withWaiting } from '@/lib/waiting'
import { useSession } from './session'

/** An entry on this device, and what became of it. */
type Kept = {
  /** Who gave it. */
  name: string
  /** What it is about, in words. */
  label: string
  entry: Entry
  /** Why the server refused it; it stays here until somebody puts it aside. */
  refused?: Fault[]
  /** What was otherwise in the store than this device could know. */
  conflict?: string
}

/** What is given, before this device adds when and under which id. */
export type Given = Omit<Entry, 'id' | 'given_at'>

/** As many as surely fit one batch. */
const atOnce = 20
const prefix = prefixes.record

/** The number after the last key's: entries are sent in the order of their keys. */
const nextNumber = (all: { key: string }[]) => 1 + Number(all.at(-1)?.key.slice(prefix.length).split(':')[0] ?? 0)
const keyOf = (n: number, id: string) => `${prefix}${String(n).padStart(9, '0')}:${id}`

/**
 * What was recorded on this device. Entries are sent as soon as there is a
 * connection, in the order in which they were given, and each stays here until
 * the server has it; one that was refused, or met something else there, stays
 * until it was read.
 */
export const useOutbox = defineStore('outbox', () => {
  const session = useSession()
  const given = useGiven<Kept>(prefix)
  /** Why this device could not keep an entry. */
  const failure = ref('')
  const sentHooks = new Set<() => void>()

  const open = (k: Kept) => !k.refused && !k.conflict
  const waiting = computed(() => given.all.value.filter((k) => open(k) && given.isHere(k)))
  const mine = computed(() => given.mine.value.filter(open))
  /** Given by somebody who is not signed in now. */
  const others = computed(() => given.all.value.filter((k) => open(k) && k.account !== session.account))
  const troubled = computed(() => given.all.value.filter((k) => !open(k)))

  /** Records something, signed by who is signed in; false where this device could not keep it. */
  function record(label: string, entry: Given): boolean {
    return recordAll([{ label, entry }]) === 1
  }

  /** Records some things in their order; gives how many this device could keep, the first ones. */
  function recordAll(all: { label: string; entry: Given }[]): number {
    let n = nextNumber(given.reread())
    let done = 0
    failure.value = ''
    for (const { label, entry } of all) {
      const full = { ...entry, id: crypto.randomUUID(), given_at: new Date().toISOString() }
      if (!given.put(keyOf(n++, full.id), { ...given.owner(), name: session.name, label, entry: full })) {
        failure.value = `This device has no room left: ${label} is NOT recorded. Send what waits, then do it again.`
        break
      }
      done++
    }
    void send()
    return done
  }

  /** Sends what waits; of several windows one does. */
  async function send() {
    if (mine.value.length) await given.inTurn(sendAll)
  }

  async function sendAll() {
    let n = atOnce
    for (let batch = mine.value.slice(0, n); batch.length; batch = mine.value.slice(0, n)) {
      // A picture is there before the record that names it.
      if (!(await sendPhotos(batch.flatMap((k) => k.entry.photos ?? [])))) break
      const body = { sent_at: new Date().toISOString(), records: batch.map((k) => k.entry) }
      const answer = await api.POST('/api/v1/records', { body })
      if (answer.data) for (const [i, k] of batch.entries()) settle(k, answer.data.records[i]!)
      else if (judgedNothing(answer.response.status)) break
      else if (!refuse(batch, answer.error?.errors ?? []) && (n = 1) < batch.length) continue
      sentHooks.forEach((f) => f())
    }
  }

  /** Notes what became of an entry. */
  function settle(k: Filed<Kept>, outcome: { state: string; conflict?: string; errors?: Fault[] }) {
    if (outcome.state === 'refused') file(k, { refused: outcome.errors ?? [] })
    else if (outcome.conflict) file(k, { conflict: outcome.conflict })
    else given.remove(k.key)
  }

  /** Notes which entries kept a whole batch from being taken; false where it is not said. */
  function refuse(batch: Filed<Kept>[], errors: Fault[]): boolean {
    const at = (f: Fault) => Number(/^\/records\/(\d+)/.exec(f.pointer)?.[1] ?? (batch.length === 1 ? 0 : NaN))
    const named = batch.filter((k, i) => {
      const own = errors.filter((f) => at(f) === i)
      if (own.length || batch.length === 1) file(k, { refused: own })
      return own.length > 0 || batch.length === 1
    })
    return named.length > 0
  }

  function file(k: Filed<Kept>, more: Partial<Kept>) {
    given.replace({ ...k, ...more })
  }

  const lost = ref(false)
  /** What waits could not be worked into what is shown: that is as if nothing were recorded here. */
  const unshown = computed(() => lost.value && waiting.value.length > 0)

  /** What a drop, or items, are with what was recorded on this device and is not yet sent. */
  async function told(about: Pick<WaitingAsked, 'drop' | 'id' | 'items'>): Promise<WaitingAnswer | undefined> {
    if (!waiting.value.length) return undefined
    const given = waiting.value.map(({ entry, name }) => ({ entry, by: name }))
    const answer = await withWaiting({ ...about, waiting: given, at: new Date().toISOString(), today: today() })
    lost.value = !answer
    return answer
  }

  /** A drop with what was recorded on this device and is not yet sent. */
  const overlay = async (id: string, drop: Drop) => (await told({ id, drop }))?.drop ?? drop

  useIntervalFn(() => void send(), 2000)

  return {
    waiting,
    mine,
    others,
    troubled,
    failure,
    record,
    recordAll,
    send,
    putAside: given.remove,
    told,
    unshown,
    overlay,
    onSent: (f: () => void) => sentHooks.add(f),
  }
})
