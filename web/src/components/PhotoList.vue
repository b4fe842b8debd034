<script setup lang="ts">
// The pictures that a record names, each opened by itself.
import { ref, watch } from 'vue'
import { photoAddress } from '@/lib/photos'

const props = defineProps<{ sums: string[] }>()
const at = ref<Record<string, string>>({})
watch(
  () => props.sums,
  async (list) => {
    for (const sum of list) at.value[sum] ??= await photoAddress(sum)
  },
  { immediate: true },
)
</script>

<template>
  <span class="mt-1 flex flex-wrap gap-2">
    <a v-for="(sum, n) in sums" :key="sum" :href="at[sum]" target="_blank" :data-photo="sum">
      <img
        :src="at[sum]"
        :alt="`picture ${n + 1} of the record`"
        class="border-line h-20 rounded-md border"
        loading="lazy"
      />
    </a>
  </span>
</template>
