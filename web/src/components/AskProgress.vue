<script setup lang="ts">
// How far something is that takes long: a count, a bar, and a way to stop it.
import { computed } from 'vue'
import type { Progress } from '@/api/client'

const props = defineProps<{ shown?: Progress; what: string }>()
const emit = defineEmits<{ stop: [] }>()

const percent = computed(() => Math.round(100 * (props.shown?.part ?? 0)))
const count = computed(() => {
  const p = props.shown
  if (!p?.total) return 'waiting for its turn'
  const n = (x: number) => x.toLocaleString('en').replaceAll(',', '\u202f')
  return `${percent.value} %, ${n(p.done)} of ${p.most ? 'at most ' : ''}${n(p.total)} ${p.of} looked at`
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
      <span
        class="bg-line mt-1 block h-2 overflow-hidden rounded"
        role="progressbar"
        :aria-label="what"
        :aria-valuenow="shown.total ? percent : undefined"
      >
        <span class="bg-accent block h-full" :style="{ width: `${percent}%` }" />
      </span>
    </span>
    <button type="button" class="plain" data-stop @click="emit('stop')">Stop</button>
  </div>
</template>
