<script setup lang="ts">
// The small outline of a thing that bears: of its kind, not of a product.
import { computed } from 'vue'
import type { Model } from '@/api/client'
import { icons } from '@/api/icons'

const props = defineProps<{ model?: Model }>()

const strokes = computed(() => {
  const m = props.model
  const wheel = m?.backup?.kind === 'wheel' ? 'locking-wheel' : undefined
  return icons[m?.device?.looks?.rope_path ?? wheel ?? m?.class ?? ''] ?? []
})
</script>

<template>
  <svg
    v-if="strokes.length"
    viewBox="0 0 270 320"
    class="h-10 shrink-0"
    aria-hidden="true"
    fill="none"
    stroke-linecap="round"
    stroke-linejoin="round"
    data-icon
  >
    <path
      v-for="s in strokes"
      :key="s.path"
      :d="s.path"
      :stroke="s.ink === 'rope' ? 'var(--main)' : 'var(--ink)'"
      :stroke-width="s.width"
    />
  </svg>
</template>
