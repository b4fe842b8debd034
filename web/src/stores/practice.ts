import { useEventListener, useIntervalFn } from '@vueuse/core'
import { useQueryClient } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, type Exercise, type ExerciseAnswer, type Fault } from '@/api/client'
import { useSession } from './session'

/** An answer on this device that the server has not yet. */
type Kept = {
  account: string
  exercise: Exercise
  answer: ExerciseAnswer
  class?: string
  listed?: number
  refused?: Fault[]
}

const prefix = 'mark:'
const keyOf = (account: string, id: string) => `${prefix}${account}:${id}`

function read(): Map<string, Kept> {
  const keys = Object.keys(localStorage).filter((k) => k.startsWith(prefix))
  return new Map(keys.map((k) => [k, JSON.parse(localStorage.getItem(k)!) as Kept]))
}

/** Answers to exercises: kept on this device until the server has marked and kept them. */
export const usePractice = defineStore('practice', () => {
  const session = useSession()
  const client = useQueryClient()
  const all = shallowRef(read())
  const failure = ref('')
  const reread = () => (all.value = read())
  useEventListener('storage', (e) => {
    if (e.key === null || e.key.startsWith(prefix)) reread()
  })
  const mine = computed(() => [...all.value].filter(([, k]) => k.account === session.account))
  const waiting = computed(() => mine.value.filter(([, k]) => !k.refused))
  const refused = computed(() => mine.value.filter(([, k]) => k.refused))

  /** Keeps an answer, and sends it; without an account nothing is kept. One with an id is kept once. */
  function give(
    exercise: Exercise,
    answer: ExerciseAnswer,
    of: { class?: string; listed?: number },
    id: string = crypto.randomUUID(),
  ) {
    if (!session.signedIn || !session.may('give-mark')) return
    failure.value = ''
    const kept: Kept = { account: session.account, exercise: { ...exercise, answers: undefined }, answer, ...of }
    try {
      localStorage.setItem(keyOf(session.account, id), JSON.stringify(kept))
    } catch {
      failure.value = 'This device has no room left: this answer is NOT kept.'
      return
    }
    reread()
    void send()
  }

  function forget(key: string) {
    localStorage.removeItem(key)
    reread()
  }

  async function send() {
    if (!waiting.value.length || !session.signedIn) return
    await navigator.locks.request('marks', { ifAvailable: true }, async (lock) => {
      if (lock) await sendAll().catch(() => undefined)
    })
  }

  async function sendAll() {
    for (const [key, k] of waiting.value) {
      const id = key.slice(keyOf(k.account, '').length)
      const body = {
        id,
        exercise: k.exercise,
        answer: k.answer,
        ...(k.class ? { class: k.class } : {}),
        ...(k.listed === undefined ? {} : { listed: k.listed }),
      }
      const { data, error, response } = await api.POST('/api/v1/practice/marks', { body })
      if (data) forget(key)
      else if (response.status === 422 || response.status === 409) {
        const faults = error?.errors ?? [{ pointer: '', detail: error?.detail ?? 'refused' }]
        localStorage.setItem(key, JSON.stringify({ ...k, refused: faults }))
        reread()
      } else break
    }
    void client.invalidateQueries({ queryKey: ['marks'] })
    void client.invalidateQueries({ queryKey: ['skills'] })
  }

  useEventListener('online', () => void send())
  useIntervalFn(() => void send(), 4000)

  return { waiting, refused, failure, give, send, forget }
})
