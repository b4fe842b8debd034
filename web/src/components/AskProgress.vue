<script setup lang="ts">
// How far something is that takes long: a count, a bar, and a way to stop it.
import { computed } from 'vue'
import type { Progress } from '@/api/client'

const props = defineProps<{ shown?: Progress; what: string }>()
const emit = defineEmits<{ stop: [] }>()

const count = computed(() => {
  const p = props.shown
  if (!p?.total) return 'waiting for its turn'
  const n = (x: number) => x.toLocaleString('en').replaceAll(',', '\u202f')
  return `${n(p.done)} of ${p.most ? 'at most ' : ''}${n(p.total)} ${p.of} looked at`
})
</script>

<template>
  <div
    v-if="shown"
    class="border-line bg-raised my-3 flex flex-wrap items-center gap-x-4 gap-y-1 rounded-md border p-3"
    role="status"
    data-asking
  >
    <span class="min-w-44 flex-1">
      <b>{{ what }}</b> <span class="figure text-soft">{{ count }}</span>
      <progress
        class="accent-accent mt-1 block h-2 w-full"
        :value="shown.total ? shown.part : undefined"
        max="1"
        :aria-label="what"
      />
    </span>
    <button type="button" class="plain" data-stop @click="emit('stop')">Stop</button>
  </div>
</template>
