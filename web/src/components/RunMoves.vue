<script setup lang="ts">
// The moves of a run that are stepped through: the present step with its call and answer.
// Rescues come last, folded until one is under way.
import { computed, ref } from 'vue'
import type { RunDocument, RunEvent, RunState } from '@/api/client'

const props = defineProps<{ run: RunDocument; state: RunState; running: boolean; may: boolean }>()
defineEmits<{ give: [event: Omit<RunEvent, 'id' | 'given_at' | 'by'>] }>()
const rescues = computed(() => new Set((props.run.moves ?? []).filter((m) => m.of === 'rescue').map((m) => m.id)))
const open = ref(false)
const folded = computed(() => (props.state.moves ?? []).filter((m) => rescues.value.has(m.move) && !m.begun_at))
const shown = computed(() => (props.state.moves ?? []).filter((m) => open.value || !folded.value.includes(m)))
</script>

<template>
  <section v-for="m in shown" :key="m.move" class="border-line border-b py-3" :data-run-move="m.move">
    <h2>
      {{ m.name }} <span class="text-soft text-base font-normal">step {{ m.step }} of {{ m.of }}</span>
    </h2>
    <p v-if="m.begun_at" class="text-soft figure text-sm">
      {{ Math.round(m.elapsed_s) }} s, planned {{ Math.round(m.planned_s) }} s
    </p>
    <template v-if="m.begun_at && m.next && !m.done_at">
      <p v-if="m.next.call" class="text-accent text-lg font-semibold">
        “{{ m.next.call }}” — wait for {{ m.next.answer ? `“${m.next.answer}”` : 'the answer' }}
      </p>
      <p class="text-lg">{{ m.step + 1 }}. {{ m.next.say }}</p>
      <button
        v-if="running && may"
        type="button"
        class="strong mt-2 min-h-14!"
        data-step-done
        @click="$emit('give', { kind: 'step', move: m.move, step: m.step + 1 })"
      >
        done: next
      </button>
    </template>
    <p v-else-if="m.begun_at && !m.done_at">
      All steps are tapped.
      <button
        v-if="running && may"
        type="button"
        class="strong ml-2 min-h-14!"
        data-move-done
        @click="$emit('give', { kind: 'done', move: m.move })"
      >
        the move is done
      </button>
    </p>
    <p v-else>
      <span v-if="m.done_at">Done. </span>
      <button
        v-if="running && may"
        type="button"
        class="plain min-h-14!"
        data-begin
        @click="$emit('give', { kind: 'begin', move: m.move })"
      >
        {{ m.done_at ? 'do it again' : 'begin' }}
      </button>
    </p>
  </section>
  <button
    v-if="folded.length"
    type="button"
    class="quiet -ml-2 mt-2 min-h-12"
    :aria-expanded="open"
    data-rescues
    @click="open = !open"
  >
    {{ open ? 'fold' : 'step through' }} {{ folded.length === 1 ? 'the planned rescue' : 'the planned rescues' }}
  </button>
</template>
