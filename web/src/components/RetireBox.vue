<script setup lang="ts">
// Retiring an item for good: why, and how and by whom it was destroyed.
import { computed, ref } from 'vue'
import type { Item } from '@/api/client'
import PhotoTake from '@/components/PhotoTake.vue'
import { today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

const props = defineProps<{ item: Item }>()
const outbox = useOutbox()
const session = useSession()
const open = ref(false)
const why = ref('')
const how = ref('')
const by = ref('')
const photos = ref<string[]>([])
const waits = computed(() =>
  outbox.waiting.some((k) => k.entry.item === props.item.id && k.entry.kind === 'retirement'),
)

function begin() {
  by.value ||= session.name
  open.value = true
}

function sign() {
  const kept = outbox.record(props.item.label, {
    kind: 'retirement',
    day: today(),
    item: props.item.id,
    note: why.value.trim(),
    destroyed: { how: how.value.trim(), by: by.value.trim() },
    ...(photos.value.length ? { photos: photos.value } : {}),
  })
  if (kept) open.value = false
}
</script>

<template>
  <p v-if="waits" class="text-look mt-3">◆ That it is retired is on its way.</p>
  <button v-else-if="!open" type="button" class="plain no-print mt-3" data-retire @click="begin">
    Retire it for good
  </button>
  <form v-else class="border-stop mt-3 grid max-w-xl gap-2 border-l-4 pl-3" @submit.prevent="sign">
    <label>Why <input v-model="why" class="field" maxlength="380" required data-why /></label>
    <label>
      Destroyed how
      <input v-model="how" class="field" maxlength="120" required placeholder="cut into pieces of a metre" data-how />
    </label>
    <label>By whom <input v-model="by" class="field" maxlength="80" required data-by /></label>
    <PhotoTake v-model="photos" />
    <p class="text-stop">■ It does not come back, and plans that count on it go back to draft.</p>
    <p class="flex gap-3">
      <button
        type="submit"
        class="strong min-h-12!"
        :disabled="!why.trim() || !how.trim() || !by.trim()"
        data-sign-retire
      >
        Destroyed, signed
      </button>
      <button type="button" class="plain min-h-12!" @click="open = false">Leave it</button>
    </p>
  </form>
</template>
