<script setup lang="ts">
// A kit: its name, what belongs in it, and which things are in it.
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Fault, Item, Kit } from '@/api/client'
import RowSave from '@/components/RowSave.vue'
import StateNotice from '@/components/StateNotice.vue'
import { faultAt, idOf, useForms, type Value } from '@/lib/forms'
import { named, useGear } from '@/lib/gear'
import { useSession } from '@/stores/session'

const props = defineProps<{ id?: string }>()
const gear = useGear()
const forms = useForms()
const session = useSession()
const route = useRoute()
const router = useRouter()
const faults = ref<Fault[]>([])
const name = ref(typeof route.query.name === 'string' ? route.query.name : '')
/** What belongs in it: "class:…" or "model:…", and how many. */
const lines = ref<{ what: string; count: number }[]>([])
const inside = ref<string[]>([])
const adding = ref('')

const there = computed(() => gear.data.value?.kits?.find((k) => k.id === props.id))
const byId = computed(() => new Map(gear.stored.value.map((i) => [i.id, i])))
const kinds = computed(() => [
  ...(forms.data.value?.classes ?? []).map((c) => ({ value: `class:${c.class}`, words: `any ${c.words}` })),
  ...[...gear.models.value.values()].map((m) => ({ value: `model:${m.id}`, words: `${m.maker} ${m.name}` })),
])

/** The kit and the items as they were when this began: what somebody else keeps meanwhile is not written over. */
let base: Partial<Kit> = {}
let seen = new Map<string, Item>()
function begin() {
  const k = there.value
  base = { ...k }
  seen = byId.value
  if (k) {
    name.value = k.name
    lines.value = (k.wanted ?? []).map((l) => ({
      what: l.model ? `model:${l.model}` : `class:${l.class}`,
      count: l.count,
    }))
  }
  inside.value = gear.stored.value.filter((i) => name.value && i.kit === name.value).map((i) => i.id)
}
let begun = false
watch(
  () => gear.isSuccess.value,
  (ready) => {
    if (ready && !begun) begin()
    begun ||= ready
  },
  { immediate: true },
)

const free = computed(() =>
  gear.items.value.filter((i) => i.state === 'in-service' && !inside.value.includes(i.id) && !i.kit),
)
function add() {
  const found = free.value.find((i) => i.label === adding.value.trim())
  if (!found) return
  inside.value.push(found.id)
  adding.value = ''
}

/** The kit, and the items that go into it or out of it. */
function body(): Record<string, Value[]> {
  const wanted = lines.value
    .filter((l) => l.what)
    .map((l) => {
      const [kind, of] = [l.what.slice(0, 5), l.what.slice(6)]
      return { [kind]: of, count: l.count }
    })
  const { revision, ...kept } = base
  const kit = { ...kept, id: props.id ?? idOf(name.value), name: name.value, wanted, ...(revision ? { revision } : {}) }
  const then = gear.stored.value.map((i) => seen.get(i.id) ?? i)
  const moved = then.filter((i) => inside.value.includes(i.id) !== (i.kit === name.value && Boolean(i.kit)))
  const items = moved.map((i): Partial<Item> => ({ ...i, kit: inside.value.includes(i.id) ? name.value : undefined }))
  return { kits: [kit as Value], ...(items.length ? { items: items as Value[] } : {}) }
}
const other = computed(() => faults.value.filter((f) => !f.pointer?.startsWith('/kits/0/')))
</script>

<template>
  <main id="page" class="@container mx-auto max-w-4xl px-5 py-6">
    <RouterLink to="/store/kits" class="quiet -ml-2">← Kits</RouterLink>
    <h1>{{ id ? named(there?.name, id, gear.data.value) : 'Add a kit' }}</h1>
    <StateNotice v-if="gear.isPending.value || forms.isPending.value" part title="Fetching the store" busy />
    <StateNotice v-else-if="id && !there" part title="There is no such kit" />
    <template v-else>
      <label class="mt-3 block max-w-96">
        Name
        <input v-model="name" class="field" maxlength="80" :disabled="Boolean(id) && inside.length > 0" data-name />
        <span v-if="id && inside.length" class="text-soft text-sm">things in it bear this name</span>
        <span v-if="faultAt(faults, '/kits/0/name')" class="text-stop" role="alert"
          >■ {{ faultAt(faults, '/kits/0/name') }}</span
        >
      </label>
      <h2 class="mt-5">What belongs in it</h2>
      <div v-for="(l, n) in lines" :key="n" class="mt-2 flex flex-wrap items-end gap-3">
        <label class="w-24"
          >How many<input v-model.number="l.count" class="field figure" inputmode="numeric" :data-count="n"
        /></label>
        <label class="min-w-56 flex-1"
          >Of what
          <select v-model="l.what" class="field" :data-what="n">
            <option value="">choose</option>
            <option v-for="k in kinds" :key="k.value" :value="k.value">{{ k.words }}</option>
          </select>
        </label>
        <button type="button" class="quiet min-h-12" @click="lines.splice(n, 1)">take out</button>
        <span
          v-for="f in faults.filter((o) => o.pointer?.startsWith(`/kits/0/wanted/${n}`))"
          :key="f.pointer"
          class="text-stop w-full"
          role="alert"
          >■ {{ f.detail }}</span
        >
      </div>
      <button type="button" class="plain mt-2" data-add-line @click="lines.push({ what: '', count: 1 })">
        One more line
      </button>
      <h2 class="mt-5">What is in it</h2>
      <ul class="divide-line border-line mt-1 divide-y border-y">
        <li v-for="i in inside" :key="i" class="flex min-h-12 items-center gap-3">
          <b class="flex-1">{{ named(byId.get(i)?.label, i, gear.data.value) }}</b>
          <button type="button" class="quiet" @click="inside = inside.filter((o) => o !== i)">take out</button>
        </li>
      </ul>
      <div class="mt-2 flex flex-wrap items-end gap-3">
        <label class="min-w-56 flex-1"
          >Label of a thing that is in no kit
          <input v-model="adding" class="field" list="free" data-adding @keydown.enter.prevent="add" />
        </label>
        <datalist id="free">
          <option v-for="i in free" :key="i.id" :value="i.label" />
        </datalist>
        <button type="button" class="plain min-h-12!" data-put-into @click="add">Put it in</button>
      </div>
      <p v-for="f in other" :key="f.pointer + f.detail" class="text-stop mt-2" role="alert">■ {{ f.detail }}</p>
      <RowSave
        kind="gear"
        :body="body"
        :may="session.may('put-gear') && Boolean(name.trim())"
        who="A store keeper"
        @faults="(f) => (faults = f)"
        @saved="router.push('/store/kits')"
      />
    </template>
  </main>
</template>
