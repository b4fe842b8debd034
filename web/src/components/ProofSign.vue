<script setup lang="ts">
// A plain drawing of what a proof does: a rope, a block on it, and what moves.
import type { Proof } from '@/api/client'
import { signs } from '@/api/icons'

defineProps<{ sign?: Proof['sign'] }>()
</script>

<template>
  <svg viewBox="0 0 132 120" class="h-[120px] w-[132px]" fill="none" stroke-linecap="round" aria-hidden="true">
    <path d="M50 6v108" stroke="var(--main)" stroke-width="5" />
    <rect x="34" y="42" width="32" height="38" rx="6" fill="var(--ground)" stroke="var(--ink)" stroke-width="3" />
    <path d="M50 54v14m-5 -9l5 -6 5 6" stroke="var(--ink)" stroke-width="2.5" />
    <path :d="signs[sign ?? 'look']" stroke="var(--accent)" stroke-width="3.5" stroke-linejoin="round" />
  </svg>
</template>
