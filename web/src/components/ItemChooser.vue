<script setup lang="ts">
// Chooses an item of the store for a place: those that fit first, and why the
// others do not. Two or three can be held against each other.
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { say } from '@/lib/units'
import { api, must, type Choice, type Place } from '@/api/client'
import { put, useGear } from '@/lib/gear'
import { ink, shape } from '@/lib/words'
import { useDraft } from '@/stores/draft'
import CompareModels from './CompareModels.vue'

const props = defineProps<{ place?: Place; title: string }>()
const emit = defineEmits<{ close: [] }>()

const maxCompared = 3
const draft = useDraft()
const gear = useGear()
const compare = ref<string[]>([])
const onlyFit = ref(false)

const typed = ref('')
const where = computed(() => JSON.stringify(props.place))
const find = refDebounced(typed, 200)

const query = useQuery({
  queryKey: computed(() => ['choices', where.value, find.value, props.place ? JSON.stringify(draft.drop) : '']),
  queryFn: async () =>
    must(
      await api.POST('/api/v1/choices', {
        params: { query: { id: draft.id } },
        body: { drop: draft.drop!, place: props.place!, ...(find.value.trim() ? { find: find.value.trim() } : {}) },
      }),
    ),
  enabled: computed(() => props.place !== undefined),
  // What was there stays until what was typed is found; never what was there for another place.
  placeholderData: (before, of) => (of?.queryKey[1] === where.value ? before : undefined),
  gcTime: 0,
})
watch(
  () => props.place,
  () => {
    compare.value = []
    typed.value = ''
  },
)

/** Whether there are more than a person reads through. */
const many = computed(() => (query.data.value?.of ?? 0) > 12 || typed.value !== '')
const list = computed(() => (query.data.value?.choices ?? []).filter((c) => c.fits || c.chosen || !onlyFit.value))
const models = computed(() => [...new Set(compare.value)])

/** What else the letters may be of. */
function serialOf(c: Choice): string {
  const item = gear.items.value.find((i) => i.id === c.item)
  return [item?.serial, item?.code].filter(Boolean).join(' · ')
}

function take(c: Choice) {
  const place = props.place
  const item = gear.items.value.find((i) => i.id === c.item)
  const model = gear.models.value.get(c.model)
  emit('close')
  if (place && item && model) draft.edit((d) => put(d, place, c, item, model))
}

function toggle(model: string) {
  if (compare.value.includes(model)) compare.value = compare.value.filter((m) => m !== model)
  else if (compare.value.length < maxCompared) compare.value = [...compare.value, model]
}
</script>

<template>
  <Dialog :open="place !== undefined" @close="emit('close')">
    <div class="fixed inset-0 z-40 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 z-50 flex items-start justify-center overflow-y-auto p-3 sm:p-8">
      <DialogPanel class="bg-ground w-full max-w-3xl rounded-lg p-5 shadow-2xl">
        <div class="flex items-start justify-between gap-4">
          <div>
            <DialogTitle as="h2" class="text-xl">{{ title }}</DialogTitle>
            <p v-if="query.data.value" class="text-soft" data-count>
              {{ query.data.value.fit }} of {{ query.data.value.of }}
              {{ find.trim() ? 'with these letters' : 'in the store' }} fit this place.
            </p>
          </div>
          <button type="button" class="plain" @click="emit('close')">Close</button>
        </div>
        <p v-if="query.isPending.value" role="status" class="py-8">Trying each item of the store…</p>
        <p v-else-if="query.isError.value" role="alert" class="text-stop py-8">
          ■ The store could not be asked. {{ query.error.value?.message }}
        </p>
        <template v-else>
          <label v-if="many" class="mt-2 block max-w-96">
            Find one
            <input
              v-model="typed"
              class="field"
              maxlength="80"
              placeholder="letters of a label, a serial, a code or a model"
              data-find-choice
            />
          </label>
          <label class="mt-2 flex min-h-11 items-center gap-2"
            ><input v-model="onlyFit" type="checkbox" class="size-5" /> only those that fit</label
          >
          <ul class="divide-line mt-2 divide-y">
            <li
              v-for="c in list"
              :key="c.item"
              class="flex flex-wrap items-start gap-x-4 gap-y-1 py-2"
              :data-choice="c.item"
            >
              <div class="min-w-0 flex-1 basis-72">
                <p>
                  <span class="font-semibold">{{ c.label }}</span>
                  <span class="text-soft ml-2">{{ c.title }}</span>
                  <span v-if="find.trim()" class="text-soft figure ml-2 text-sm">{{ serialOf(c) }}</span>
                </p>
                <p v-if="c.elsewhere" class="text-look text-sm" data-elsewhere>◆ {{ c.elsewhere }}</p>
                <p v-if="c.taken" class="text-soft text-sm">taken: {{ c.taken }}</p>
                <p v-else-if="c.fits && !c.findings.length" class="text-sm">fits; nothing found</p>
                <p v-else-if="c.fits" class="text-sm">fits, but look:</p>
                <ul class="text-sm leading-snug">
                  <li v-for="f in c.findings" :key="f.rule + f.what">
                    <span :class="ink[f.severity]" class="font-semibold">{{ shape[f.severity] }} {{ f.severity }}</span>
                    {{ say(f.what) }}
                  </li>
                </ul>
                <p v-if="c.alike" class="text-sm" data-alike>
                  and {{ c.alike }} more like it: letters of a label or a serial find each
                </p>
              </div>
              <label class="flex min-h-11 items-center gap-2 text-sm">
                <input
                  type="checkbox"
                  class="size-5"
                  :checked="compare.includes(c.model)"
                  :disabled="!compare.includes(c.model) && compare.length >= maxCompared"
                  @change="toggle(c.model)"
                />
                compare
              </label>
              <button type="button" class="plain" :disabled="c.chosen || c.taken !== undefined" @click="take(c)">
                {{ c.chosen ? 'there now' : c.fits ? 'Take this' : 'Take it all the same' }}
                <span class="sr-only">{{ c.label }}</span>
              </button>
            </li>
          </ul>
          <CompareModels v-if="models.length >= 2" :models="models" :choices="query.data.value?.choices ?? []" />
          <p v-else-if="compare.length === 1" class="text-soft mt-3">Choose another model to compare with.</p>
        </template>
      </DialogPanel>
    </div>
  </Dialog>
</template>
