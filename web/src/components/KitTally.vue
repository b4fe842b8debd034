<script setup lang="ts">
// What belongs in a kit, as a tally: one mark a thing, full where it is there.
import type { CountedKit } from '@/api/client'

defineProps<{ kit: CountedKit; label: (item: string) => string }>()
</script>

<template>
  <table class="w-full text-[0.95rem]">
    <tbody>
      <tr v-for="(l, n) in kit.lines" :key="n" class="border-line border-t align-top" :data-line="n">
        <th scope="row" class="w-2/5 py-1 pr-3 text-left font-normal">{{ l.words }}</th>
        <td class="py-1">
          <svg
            :width="Math.max(l.wanted, 1) * 18"
            height="18"
            role="img"
            :aria-label="`${l.items.length} of ${l.wanted}`"
            class="mr-2 inline-block max-w-full align-middle"
          >
            <template v-for="i in l.wanted" :key="i">
              <rect v-if="i <= l.items.length" :x="i * 18 - 16" y="3" width="12" height="12" fill="var(--ink)" />
              <path
                v-else
                :d="`M${i * 18 - 16} 3h12v12h-12z`"
                fill="none"
                stroke="var(--stop)"
                stroke-width="1.5"
                stroke-dasharray="3 2"
              />
            </template>
          </svg>
          <b v-if="l.items.length < l.wanted" class="text-stop mr-2">■ {{ l.wanted - l.items.length }} short</b>
          <span class="text-soft text-sm"> {{ l.items.map(label).join(', ') }}</span>
          <span v-if="l.unfit?.length" class="text-look block text-sm"
            >◆ not counted: {{ l.unfit.map(label).join(', ') }}</span
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>
