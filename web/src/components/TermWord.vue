<script setup lang="ts">
// A word of the job that explains itself where it is focused or tapped. The glossary is
// fetched with the first one that is.
import { nextTick, ref, useId } from 'vue'
import type { Term } from '@/api/glossary'

const props = defineProps<{ word: string }>()

const id = useId()
const button = ref<HTMLButtonElement>()
const panel = ref<HTMLElement>()
const term = ref<Term>()
const at = ref({ left: '0px', top: '0px' })

/** What is closed while its words are fetched stays closed. */
let wanted = false

async function open() {
  wanted = true
  const { glossary } = await import('@/api/glossary')
  if (!wanted) return
  term.value = glossary.find((t) => t.word === props.word)
  await nextTick()
  if (!button.value || !panel.value) return
  const word = button.value.getBoundingClientRect()
  const box = panel.value.getBoundingClientRect()
  const below = word.bottom + 4 + box.height < innerHeight
  at.value = {
    left: `${Math.max(8, Math.min(word.left, innerWidth - box.width - 8))}px`,
    top: `${below ? word.bottom + 4 : word.top - box.height - 4}px`,
  }
}

function close() {
  wanted = false
  term.value = undefined
}

/** A finger does not focus a button in every browser. */
function tapped() {
  if (term.value) return
  button.value?.focus()
  void open()
}
</script>

<template>
  <span class="inline-block">
    <button
      ref="button"
      type="button"
      class="term"
      :aria-describedby="term ? id : undefined"
      :data-term="word"
      @focus="open"
      @blur="close"
      @click="tapped"
      @keydown.esc="close"
    >
      <slot>{{ word }}</slot>
    </button>
    <span
      v-if="term"
      :id="id"
      ref="panel"
      role="tooltip"
      class="border-soft bg-raised text-ink fixed z-50 w-80 max-w-[calc(100vw-1rem)] rounded-md border p-3 text-base font-normal shadow-lg"
      :style="at"
      data-term-means
    >
      <b>{{ term.word }}</b>: {{ term.means }}
      <span v-if="term.also" class="text-soft block text-sm">also called: {{ term.also.join(', ') }}</span>
    </span>
  </span>
</template>
