<script setup lang="ts">
// Who does what for how long: bars against minutes, with the time the casualty hangs
// still and the limit that the policy sets.
import { computed, ref } from 'vue'
import { useElementSize } from '@vueuse/core'
import type { RescueWay } from '@/api/client'
import { minutes } from '@/lib/words'

const props = defineProps<{ way: RescueWay; limit: number; name: string }>()

/** Where there is little room the words stand above their bars. */
const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const narrow = computed(() => width.value > 0 && width.value < 600)
const label = computed(() => (narrow.value ? 0 : 196))
const wide = computed(() => (narrow.value ? width.value - 64 : 470))
const row = computed(() => (narrow.value ? 46 : 30))
/** Where in its row a bar and its figure stand. */
const bar = computed(() => (narrow.value ? 24 : 6))
const figure = computed(() => (narrow.value ? 37 : 19))
const words = {
  alarm: 'noticed and reported',
  walk: 'to the strands',
  reach: 'reached',
  free: 'off their own holds',
  lower: 'down',
  raise: 'up',
  attach: 'onto the kit',
}
const most = computed(() => Math.max(props.way.seconds_s, props.limit * 60) * 1.08)
const x = (s: number) => label.value + (s / most.value) * wide.value
const bars = computed(() => {
  let at = 0
  return props.way.phases.map((p) => {
    const from = at
    at += p.seconds_s
    return { ...p, from, to: at }
  })
})
const step = computed(() => (most.value > 1500 ? 600 : 300))
const ticks = computed(() => Array.from({ length: Math.floor(most.value / step.value) + 1 }, (_, i) => i * step.value))
const height = computed(() => (bars.value.length + 1) * row.value + 46)
</script>

<template>
  <div ref="box" class="overflow-x-auto" tabindex="0" role="region" aria-label="Timeline">
    <svg
      :width="label + wide + 60"
      :height="height"
      class="block"
      role="img"
      :aria-label="`${minutes(way.seconds_s)} in all, the limit is ${limit} min`"
    >
      <g v-for="t in ticks" :key="t">
        <line :x1="x(t)" :x2="x(t)" y1="18" :y2="height - 24" stroke="var(--line)" />
        <text :x="x(t)" :y="height - 8" text-anchor="middle" class="figure text-[12px]" fill="var(--soft)">
          {{ t / 60 }}
        </text>
      </g>
      <g v-for="(b, i) in bars" :key="b.name">
        <text x="0" :y="18 + i * row + 19" class="text-[13px]" fill="var(--ink)">
          {{ words[b.name] }}
          <tspan fill="var(--soft)">· {{ b.who.slice(0, 13) }}</tspan>
        </text>
        <rect
          :x="x(b.from)"
          :y="18 + i * row + bar"
          :width="Math.max(2, x(b.to) - x(b.from))"
          :height="18"
          rx="3"
          fill="var(--backup)"
        >
          <title>{{ b.source }}</title>
        </rect>
        <text :x="x(b.to) + 5" :y="18 + i * row + figure" class="figure text-[12.5px]" fill="var(--ink)">
          {{ minutes(b.seconds_s) }}
        </text>
      </g>
      <text x="0" :y="18 + bars.length * row + 19" class="text-[13px] font-semibold" fill="var(--ink)">
        {{ name.split(' ')[0] }} hangs still
      </text>
      <rect
        :x="label"
        :y="18 + bars.length * row + bar - 2"
        :width="x(way.seconds_s) - label"
        :height="22"
        rx="3"
        :fill="way.seconds_s > limit * 60 ? 'var(--stop)' : 'var(--main)'"
      />
      <line
        :x1="x(limit * 60)"
        :x2="x(limit * 60)"
        y1="14"
        :y2="height - 22"
        stroke="var(--stop)"
        stroke-width="2"
        stroke-dasharray="6 4"
      />
      <text :x="x(limit * 60)" y="11" text-anchor="middle" class="text-[12px] font-semibold" fill="var(--stop)">
        limit {{ limit }} min
      </text>
    </svg>
  </div>
</template>
