<script setup lang="ts">
// What the instructions of things say to take care of: of each model once, in the
// manufacturer's words as they were entered.
import { computed } from 'vue'
import type { Drop } from '@/api/client'
import { modelOf } from '@/lib/gear'

const props = defineProps<{ drop: Drop; items: (string | undefined)[] }>()

const models = computed(() => {
  const all = props.items.map((i) => (i ? modelOf(props.drop, i) : undefined))
  return [...new Set(all)].filter((m) => m?.cautions?.length)
})
</script>

<template>
  <ul v-if="models.length" class="my-2 max-w-prose" data-cautions>
    <template v-for="m in models" :key="m!.id">
      <li v-for="words in m!.cautions" :key="words">
        <b>Caution, {{ m!.name }}:</b> {{ words }}
        <span v-if="m!.source" class="text-soft text-sm">({{ m!.source }})</span>
      </li>
    </template>
  </ul>
</template>
