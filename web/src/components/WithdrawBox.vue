<script setup lang="ts">
// Withdrawing a record: a new record that says why; the old one stays to be seen.
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { ref, watch } from 'vue'
import type { RecordLine } from '@/api/client'
import { kindWords } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'

const props = defineProps<{ record?: RecordLine }>()
const emit = defineEmits<{ close: [] }>()

const outbox = useOutbox()
const why = ref('')
watch(
  () => props.record,
  () => (why.value = ''),
)

function withdraw() {
  const r = props.record
  if (!r || !why.value.trim()) return
  outbox.record(`record ${r.number}`, {
    kind: 'withdrawal',
    day: r.says.day,
    corrects: r.says.id,
    note: why.value.trim(),
    // What it was about, so that it counts no more on this device until it is sent.
    ...(r.says.drop ? { drop: r.says.drop } : {}),
    ...(r.says.item ? { item: r.says.item } : {}),
    ...(r.says.person ? { person: r.says.person } : {}),
  })
  emit('close')
}
</script>

<template>
  <Dialog :open="record !== undefined" @close="emit('close')">
    <div class="fixed inset-0 z-40 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 z-50 flex items-center justify-center p-4">
      <DialogPanel class="bg-ground w-full max-w-md rounded-lg p-6 shadow-2xl">
        <DialogTitle as="h2" class="text-xl">Withdraw record {{ record?.number }}</DialogTitle>
        <p class="mt-2">
          “{{ record && kindWords[record.says.kind] }}”, signed by {{ record?.by }}. It stays to be seen, crossed out,
          and does not count any more.
        </p>
        <p v-if="record && ['examination', 'inspection', 'recall'].includes(record.says.kind)" class="mt-2">
          What it put into quarantine stays there until it is brought back.
        </p>
        <form class="mt-3 grid gap-3" @submit.prevent="withdraw">
          <label>Why<input v-model="why" class="field" maxlength="380" required /></label>
          <div class="flex gap-3">
            <button type="submit" class="strong">Withdraw and sign</button>
            <button type="button" class="plain" @click="emit('close')">Leave it</button>
          </div>
        </form>
      </DialogPanel>
    </div>
  </Dialog>
</template>
