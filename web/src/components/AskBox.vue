<script setup lang="ts">
// Chooses a question, and says how far the answer is, that there is none, or what was refused:
// the same for a person's moves, a team's and a rescue.
import type { Progress } from '@/api/client'
import { moveWords } from '@/lib/words'
import AskProgress from './AskProgress.vue'

defineProps<{
  moves?: { name: string; does: string }[]
  move?: string
  shown?: Progress
  what: string
  impossible?: string
  undecided?: boolean
  /** What there is not. */
  none?: string
  faults?: { pointer: string; detail: string }[]
}>()
const emit = defineEmits<{ choose: [move: string]; stop: [] }>()
</script>

<template>
  <div v-if="moves" class="no-print mt-2 flex flex-wrap gap-2" role="group" aria-label="Move">
    <button
      v-for="m in moves"
      :key="m.name"
      type="button"
      class="plain"
      :class="m.name === move ? 'border-accent! border-2! font-semibold' : ''"
      :aria-pressed="m.name === move"
      :title="m.does"
      :data-move="m.name"
      @click="emit('choose', m.name)"
    >
      {{ moveWords(m.name) }}
    </button>
    <slot name="more" />
  </div>
  <slot />
  <AskProgress :shown="shown" :what="what" @stop="emit('stop')" />
  <p v-if="impossible" class="border-stop bg-raised mt-4 rounded-md border-2 p-3" role="alert" data-impossible>
    <b class="text-stop">■ {{ undecided ? 'Not decided, so no plan' : (none ?? 'No way') }}:</b> {{ impossible }}.
  </p>
  <p v-for="f in faults" :key="f.pointer" class="text-look mt-4" role="alert">◆ {{ f.detail }}</p>
</template>
