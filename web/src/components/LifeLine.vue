<script setup lang="ts">
// The life of a thing to scale: what was, now, and what binds next.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { LifeLine } from '@/api/client'

const props = defineProps<{ life: LifeLine }>()

const box = ref<HTMLElement>()
const { width } = useElementSize(box, { width: 700, height: 0 })
const day = (d: string) => Date.parse(`${d}T00:00:00Z`) / 864e5
const from = computed(() => day(props.life.from))
const span = computed(() => Math.max(30, day(props.life.to) - from.value))
const side = 12
const x = (d: string) => side + ((day(d) - from.value) / span.value) * (width.value - 2 * side)
/** Years, or every second or fifth where they would touch. */
const years = computed(() => {
  const first = Number(props.life.from.slice(0, 4)) + 1
  const last = Number(props.life.to.slice(0, 4))
  const step = [1, 2, 5, 10].find((s) => (width.value / (span.value / 365)) * s > 44) ?? 20
  const list: number[] = []
  for (let y = first; y <= last; y++) if (y % step === 0) list.push(y)
  return list
})
const bad = ['event', 'quarantine', 'retirement']
const ahead = ['examination-due', 'end-of-life', 'paper-ends']
const shape = (kind: string) => (bad.includes(kind) ? '■' : ahead.includes(kind) ? '▷' : '●')
const ink = (m: { kind: string; on: string }) =>
  bad.includes(m.kind)
    ? 'var(--stop)'
    : ahead.includes(m.kind)
      ? m.on < props.life.today
        ? 'var(--stop)'
        : 'var(--accent)'
      : 'var(--ink)'
/** Words stand on lines of their own where they would touch. */
const placed = computed(() => {
  const ends: number[] = []
  return props.life.marks.map((m) => {
    const wide = (m.words.length + 3) * 6.8
    const left = x(m.on) + wide > width.value
    const at = x(m.on) - (left ? wide : 4)
    let row = ends.findIndex((e) => e < at - 8)
    if (row < 0) row = ends.length
    ends[row] = at + wide
    return { ...m, left, row }
  })
})
const rows = computed(() => Math.max(0, ...placed.value.map((m) => m.row + 1)))
const base = computed(() => rows.value * 20 + 14)
const said = computed(() => props.life.marks.map((m) => `${m.on} ${m.words}`).join('; '))
</script>

<template>
  <div ref="box" data-life>
    <svg :width="width" :height="base + 34" role="img" :aria-label="`Life line: ${said}`" class="block">
      <line :x1="side" :x2="width - side" :y1="base" :y2="base" stroke="var(--ink)" stroke-width="3" />
      <line
        :x1="x(life.today)"
        :x2="width - side"
        :y1="base"
        :y2="base"
        stroke="var(--ground)"
        stroke-width="3"
        stroke-dasharray="4 4"
      />
      <g v-for="y in years" :key="y" fill="var(--soft)" class="figure" font-size="12">
        <line :x1="x(`${y}-01-01`)" :x2="x(`${y}-01-01`)" :y1="base" :y2="base + 7" stroke="var(--soft)" />
        <text :x="x(`${y}-01-01`)" :y="base + 20" text-anchor="middle">{{ y }}</text>
      </g>
      <line
        v-for="(m, n) in placed"
        :key="`at ${n}`"
        :x1="x(m.on)"
        :x2="x(m.on)"
        :y1="m.row * 20 + 16"
        :y2="base"
        :stroke="ink(m)"
        opacity="0.5"
      />
      <g v-for="(m, n) in placed" :key="n" :fill="ink(m)">
        <text
          :x="x(m.on) + (m.left ? 5 : -5)"
          :y="m.row * 20 + 13"
          :text-anchor="m.left ? 'end' : 'start'"
          font-size="12.5"
          paint-order="stroke"
          stroke="var(--ground)"
          stroke-width="4"
        >
          {{ m.left ? `${m.words} ${shape(m.kind)}` : `${shape(m.kind)} ${m.words}` }}
        </text>
      </g>
      <path :d="`M${x(life.today)} ${base - 9}v18`" stroke="var(--accent)" stroke-width="4" />
      <text
        :x="Math.min(x(life.today), width - 40)"
        :y="base + 32"
        text-anchor="middle"
        font-size="12.5"
        font-weight="700"
        fill="var(--accent)"
      >
        today
      </text>
    </svg>
  </div>
</template>
