<script setup lang="ts">
// Every word of the job as the program uses it, and what other regions call it.
import { computed, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { glossary } from '@/api/glossary'
import { termKnots } from '@/api/knots'
import KnotPictures from '@/components/KnotPictures.vue'

const route = useRoute()
const letters = ref('')
watch(
  () => route.query.find,
  (wanted) => (letters.value = typeof wanted === 'string' ? wanted : ''),
  { immediate: true },
)
const opened = reactive(new Set<string>())
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
          <details v-if="termKnots[t.word]" @toggle="opened.add(t.word)">
            <summary class="quiet -ml-2 text-sm">how it is tied, as a picture</summary>
            <KnotPictures v-if="opened.has(t.word)" :knots="[termKnots[t.word]!]" />
          </details>
        </dd>
      </div>
    </dl>
    <p v-if="!shown.length" class="mt-4">No word with these letters.</p>
  </main>
</template>
