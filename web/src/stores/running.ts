import { useEventListener, useIntervalFn } from '@vueuse/core'
import { useQueryClient } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, type Fault, type RunEvent } from '@/api/client'
import { useSession } from './session'

/** An event on this device: whose it is, of which run, and why the server refused it, or what did not follow from it. */
type Kept = { account: string; run: string; event: RunEvent; refused?: Fault[]; kept?: boolean }
type Filed = Kept & { key: string }

const prefix = 'event:'
const atOnce = 50

function read(): Filed[] {
  const keys = Object.keys(localStorage).filter((k) => k.startsWith(prefix))
  return keys.sort().map((key) => ({ ...(JSON.parse(localStorage.getItem(key)!) as Kept), key }))
}

/** This device, so that taps that come in a burst on it are known. */
function device(): string {
  const known = localStorage.getItem('device')
  if (known) return known
  const made = crypto.randomUUID().slice(0, 8)
  localStorage.setItem('device', made)
  return made
}

/**
 * What was given of runs on this device. Events are sent as soon as there is a connection, and
 * each stays here until the server has it; one that was refused stays until it was read.
 */
export const useRunning = defineStore('running', () => {
  const session = useSession()
  const client = useQueryClient()
  const list = shallowRef<Filed[]>(read())
  const failure = ref('')
  const waiting = computed(() => list.value.filter((k) => !k.refused))
  const mine = computed(() => waiting.value.filter((k) => k.account === session.account))
  const refused = computed(() => list.value.filter((k) => k.refused))
  const reread = () => (list.value = read())
  useEventListener('storage', (e) => {
    if (e.key === null || e.key.startsWith(prefix)) reread()
  })

  /** Gives an event of a run, by who is signed in, now; false where this device could not keep it. */
  function give(run: string, what: Omit<RunEvent, 'id' | 'given_at' | 'by'>): boolean {
    const given = new Date().toISOString()
    const event = { ...what, id: crypto.randomUUID(), given_at: given, by: session.name, device: device() }
    const kept: Kept = { account: session.account, run, event }
    failure.value = ''
    try {
      localStorage.setItem(`${prefix}${given}:${event.id}`, JSON.stringify(kept))
    } catch {
      failure.value = 'This device has no room left: the last tap is NOT kept. Say it by voice.'
      return false
    }
    reread()
    void send()
    return true
  }

  async function send() {
    if (!mine.value.length || !session.signedIn) return
    await navigator.locks.request('events', { ifAvailable: true }, async (lock) => {
      if (lock) await sendAll()
    })
  }

  async function sendAll() {
    try {
      for (let first = mine.value[0]; first; first = mine.value[0]) {
        const batch = mine.value.filter((k) => k.run === first!.run).slice(0, atOnce)
        const body = { sent_at: new Date().toISOString(), events: batch.map((k) => k.event) }
        const answer = await api.POST('/api/v1/runs/{id}/events', { params: { path: { id: first.run } }, body })
        const { status } = answer.response
        if (answer.data) {
          for (const [i, k] of batch.entries()) {
            const o = answer.data.events[i]!
            if (o.state === 'refused') file(k, o.errors ?? [])
            else if (o.conflict) file(k, [{ pointer: '', detail: o.conflict }], true)
            else localStorage.removeItem(k.key)
          }
        } else if (status === 429 || status === 401 || status >= 500) break
        else refuse(batch, answer.error?.errors ?? [])
        // What the server has is shown from there before it is let go of here.
        await client.invalidateQueries({ queryKey: ['run', first.run] })
        reread()
      }
    } catch {
      // No connection: tried again.
    }
  }

  /** Files those that kept a batch from being taken; all of it where none is named. */
  function refuse(batch: Filed[], errors: Fault[]) {
    const own = (i: number) => errors.filter((f) => f.pointer.startsWith(`/events/${i}/`))
    const named = batch.some((_, i) => own(i).length)
    for (const [i, k] of batch.entries()) if (!named || own(i).length) file(k, own(i).length ? own(i) : errors)
  }
  const file = ({ key, ...kept }: Filed, why: Fault[], there = false) =>
    localStorage.setItem(key, JSON.stringify({ ...kept, refused: why, ...(there ? { kept: true } : {}) }))

  /** Sends what was refused once more: a clock was set, a role was given. */
  function again(key: string) {
    const k = list.value.find((o) => o.key === key)
    if (!k) return
    const { account, run, event } = k
    localStorage.setItem(key, JSON.stringify({ account, run, event }))
    reread()
    void send()
  }

  function putAside(key: string) {
    localStorage.removeItem(key)
    reread()
  }

  useIntervalFn(() => void send(), 2000)
  return { waiting, refused, failure, give, send, again, putAside }
})
