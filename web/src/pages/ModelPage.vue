<script setup lang="ts">
// A model, from its leaflet: the fields in the leaflet's order, those of its class alone.
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Fault } from '@/api/client'
import FormFields from '@/components/FormFields.vue'
import ModelDifferences from '@/components/ModelDifferences.vue'
import ModelTrial from '@/components/ModelTrial.vue'
import RowSave from '@/components/RowSave.vue'
import StateNotice from '@/components/StateNotice.vue'
import { idOf, trimmed, useForms, type Value } from '@/lib/forms'
import { useGear } from '@/lib/gear'
import { useSession } from '@/stores/session'

const props = defineProps<{ id?: string }>()
const gear = useGear()
const forms = useForms()
const session = useSession()
const route = useRoute()
const router = useRouter()
const value = ref<Value>({})
const faults = ref<Fault[]>([])
const from = ref('')

const there = computed(() => (props.id ? gear.models.value.get(props.id) : undefined))
const sorted = computed(() =>
  [...gear.models.value.values()].sort((a, b) => `${a.class} ${a.name}`.localeCompare(`${b.class} ${b.name}`)),
)
const parts = [
  'rope',
  'device',
  'backup',
  'pulley',
  'winding',
  'connector',
  'length_m',
  'absorber',
  'harness',
  'hitch',
  'evacuation',
]
const kind = computed(() => forms.data.value?.classes.find((c) => c.class === value.value.class))
/** A model that a rule of a rig reads by itself. */
const tried = computed(
  () =>
    kind.value?.needs.includes('device') ||
    ['rope', 'connector', 'lanyard', 'sling', 'absorber', 'harness'].includes(kind.value?.class ?? ''),
)
/** What things of this class do not have. */
const without = computed(() => [
  'revision',
  'follows',
  ...(props.id ? ['id'] : []),
  ...parts.filter((p) => !kind.value || !(kind.value.needs.includes(p) || kind.value.may.includes(p))),
])

watch(
  there,
  (m) => {
    if (m && !Object.keys(value.value).length) value.value = structuredClone(JSON.parse(JSON.stringify(m))) as Value
  },
  { immediate: true },
)
watch(from, (id) => {
  const m = gear.models.value.get(id)
  if (!m) return
  const rest = JSON.parse(JSON.stringify(m)) as Value
  delete rest.revision
  value.value = { ...rest, id: '', generation: '', ...(next.value ? { follows: id } : { follows: undefined }) }
})
/** Whether it is the next generation of the one it begins with. */
const next = ref(false)
watch(next, (is) => (value.value = { ...value.value, follows: is && from.value ? from.value : undefined }))
const like = computed(() => gear.models.value.get(from.value || String(value.value.follows ?? '')))
// What a class needs is requested without a press; an id is made from the name.
watch(
  () => value.value.class,
  () => {
    if (!kind.value || props.id) return
    const needed = kind.value.needs.filter((p) => p !== 'length_m' && !value.value[p])
    value.value = { ...value.value, ...Object.fromEntries(needed.map((p) => [p, {}])) }
  },
)
const named = computed(() => `${String(value.value.name ?? '')} ${String(value.value.generation ?? '')}`)
watch(named, (now, before) => {
  if (!props.id && (!value.value.id || value.value.id === idOf(before))) value.value = { ...value.value, id: idOf(now) }
})

const body = () => ({ models: [trimmed(forms.data.value?.model ?? [], value.value)] })
</script>

<template>
  <main id="page" class="@container mx-auto max-w-6xl px-5 py-6">
    <RouterLink to="/store" class="quiet -ml-2">← Store</RouterLink>
    <h1>{{ id ? (there ? `${there.maker} ${there.name}` : id) : 'A model, from its leaflet' }}</h1>
    <StateNotice v-if="forms.isPending.value || gear.isPending.value" part title="Fetching the store" busy />
    <StateNotice v-else-if="id && !there" part title="There is no such model" />
    <template v-else-if="forms.data.value">
      <p class="text-soft max-w-prose">
        Type what the leaflet says, in its order; what it does not say is left out. Rules that lack a figure say so
        where they would have used it.
      </p>
      <label v-if="!id && sorted.length" class="my-3 block max-w-96">
        Like another one
        <select v-model="from" class="field" data-from>
          <option value="">begin with nothing</option>
          <option v-for="m in sorted" :key="m.id" :value="m.id">
            {{ m.name }}, {{ m.class.replaceAll('-', ' ') }}
          </option>
        </select>
      </label>
      <label v-if="!id && from" class="my-3 flex min-h-12 items-center gap-3">
        <input v-model="next" type="checkbox" class="size-6" data-next /> it is the next generation of that one
      </label>
      <div class="mt-4 gap-x-8 @5xl:grid @5xl:grid-cols-[1fr_20rem]">
        <FormFields
          v-model="value"
          :silences="forms.data.value.silences"
          :fields="forms.data.value.model"
          at="/models/0"
          :faults="faults"
          :without="without"
          :needed="kind?.needs"
        />
        <div class="grid content-start gap-5 @5xl:sticky @5xl:top-20 @5xl:self-start">
          <ModelTrial v-if="tried" :model="body().models[0]!" />
          <ModelDifferences
            v-if="like"
            :from="like as unknown as Value"
            :to="body().models[0]!"
            :title="`${like.name}${like.generation ? `, ${like.generation}` : ''}`"
          />
        </div>
      </div>
      <RowSave
        kind="gear"
        :body="body"
        :may="session.may('put-gear')"
        who="A store keeper"
        @faults="(f) => (faults = f)"
        @saved="router.push(route.query.back === 'items' ? `/store/items?model=${value.id}` : '/store')"
      />
    </template>
  </main>
</template>
