<script setup lang="ts">
// A button that acts when it is held for a second, by finger or key: what it does is meant.
import { onBeforeUnmount, ref } from 'vue'

defineProps<{ words: string; held: string }>()
const emit = defineEmits<{ done: [] }>()

const holdMs = 1000
const holding = ref(false)
let timer: ReturnType<typeof setTimeout> | undefined

function begin(e: Event) {
  if (e instanceof KeyboardEvent && (e.repeat || (e.key !== 'Enter' && e.key !== ' '))) return
  if (e instanceof PointerEvent && e.button !== 0) return
  holding.value = true
  clearTimeout(timer)
  timer = setTimeout(() => {
    holding.value = false
    emit('done')
  }, holdMs)
}
function leave() {
  clearTimeout(timer)
  holding.value = false
}
onBeforeUnmount(leave)
</script>

<template>
  <button
    type="button"
    class="bg-accent text-on-accent relative min-h-20 w-full touch-none overflow-hidden rounded-md text-xl font-bold select-none"
    data-hold
    @pointerdown="begin"
    @pointerup="leave"
    @pointerleave="leave"
    @pointercancel="leave"
    @keydown="begin"
    @keydown.enter.prevent
    @keydown.space.prevent
    @keyup="leave"
    @blur="leave"
    @contextmenu.prevent
  >
    <span
      class="bg-ink absolute inset-y-0 left-0 w-full origin-left opacity-25 ease-linear"
      :class="holding ? 'scale-x-100 transition-transform duration-1000' : 'scale-x-0'"
      aria-hidden="true"
    />
    <span class="relative">{{ holding ? held : words }}</span>
  </button>
</template>
