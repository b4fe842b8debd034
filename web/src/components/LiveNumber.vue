<script setup lang="ts">
// A figure that is edited where it is read: click or Enter to type, arrow keys
// to step, drag sideways to change it while looking at the rail.
import { computed, nextTick, ref } from 'vue'
import { useDraft } from '@/stores/draft'
import { fromShown, toShown, unitOf } from '@/lib/units'
import { plainNumber, typedNumber } from '@/lib/words'

const props = withDefaults(
  defineProps<{
    value: number
    unit?: string
    /** What the figure is, for those who do not see the sentence around it. */
    label: string
    step?: number
    min?: number
    max?: number
    /** Where the figure is in the drop document, so that a refusal finds it. */
    pointer?: string
    /** What it is on nearly every rig: anything else stands out. Left out: nothing is. */
    usual?: number
  }>(),
  { unit: '', step: 0.1, min: -1e6, max: 1e6, pointer: '', usual: undefined },
)
const emit = defineEmits<{ set: [value: number, dragging: boolean] }>()

const draft = useDraft()
const unusual = computed(() => props.usual !== undefined && props.value !== props.usual)
const typing = ref(false)
const text = ref('')
const wrong = ref('')
const input = ref<HTMLInputElement>()
const button = ref<HTMLButtonElement>()
const fault = computed(() => (props.pointer ? draft.faultAt(props.pointer) : undefined))
const dragPixels = 6
/** The figure as it is shown; what is kept is metric. */
const shown = (n: number) => plainNumber(toShown(n, props.unit))

let drag: { x: number; from: number; moved: boolean } | undefined

function bounded(n: number): number {
  const steps = Math.round(n / props.step) * props.step
  return Math.min(props.max, Math.max(props.min, Number(steps.toFixed(6))))
}

async function type() {
  text.value = shown(props.value)
  wrong.value = ''
  typing.value = true
  await nextTick()
  input.value?.select()
}

function finish() {
  if (!typing.value) return
  const typed = typedNumber(text.value)
  // What was not changed is not rounded by the way it is shown.
  const same = text.value === shown(props.value)
  const n = typed === undefined ? undefined : same ? props.value : fromShown(typed, props.unit)
  if (n === undefined) wrong.value = 'a plain number, please'
  else if (n < props.min || n > props.max) wrong.value = `between ${shown(props.min)} and ${shown(props.max)}`
  else {
    typing.value = false
    if (n !== props.value) emit('set', n, false)
    void nextTick(() => button.value?.focus())
    return
  }
  input.value?.focus()
}

function stepBy(n: number) {
  emit('set', bounded(props.value + n * props.step), false)
}

function down(e: PointerEvent) {
  drag = { x: e.clientX, from: props.value, moved: false }
  ;(e.currentTarget as HTMLElement).setPointerCapture(e.pointerId)
}

function move(e: PointerEvent) {
  if (!drag) return
  const n = Math.trunc((e.clientX - drag.x) / dragPixels)
  if (n === 0 && !drag.moved) return
  const value = bounded(drag.from + n * props.step)
  if (value === props.value) return
  // The first move is an edit of its own, so that undo goes back to before it.
  emit('set', value, drag.moved)
  drag.moved = true
}

function up() {
  const moved = drag?.moved
  drag = undefined
  if (!moved) void type()
}
</script>

<template>
  <span class="inline-flex flex-col items-start align-top leading-[44px]" :data-pointer="pointer || undefined">
    <span class="caption leading-normal" aria-hidden="true">{{ label }}</span>
    <span v-if="typing" class="inline-flex items-center gap-1">
      <input
        ref="input"
        v-model="text"
        inputmode="decimal"
        :aria-label="label"
        :aria-invalid="wrong !== ''"
        class="figure border-accent bg-raised h-[40px] w-[6.5rem] rounded border-2 px-2"
        @keydown.enter.prevent="finish"
        @keydown.escape="typing = false"
        @blur="finish"
      />{{ unitOf(unit) }}
    </span>
    <button
      v-else
      ref="button"
      type="button"
      class="live figure cursor-ew-resize"
      :class="usual === undefined ? '' : unusual ? 'unusual' : 'usual'"
      :aria-label="`${label}: ${shown(value)} ${unitOf(unit)}${unusual ? ', unusual' : ''}. Enter to type, arrow keys to step`"
      @click.prevent
      @keydown.enter.prevent="type"
      @keydown.up.prevent="stepBy(1)"
      @keydown.down.prevent="stepBy(-1)"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @pointercancel="drag = undefined"
    >
      <span v-if="unusual" aria-hidden="true">◆&nbsp;</span>{{ shown(value)
      }}<template v-if="unit">&nbsp;{{ unitOf(unit) }}</template>
    </button>
    <span v-if="wrong || fault" class="text-stop text-sm leading-tight" role="alert">■ {{ wrong || fault }}</span>
  </span>
</template>
