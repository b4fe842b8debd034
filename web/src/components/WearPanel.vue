<script setup lang="ts">
// How the parts of an item wear: readings, the line through them with its band, the limit;
// when to measure again, never how long it can be used.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, must, type Trend } from '@/api/client'
import { show } from '@/lib/units'

const props = defineProps<{ id: string }>()
const wear = useQuery({
  queryKey: computed(() => ['records', 'wear', props.id]),
  queryFn: async () => must(await api.GET('/api/v1/items/{id}/wear', { params: { path: { id: props.id } } })),
})
const trends = computed(() => (wear.data.value ?? []).filter((t) => t.points.length || t.limit_mm))
const wide = 560
const high = 120

/** Where a day and a reading are in the picture. */
function scale(t: Trend) {
  const day = (d: string) => Date.parse(d)
  const days = [...t.points.map((p) => p.on), ...(t.fit ? [t.fit.from, t.fit.to] : [])].map(day)
  const mm = [
    ...t.points.map((p) => p.mm),
    ...(t.limit_mm ? [t.limit_mm] : []),
    ...(t.fit?.band ?? []).flatMap((b) => [b.low_mm, b.high_mm]),
  ]
  const [from, to, low, top] = [Math.min(...days), Math.max(...days), Math.min(...mm), Math.max(...mm)]
  return {
    x: (d: string) => 6 + ((day(d) - from) / (to - from || 1)) * (wide - 12),
    y: (v: number) => high - 6 - ((v - low) / (top - low || 1)) * (high - 12),
  }
}

function bandPath(t: Trend): string {
  const s = scale(t)
  const up = t.fit!.band.map((b) => `${s.x(b.on)} ${s.y(b.high_mm)}`)
  const down = [...t.fit!.band].reverse().map((b) => `${s.x(b.on)} ${s.y(b.low_mm)}`)
  return `M${[...up, ...down].join('L')}Z`
}

function meets(t: Trend): string {
  const [early, late] = t.fit?.meets ?? []
  if (!early) return 'The band does not meet the limit within ten years.'
  return late
    ? `The band meets the limit between ${early} and ${late}.`
    : `The band begins to meet the limit on ${early}.`
}
</script>

<template>
  <section v-if="trends.length" class="mt-5" aria-label="Wear" data-wear>
    <h2>Wear</h2>
    <div v-for="t in trends" :key="t.part" class="border-line border-t py-2" :data-part="t.part">
      <p>
        <b>{{ t.part }}</b><template v-if="t.points.length"
          >, last <span class="figure">{{ show(t.points.at(-1)!.mm, 'mm') }}</span> on
          {{ t.points.at(-1)!.on }}</template
        ><template v-else>, never measured</template
        ><template v-if="t.limit_mm">; limit {{ t.grows ? 'below' : 'above' }} {{ show(t.limit_mm, 'mm') }}</template>
      </p>
      <p v-if="t.beyond" class="text-stop">■ At its limit, or past it.</p>
      <p v-if="t.fit?.again" :class="t.beyond ? '' : 'font-semibold'">
        Measure again by {{ t.fit.again }}. {{ meets(t) }}
      </p>
      <p v-else-if="t.fit && t.limit_mm">{{ meets(t) }}</p>
      <p v-if="t.why" class="text-soft text-sm">{{ t.why }}.</p>
      <svg
        v-if="t.points.length > 1"
        :viewBox="`0 0 ${wide} ${high}`"
        class="mt-1 w-full max-w-xl"
        role="img"
        :aria-label="`${t.part}: ${t.points.map((p) => `${p.on} ${p.mm} mm`).join(', ')}`"
      >
        <path v-if="t.fit" :d="bandPath(t)" fill="var(--rock)" />
        <line
          v-if="t.limit_mm"
          x1="0"
          :x2="wide"
          :y1="scale(t).y(t.limit_mm)"
          :y2="scale(t).y(t.limit_mm)"
          stroke="var(--stop)"
          stroke-width="2"
          stroke-dasharray="8 5"
        />
        <line
          v-if="t.fit"
          :x1="scale(t).x(t.fit.from)"
          :x2="scale(t).x(t.fit.to)"
          :y1="scale(t).y(t.fit.line_mm[0]!)"
          :y2="scale(t).y(t.fit.line_mm[1]!)"
          stroke="var(--ink)"
        />
        <circle
          v-for="(p, i) in t.points"
          :key="i"
          :cx="scale(t).x(p.on)"
          :cy="scale(t).y(p.mm)"
          r="4"
          fill="var(--accent)"
        />
      </svg>
    </div>
  </section>
</template>
