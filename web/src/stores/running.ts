import { useIntervalFn } from '@vueuse/core'
import { useQueryClient } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, type Fault, type RunEvent } from '@/api/client'
import { judgedNothing, prefixes, useGiven, type Given } from '@/lib/given'
import { useSession } from './session'

/** An event on this device: of which run, and why the server refused it, or what did not follow from it. */
type Kept = { run: string; event: RunEvent; refused?: Fault[]; kept?: boolean }

const prefix = prefixes.event
const atOnce = 50

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
  const list = useGiven<Kept>(prefix)
  const failure = ref('')
  const waiting = computed(() => list.all.value.filter((k) => !k.refused))
  const mine = computed(() => list.mine.value.filter((k) => !k.refused))
  const refused = computed(() => list.all.value.filter((k) => k.refused))

  /** Gives an event of a run, by who is signed in, now; false where this device could not keep it. */
  function give(run: string, what: Omit<RunEvent, 'id' | 'given_at' | 'by'>): boolean {
    const given = new Date().toISOString()
    const event = { ...what, id: crypto.randomUUID(), given_at: given, by: session.name, device: device() }
    failure.value = ''
    if (!list.put(`${prefix}${given}:${event.id}`, { ...list.owner(), run, event })) {
      failure.value = 'This device has no room left: the last tap is NOT kept. Say it by voice.'
      return false
    }
    void send()
    return true
  }

  async function send() {
    if (mine.value.length) await list.inTurn(sendAll)
  }

  async function sendAll() {
    for (let first = mine.value[0]; first; first = mine.value[0]) {
      const batch = mine.value.filter((k) => k.run === first!.run).slice(0, atOnce)
      const body = { sent_at: new Date().toISOString(), events: batch.map((k) => k.event) }
      const { data, error, response } = await api.POST('/api/v1/runs/{id}/events', {
        params: { path: { id: first.run } },
        body,
      })
      if (!data && judgedNothing(response.status)) break
      // What the server has is shown from there before it is let go of here.
      if (data) await client.invalidateQueries({ queryKey: ['run', first.run] })
      if (data) for (const [i, k] of batch.entries()) settle(k, data.events[i]!)
      else refuse(batch, error?.errors ?? [{ pointer: '', detail: error?.detail ?? 'the server took none of it' }])
    }
  }

  function settle(k: Given<Kept>, o: { state: string; conflict?: string; errors?: Fault[] }) {
    if (o.state === 'refused') file(k, o.errors ?? [])
    else if (o.conflict) file(k, [{ pointer: '', detail: o.conflict }], true)
    else list.remove(k.key)
  }

  /** Files those that kept a batch from being taken; all of it where none is named. */
  function refuse(batch: Given<Kept>[], errors: Fault[]) {
    const own = (i: number) => errors.filter((f) => f.pointer.startsWith(`/events/${i}/`))
    const named = batch.some((_, i) => own(i).length)
    for (const [i, k] of batch.entries()) if (!named || own(i).length) file(k, own(i).length ? own(i) : errors)
  }
  const file = (k: Given<Kept>, why: Fault[], there = false) =>
    list.replace({ ...k, refused: why, ...(there ? { kept: true } : {}) })

  /** Sends what was refused once more: a clock was set, a role was given. */
  function again(key: string) {
    const k = list.all.value.find((o) => o.key === key)
    if (!k) return
    list.replace({ ...k, refused: undefined, kept: undefined })
    void send()
  }

  useIntervalFn(() => void send(), 2000)
  return { waiting, refused, failure, give, send, again, putAside: list.remove }
})
