<script setup lang="ts">
// What the team's figures are at every height, drawn with the height upwards, where the
// schools cross, and what each asks of the team.
import { useElementSize } from '@vueuse/core'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { TeamAnswer } from '@/api/client'
import { ticks } from '@/lib/rail'
import { show, toShown, unitOf } from '@/lib/units'
import { plainNumber } from '@/lib/words'

const props = defineProps<{ answer: TeamAnswer; top: number }>()

const CurvePlot = defineAsyncComponent(() => import('./CurvePlot.vue'))
const box = ref<HTMLElement>()
const { width } = useElementSize(box, { width: 700, height: 0 })
const axis = 48
const high = 330
const above = 12
const below = 40
const each = computed(() => Math.max(150, Math.min(260, (width.value - axis) / props.answer.curves.length - 8)))
const most = computed(() => Math.max(props.top, ...(props.answer.heights_m as number[])))
const y = (h: number) => above + (1 - h / most.value) * (high - above - below)
const crosses = computed(() => props.answer.figures?.crosses ?? [])
/** What each school asks for, beside what it does. */
const demands = [
  [
    'slack belay',
    'two operators; the belayer hears and sees trouble early and holds the rope hand-tight, a little ahead over the edge; the load drops further when the main fails.',
  ],
  [
    'shared tension',
    'two operators in step, in sight of each other, by metre marks or eye; both brakes carry, so that both run warm; the load drops little whichever fails.',
  ],
]
</script>

<template>
  <div>
    <h2>At every height</h2>
    <div
      ref="box"
      class="mt-2 flex overflow-x-auto"
      role="region"
      aria-label="Figures of the team at every height"
      tabindex="0"
      data-plots
    >
      <svg
        :width="axis"
        :height="high"
        class="figure mt-12 shrink-0"
        aria-hidden="true"
        font-size="12"
        fill="var(--soft)"
      >
        <template v-for="t in ticks(most)" :key="t">
          <text :x="axis - 8" :y="y(t) + 4" text-anchor="end">{{ plainNumber(toShown(t, 'm')) }}</text>
          <line :x1="axis - 5" :x2="axis" :y1="y(t)" :y2="y(t)" stroke="var(--soft)" />
        </template>
      </svg>
      <div v-for="c in answer.curves" :key="c.id" class="relative shrink-0 pr-2" :data-curve="c.id">
        <p class="h-12 text-sm leading-tight">
          <span class="font-semibold">{{ c.name }}</span>, {{ unitOf(c.unit) }}<br />
          <span class="text-soft"
            >{{ c.lines[1] ? `━ ${c.lines[0]?.name} ┄ ${c.lines[1].name}` : ''
            }}{{ c.limit ? ` ┆ ${c.limit.name} ${plainNumber(toShown(c.limit.value, c.unit))}` : '' }}</span
          >
        </p>
        <CurvePlot
          :curve="c"
          :heights="answer.heights_m as number[]"
          :top="most"
          :above="above"
          :below="below"
          :width="each"
          :height="high"
        />
        <svg
          v-if="c.id !== 'team-hand'"
          class="pointer-events-none absolute top-12 left-0"
          :width="each"
          :height="high"
          aria-hidden="true"
        >
          <g v-for="(k, i) in crosses" :key="i">
            <template v-if="k.at_m !== undefined">
              <line x1="0" :x2="each" :y1="y(k.at_m)" :y2="y(k.at_m)" stroke="var(--accent)" stroke-dasharray="2 4" />
              <text
                :x="each - 4"
                :y="y(k.at_m) - 4"
                text-anchor="end"
                font-size="12.5"
                font-weight="650"
                fill="var(--accent)"
              >
                {{ i + 1 }}
              </text>
            </template>
          </g>
        </svg>
      </div>
    </div>
    <p class="text-soft text-sm">Upwards: height of the load, {{ unitOf('m') }}.</p>
    <div class="mt-2 grid gap-x-10 gap-y-3 @3xl:grid-cols-2">
      <ol class="list-decimal pl-5 text-[0.95rem] leading-snug" data-crosses>
        <li v-for="(k, i) in crosses" :key="i" class="py-0.5">
          <template v-if="k.at_m !== undefined"
            ><b class="figure">{{ show(k.at_m, 'm') }}</b
            >: {{ k.words }}.</template
          ><template v-else>{{ k.words }}</template>
        </li>
      </ol>
      <dl class="text-[0.95rem] leading-snug">
        <template v-for="[name, words] in demands" :key="name">
          <dt class="font-semibold">{{ name }}</dt>
          <dd class="pb-1">{{ words }}</dd>
        </template>
      </dl>
    </div>
  </div>
</template>
