<script setup lang="ts">
// An anchor's legs to scale as seen from the front, with what each carries, the
// angle between them, and where the master point goes if one of them does.
import { computed, ref } from 'vue'
import type { Anchor, AnchorFigures } from '@/api/client'
import { say, show, showFigure } from '@/lib/units'
import WorkingView from './WorkingView.vue'

const props = defineProps<{ anchor: Anchor; figures: AnchorFigures }>()

const width = 300
const height = 210
const side = 70
const working = ref(false)

const legs = computed(() =>
  props.anchor.legs.map((leg, i) => ({ leg, figures: props.figures.legs[i] })).filter((l) => l.figures !== undefined),
)

/** Metres to the picture: all points and the master point, with room for words. */
const scale = computed(() => {
  const xs = [0, ...props.anchor.legs.map((l) => l.x_m)]
  const ys = [0, ...props.anchor.legs.map((l) => l.y_m)]
  const left = Math.min(...xs)
  const right = Math.max(...xs)
  const low = Math.min(...ys)
  const high = Math.max(...ys)
  const per = Math.min((width - 2 * side) / Math.max(right - left, 0.1), (height - 78) / Math.max(high - low, 0.1), 240)
  const middle = (left + right) / 2
  return { x: (m: number) => width / 2 + (m - middle) * per, y: (m: number) => 24 + (high - m) * per, per }
})

const master = computed(() => ({ x: scale.value.x(0), y: scale.value.y(0) }))
const most = computed(() => Math.max(...legs.value.map((l) => l.figures!.share.value), 1))

/** The arc between the two outer taut legs. */
const arc = computed(() => {
  const taut = legs.value.filter((l) => !l.figures!.slack).map((l) => Math.atan2(l.leg.y_m, l.leg.x_m))
  if (taut.length < 2) return undefined
  const from = Math.min(...taut)
  const to = Math.max(...taut)
  const r = 34
  const at = (a: number) => `${master.value.x + r * Math.cos(a)} ${master.value.y - r * Math.sin(a)}`
  const middle = (from + to) / 2
  return {
    path: `M${at(from)}A${r} ${r} 0 0 0 ${at(to)}`,
    x: master.value.x + 48 * Math.cos(middle),
    y: master.value.y - 48 * Math.sin(middle),
  }
})

function ifLost(l: (typeof legs.value)[number]['figures']): string {
  if (!l) return ''
  if (l.slack) return 'hangs slack: nothing changes'
  if (l.lost || !l.drop) return 'nothing else holds'
  const sway = l.sway && l.sway.value >= 0.005 ? `, sways ${showFigure(l.sway)}` : ''
  const peak = l.peak ? `, peak ${showFigure(l.peak)}` : '; peak not computed: elongation of a leg is not stated'
  return `drops ${showFigure(l.drop)}${sway}${peak}`
}
</script>

<template>
  <figure class="my-1 flex flex-wrap items-start gap-x-6">
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      class="w-[300px] shrink-0"
      role="img"
      :aria-label="`${anchor.name} from the front, to scale`"
    >
      <g v-for="{ leg, figures: f } in legs" :key="leg.id">
        <line
          :x1="scale.x(leg.x_m)"
          :y1="scale.y(leg.y_m)"
          :x2="master.x"
          :y2="master.y"
          stroke="var(--ink)"
          :stroke-width="f!.slack ? 1.5 : 2 + (3 * f!.share.value) / most"
          :stroke-dasharray="f!.slack ? '3 5' : undefined"
        />
        <rect :x="scale.x(leg.x_m) - 5" :y="scale.y(leg.y_m) - 5" width="10" height="10" fill="var(--ink)" />
        <g
          font-size="13"
          fill="var(--ink)"
          :text-anchor="leg.x_m < 0 ? 'end' : 'start'"
          :transform="`translate(${scale.x(leg.x_m) + (leg.x_m < 0 ? -10 : 10)} ${scale.y(leg.y_m) + 2})`"
        >
          <text class="figure" font-weight="650">{{ f!.slack ? 'slack' : showFigure(f!.tension) }}</text>
          <text v-if="!f!.slack" class="figure" y="16" fill="var(--soft)">{{ showFigure(f!.share) }}</text>
          <text v-if="leg.z_m" y="32" fill="var(--soft)" font-size="12">{{ show(leg.z_m, 'm') }} out</text>
        </g>
      </g>
      <g v-if="arc">
        <path :d="arc.path" fill="none" stroke="var(--soft)" stroke-width="1.5" />
        <text
          class="figure"
          :x="arc.x"
          :y="arc.y + 4"
          text-anchor="middle"
          font-size="13"
          font-weight="650"
          fill="var(--ink)"
        >
          {{ figures.angle.text }}
        </text>
      </g>
      <circle :cx="master.x" :cy="master.y" r="6" fill="var(--ground)" stroke="var(--ink)" stroke-width="2.5" />
      <path :d="`M${master.x} ${master.y + 8}v26m-5 -8l5 8 5 -8`" fill="none" stroke="var(--ink)" stroke-width="2" />
      <text class="figure" :x="master.x + 12" :y="master.y + 32" font-size="13" fill="var(--ink)">
        {{ showFigure(figures.load) }}
      </text>
    </svg>
    <figcaption class="min-w-0 flex-1 basis-64 pt-4 text-[0.95rem] leading-snug">
      <p class="text-soft">Under {{ figures.whose }}.</p>
      <p v-if="figures.untold" class="text-look mt-1">
        ◆ {{ say(figures.untold) }}. Each leg counts with the whole load.
      </p>
      <ul v-else class="mt-1 space-y-1">
        <li v-for="{ leg, figures: f } in legs" :key="leg.id">
          If <b>{{ leg.id }}</b> goes: <span class="figure">{{ ifLost(f) }}</span>.
        </li>
      </ul>
      <button
        v-if="figures.working.length"
        type="button"
        class="quiet -ml-2 text-sm"
        :aria-expanded="working"
        @click="working = !working"
      >
        {{ working ? 'hide working' : 'working' }}
      </button>
      <WorkingView v-if="working" :working="figures.working" />
    </figcaption>
  </figure>
</template>
