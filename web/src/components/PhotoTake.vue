<script setup lang="ts">
// Pictures to a record: taken or chosen, scaled down here, sent before the record.
import { ref, watch } from 'vue'
import { dropPhoto, keepPhoto, photoAddress } from '@/lib/photos'

const sums = defineModel<string[]>({ required: true })
const failure = ref('')
const busy = ref(false)
const shown = ref<Record<string, string>>({})
watch(
  sums,
  async (list) => {
    for (const sum of list) shown.value[sum] ??= await photoAddress(sum)
  },
  { immediate: true },
)

async function take(e: Event) {
  const field = e.target as HTMLInputElement
  const file = field.files?.[0]
  if (!file) return
  failure.value = ''
  busy.value = true
  try {
    const sum = await keepPhoto(file)
    if (!sums.value.includes(sum)) sums.value = [...sums.value, sum]
  } catch {
    failure.value = globalThis.isSecureContext
      ? 'It could not be read, or this device has no room for it.'
      : 'Pictures need an https address.'
  } finally {
    busy.value = false
    field.value = ''
  }
}

function leaveOut(sum: string) {
  sums.value = sums.value.filter((s) => s !== sum)
  void dropPhoto(sum)
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-3">
    <figure v-for="(sum, n) in sums" :key="sum" class="flex items-center gap-1" :data-photo="sum">
      <img :src="shown[sum]" :alt="`picture ${n + 1}`" class="border-line h-16 rounded-md border" />
      <button type="button" class="quiet" :aria-label="`leave picture ${n + 1} out`" @click="leaveOut(sum)">✕</button>
    </figure>
    <label v-if="sums.length < 4" class="plain inline-flex min-h-12! cursor-pointer items-center">
      {{ busy ? 'scaling it down…' : sums.length ? 'another picture' : 'a picture' }}
      <input type="file" accept="image/*" capture="environment" class="sr-only" data-take @change="take" />
    </label>
    <p v-if="failure" class="text-stop" role="alert">■ {{ failure }}</p>
  </div>
</template>
