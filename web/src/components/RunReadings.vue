<script setup lang="ts">
// What devices measure on a run, beside what was predicted: inside, outside, above; peaks with
// the step they fell in, and what they were in goes into quarantine by one tap.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, must, type Channel, type RunDocument, type RunEvent, type RunState } from '@/api/client'
import { useMeasured } from '@/lib/measured'
import { ago } from '@/lib/running'
import { timeWords } from '@/lib/records'
import { show } from '@/lib/units'
import { useDraft } from '@/stores/draft'

const props = defineProps<{ id: string; run: RunDocument; state: RunState; now: number; may: boolean }>()
const emit = defineEmits<{ give: [event: Omit<RunEvent, 'id' | 'given_at' | 'by'>] }>()

const draft = useDraft()
const query = useQuery({
  queryKey: computed(() => ['run', props.id, 'readings']),
  queryFn: async () =>
    must(
      await api.GET('/api/v1/runs/{id}/readings', {
        params: { path: { id: props.id }, query: { width: 300, last: 600 } },
      }),
    ).channels,
})
const channels = computed(() => query.data.value ?? [])
const { said } = useMeasured(() => channels.value.some((c) => c.band))

const width = 300
const height = 64
/** The stretches as an outline from their least to their greatest, to scale in time. */
function drawn(c: Channel) {
  const most = Math.max(...c.bars.map((b) => b.most), c.band?.high_kN ?? 0, 0.1) * 1.1
  const first = Date.parse(c.bars[0]!.at)
  const span = Math.max(1, Date.parse(c.bars.at(-1)!.at) - first)
  const x = (at: string) => (width * (Date.parse(at) - first)) / span
  const y = (v: number) => height - (height * Math.max(0, v)) / most
  const d = c.bars.map((b) => `M${x(b.at).toFixed(1)} ${y(b.most).toFixed(1)}V${(y(b.least) + 1).toFixed(1)}`).join('')
  return { d, band: c.band && { top: y(c.band.high_kN), deep: Math.max(1, y(c.band.low_kN) - y(c.band.high_kN)) } }
}
/** After so many seconds without a reading nothing is known of now. */
const silent = 10
const old = (c: Channel) => (props.now - Date.parse(c.newest)) / 1000 > silent
const label = (id: string) => draft.drop?.items?.find((i) => i.id === id)?.label ?? id
/** Whether what was in a peak is out already. */
const out = (c: Channel) => c.band?.items?.every((i) => props.state.quarantined?.some((n) => n.items?.includes(i)))
const shock = (c: Channel, value: number) =>
  emit('give', { kind: 'quarantine', items: c.band!.items, reason: `${show(value, 'kN')} measured on ${c.band!.name}` })
</script>

<template>
  <section v-if="channels.length" class="mt-4" data-readings>
    <h2>Measured</h2>
    <div v-for="c in channels" :key="c.channel" class="border-line border-b py-2" :data-channel="c.channel">
      <p class="flex flex-wrap items-baseline gap-x-3">
        <b>{{ c.band?.name ?? c.channel }}</b>
        <span class="figure text-lg">{{ show(c.value, c.unit) }}</span>
        <span :class="c.told.bad ? 'text-stop font-semibold' : 'text-soft'"
          >{{ c.told.bad ? '■ ' : '' }}{{ c.told.words }}</span
        >
        <span v-if="old(c)" class="text-look text-sm font-semibold"
          >◆ that was {{ ago(c.newest, now) }}: of now nothing is known</span
        >
        <span v-else class="text-soft text-sm">{{ ago(c.newest, now) }}</span>
      </p>
      <svg
        :viewBox="`0 0 ${width} ${height}`"
        class="bg-rock h-16 w-full"
        preserveAspectRatio="none"
        role="img"
        :aria-label="`${c.band?.name ?? c.channel}, the last ten minutes: between ${show(Math.min(...c.bars.map((b) => b.least)), c.unit)} and ${show(Math.max(...c.bars.map((b) => b.most)), c.unit)}`"
      >
        <rect
          v-if="drawn(c).band"
          x="0"
          :y="drawn(c).band!.top"
          :width="width"
          :height="drawn(c).band!.deep"
          fill="var(--accent)"
          opacity="0.25"
        />
        <path :d="drawn(c).d" stroke="var(--ink)" stroke-width="1.2" fill="none" vector-effect="non-scaling-stroke" />
      </svg>
      <p class="text-soft text-sm">
        {{ c.rate_hz.toFixed(c.rate_hz < 10 ? 1 : 0) }} readings a second: peaks between them are not seen, and no
        reading does not mean no shock.
      </p>
      <p v-if="said(c.loading)" class="text-soft text-sm" data-accuracy>{{ said(c.loading) }}</p>
      <p v-for="p in c.peaks ?? []" :key="p.at" class="text-stop mt-1" role="alert" data-peak>
        ■ {{ show(p.value, 'kN') }} at {{ timeWords(p.at).slice(11, 16)
        }}<span v-if="p.move">, in step {{ p.step }} of {{ p.move }}</span
        >.
        <button
          v-if="may && c.band?.items?.length && !out(c)"
          type="button"
          class="plain mt-1 min-h-14!"
          data-shock
          @click="shock(c, p.value)"
        >
          {{ c.band.items.map(label).join(', ') }} into quarantine?<span v-if="run.exercise">
            (exercise: it stays in service)</span
          >
        </button>
        <span v-else-if="out(c)" class="text-soft">Into quarantine: {{ c.band?.items?.map(label).join(', ') }}.</span>
      </p>
    </div>
  </section>
</template>
