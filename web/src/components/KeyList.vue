<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { pages } from '@/router'

defineProps<{ open: boolean }>()
defineEmits<{ close: [] }>()

const keys = [
  ...pages.map((p, i) => ({ key: String(i + 1), words: `${p.words} page` })),
  { key: 'c', words: 'curves: every figure at every height, beside the rail' },
  { key: 'g', words: 'everything found, in one place' },
  { key: '/', words: 'find a page, person, item or drop' },
  { key: 'u', words: 'undo the last change' },
  { key: 'r', words: 'redo what was undone' },
  { key: 'Enter', words: 'on a value: type it' },
  { key: '↑ ↓', words: 'on a value: step it; on a person on the rail: move them' },
  { key: 'Esc', words: 'leave a value as it was; close' },
  { key: '?', words: 'this list' },
]
</script>

<template>
  <Dialog :open="open" @close="$emit('close')">
    <div class="fixed inset-0 z-40 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 z-50 flex items-center justify-center p-4">
      <DialogPanel class="bg-ground w-full max-w-md rounded-lg p-6 shadow-2xl">
        <div class="flex items-center justify-between">
          <DialogTitle as="h2" class="text-xl">Keys</DialogTitle>
          <button type="button" class="plain" @click="$emit('close')">Close</button>
        </div>
        <dl class="mt-4 grid grid-cols-[5rem_1fr] gap-y-2">
          <template v-for="k in keys" :key="k.key">
            <dt>
              <kbd class="figure border-soft rounded border px-2 py-0.5">{{ k.key }}</kbd>
            </dt>
            <dd>{{ k.words }}</dd>
          </template>
        </dl>
        <p class="mt-4">
          <RouterLink :to="{ name: 'glossary' }" data-glossary @click="$emit('close')">All words of the job</RouterLink>
          : what each means, and what others call it. A dotted word explains itself.
        </p>
      </DialogPanel>
    </div>
  </Dialog>
</template>
