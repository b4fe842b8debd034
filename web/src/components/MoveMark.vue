<script setup lang="ts">
// What a move that was done is worth, with each rule that was broken.
import type { ExerciseMark } from '@/api/client'
import { scoreWords } from '@/lib/practice'
import { count } from '@/lib/words'

defineProps<{ mark: ExerciseMark; team?: boolean }>()
</script>

<template>
  <section class="border-line bg-raised mt-2 rounded-md border p-3" data-mark>
    <h2 role="status">
      {{ scoreWords(mark.score) }}{{ mark.done ? '' : ', not finished' }}:
      {{
        mark.breaches.some((b) => b.broken?.some((v) => v.severity === 'stop'))
          ? 'a rule was broken'
          : 'no rule was broken'
      }}
    </h2>
    <template v-for="b in mark.breaches" :key="b.step">
      <p v-for="v in b.broken ?? []" :key="v.rule + v.why">
        step {{ b.step }}
        <b :class="v.severity === 'stop' ? 'text-stop' : 'text-look'"
          >{{ v.severity === 'stop' ? '■' : '◆' }} {{ v.rule }}</b
        >
        {{ v.why }}
      </p>
      <p v-if="b.impossible">step {{ b.step }} <b class="text-stop">■ cannot be done:</b> {{ b.impossible }}</p>
    </template>
    <p class="figure">
      {{ team ? count(mark.holds ?? 0, 'step') : `${mark.holds ?? 0} holds put on or taken off` }}, about
      {{ Math.round(mark.seconds ?? 0) }} s. The engine's own: {{ mark.best?.holds }},
      {{ Math.round(mark.best?.seconds ?? 0) }} s. Only what is broken counts.
    </p>
    <slot />
  </section>
</template>
