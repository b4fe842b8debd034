<script setup lang="ts">
// Back and on through the steps of a plan, and what one failure would do.
defineProps<{ step: number; count: number; failing: boolean }>()
defineEmits<{ go: [by: number]; fail: [] }>()
</script>

<template>
  <div class="flex flex-wrap gap-2">
    <button type="button" class="plain" :disabled="step === 0" @click="$emit('go', -1)">← back</button>
    <button type="button" class="strong" :disabled="step === count" @click="$emit('go', 1)">next step →</button>
    <button type="button" class="quiet" :aria-expanded="failing" @click="$emit('fail')">
      what if this fails?<kbd class="figure ml-2">f</kbd>
    </button>
  </div>
</template>
