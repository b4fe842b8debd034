<script setup lang="ts">
// The score of a move: a lane for each strand, a column for each step, a bar where a
// hold is on, heavy where it bears the weight. One bar never ends before the next
// begins.
import { computed, ref, watch } from 'vue'
import type { Drop, MovePlan } from '@/api/client'
import { score, stances, worst } from '@/lib/score'
import { show } from '@/lib/units'

const props = defineProps<{ drop: Drop; plan: MovePlan; step: number }>()
const emit = defineEmits<{ step: [n: number] }>()

const label = 140
const column = 34
const row = 28

/** The column that is looked at stays in view. */
const box = ref<HTMLElement>()
watch(
  () => props.step,
  (n) => {
    const b = box.value
    if (b && (x(n) < b.scrollLeft + label || x(n + 1) > b.scrollLeft + b.clientWidth))
      b.scrollLeft = x(n) - b.clientWidth / 2
  },
)

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
const height = computed(() => bottom.value + 92)
const x = (n: number) => label + n * column
const ink = { main: 'var(--main)', backup: 'var(--backup)', clipped: 'var(--note)' }
const unit = computed(() => show(0, 'm').split(' ')[1])
const falls = computed(() => [undefined, ...props.plan.steps].map((s) => worst(s)))
const held = computed(() => stances(props.plan).map((s) => (s.grounded ? '' : String(s.held ?? 0))))
const settles = computed(() => [
  '',
  ...props.plan.steps.map((s) => (s.settle_m ? show(s.settle_m, 'm').split(' ')[0]! : '')),
])
/** The figures under the staves, a line each. */
const figures = computed(() => [
  { words: 'independent holds', of: held.value, bad: (n: number) => held.value[n] !== '' && Number(held.value[n]) < 2 },
  { words: `settles, ${unit.value}`, of: settles.value, bad: () => false },
  {
    words: `worst fall, ${unit.value}`,
    of: falls.value.map((f, n) => (n === 0 ? '' : f.held ? show(f.fall, 'm').split(' ')[0]! : '■')),
    bad: (n: number) => !falls.value[n]!.held,
  },
])
</script>

<template>
  <div ref="box" class="overflow-x-auto" tabindex="0" role="group" aria-label="Score of the move">
    <svg
      :width="width"
      :height="height"
      class="block"
      role="img"
      :aria-label="`${plan.move}, ${plan.steps.length} steps`"
    >
      <defs>
        <pattern id="score-loose" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="3" height="6" fill="var(--stop)" />
        </pattern>
      </defs>
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
            :fill="b.loose ? 'url(#score-loose)' : ink[lane.role]"
            :stroke="b.loose ? ink[lane.role] : undefined"
          >
            <title>
              {{ r.label }}{{ b.loose ? ' is unlocked or unproved' : b.bears ? ' bears the weight' : ' is on' }}
            </title>
          </rect>
        </g>
      </g>
      <g v-for="(line, i) in figures" :key="line.words">
        <text x="0" :y="bottom + 14 + 19 * i" class="text-[12.5px]" fill="var(--soft)">{{ line.words }}</text>
        <text
          v-for="(f, n) in line.of"
          :key="n"
          :x="x(n) + column / 2"
          :y="bottom + 14 + 19 * i"
          text-anchor="middle"
          class="figure text-[11.5px]"
          :fill="line.bad(n) ? 'var(--stop)' : 'var(--ink)'"
          :font-weight="line.bad(n) ? 700 : 400"
        >
          {{ f }}
        </text>
      </g>
      <g v-for="n in count" :key="n">
        <text
          :x="x(n - 1) + column / 2"
          :y="bottom + 76"
          text-anchor="middle"
          class="figure text-[12px]"
          fill="var(--soft)"
        >
          {{ n === 1 ? 'start' : n - 1 }}
        </text>
        <rect
          :x="x(n - 1)"
          y="0"
          :width="column"
          :height="height"
          fill="transparent"
          class="cursor-pointer"
          :data-column="n - 1"
          @click="emit('step', n - 1)"
        />
      </g>
    </svg>
  </div>
</template>
