<script setup lang="ts">
// Where practitioners differ over a move: each question with what speaks for the way
// that is followed.
import { computed } from 'vue'
import type { Question, Schools } from '@/api/client'
import LiveChoice from './LiveChoice.vue'

const props = defineProps<{ questions: Question[]; chosen: Schools; team: Schools }>()
const emit = defineEmits<{ set: [name: keyof Schools, value: string] }>()

const lines = computed(() =>
  props.questions.map((q) => {
    const name = q.name as keyof Schools
    const team = props.team[name] || q.answers[0]!.value
    const value = props.chosen[name] || team
    return {
      ...q,
      name,
      value,
      own: value !== team,
      why: q.answers.find((a) => a.value === value)?.for ?? '',
      options: q.answers.map((a) => ({
        value: a.value,
        words: a.words,
        note: `${a.for}${a.value === team ? (props.team[name] ? ' (the team’s)' : ' (as shipped)') : ''}`,
      })),
    }
  }),
)
</script>

<template>
  <ul>
    <li
      v-for="l in lines"
      :key="l.name"
      class="border-line grid items-center gap-x-4 border-t sm:grid-cols-[17rem_1fr]"
      :data-school="l.name"
    >
      <span>{{ l.asks }}</span>
      <span class="flex flex-wrap items-center gap-x-3">
        <LiveChoice :value="l.value" :options="l.options" :label="l.asks" @set="(v) => emit('set', l.name, v)" />
        <span class="text-soft text-sm"> {{ l.own ? 'for this plan; ' : '' }}{{ l.why }}</span>
      </span>
    </li>
  </ul>
</template>
