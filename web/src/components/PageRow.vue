<script setup lang="ts">
// A line or a few of a page, with the notes that speak of it level beside it.
import { computed } from 'vue'
import { useDraft } from '@/stores/draft'
import FindingNote from './FindingNote.vue'

const props = defineProps<{
  /** Keys of the things these lines are about. */
  about?: string[]
}>()

const draft = useDraft()
const notes = computed(() => draft.about(...(props.about ?? [])))
</script>

<template>
  <div class="grid gap-x-8 @4xl:grid-cols-[minmax(0,1fr)_300px]">
    <div class="min-w-0"><slot /></div>
    <div
      v-if="notes.length"
      class="space-y-3 pt-2 @max-4xl:mb-4 @max-4xl:pl-4"
      role="group"
      aria-label="Findings about this"
    >
      <FindingNote v-for="f in notes" :key="f.rule + f.subject.id + f.what" :finding="f" />
    </div>
  </div>
</template>
