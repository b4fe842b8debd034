import { useIntervalFn, useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { api } from '@/api/client'

type Pending = { item: string; kind: 'failed-check'; on: string; note?: string }

/**
 * Items that failed a check. Each is sent as soon as there is a connection, in
 * order, and stays on this device until the store has it.
 */
export const useQuarantine = defineStore('quarantine', () => {
  const pending = useStorage<Pending[]>('quarantines', [])
  let sending = false

  async function send() {
    if (sending) return
    sending = true
    try {
      for (let next = pending.value[0]; next; next = pending.value[0]) {
        const { item, ...body } = next
        const answer = await api.POST('/api/v1/items/{id}/quarantine', { params: { path: { id: item } }, body })
        // What the store does not know or refuses will not be taken later either.
        if (answer.response.status >= 500) break
        pending.value = pending.value.slice(1)
      }
    } catch {
      // No connection: tried again.
    } finally {
      sending = false
    }
  }

  function put(p: Pending) {
    pending.value = [...pending.value, p]
    void send()
  }

  useIntervalFn(() => {
    if (pending.value.length) void send()
  }, 2000)

  return { put, waiting: computed(() => pending.value.length) }
})
