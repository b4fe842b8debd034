import { useQuery } from '@tanstack/vue-query'
import { computed, shallowRef, watch, type Ref } from 'vue'
import { api, must, type Reach, type RunDocument, type RunState } from '@/api/client'
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
  watch(
    document,
    async (d) => {
      if (!d) return (folded.value = undefined)
      // What the server folded stands, unless this device has something more.
      if (!waiting.value.length) return (folded.value = query.data.value?.state)
      const here = await askHere<RunState>('run-state', d).catch(() => undefined)
      if (here?.answer && d === document.value) folded.value = here.answer
    },
    { immediate: true },
  )
  return { query, state: folded, document, waiting }
}

/** How somebody is reached at a height, as it was planned: the worse of the metres beside it. */
export function reachAt(d: RunDocument, person: string, at: number): Reach | undefined {
  const order = ['covered', 'slow', 'last-resort', 'undecided', 'uncovered']
  const near = (d.cover ?? []).filter((r) => r.person === person && Math.abs(r.at_m - at) <= 1)
  return near.sort(
    (a, b) => order.indexOf(b.state) - order.indexOf(a.state) || (b.seconds_s ?? 0) - (a.seconds_s ?? 0),
  )[0]
}

/** How long ago something was, in short words. */
export function ago(at: string | undefined, now: number): string {
  if (!at) return 'never'
  const s = Math.max(0, Math.round((now - Date.parse(at)) / 1000))
  if (s < 60) return `${s} s ago`
  if (s < 3600) return `${Math.floor(s / 60)} min ago`
  return `${Math.floor(s / 3600)} h ${Math.floor((s % 3600) / 60)} min ago`
}
