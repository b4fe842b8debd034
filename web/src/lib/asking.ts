import { computed, ref, shallowRef } from 'vue'
import type { Progress } from '@/api/client'
import type { Listening } from './core'

/** When somebody who waits is notified that it goes on. */
const slowAfter = 600

/**
 * Asks one thing at a time for something that may take long: asking again stops what was
 * asked before, and stop leaves it.
 */
export function useAsking() {
  const progress = shallowRef<Progress>()
  const slow = ref(false)
  let running: AbortController | undefined

  /** Runs ask; undefined where it was stopped or asked again. */
  async function run<T>(ask: (how: Listening) => Promise<T>): Promise<T | undefined> {
    running?.abort()
    const mine = (running = new AbortController())
    progress.value = undefined
    slow.value = false
    const timer = setTimeout(() => (slow.value = running === mine), slowAfter)
    const tell = (p: Progress) => {
      if (running === mine) progress.value = p
    }
    try {
      const reply = await ask({ signal: mine.signal, tell })
      return mine.signal.aborted ? undefined : reply
    } catch (e) {
      if (mine.signal.aborted) return undefined
      throw e
    } finally {
      clearTimeout(timer)
      if (running === mine) {
        running = undefined
        slow.value = false
        progress.value = undefined
      }
    }
  }

  const stop = () => running?.abort()

  /** What to show of it; undefined while it is quick, or nothing is asked. */
  const shown = computed(() => progress.value ?? (slow.value ? { part: 0, done: 0, total: 0, of: '' } : undefined))

  return { run, stop, shown }
}

export type Asking = ReturnType<typeof useAsking>
