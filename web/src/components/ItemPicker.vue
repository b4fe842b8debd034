<script setup lang="ts">
// Picks one of a few free items of the store, where what fits need not be tried.
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import type { Item, Model } from '@/api/client'

defineProps<{ items: { item: Item; model: Model }[]; words: string }>()
defineEmits<{ pick: [item: Item, model: Model] }>()
</script>

<template>
  <Listbox @update:model-value="(o) => $emit('pick', o.item, o.model)">
    <span class="relative inline-block leading-normal">
      <ListboxButton class="plain" :disabled="!items.length">{{ words }} ({{ items.length }} free) ▾</ListboxButton>
      <ListboxOptions
        class="border-soft bg-raised absolute z-30 max-h-80 max-w-[min(85vw,40rem)] overflow-auto rounded-md border py-1 shadow-lg"
      >
        <ListboxOption v-for="o in items" v-slot="{ active }" :key="o.item.id" :value="o" as="template">
          <li
            class="min-h-11 cursor-pointer px-3 py-2 wrap-anywhere sm:min-w-72"
            :class="active ? 'bg-accent text-on-accent' : ''"
          >
            {{ o.item.label }} <span class="text-sm opacity-80">{{ o.model.name }}</span>
          </li>
        </ListboxOption>
      </ListboxOptions>
    </span>
  </Listbox>
</template>
