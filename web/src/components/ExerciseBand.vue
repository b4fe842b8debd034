<script setup lang="ts">
// What says on every exercise that it is one.
defineProps<{ words?: string }>()
</script>

<template>
  <p
    class="border-look bg-raised mb-3 rounded-md border-2 border-dashed px-3 py-1 font-bold tracking-wide"
    data-exercise
  >
    EXERCISE<span v-if="words" class="font-normal tracking-normal"> · {{ words }}</span>
  </p>
</template>
