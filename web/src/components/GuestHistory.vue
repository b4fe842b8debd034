<script setup lang="ts">
// A guest's item with its past, from the file of another team: whose it is and by what paper
// it may be used is said here, where the file does not.
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, type History, type Problem } from '@/api/client'
import { count } from '@/lib/words'

const emit = defineEmits<{ taken: [item: string] }>()

const client = useQueryClient()
const file = ref<History>()
const refused = ref('')
const owner = ref('')
const guest = ref({ certificate: '', examiner: '', valid_until: '' })
const ready = computed(() => file.value && owner.value.trim() && Object.values(guest.value).every((v) => v.trim()))

async function choose(e: Event) {
  file.value = undefined
  refused.value = ''
  const text = await (e.target as HTMLInputElement).files?.[0]?.text()
  if (!text) return
  try {
    const h = JSON.parse(text) as History
    if (h.format !== 'item-history') throw new Error()
    file.value = h
    owner.value = h.item.owner ?? ''
    guest.value = { ...guest.value, ...h.item.guest }
  } catch {
    refused.value = 'This is no history of an item.'
  }
}

async function take() {
  if (!file.value) return
  const item = { ...file.value.item, owner: owner.value.trim(), guest: guest.value }
  const answer = await api.POST('/api/v1/items/history', { body: { ...file.value, item } }).catch(() => undefined)
  const problem = answer?.error as Problem | undefined
  refused.value = !answer
    ? 'No connection: nothing was taken in.'
    : problem
      ? [problem.detail, ...(problem.errors ?? []).map((f) => f.detail)].filter(Boolean).join(': ')
      : ''
  if (!answer?.data) return
  await client.invalidateQueries({ queryKey: ['gear'] })
  emit('taken', item.id)
}
</script>

<template>
  <details class="border-line mt-6 border-t pt-3" data-guest-history>
    <summary class="cursor-pointer py-2 font-semibold">A guest’s item, with its history</summary>
    <p class="text-soft max-w-prose">
      Somebody brings an item of their own, and the file that its team gave them. What was recorded there stays theirs;
      what happened to it comes with it.
    </p>
    <label class="mt-2 block max-w-96"
      >File<input type="file" class="field" accept=".json,application/json" data-history-file @change="choose"
    /></label>
    <p v-if="refused" class="text-stop mt-2" role="alert">■ {{ refused }}</p>
    <form v-if="file" class="mt-3 grid gap-x-5 gap-y-3 @2xl:grid-cols-2" @submit.prevent="take">
      <p class="col-span-full">
        <b>{{ file.item.label }}</b>, {{ file.model.maker }} {{ file.model.name }}, serial {{ file.item.serial }}, from
        {{ file.team }}; {{ count(file.records?.length ?? 0, 'record') }} there.
      </p>
      <label>Whose it is<input v-model="owner" class="field" maxlength="80" required data-guest-owner /></label>
      <label
        >Its paper<input v-model="guest.certificate" class="field" maxlength="80" required data-guest-paper
      /></label>
      <label
        >Examined by<input v-model="guest.examiner" class="field" maxlength="80" required data-guest-examiner
      /></label>
      <label
        >Valid until<input v-model="guest.valid_until" type="date" class="field" required data-guest-until
      /></label>
      <button type="submit" class="strong col-span-full justify-self-start" :disabled="!ready" data-guest-take>
        Take it in
      </button>
    </form>
  </details>
</template>
