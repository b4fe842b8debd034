<script setup lang="ts">
// In what a model that is typed differs from the one it began with.
import { computed } from 'vue'

const props = defineProps<{ from: Record<string, unknown>; to: Record<string, unknown>; title: string }>()

/** Every figure and word of a thing, by where it stands. */
function flat(v: unknown, at: string, into: Map<string, string>) {
  if (v === undefined || v === null || v === '' || v === false) return into
  if (typeof v !== 'object') return into.set(at, String(v))
  for (const [k, e] of Object.entries(v))
    flat(e, at ? `${at}, ${Number.isNaN(Number(k)) ? k : Number(k) + 1}` : k, into)
  return into
}
const left = ['id', 'revision', 'follows', 'source']
const differ = computed(() => {
  const [a, b] = [flat(props.from, '', new Map()), flat(props.to, '', new Map())]
  return [...new Set([...a.keys(), ...b.keys()])]
    .filter((k) => !left.includes(k) && a.get(k) !== b.get(k))
    .map((k) => ({ name: k.replaceAll('_', ' '), was: a.get(k) ?? '–', is: b.get(k) ?? '–' }))
})
</script>

<template>
  <section class="border-line border-t pt-3" data-differences>
    <h2>What differs from {{ title }}</h2>
    <p v-if="!differ.length" class="text-soft">Nothing yet.</p>
    <ul>
      <li v-for="d in differ" :key="d.name" class="figure py-1 text-[0.95rem]">
        <span class="text-soft">{{ d.name }}:</span> {{ d.was }} → <b>{{ d.is }}</b>
      </li>
    </ul>
  </section>
</template>
