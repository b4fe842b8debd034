<script setup lang="ts">
// A drawing of the core, as it comes: nothing is drawn here but its shapes and words.
import type { components } from '@/api/schema'

defineProps<{ drawing: components['schemas']['Drawing'] }>()

const inks = {
  rope: 'var(--main)',
  outline: 'var(--ink)',
  soft: 'var(--soft)',
  sign: 'var(--ink)',
  moving: 'var(--accent)',
  wrong: 'var(--stop)',
}
</script>

<template>
  <svg
    :viewBox="`0 0 ${drawing.width} ${drawing.height}`"
    role="img"
    :aria-label="drawing.text"
    fill="none"
    stroke-linecap="round"
    stroke-linejoin="round"
    data-picture
  >
    <path
      v-for="(s, i) in drawing.shapes"
      :key="i"
      :d="s.path"
      :stroke="inks[s.ink]"
      :stroke-width="s.width"
      :stroke-dasharray="s.dashed ? '6 5' : undefined"
      :fill="s.filled ? inks[s.ink] : s.path.endsWith('Z') ? 'var(--ground)' : 'none'"
      :class="s.moves ? `moves-${s.moves}` : ''"
    />
    <text
      v-for="(l, i) in drawing.labels"
      :key="`w${i}`"
      :x="l.x"
      :y="l.y"
      :text-anchor="l.anchor"
      fill="var(--ink)"
      font-size="15"
    >
      {{ l.words }}
    </text>
  </svg>
</template>
