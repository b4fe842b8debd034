import { useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { api, must, type RunDocument, type RunState } from '@/api/client'
import { askHere } from '@/lib/core'
import { useRunning } from '@/stores/running'

/** A run with what this device gave and has not sent yet, folded on this device. */
export function useRun(id: Ref<string>) {
  const running = useRunning()
  const query = useQuery({
    queryKey: computed(() => ['run', id.value]),
    queryFn: async () => must(await api.GET('/api/v1/runs/{id}', { params: { path: { id: id.value } } })),
    enabled: computed(() => id.value !== ''),
  })
  const waiting = computed(() => running.waiting.filter((k) => k.run === id.value).map((k) => k.event))
  const document = computed<RunDocument | undefined>(() => {
    const d = query.data.value?.run
    return d && { ...d, events: [...d.events, ...waiting.value] }
  })
  const folded = shallowRef<RunState>()
  /** This device could not fold what it gave: what is shown lacks it. */
  const lacks = ref(false)
  watch(
    document,
    async (d) => {
      if (!d) return (folded.value = undefined)
      // What the server folded stands, unless this device has something more.
      if (!waiting.value.length) {
        lacks.value = false
        return (folded.value = query.data.value?.state)
      }
      const here = await askHere<RunState>('run-state', d).catch(() => undefined)
      if (d !== document.value) return
      lacks.value = !here?.answer
      folded.value = here?.answer ?? folded.value ?? query.data.value?.state
    },
    { immediate: true },
  )
  return { query, state: folded, document, waiting, lacks }
}

/** How long ago something was, in short words. */
export function ago(at: string | undefined, now: number): string {
  if (!at) return 'never'
  const s = Math.max(0, Math.round((now - Date.parse(at)) / 1000))
  if (s < 60) return `${s} s ago`
  if (s < 3600) return `${Math.floor(s / 60)} min ago`
  return `${Math.floor(s / 3600)} h ${Math.floor((s % 3600) / 60)} min ago`
}
