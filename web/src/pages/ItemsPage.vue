<script setup lang="ts">
// Items: one that is there, or several at once of a model, numbered.
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Fault, Item } from '@/api/client'
import FormFields from '@/components/FormFields.vue'
import GuestHistory from '@/components/GuestHistory.vue'
import RowSave from '@/components/RowSave.vue'
import StateNotice from '@/components/StateNotice.vue'
import { idOf, numbered, trimmed, useForms, type Value } from '@/lib/forms'
import { named, useGear } from '@/lib/gear'
import { today } from '@/lib/records'
import { useSession } from '@/stores/session'

const props = defineProps<{ id?: string }>()
const gear = useGear()
const forms = useForms()
const session = useSession()
const route = useRoute()
const router = useRouter()
const value = ref<Value>({ state: 'in-service' })
const faults = ref<Fault[]>([])
const count = ref(1)
const first = ref(1)
const labels = ref('')
const serials = ref('')
/** Serials that were pasted, one a line, in the place of numbered ones. */
const pasted = ref('')

const there = computed(() => gear.stored.value.find((i) => i.id === props.id))
const models = computed(() =>
  [...gear.models.value.values()]
    .sort((a, b) => `${a.class} ${a.name}`.localeCompare(`${b.class} ${b.name}`))
    .map((m) => ({ id: m.id, words: `${m.class.replaceAll('-', ' ')}: ${m.maker} ${m.name}` })),
)
const model = computed(() => gear.models.value.get(String(value.value.model ?? '')))
const rope = computed(() => model.value?.class === 'rope')
const without = computed(() => [
  'revision',
  'events',
  'noted',
  'code',
  'state',
  'reason',
  ...(props.id ? ['id', ...(there.value?.state === 'in-service' ? [] : ['reason'])] : ['id', 'serial', 'label']),
  ...(rope.value ? [] : ['length_m', 'measured_mm', 'condition']),
])

watch(
  there,
  (i) => {
    if (i && value.value.id !== i.id) value.value = JSON.parse(JSON.stringify(i)) as Value
  },
  { immediate: true },
)
watch(
  () => [route.query.model, gear.models.value.size] as const,
  ([id]) => {
    if (!props.id && typeof id === 'string') value.value = { ...value.value, model: id }
  },
  { immediate: true },
)
// Labels go on from those that are there.
watch(model, (m) => {
  if (!m || props.id) return
  labels.value = `${m.class.replaceAll('-', ' ')} {n}`
  const taken = new Set(gear.stored.value.map((i) => i.id))
  let n = 1
  while (taken.has(idOf(numbered(labels.value, n)))) n++
  first.value = n
})

const lines = computed(() =>
  pasted.value
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean),
)
const many = computed(() => (lines.value.length || Math.max(1, Math.min(500, Math.round(count.value)))) as number)
const items = computed<Value[]>(() => {
  const fields = forms.data.value?.item ?? []
  if (props.id) return [trimmed(fields, value.value)]
  return Array.from({ length: many.value }, (_, i) => {
    const label = numbered(labels.value, first.value + i)
    const serial = lines.value[i] ?? numbered(serials.value, first.value + i)
    return trimmed(fields, { ...value.value, id: idOf(label), label, serial })
  })
})
const body = () => ({ items: items.value })
/** The first of several rows that was refused speaks for all at the shared fields. */
const shared = computed(() =>
  faults.value.map((f) => ({ ...f, pointer: f.pointer.replace(/^\/items\/\d+/, '/items/0') })),
)
const own = computed(() => faults.value.filter((f) => /^\/items\/\d+(\/(id|serial|label))?$/.test(f.pointer)))
const labelOf = (f: Fault) => (items.value[Number(f.pointer.split('/')[2])] as Partial<Item> | undefined)?.label
</script>

<template>
  <main id="page" class="@container mx-auto max-w-4xl px-5 py-6">
    <RouterLink to="/store" class="quiet -ml-2">← Store</RouterLink>
    <h1>{{ id ? named(there?.label, id, gear.data.value) : 'Add items' }}</h1>
    <StateNotice v-if="forms.isPending.value || gear.isPending.value" part title="Fetching the store" busy />
    <StateNotice v-else-if="id && !there" part title="There is no such item" />
    <p v-else-if="!models.length" class="py-4">
      First a model: <RouterLink class="quiet" to="/store/model?back=items">type one from its leaflet</RouterLink>.
    </p>
    <template v-else-if="forms.data.value">
      <p v-if="there && there.state !== 'in-service'" class="text-look" role="status">
        ◆ It is in state {{ there.state }}: only where it lies can be changed.
      </p>
      <FormFields
        v-model="value"
        class="mt-4"
        :fields="forms.data.value.item"
        at="/items/0"
        :faults="shared"
        :without="without"
        :names="{ model: models }"
      />
      <template v-if="!id">
        <div class="mt-4 grid gap-x-5 gap-y-3 @2xl:grid-cols-2">
          <label
            >How many<input
              v-model.number="count"
              class="field figure"
              inputmode="numeric"
              data-count
              :disabled="lines.length > 0"
          /></label>
          <label>First number<input v-model.number="first" class="field figure" inputmode="numeric" /></label>
          <label
            >Labels<input v-model="labels" class="field" maxlength="80" data-labels />
            <span class="text-soft text-sm">{n} is the number</span></label
          >
          <label
            >Serials<input
              v-model="serials"
              class="field"
              maxlength="80"
              placeholder="such as 24-{n}"
              data-serials
              :disabled="lines.length > 0"
            />
          </label>
          <label class="col-span-full"
            >or serials as they are engraved, one a line<textarea v-model="pasted" class="field" rows="3" data-pasted />
          </label>
        </div>
        <p class="text-soft mt-2" data-preview>
          {{ many === 1 ? 'One item' : `${many} items` }}:
          {{
            items
              .slice(0, 3)
              .map((i) => `${String(i.label)} (${String(i.serial)})`)
              .join(', ')
          }}<template v-if="many > 3"> … {{ items.at(-1)?.label }}</template>
        </p>
      </template>
      <p v-for="f in own" :key="f.pointer + f.detail" class="text-stop" role="alert">
        ■ {{ labelOf(f) }}: {{ f.detail }}
      </p>
      <RowSave
        kind="gear"
        :body="body"
        :may="session.may('put-gear')"
        who="A store keeper"
        @faults="(f) => (faults = f)"
        @saved="router.push('/store')"
      />
      <p v-if="!id" class="text-soft mt-2 text-sm">
        Added {{ today() }}; examinations and events join on the item’s own page.
      </p>
    </template>
    <GuestHistory v-if="!id && session.may('put-gear')" @taken="(item) => router.push(`/store/item/${item}`)" />
  </main>
</template>
