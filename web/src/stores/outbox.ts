import { useIntervalFn, useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { api, type Content, type Drop, type Entry, type Fault } from '@/api/client'
import { useSession } from './session'

/** An entry on this device: whose it is, and what became of it. */
type Kept = {
  account: string
  name: string
  /** What it is about, in words. */
  label: string
  entry: Entry
  /** Why the server refused it; it stays here until somebody puts it aside. */
  refused?: Fault[]
  /** What was otherwise in the store than this device could know. */
  conflict?: string
}

/** As many as one batch takes. */
const atOnce = 50

/**
 * What was recorded on this device. Entries are sent as soon as there is a
 * connection, in the order in which they were given, and each stays here until
 * the server has it; one that was refused, or met something else there, stays
 * until it was read.
 */
export const useOutbox = defineStore('outbox', () => {
  const session = useSession()
  const list = useStorage<Kept[]>('outbox', [])
  let sending = false
  const sentHooks = new Set<() => void>()

  const waiting = computed(() => list.value.filter((k) => !k.refused && !k.conflict))
  const mine = computed(() => waiting.value.filter((k) => k.account === session.account))
  /** Given by somebody who is not signed in now. */
  const others = computed(() => waiting.value.filter((k) => k.account !== session.account))
  const troubled = computed(() => list.value.filter((k) => k.refused || k.conflict))

  /** Records something, signed by who is signed in. */
  function record(label: string, entry: Omit<Entry, 'id' | 'given_at'>) {
    const full = { ...entry, id: crypto.randomUUID(), given_at: new Date().toISOString() }
    list.value = [...list.value, { account: session.account, name: session.name, label, entry: full }]
    void send()
  }

  async function send() {
    if (sending || !mine.value.length || !session.signedIn) return
    sending = true
    try {
      for (let batch = mine.value.slice(0, atOnce); batch.length; batch = mine.value.slice(0, atOnce)) {
        const body = { sent_at: new Date().toISOString(), records: batch.map((k) => k.entry) }
        const answer = await api.POST('/api/v1/records', { body })
        if (answer.response.status === 429 || answer.response.status >= 500 || answer.response.status === 401) break
        for (const [i, k] of batch.entries()) settle(k, answer.data?.records[i], answer.error?.errors ?? [])
        sentHooks.forEach((f) => f())
      }
    } catch {
      // No connection: tried again.
    } finally {
      sending = false
    }
  }

  /** Notes what became of an entry. A batch that was refused whole is refused each. */
  function settle(
    k: Kept,
    outcome: { state: string; conflict?: string; errors?: Fault[] } | undefined,
    errors: Fault[],
  ) {
    const rest = list.value.filter((o) => o.entry.id !== k.entry.id)
    if (!outcome || outcome.state === 'refused') list.value = [...rest, { ...k, refused: outcome?.errors ?? errors }]
    else if (outcome.conflict) list.value = [...rest, { ...k, conflict: outcome.conflict }]
    else list.value = rest
  }

  /** Puts an entry aside that was read. */
  function putAside(id: string) {
    list.value = list.value.filter((k) => k.entry.id !== id)
  }

  /** Shows in a drop what was recorded on this device and is not yet sent. */
  function overlay(id: string, d: Drop) {
    for (const k of waiting.value) if (k.entry.drop === id) show(d, k.entry, k.name)
  }

  useIntervalFn(() => void send(), 2000)

  return {
    waiting,
    others,
    troubled,
    record,
    send,
    putAside,
    overlay,
    onSent: (f: () => void) => sentHooks.add(f),
  }
})

/** Writes an entry into a drop, as the server does with what is recorded. */
function show(d: Drop, e: Entry | Content, by: string) {
  if (e.check && e.item) {
    const { rope, mode, passed, proofs } = e.check
    const check = {
      item: e.item,
      rope,
      on: e.day,
      by,
      passed,
      ...(mode ? { mode } : {}),
      ...(proofs ? { proofs } : {}),
    }
    d.checks = [...(d.checks ?? []).filter((c) => c.item !== e.item), check]
    const failed = proofs?.find((p) => !p.did)
    if (!passed) takeOut(d, e.item, `failed-check: ${failed ? `proof ${failed.proof}` : (e.note ?? '')}`)
  }
  if (e.partner && e.person) {
    const others = (d.partner_checks ?? []).filter((c) => c.person !== e.person || c.rigging !== e.partner!.rigging)
    d.partner_checks = e.partner.passed
      ? [...others, { person: e.person, rigging: e.partner.rigging, on: e.day, by }]
      : others
  }
}

function takeOut(d: Drop, item: string, reason: string) {
  const i = d.items?.find((o) => o.id === item)
  if (!i || i.state === 'retired') return
  i.state = 'quarantine'
  i.reason = reason
}
