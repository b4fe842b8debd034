<script setup lang="ts">
// One figure over one input: a line, and a mark where it is now.
import { computed } from 'vue'
import { ticks } from '@/lib/rail'
import { show, toShown } from '@/lib/units'

const props = defineProps<{
  /** Undefined where there is no answer. */
  points: ({ x: number; y: number } | undefined)[]
  now: { x: number; y: number }
  xUnit: string
  yUnit: string
  xName: string
  yName: string
}>()

const width = 460
const height = 260
const left = 64
const bottom = 34

const all = computed(() => [...props.points.flatMap((p) => p ?? []), props.now])
const low = (k: 'x' | 'y') => Math.min(...all.value.map((p) => p[k]))
const high = (k: 'x' | 'y') => Math.max(...all.value.map((p) => p[k]))
const scale = computed(() => {
  const y0 = Math.min(0, low('y'))
  const y1 = Math.max(high('y'), y0 + 1e-9)
  const x0 = low('x')
  const x1 = Math.max(high('x'), x0 + 1e-9)
  return {
    x: (v: number) => left + ((v - x0) / (x1 - x0)) * (width - left - 12),
    y: (v: number) => height - bottom - ((v - y0) / (y1 - y0)) * (height - bottom - 14),
    x0,
    x1,
    y0,
    y1,
  }
})
/** A gap where an input is refused: nothing is drawn across it. */
const line = computed(() =>
  props.points
    .map((p, i) =>
      p ? `${props.points[i - 1] ? 'L' : 'M'}${scale.value.x(p.x).toFixed(1)} ${scale.value.y(p.y).toFixed(1)}` : '',
    )
    .join(''),
)
/** Round values in the units that are shown. */
function marks(from: number, to: number, unit: string): number[] {
  const [a, b] = [toShown(from, unit), toShown(to, unit)]
  return ticks(b - a, 4)
    .map((t) => t + Math.ceil(a))
    .filter((t) => t <= b)
    .map((t) => from + ((t - a) / (b - a || 1)) * (to - from))
}
</script>

<template>
  <svg
    :viewBox="`0 0 ${width} ${height}`"
    class="mt-2 w-full max-w-xl"
    role="img"
    :aria-label="`${yName} over ${xName}: from ${show(low('y'), yUnit)} to ${show(high('y'), yUnit)}; now ${show(now.y, yUnit)} at ${show(now.x, xUnit)}`"
    data-sweep
  >
    <g v-for="m in marks(scale.y0, scale.y1, yUnit)" :key="`y${m}`">
      <line :x1="left" :x2="width - 12" :y1="scale.y(m)" :y2="scale.y(m)" stroke="var(--line)" />
      <text :x="left - 6" :y="scale.y(m) + 4" text-anchor="end" class="figure text-[13px]" fill="var(--ink)">
        {{ show(m, yUnit) }}
      </text>
    </g>
    <g v-for="m in marks(scale.x0, scale.x1, xUnit)" :key="`x${m}`">
      <line :x1="scale.x(m)" :x2="scale.x(m)" :y1="height - bottom" :y2="height - bottom + 5" stroke="var(--soft)" />
      <text :x="scale.x(m)" :y="height - 10" text-anchor="middle" class="figure text-[13px]" fill="var(--ink)">
        {{ show(m, xUnit) }}
      </text>
    </g>
    <line :x1="left" :x2="width - 12" :y1="height - bottom" :y2="height - bottom" stroke="var(--soft)" />
    <path :d="line" fill="none" stroke="var(--main)" stroke-width="3" stroke-linejoin="round" />
    <circle
      :cx="scale.x(now.x)"
      :cy="scale.y(now.y)"
      r="7"
      fill="var(--ground)"
      stroke="var(--accent)"
      stroke-width="4"
    />
  </svg>
</template>
