<script setup lang="ts">
// A range by large taps: one band, or from one to another; then each end by a metre.
import { computed } from 'vue'
import { show, toShown, unitOf } from '@/lib/units'

type Span = { low_m: number; high_m: number }
const props = defineProps<{ span: Span | undefined; bands: readonly (readonly [number, number])[]; most: number }>()
const emit = defineEmits<{ change: [span: Span | undefined]; answered: [] }>()

const within = (b: readonly [number, number]) =>
  props.span !== undefined && b[0] < props.span.high_m && b[1] > props.span.low_m
/** One band, or all from the one that is chosen to this one; the one that is chosen alone is let go. */
function tap(b: readonly [number, number]) {
  const s = props.span
  if (s && s.low_m === b[0] && s.high_m === b[1]) emit('change', undefined)
  else if (s && !within(b)) emit('change', { low_m: Math.min(s.low_m, b[0]), high_m: Math.max(s.high_m, b[1]) })
  else {
    emit('change', { low_m: b[0], high_m: b[1] })
    emit('answered')
  }
}
const ends = computed(() => (props.span ? (['low_m', 'high_m'] as const) : []))
function move(end: 'low_m' | 'high_m', by: number) {
  const s = { ...props.span! }
  s[end] = Math.min(props.most, Math.max(end === 'high_m' ? 1 : 0, Math.round(s[end] + by)))
  if (s.low_m <= s.high_m) emit('change', s)
}
const words = (b: readonly [number, number]) => `${toShown(b[0], 'm')}–${toShown(b[1], 'm')} ${unitOf('m')}`
</script>

<template>
  <div>
    <div class="grid grid-cols-3 gap-2" role="group">
      <button
        v-for="b in bands"
        :key="b[0]"
        type="button"
        class="plain figure min-h-14!"
        :aria-pressed="within(b)"
        :class="within(b) ? 'border-accent! border-2! font-semibold' : ''"
        @click="tap(b)"
      >
        {{ words(b) }}
      </button>
    </div>
    <div v-for="end in ends" :key="end" class="mt-2 flex items-center gap-2">
      <span class="text-soft w-16">{{ end === 'low_m' ? 'at least' : 'at most' }}</span>
      <button
        type="button"
        class="plain min-h-14! min-w-14!"
        :aria-label="`${end === 'low_m' ? 'At least' : 'At most'}: a metre less`"
        @click="move(end, -1)"
      >
        −
      </button>
      <b class="figure w-20 text-center" :data-end="end">{{ show(span![end], 'm') }}</b>
      <button
        type="button"
        class="plain min-h-14! min-w-14!"
        :aria-label="`${end === 'low_m' ? 'At least' : 'At most'}: a metre more`"
        @click="move(end, 1)"
      >
        +
      </button>
    </div>
  </div>
</template>
