<script setup lang="ts">
// What the program proposes for a day: what would be otherwise, what has no place, and what
// would help. Nothing is changed until it is taken.
import type { Filled } from '@/api/client'
import { count } from '@/lib/words'

defineProps<{ filled: Filled; names: Record<string, string>; taking: boolean; mine: boolean }>()
defineEmits<{ take: []; leave: [] }>()
</script>

<template>
  <section class="border-accent bg-raised mt-4 rounded-md border-2 p-4" role="status" data-filled>
    <h2>
      {{
        filled.changes.length ? `Proposed: ${count(filled.changes.length, 'change')}` : 'Proposed: it stays as it is'
      }}
    </h2>
    <p class="text-soft">
      {{
        filled.outcome === 'found'
          ? 'With times on the half hour from 06:00 to 20:00 no board leaves out fewer drops, or does it with fewer changes.'
          : '◆ Not decided: the search met its bound; fewer changes may do.'
      }}
      Who changes on a drop takes its plan back to draft.
    </p>
    <ul class="mt-2 list-disc pl-5">
      <li v-for="c in filled.changes" :key="c.drop + c.kind + c.is">
        {{ c.words }}<span v-if="c.kind === 'time' && c.was" class="text-soft">, was {{ c.was }}</span>
      </li>
    </ul>
    <p v-for="u in filled.unplaced" :key="u.drop" class="text-stop mt-2" data-unplaced>
      ■ {{ u.name }}: {{ filled.outcome === 'found' ? 'there is no place' : 'no place was found' }}. What would help:
      {{ u.help }}.
    </p>
    <p v-if="filled.report.stops" class="text-stop mt-2">
      ■ {{ count(filled.report.stops, 'stop') }} would still stand.
    </p>
    <ul class="text-look mt-2">
      <li v-for="n in filled.report.not_looked_at" :key="n">◆ Not looked at: {{ n }}</li>
    </ul>
    <div class="mt-3 flex flex-wrap gap-3">
      <button
        v-if="mine && filled.changes.length"
        type="button"
        class="strong"
        :disabled="taking"
        data-take
        @click="$emit('take')"
      >
        {{ taking ? 'Taking it over…' : 'Take it' }}
      </button>
      <button type="button" class="plain" :disabled="taking" @click="$emit('leave')">Leave it</button>
    </div>
  </section>
</template>
