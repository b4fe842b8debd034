import { useEventListener, useIntervalFn } from '@vueuse/core'
import { useQueryClient } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, type Exercise, type ExerciseAnswer, type Fault } from '@/api/client'
import { judgedNothing, prefixes, useGiven } from '@/lib/given'
import { useSession } from './session'

/** An answer on this device that the server has not yet. */
type Kept = {
  exercise: Exercise
  answer: ExerciseAnswer
  class?: string
  listed?: number
  refused?: Fault[]
}

const keyOf = (account: string, id: string) => `${prefixes.mark}${account}:${id}`

/** Answers to exercises: kept on this device until the server has marked and kept them. */
export const usePractice = defineStore('practice', () => {
  const session = useSession()
  const client = useQueryClient()
  const given = useGiven<Kept>(prefixes.mark)
  const failure = ref('')
  const waiting = computed(() => given.mine.value.filter((k) => !k.refused))
  /** By key. */
  const refused = computed(() => given.mine.value.filter((k) => k.refused).map((k) => [k.key, k] as const))

  /** Keeps an answer, and sends it; without an account nothing is kept. One with an id is kept once. */
  function give(
    exercise: Exercise,
    answer: ExerciseAnswer,
    of: { class?: string; listed?: number },
    id: string = crypto.randomUUID(),
  ) {
    if (!session.signedIn || !session.may('give-mark')) return
    failure.value = ''
    const kept = { ...given.owner(), exercise: { ...exercise, answers: undefined }, answer, ...of }
    if (given.put(keyOf(session.account, id), kept)) void send()
    else failure.value = 'This device has no room left: this answer is NOT kept.'
  }

  async function send() {
    if (waiting.value.length) await given.inTurn(sendAll)
  }

  async function sendAll() {
    for (const k of waiting.value) {
      const body = {
        id: k.key.slice(keyOf(k.account, '').length),
        exercise: k.exercise,
        answer: k.answer,
        ...(k.class ? { class: k.class } : {}),
        ...(k.listed === undefined ? {} : { listed: k.listed }),
      }
      const { data, error, response } = await api.POST('/api/v1/practice/marks', { body })
      if (data) given.remove(k.key)
      else if (judgedNothing(response.status)) break
      else given.replace({ ...k, refused: error?.errors ?? [{ pointer: '', detail: error?.detail ?? 'refused' }] })
    }
    void client.invalidateQueries({ queryKey: ['marks'] })
    void client.invalidateQueries({ queryKey: ['skills'] })
  }

  useEventListener('online', () => void send())
  useIntervalFn(() => void send(), 4000)

  return { waiting, refused, failure, give, send, forget: given.remove }
})
