<script setup lang="ts">
// A drawing of the core, as it comes: nothing is drawn here but its shapes and words.
import type { components } from '@/api/schema'

import { computed } from 'vue'
import { say } from '@/lib/units'

const props = defineProps<{
  drawing: components['schemas']['Drawing']
  /** What of it is chosen, '' for nothing; left out: its parts cannot be. */
  chosen?: string
}>()
const emit = defineEmits<{ choose: [choice: string] }>()

const choices = computed(() => (props.chosen === undefined ? [] : props.drawing.shapes.filter((s) => s.choice)))

const inks = {
  rope: 'var(--main)',
  outline: 'var(--ink)',
  soft: 'var(--soft)',
  sign: 'var(--ink)',
  moving: 'var(--accent)',
  wrong: 'var(--stop)',
  other: 'var(--backup)',
}
</script>

<template>
  <svg
    :viewBox="`0 0 ${drawing.width} ${drawing.height}`"
    role="img"
    :aria-label="say(drawing.text)"
    fill="none"
    stroke-linecap="round"
    stroke-linejoin="round"
    data-picture
  >
    <path
      v-for="s in choices.filter((o) => o.choice === chosen)"
      :key="`c${s.choice}`"
      :d="s.path"
      stroke="var(--accent)"
      :stroke-width="s.width + 14"
      opacity="0.35"
    />
    <path
      v-for="(s, i) in drawing.shapes"
      :key="i"
      :d="s.path"
      :stroke="inks[s.ink]"
      :stroke-width="s.width"
      :stroke-dasharray="s.dashed ? '6 5' : undefined"
      :fill="s.filled ? inks[s.ink] : s.path.endsWith('Z') ? 'var(--ground)' : 'none'"
      :stroke-linecap="s.cut ? 'butt' : undefined"
      :class="s.moves ? `moves-${s.moves}` : ''"
    />
    <text
      v-for="(l, i) in drawing.labels"
      :key="`w${i}`"
      :x="l.x"
      :y="l.y"
      :text-anchor="l.anchor"
      fill="var(--ink)"
      :font-size="drawing.letters ?? 15"
      stroke="var(--ground)"
      stroke-width="4"
      paint-order="stroke"
    >
      {{ say(l.words) }}
    </text>
    <!-- what is chosen by hand: wide enough for a glove -->
    <path
      v-for="s in choices"
      :key="s.choice"
      :d="s.path"
      stroke="transparent"
      stroke-width="40"
      fill="transparent"
      class="cursor-pointer"
      :data-choice="s.choice"
      @click="emit('choose', s.choice!)"
    />
  </svg>
</template>
