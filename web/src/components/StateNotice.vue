<script setup lang="ts">
// What stands in the place of a page, or of a part of one that has its own heading, while
// there is nothing to show yet.
defineProps<{ title: string; detail?: string; busy?: boolean; part?: boolean }>()
</script>

<template>
  <div class="mx-auto max-w-xl px-6 py-24 text-center" :role="busy ? 'status' : 'alert'">
    <component :is="part ? 'h2' : 'h1'">{{ title }}</component>
    <p v-if="detail" class="text-soft mt-3">{{ detail }}</p>
    <div v-if="busy" class="bg-line mx-auto mt-6 h-1 w-40 overflow-hidden rounded">
      <div class="bg-accent h-full w-1/3 animate-pulse" />
    </div>
    <div class="mt-6 flex justify-center gap-3"><slot /></div>
  </div>
</template>
