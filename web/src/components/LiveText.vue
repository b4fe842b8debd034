<script setup lang="ts">
// Words that are edited where they are read.
import { computed, nextTick, ref } from 'vue'
import { useDraft } from '@/stores/draft'

const props = withDefaults(
  defineProps<{
    value: string
    label: string
    empty?: string
    long?: boolean
    date?: boolean
    required?: boolean
    pointer?: string
  }>(),
  { empty: 'not stated', pointer: '' },
)
const emit = defineEmits<{ set: [value: string] }>()

const draft = useDraft()
const typing = ref(false)
const text = ref('')
const wrong = ref('')
const input = ref<HTMLInputElement | HTMLTextAreaElement>()
const fault = computed(() => (props.pointer ? draft.faultAt(props.pointer) : undefined))

async function type() {
  text.value = props.value
  wrong.value = ''
  typing.value = true
  await nextTick()
  input.value?.focus()
  // What is typed takes the place of what is there; a long text is read and added to.
  if (!props.long && !props.date) input.value?.select()
}

function finish() {
  if (!typing.value) return
  const t = text.value.trim()
  if (t === '' && props.required) {
    wrong.value = 'must not be empty'
    return
  }
  typing.value = false
  if (t !== props.value) emit('set', t)
}
</script>

<template>
  <span class="inline-flex max-w-full flex-col items-start align-top" :data-pointer="pointer || undefined">
    <textarea
      v-if="typing && long"
      ref="input"
      v-model="text"
      rows="3"
      :aria-label="label"
      class="border-accent bg-raised w-full min-w-[18rem] rounded border-2 p-2 leading-normal"
      @keydown.escape="typing = false"
      @blur="finish"
    />
    <input
      v-else-if="typing"
      ref="input"
      v-model="text"
      :type="date ? 'date' : 'text'"
      :aria-label="label"
      class="border-accent bg-raised h-[40px] rounded border-2 px-2"
      @keydown.enter.prevent="finish"
      @keydown.escape="typing = false"
      @blur="finish"
    />
    <button
      v-else
      type="button"
      class="live text-left"
      :class="{ prose: long && value }"
      :aria-label="`${label}: ${value || empty}. Change`"
      @click="type"
    >
      {{ value || empty }}
    </button>
    <span v-if="wrong || fault" class="text-stop text-sm leading-tight" role="alert">■ {{ wrong || fault }}</span>
  </span>
</template>
