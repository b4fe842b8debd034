<script setup lang="ts">
// Every word of the job as the program uses it, and what other regions call it.
import { computed, ref } from 'vue'
import { glossary } from '@/api/glossary'

const letters = ref('')
const shown = computed(() => {
  const find = letters.value.trim().toLowerCase()
  return glossary.filter((t) => [t.word, t.means, ...(t.also ?? [])].some((x) => x.toLowerCase().includes(find)))
})
</script>

<template>
  <main id="page" class="mx-auto max-w-3xl p-4">
    <h1>Glossary</h1>
    <p class="text-soft">One word stands for one thing. Other names of it are findable too.</p>
    <label class="mt-4 block">
      Find a word
      <input v-model="letters" class="field mt-1 block w-full" type="search" autocomplete="off" data-find-term />
    </label>
    <dl class="divide-line border-line mt-4 divide-y border-y">
      <div v-for="t in shown" :key="t.word" class="gap-x-6 py-2 sm:grid sm:grid-cols-[12rem_1fr]" data-glossary-term>
        <dt class="font-semibold">{{ t.word }}</dt>
        <dd>
          {{ t.means }}
          <span v-if="t.also" class="text-soft block text-sm">also called: {{ t.also.join(', ') }}</span>
        </dd>
      </div>
    </dl>
    <p v-if="!shown.length" class="mt-4">No word with these letters.</p>
  </main>
</template>
