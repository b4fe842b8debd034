<script setup lang="ts">
// An item by its label: scanned by a hand scanner that types, typed as a code, or found by
// the letters of its name.
import { computed, ref } from 'vue'
import type { Item } from '@/api/client'
import { codeIn, isShaped } from '@/lib/codes'
import CameraScan from './CameraScan.vue'

const props = defineProps<{ items: Item[] }>()
const emit = defineEmits<{ item: [item: Item] }>()

const text = ref('')
const said = ref('')
const camera = ref(false)
const maxItems = 8
const found = computed(() => {
  const wanted = text.value.trim().toLowerCase()
  const code = codeIn(text.value)
  if (!wanted || props.items.some((i) => i.code === code)) return []
  return props.items
    .filter((i) => i.state !== 'retired' && `${i.label} ${i.serial}`.toLowerCase().includes(wanted))
    .sort((a, b) => a.label.localeCompare(b.label, undefined, { numeric: true }))
    .slice(0, maxItems)
})

/** Takes what was scanned or typed; false where no item has it. */
function take(what: string): boolean {
  const code = codeIn(what)
  const wanted = what.trim().toLowerCase()
  // A name may be shaped like a code; what is neither a name nor a code is not guessed at.
  const item =
    props.items.find((i) => i.label.toLowerCase() === wanted) ??
    props.items.find((i) => i.code === code) ??
    (isShaped(code) ? undefined : found.value[0])
  if (!item) {
    said.value = isShaped(code)
      ? `No item has the code ${code}: look whether it was misread.`
      : `No item is called ${what.trim()}.`
    return false
  }
  said.value = text.value = ''
  camera.value = false
  emit('item', item)
  return true
}
</script>

<template>
  <div>
    <form class="flex gap-2" @submit.prevent="text.trim() && take(text)">
      <label class="flex-1">
        <span class="sr-only">Scan, or type a code or a name</span>
        <input
          v-model="text"
          class="field min-h-14!"
          placeholder="scan, or type a code or a name"
          autocomplete="off"
          autocapitalize="off"
          spellcheck="false"
          data-scan
          @input="said = ''"
        />
      </label>
      <button type="button" class="plain min-h-14!" data-camera @click="camera = !camera">camera</button>
    </form>
    <p v-if="said" class="text-look mt-1" role="status" data-said>◆ {{ said }}</p>
    <CameraScan v-if="camera" @read="take" @close="camera = false" />
    <ul v-if="found.length" class="border-line bg-raised mt-1 rounded-md border">
      <li v-for="i in found" :key="i.id" class="border-line border-b last:border-b-0">
        <button
          type="button"
          class="flex min-h-12 w-full flex-wrap items-center gap-x-3 px-3 text-left"
          :data-found-item="i.id"
          @click="take(i.code ?? i.label)"
        >
          <span class="flex-1">{{ i.label }}</span><span class="figure text-soft text-sm">{{ i.serial }}</span>
        </button>
      </li>
    </ul>
  </div>
</template>
