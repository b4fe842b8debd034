<script setup lang="ts">
// A score: a lane for each strand, a column for each step, a bar where something is on,
// heavy where it bears or is live, hatched where it is not made sure of; figures under
// the staves.
import { useElementSize, useScroll } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { SheetFigures, SheetLane } from '@/lib/sheet'

const props = withDefaults(
  defineProps<{
    lanes: SheetLane[]
    figures: SheetFigures[]
    steps: number
    step: number
    title: string
    name: string
    column?: number
    /** Words stand in the heavy bars. */
    words?: boolean
  }>(),
  { column: 34, words: false },
)
const emit = defineEmits<{ step: [n: number] }>()

const label = 146
const row = 28
const x = (n: number) => n * props.column
const ink = { main: 'var(--main)', backup: 'var(--backup)', clipped: 'var(--note)' }

const placed = computed(() => {
  let y = 20
  return props.lanes.map((lane) => {
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
const count = computed(() => props.steps + 1)
const width = computed(() => count.value * props.column)
const bottom = computed(() => placed.value.reduce((m, l) => Math.max(m, ...l.rows.map((r) => r.y)), 0) + row)
const numbers = computed(() => bottom.value + 19 * props.figures.length + 19)
const height = computed(() => numbers.value + 16)

const box = ref<HTMLElement>()
const { x: scrolled } = useScroll(box)
const { width: room } = useElementSize(box)
/** How much of the columns is seen at once. */
const seen = computed(() => Math.max(0, room.value - label))
/** The first and last step whose whole column is seen, where not all of them are. */
const part = computed(() => {
  if (!seen.value || width.value <= seen.value + 1) return undefined
  const first = Math.ceil((scrolled.value - 1) / props.column)
  const last = Math.floor((scrolled.value + seen.value + 1) / props.column) - 1
  return { first, last: Math.min(last, props.steps) }
})
const goTo = (at: number) => box.value?.scrollTo({ left: at, behavior: 'smooth' })

/** The overview is a map of the whole: what is pressed there comes into the middle. */
function press(e: MouseEvent) {
  const map = (e.currentTarget as Element).getBoundingClientRect()
  goTo(((e.clientX - map.left) / map.width) * width.value - seen.value / 2)
}

/** The current column stays in view. */
watch(
  () => props.step,
  (n) => {
    const b = box.value
    if (b && (x(n) < b.scrollLeft || x(n + 1) > b.scrollLeft + seen.value)) b.scrollLeft = x(n) - seen.value / 2
  },
)
</script>

<template>
  <div>
    <div ref="box" class="flex overflow-x-auto" tabindex="0" role="region" :aria-label="name">
      <!-- the names stay in view -->
      <svg
        :width="label"
        :height="height"
        class="sticky left-0 z-10 block shrink-0"
        style="background: var(--ground)"
        aria-hidden="true"
      >
        <g v-for="lane in placed" :key="lane.name">
          <text x="0" :y="lane.top + 10" class="text-[13px] font-semibold" :fill="ink[lane.role]">{{ lane.name }}</text>
          <text v-for="r in lane.rows" :key="r.key" x="8" :y="r.y + 4" class="text-[12.5px]" fill="var(--ink)">
            {{ r.label }}
          </text>
        </g>
        <text
          v-for="(line, i) in figures"
          :key="line.words"
          x="0"
          :y="bottom + 14 + 19 * i"
          class="text-[12.5px]"
          fill="var(--soft)"
        >
          {{ line.words }}
        </text>
      </svg>
      <svg :width="width" :height="height" class="block shrink-0" role="img" :aria-label="title">
        <defs>
          <pattern id="score-loose" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="3" height="6" fill="var(--stop)" />
          </pattern>
        </defs>
        <rect :x="x(step)" y="0" :width="column" :height="height" fill="var(--rock)" />
        <g v-for="lane in placed" :key="lane.name">
          <g v-for="r in lane.rows" :key="r.key">
            <line :x1="0" :x2="width" :y1="r.y" :y2="r.y" stroke="var(--line)" />
            <g v-for="b in r.bars" :key="b.from">
              <rect
                :x="x(b.from) + 2"
                :y="r.y - (b.heavy ? 10 : 4)"
                :width="(b.to - b.from) * column - 4"
                :height="b.heavy ? 20 : 8"
                rx="3"
                :fill="b.loose ? 'url(#score-loose)' : ink[lane.role]"
                :stroke="b.loose ? ink[lane.role] : undefined"
              >
                <title>{{ r.label }} {{ b.words }}</title>
              </rect>
              <template v-if="words && b.heavy && b.words.length * 7 + 20 < (b.to - b.from) * column">
                <rect
                  :x="x(b.from) + 7"
                  :y="r.y - 8"
                  :width="b.words.length * 7 + 8"
                  height="16"
                  rx="2"
                  fill="var(--ground)"
                />
                <text :x="x(b.from) + 11" :y="r.y + 4" class="text-[12px]" fill="var(--ink)">{{ b.words }}</text>
              </template>
            </g>
          </g>
        </g>
        <g v-for="(line, i) in figures" :key="line.words">
          <text
            v-for="(f, n) in line.of"
            :key="n"
            :x="x(n) + column / 2"
            :y="bottom + 14 + 19 * i"
            text-anchor="middle"
            class="figure text-[11.5px]"
            :fill="line.bad?.(n) ? 'var(--stop)' : 'var(--ink)'"
            :font-weight="line.bad?.(n) ? 700 : 400"
          >
            {{ f }}
          </text>
        </g>
        <g v-for="n in count" :key="n">
          <text
            :x="x(n - 1) + column / 2"
            :y="numbers"
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
    <div v-if="part" class="no-print border-line flex items-center gap-3 border-t pt-1" data-overview>
      <button type="button" class="quiet text-sm" :disabled="part.first <= 0" @click="goTo(scrolled - seen * 0.8)">
        ← {{ part.first > 0 ? `${part.first} before` : 'start' }}
      </button>
      <svg
        :viewBox="`0 0 ${width} ${bottom}`"
        preserveAspectRatio="none"
        class="border-line bg-raised h-9 min-w-0 flex-1 cursor-pointer rounded border"
        role="img"
        :aria-label="`Steps ${part.first} to ${part.last} of ${steps} are shown`"
        @click="press"
      >
        <template v-for="lane in placed" :key="lane.name">
          <template v-for="r in lane.rows" :key="r.key">
            <rect
              v-for="b in r.bars"
              :key="b.from"
              :x="x(b.from)"
              :y="r.y - (b.heavy ? 10 : 5)"
              :width="(b.to - b.from) * column"
              :height="b.heavy ? 20 : 10"
              :fill="b.loose ? 'var(--stop)' : ink[lane.role]"
            />
          </template>
        </template>
        <rect :x="x(step)" y="0" :width="column" :height="bottom" fill="var(--accent)" opacity="0.35" />
        <rect
          :x="scrolled"
          y="0"
          :width="seen"
          :height="bottom"
          fill="none"
          stroke="var(--ink)"
          stroke-width="3"
          vector-effect="non-scaling-stroke"
        />
      </svg>
      <button
        type="button"
        class="quiet text-sm"
        :disabled="part.last >= steps"
        data-later
        @click="goTo(scrolled + seen * 0.8)"
      >
        {{ part.last < steps ? `${steps - part.last} more` : 'end' }} →
      </button>
    </div>
  </div>
</template>
