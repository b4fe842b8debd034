<script setup lang="ts">
// The cover of a drop beside its rail and to its scale: a strip for each person, whole
// where they are reached, hatched where not. Dragging, or the arrow keys, choose a height.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Drop } from '@/api/client'
import { makeScale, ticks } from '@/lib/rail'
import { show, toShown } from '@/lib/units'
import { plainNumber } from '@/lib/words'
import { useRescue } from '@/stores/rescue'

const props = defineProps<{ drop: Drop; /** No rail stands beside it. */ alone?: boolean }>()

const rescue = useRescue()
const box = ref<HTMLElement>()
const { height } = useElementSize(box, { width: 140, height: 640 })
const scale = computed(() => makeScale(props.drop, 290, height.value))
const cover = computed(() => rescue.answer!.cover)
const column = 44
const wide = computed(() => cover.value.people.length * column + (props.alone ? 190 : 16))
const right = computed(() => cover.value.people.length * column + 12)
const words = {
  covered: 'reached',
  slow: 'too slow',
  'last-resort': 'last resort only',
  undecided: 'not decided',
  uncovered: 'not reached',
}
const fill = {
  covered: 'var(--main)',
  slow: 'url(#cover-slow)',
  'last-resort': 'url(#cover-last)',
  undecided: 'url(#cover-undecided)',
  uncovered: 'url(#cover-none)',
}

/** Stretches that are covered alike. */
const runs = computed(() =>
  cover.value.people.map((p) => {
    const list: { from: number; to: number; state: keyof typeof words }[] = []
    for (const [i, s] of p.states.entries()) {
      const at = cover.value.heights_m[i]!
      const last = list.at(-1)
      if (last?.state === s.state) last.to = at + 0.5
      else list.push({ from: at - 0.5, to: at + 0.5, state: s.state })
    }
    return { p, list }
  }),
)
const stateAt = (person: string | undefined, m: number | undefined) => {
  const p = cover.value.people.find((o) => o.person === person)
  const i = cover.value.heights_m.findIndex((h) => m !== undefined && h >= m - 0.5)
  return p?.states[i]?.state
}
const spoken = computed(() => {
  const s = stateAt(rescue.who?.person, rescue.height)
  const before = rescue.current ? '' : ', before the last change'
  return `${rescue.who?.name ?? ''} at ${show(rescue.height ?? 0, 'm', 0)}: ${s ? words[s] : ''}${before}`
})

function move(e: PointerEvent) {
  const b = box.value?.getBoundingClientRect()
  if (!b || (e.type === 'pointermove' && !e.buttons)) return
  const most = cover.value.heights_m.at(-1) ?? 1
  const m = Math.round(Math.min(most, Math.max(1, scale.value.height(e.clientY - b.top))))
  const n = Math.min(cover.value.people.length - 1, Math.max(0, Math.floor((e.clientX - b.left - 8) / column)))
  const p = cover.value.people[n]
  if (p && (p.person !== rescue.who?.person || m !== rescue.height)) rescue.look(p.person, m)
}

function key(e: KeyboardEvent) {
  const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[e.key]
  const most = cover.value.heights_m.at(-1) ?? 1
  const people = cover.value.people
  const n = people.findIndex((p) => p.person === rescue.who?.person)
  if (by !== undefined && rescue.who)
    rescue.look(rescue.who.person, Math.min(most, Math.max(1, (rescue.height ?? 1) + by)))
  else if (e.key === 'ArrowRight' && people[n + 1]) rescue.look(people[n + 1]!.person, rescue.height ?? 1)
  else if (e.key === 'ArrowLeft' && people[n - 1]) rescue.look(people[n - 1]!.person, rescue.height ?? 1)
  else return
  e.preventDefault()
}
</script>

<template>
  <div
    ref="box"
    class="h-full touch-none select-none"
    :class="rescue.current ? '' : 'opacity-40'"
    :style="{ width: `${wide}px` }"
    role="slider"
    tabindex="0"
    aria-orientation="vertical"
    aria-label="Person and height that a rescue is checked for"
    :aria-valuenow="rescue.height ?? 0"
    aria-valuemin="1"
    :aria-valuemax="drop.geometry.top_m"
    :aria-valuetext="spoken"
    data-strip
    @pointerdown="move"
    @pointermove="move"
    @keydown="key"
  >
    <svg :width="wide" :height="height" class="block" aria-hidden="true">
      <defs>
        <pattern id="cover-none" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="8" height="8" fill="var(--ground)" />
          <rect width="3" height="8" fill="var(--stop)" />
        </pattern>
        <pattern id="cover-undecided" width="8" height="8" patternUnits="userSpaceOnUse">
          <rect width="8" height="8" fill="var(--ground)" />
          <path d="M0 0l8 8M8 0l-8 8" stroke="var(--stop)" stroke-width="1.5" />
        </pattern>
        <pattern id="cover-slow" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <rect width="8" height="8" fill="var(--ground)" />
          <rect width="4" height="8" fill="var(--look)" />
        </pattern>
        <pattern id="cover-last" width="8" height="8" patternUnits="userSpaceOnUse">
          <rect width="8" height="8" fill="var(--ground)" />
          <circle cx="4" cy="4" r="2" fill="var(--look)" />
        </pattern>
      </defs>
      <g v-if="alone" class="figure" font-size="12" fill="var(--soft)">
        <g v-for="t in ticks(scale.top, 6)" :key="t">
          <line :x1="right" :x2="right + 5" :y1="scale.y(t)" :y2="scale.y(t)" stroke="var(--soft)" />
          <text :x="right + 9" :y="scale.y(t) + 4">{{ plainNumber(toShown(t, 'm')) }}</text>
        </g>
        <g v-for="(w, state, i) in words" :key="state">
          <rect
            :x="right + 44"
            :y="40 + i * 26"
            width="18"
            height="14"
            :fill="fill[state]"
            stroke="var(--ink)"
            stroke-width="0.5"
          />
          <text :x="right + 68" :y="51 + i * 26" fill="var(--ink)">{{ w }}</text>
        </g>
      </g>
      <g v-for="(r, n) in runs" :key="r.p.person">
        <text
          :x="8 + n * column + 13"
          y="22"
          text-anchor="middle"
          class="text-[12.5px]"
          :font-weight="r.p.person === rescue.who?.person ? 700 : 400"
          fill="var(--ink)"
        >
          {{ r.p.name.split(' ')[0]!.slice(0, 6) }}
        </text>
        <rect
          v-for="run in r.list"
          :key="run.from"
          :x="8 + n * column"
          :y="scale.y(run.to)"
          width="26"
          :height="Math.max(2, scale.y(run.from) - scale.y(run.to))"
          :fill="fill[run.state]"
          stroke="var(--ink)"
          :stroke-width="r.p.person === rescue.who?.person ? 1.5 : 0.5"
        />
        <path
          v-if="r.p.person === rescue.who?.person && rescue.height !== undefined"
          :d="`M${4 + n * column} ${scale.y(rescue.height)}h34`"
          stroke="var(--accent)"
          stroke-width="4"
        />
      </g>
    </svg>
  </div>
</template>
