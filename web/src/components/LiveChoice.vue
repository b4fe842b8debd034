<script setup lang="ts" generic="T extends string | number | boolean">
// One of a few words, chosen where it is read.
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { computed } from 'vue'
import { useDraft } from '@/stores/draft'

const props = withDefaults(
  defineProps<{
    value: T
    options: { value: T; words: string; note?: string }[]
    label: string
    pointer?: string
    /** What it is on nearly every rig: anything else stands out. Left out: nothing is. */
    usual?: T
  }>(),
  { pointer: '', usual: undefined },
)
defineEmits<{ set: [value: T] }>()

const draft = useDraft()
const words = computed(() => props.options.find((o) => o.value === props.value)?.words ?? String(props.value))
const unusual = computed(() => props.usual !== undefined && props.value !== props.usual)
const fault = computed(() => (props.pointer ? draft.faultAt(props.pointer) : undefined))
</script>

<template>
  <Listbox :model-value="value" @update:model-value="$emit('set', $event)">
    <span class="relative inline-flex flex-col align-top leading-normal" :data-pointer="pointer || undefined">
      <span class="caption" aria-hidden="true">{{ label }}</span>
      <ListboxButton
        class="live text-left"
        :class="unusual ? 'unusual' : usual !== undefined ? 'usual' : ''"
        :aria-label="`${label}: ${words}${unusual ? ', unusual' : ''}. Change`"
      >
        <span v-if="unusual" aria-hidden="true">◆&nbsp;</span>{{ words
        }}<span aria-hidden="true" class="ml-1 text-xs">▾</span>
      </ListboxButton>
      <ListboxOptions
        class="border-soft bg-raised absolute top-full left-0 z-30 max-h-80 min-w-48 overflow-auto rounded-md border py-1 shadow-lg"
      >
        <ListboxOption
          v-for="o in options"
          v-slot="{ active, selected }"
          :key="String(o.value)"
          :value="o.value"
          as="template"
        >
          <li
            class="flex min-h-11 cursor-pointer items-center gap-2 px-3 py-1 whitespace-nowrap"
            :class="active ? 'bg-accent text-on-accent' : ''"
          >
            <span class="w-4" aria-hidden="true">{{ selected ? '✓' : '' }}</span>
            <span
              >{{ o.words }}<span v-if="o.note" class="ml-2 text-sm opacity-80">{{ o.note }}</span></span
            >
          </li>
        </ListboxOption>
      </ListboxOptions>
      <span v-if="fault" class="text-stop text-sm leading-tight" role="alert">■ {{ fault }}</span>
    </span>
  </Listbox>
</template>
