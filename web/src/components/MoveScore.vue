<script setup lang="ts">
// The score of a move: a lane for each strand, a column for each step, a bar where a
// hold is on, heavy where it bears the weight. One bar never ends before the next
// begins.
import { computed } from 'vue'
import type { Drop, MovePlan } from '@/api/client'
import { score, worst } from '@/lib/score'
import { show } from '@/lib/units'

const props = defineProps<{ drop: Drop; plan: MovePlan; step: number }>()
const emit = defineEmits<{ step: [n: number] }>()

const label = 150
const column = 40
const row = 28

const lanes = computed(() => {
  let y = 20
  return score(props.drop, props.plan).map((lane) => {
    const top = y
    const rows = lane.rows.map((r) => {
      const at = y + row / 2 + 18
      y += row
      return { ...r, y: at }
    })
    y += 30
    return { ...lane, top, rows }
  })
})
const count = computed(() => props.plan.steps.length + 1)
const width = computed(() => label + count.value * column)
const bottom = computed(() => lanes.value.reduce((m, l) => Math.max(m, ...l.rows.map((r) => r.y)), 0) + row)
const height = computed(() => bottom.value + 52)
const x = (n: number) => label + n * column
const ink = { main: 'var(--main)', backup: 'var(--backup)', clipped: 'var(--note)' }
const unit = computed(() => show(0, 'm').split(' ')[1])
const falls = computed(() => [undefined, ...props.plan.steps].map((s) => worst(s)))
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="group" aria-label="Score of the move">
    <svg
      :width="width"
      :height="height"
      class="block"
      role="img"
      :aria-label="`${plan.move}, ${plan.steps.length} steps`"
    >
      <rect :x="x(step)" y="0" :width="column" :height="height" fill="var(--rock)" />
      <g v-for="lane in lanes" :key="lane.name">
        <text x="0" :y="lane.top + 10" class="text-[13px] font-semibold" :fill="ink[lane.role]">{{ lane.name }}</text>
        <g v-for="r in lane.rows" :key="r.item">
          <text x="8" :y="r.y + 4" class="text-[12.5px]" fill="var(--ink)">{{ r.label }}</text>
          <line :x1="label" :x2="width" :y1="r.y" :y2="r.y" stroke="var(--line)" />
          <rect
            v-for="b in r.bars"
            :key="b.from"
            :x="x(b.from) + 2"
            :y="r.y - (b.bears ? 10 : 4)"
            :width="(b.to - b.from) * column - 4"
            :height="b.bears ? 20 : 8"
            rx="3"
            :fill="ink[lane.role]"
          >
            <title>{{ r.label }}{{ b.bears ? ' bears the weight' : ' is on' }}</title>
          </rect>
        </g>
      </g>
      <text x="0" :y="bottom + 14" class="text-[12.5px]" fill="var(--soft)">worst fall, {{ unit }}</text>
      <g v-for="(f, n) in falls" :key="n">
        <text
          :x="x(n) + column / 2"
          :y="bottom + 14"
          text-anchor="middle"
          class="figure text-[11.5px]"
          :fill="f.held ? 'var(--ink)' : 'var(--stop)'"
        >
          {{ n === 0 ? '' : f.held ? show(f.fall, 'm').split(' ')[0] : '■' }}
        </text>
        <text
          :x="x(n) + column / 2"
          :y="bottom + 34"
          text-anchor="middle"
          class="figure text-[12px]"
          fill="var(--soft)"
        >
          {{ n === 0 ? 'start' : n }}
        </text>
        <rect
          :x="x(n)"
          y="0"
          :width="column"
          :height="height"
          fill="transparent"
          class="cursor-pointer"
          :data-column="n"
          @click="emit('step', n)"
        />
      </g>
    </svg>
  </div>
</template>
