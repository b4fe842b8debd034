<script setup lang="ts">
// The rail close up: the body at a step of a move with its holds, to one scale. What
// bears is heavy; what the worst failure would do is drawn beside it when asked for.
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import type { Drop, MoveStep } from '@/api/client'
import { closeUp, type Shape } from '@/lib/close'
import { show } from '@/lib/units'
import LiveChoice from './LiveChoice.vue'

const props = defineProps<{
  drop: Drop
  person: string
  stance: MoveStep['after']
  worst?: MoveStep['fail_one'][number]
}>()

const seenFrom = useLocalStorage<'front' | 'back'>('moves-seen-from', 'front')
const hand = useLocalStorage<'right' | 'left'>('moves-brake-hand', 'right')

const width = 300
const height = 340
const perMetre = 105
const view = computed(() => closeUp(props.drop, props.stance, seenFrom.value === 'back'))
const x = (m: number) => width / 2 + m * perMetre
const y = (m: number) => height * 0.62 - (m - props.stance.at_m) * perMetre
const ink = { main: 'var(--main)', backup: 'var(--backup)', structure: 'var(--ink)' }
/** Own outlines, none of a real thing: only kinds are distinguished. */
const outline: Record<Shape, string> = {
  descender: 'M-9 -13h18v26h-18z',
  chest: 'M-10 9L0 -11L10 9z',
  hand: 'M-10 9L0 -11L10 9zM-4 9v7h8v-7',
  backup: 'M-11 0a11 11 0 1 0 22 0a11 11 0 1 0 -22 0',
  lanyard: 'M-7 -4h14v8h-14z',
}
const grip = computed(() => {
  const d = view.value.holds.find((h) => h.shape === 'descender' && h.bears && !h.parked)
  if (!d) return undefined
  const side = (hand.value === 'right') === (seenFrom.value === 'front') ? -1 : 1
  return { from: { x: x(d.x), y: y(d.at) + 12 }, to: { x: x(d.x) + side * 46, y: y(props.stance.at_m) + 44 }, side }
})
</script>

<template>
  <figure class="no-print w-[300px]">
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      :width="width"
      :height="height"
      class="border-line block rounded-md border"
      role="img"
      :aria-label="`Close up from the ${seenFrom}: ${view.words}`"
    >
      <defs>
        <pattern id="loose" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="3" height="6" fill="var(--stop)" />
        </pattern>
      </defs>
      <g v-for="l in view.lines" :key="l.key" fill="none" :stroke="ink[l.role]">
        <path
          :d="l.points.map((p, i) => `${i ? 'L' : 'M'}${x(p.x)} ${y(p.at)}`).join('')"
          :stroke-width="4"
          :stroke-dasharray="l.role === 'backup' ? '9 5' : undefined"
        />
      </g>
      <g v-for="m in view.marks" :key="m.key">
        <circle :cx="x(m.x)" :cy="y(m.at)" r="7" :fill="ink[m.role]" />
        <text :x="x(m.x) + 12" :y="y(m.at) + 4" font-size="11" fill="var(--soft)">{{ m.name }}</text>
      </g>
      <!-- the body: a plain shape with its two points -->
      <rect
        :x="x(0) - 17"
        :y="y(stance.at_m + 0.62)"
        width="34"
        :height="perMetre * 0.62 + 24"
        rx="17"
        fill="var(--rock)"
        stroke="var(--ink)"
        stroke-width="1.5"
      />
      <path
        v-if="stance.standing"
        :d="`M${x(0)} ${y(stance.at_m) + 24}V${y(stance.at_m - 0.9)}m-9 0h18`"
        stroke="var(--ink)"
        stroke-width="3"
        fill="none"
      />
      <g v-for="h in view.holds" :key="h.item">
        <path
          :d="`M${x(0)} ${y(stance.at_m + h.from)}L${x(h.x)} ${y(h.at)}`"
          :stroke="h.bears ? 'var(--ink)' : 'var(--soft)'"
          :stroke-width="h.bears ? 5 : 2"
          fill="none"
        />
        <g :transform="`translate(${x(h.x)} ${y(h.at)})`">
          <path
            :d="outline[h.shape]"
            :fill="h.loose ? 'url(#loose)' : h.bears ? ink[h.role] : 'var(--ground)'"
            :stroke="ink[h.role]"
            stroke-width="2.5"
          />
          <path v-if="h.parked" d="M-14 0h28" stroke="var(--ink)" stroke-width="3" />
        </g>
        <text
          :x="h.left ? x(h.x) - 17 : x(h.x) + 17"
          :y="y(h.label) + 4"
          :text-anchor="h.left ? 'end' : 'start'"
          font-size="11.5"
          :font-weight="h.bears ? 700 : 400"
          fill="var(--ink)"
          stroke="var(--ground)"
          stroke-width="3"
          paint-order="stroke"
        >
          {{ h.words }}
          <tspan v-if="h.state" :x="h.left ? x(h.x) - 17 : x(h.x) + 17" dy="12" font-size="10.5">{{ h.state }}</tspan>
        </text>
      </g>
      <g v-if="grip">
        <path
          :d="`M${grip.from.x} ${grip.from.y}Q${grip.from.x} ${grip.to.y - 14} ${grip.to.x} ${grip.to.y}`"
          stroke="var(--main)"
          stroke-width="3"
          fill="none"
        />
        <circle :cx="grip.to.x" :cy="grip.to.y" r="7" fill="var(--accent)" />
        <text :x="grip.to.x" :y="grip.to.y + 21" text-anchor="middle" font-size="11" fill="var(--accent)">hand</text>
      </g>
      <g v-if="worst && worst.held" stroke="var(--stop)" fill="none" data-ghost>
        <rect
          :x="x(0) - 17"
          :y="y(stance.at_m + 0.62 - worst.free_fall_m)"
          width="34"
          :height="perMetre * 0.62 + 24"
          rx="17"
          stroke-width="2"
          stroke-dasharray="4 4"
        />
        <path
          :d="`M${x(0) + 30} ${y(stance.at_m)}V${y(stance.at_m - worst.free_fall_m)}m-5 -6l5 6l5 -6`"
          stroke-width="2"
        />
        <text :x="x(0) + 38" :y="y(stance.at_m) + 30" font-size="12" fill="var(--stop)" stroke="none">
          ■ falls {{ show(worst.free_fall_m, 'm') }}
        </text>
      </g>
      <text v-if="worst && !worst.held" x="10" y="20" font-size="13" font-weight="700" fill="var(--stop)">
        ■ nothing holds
      </text>
    </svg>
    <figcaption class="text-soft flex flex-wrap items-center gap-x-1 text-sm">
      Seen from the
      <LiveChoice
        :value="seenFrom"
        :options="[
          { value: 'front' as const, words: 'front' },
          { value: 'back' as const, words: 'back' },
        ]"
        label="Seen from"
        @set="(v) => (seenFrom = v)"
      />
      brake hand
      <LiveChoice
        :value="hand"
        :options="[
          { value: 'right' as const, words: 'right' },
          { value: 'left' as const, words: 'left' },
        ]"
        label="Brake hand"
        @set="(v) => (hand = v)"
      />
      <span>Slanting strands are drawn across.</span>
    </figcaption>
  </figure>
</template>
