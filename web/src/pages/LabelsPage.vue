<script setup lang="ts">
// Labels for items: chosen by class, place or name, on sheets of a size that is there.
import { computed, ref } from 'vue'
import { api, type Item } from '@/api/client'
import StateNotice from '@/components/StateNotice.vue'
import { useGear } from '@/lib/gear'

const gear = useGear()
const sheets = [
  { value: '70x37', words: '24 on a sheet, 70 × 37 mm', places: 24 },
  { value: '64x34', words: '24 on a sheet, 64 × 33.9 mm', places: 24 },
  { value: '38x21', words: '65 on a sheet, 38.1 × 21.2 mm', places: 65 },
  { value: '48x17', words: '64 on a sheet, 48.5 × 16.9 mm', places: 64 },
] as const
const sheet = ref<(typeof sheets)[number]['value']>('38x21')
const skip = ref(0)
const wanted = ref('')
const out = ref<string[]>([])
const failure = ref('')
const making = ref(false)
const classOf = (i: Item) => gear.models.value.get(i.model)?.class.replaceAll('-', ' ') ?? ''
const found = computed(() => {
  const text = wanted.value.trim().toLowerCase()
  return gear.items.value
    .filter(
      (i) =>
        i.state !== 'retired' && `${i.label} ${i.serial} ${i.place ?? ''} ${classOf(i)}`.toLowerCase().includes(text),
    )
    .sort((a, b) => a.label.localeCompare(b.label, undefined, { numeric: true }))
})
const chosen = computed(() => found.value.filter((i) => !out.value.includes(i.id)))
const places = computed(() => sheets.find((s) => s.value === sheet.value)!.places)

async function make() {
  failure.value = ''
  making.value = true
  try {
    const { data, error } = await api.POST('/api/v1/labels.pdf', {
      body: { items: chosen.value.map((i) => i.id), sheet: sheet.value, ...(skip.value ? { skip: skip.value } : {}) },
      parseAs: 'blob',
    })
    if (!data) {
      failure.value = (error as { detail?: string } | undefined)?.detail ?? 'no answer'
      return
    }
    const a = document.createElement('a')
    a.href = URL.createObjectURL(data as Blob)
    a.download = 'labels.pdf'
    a.click()
    URL.revokeObjectURL(a.href)
  } catch {
    failure.value = 'the server does not answer'
  } finally {
    making.value = false
  }
}
</script>

<template>
  <main id="page" class="mx-auto max-w-4xl px-5 py-6">
    <RouterLink to="/store" class="quiet -ml-2">← Store</RouterLink>
    <h1>Labels</h1>
    <p class="text-soft max-w-prose">
      Each item has a code that is given once and never changes. The label has it as a picture for the camera and in
      letters for everybody else.
    </p>
    <StateNotice v-if="gear.isPending.value" part title="Fetching the store" busy />
    <form v-else class="mt-3 grid max-w-xl gap-3" @submit.prevent="make">
      <label>
        Which items
        <input v-model="wanted" class="field" placeholder="name, class, place; empty: all" data-wanted />
      </label>
      <label>
        Sheet
        <select v-model="sheet" class="field" data-sheet>
          <option v-for="s in sheets" :key="s.value" :value="s.value">{{ s.words }}</option>
        </select>
      </label>
      <label>
        Places used already on the first sheet
        <input v-model.number="skip" class="field w-28" type="number" min="0" :max="places - 1" />
      </label>
      <p v-if="failure" class="text-stop" role="alert">■ Not made: {{ failure }}.</p>
      <button type="submit" class="strong min-h-12!" :disabled="!chosen.length || making" data-make>
        {{ chosen.length }} {{ chosen.length === 1 ? 'label' : 'labels' }}, PDF
      </button>
    </form>
    <ul class="mt-4 grid gap-x-5 sm:grid-cols-2">
      <li v-for="i in found" :key="i.id">
        <label class="flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            class="size-5"
            :checked="!out.includes(i.id)"
            @change="out = out.includes(i.id) ? out.filter((o) => o !== i.id) : [...out, i.id]"
          />
          <span class="flex-1">{{ i.label }}</span> <span class="figure text-soft text-sm">{{ i.code }}</span>
        </label>
      </li>
    </ul>
  </main>
</template>
