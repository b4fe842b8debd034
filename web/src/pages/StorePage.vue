<script setup lang="ts">
// The store: what is out of service and why, the way back, and what was recorded of
// an item.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, must, type Item } from '@/api/client'
import OutboxNotice from '@/components/OutboxNotice.vue'
import PhotoTake from '@/components/PhotoTake.vue'
import RecordList from '@/components/RecordList.vue'
import StateNotice from '@/components/StateNotice.vue'
import { useGear, usePeople } from '@/lib/gear'
import { eventWords, today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'
import { count } from '@/lib/words'

const gear = useGear()
const session = useSession()
const outbox = useOutbox()
const wanted = ref('')
const chosen = ref('')
const note = ref('')
/** Who was in the event: somebody else brings the item back. */
const kept = ref('')
const photos = ref<string[]>([])
const inIt = ref('')
/** Something else happened to what lies in quarantine already. */
const further = ref(false)
const people = usePeople()
const event = ref<'dropped' | 'shock-load' | 'heat' | 'chemical' | 'edge' | 'recall'>('dropped')
const events = { ...eventWords, recall: 'recall notice' }

const item = computed(() => gear.items.value.find((i) => i.id === chosen.value))
const byLabel = (a: Item, b: Item) => a.label.localeCompare(b.label, undefined, { numeric: true })
const sorted = computed(() => [...gear.items.value].sort(byLabel))
const out = computed(() => sorted.value.filter((i) => i.state === 'quarantine'))
/** How many items are shown at once: a search finds the others. */
const maxItems = 250
const titleOf = (i: Item) => {
  const m = gear.models.value.get(i.model)
  return m ? `${m.maker} ${m.name}` : i.model
}
const onlyClass = ref('')
const onlyPlace = ref('')
const retired = ref(false)
const order = ref<'label' | 'examined' | 'made' | 'place'>('label')
/** What is searched of an item, made once: a team has thousands. */
const texts = computed(
  () =>
    new Map(
      sorted.value.map((i) => [
        i.id,
        `${i.label} ${i.serial} ${titleOf(i)} ${i.place ?? ''} ${i.kit ?? ''} ${i.owner ?? ''}`.toLowerCase(),
      ]),
    ),
)
const classOf = (i: Item) => gear.models.value.get(i.model)?.class ?? ''
const classes = computed(() => [...new Set(sorted.value.map(classOf))].sort())
const places = computed(() => [...new Set(sorted.value.map((i) => i.place ?? ''))].filter(Boolean).sort())
const found = computed(() => {
  const text = wanted.value.trim().toLowerCase()
  const list = sorted.value.filter(
    (i) =>
      i.state !== 'quarantine' &&
      (retired.value || i.state !== 'retired' || text !== '') &&
      (!onlyClass.value || classOf(i) === onlyClass.value) &&
      (!onlyPlace.value || i.place === onlyPlace.value) &&
      texts.value.get(i.id)!.includes(text),
  )
  const key = { label: undefined, examined: 'examined_on', made: 'made_on', place: 'place' } as const
  const by = key[order.value]
  // Oldest first; what is not known stands before it.
  return by ? list.sort((a, b) => (a[by] ?? '').localeCompare(b[by] ?? '')) : list
})
const rest = computed(() => found.value.slice(0, maxItems))
const models = computed(() => {
  const count = new Map<string, number>()
  for (const i of gear.items.value) count.set(i.model, (count.get(i.model) ?? 0) + 1)
  return [...gear.models.value.values()]
    .map((m) => ({ ...m, count: count.get(m.id) ?? 0 }))
    .sort((a, b) => `${a.class} ${a.name}`.localeCompare(`${b.class} ${b.name}`))
})
/** Items of which this device has recorded something and not sent it yet. */
const waits = computed(() => new Set(outbox.waiting.map((k) => k.entry.item)))
const open = (i: Item) => (i.events ?? []).filter((e) => !e.checked_on)
const history = useQuery({
  queryKey: computed(() => ['records', 'item', chosen.value]),
  queryFn: async () => must(await api.GET('/api/v1/records', { params: { query: { item: chosen.value } } })),
  enabled: computed(() => chosen.value !== ''),
})

function choose(id: string) {
  chosen.value = chosen.value === id ? '' : id
  note.value = kept.value = ''
  further.value = false
  photos.value = []
}

function back(i: Item) {
  outbox.record(i.label, { kind: 'back-in-service', day: today(), item: i.id, note: note.value.trim() })
  note.value = ''
}

function another() {
  further.value = !further.value
  note.value = ''
}

function stop(i: Item) {
  const more = note.value.trim() ? { note: note.value.trim() } : {}
  const was = inIt.value ? { in: inIt.value } : {}
  outbox.record(i.label, {
    kind: 'quarantine',
    day: today(),
    item: i.id,
    quarantine: { event: event.value, ...was, ...(kept.value.trim() ? { kept: kept.value.trim() } : {}) },
    ...(photos.value.length ? { photos: photos.value } : {}),
    ...more,
  })
  note.value = inIt.value = kept.value = ''
  photos.value = []
  further.value = false
}
</script>

<template>
  <main id="page" class="mx-auto max-w-4xl px-5 py-6">
    <h1>Store</h1>
    <OutboxNotice />
    <StateNotice v-if="gear.isPending.value" part title="Fetching the store" busy />
    <StateNotice v-else-if="gear.isError.value" part title="The store could not be fetched">
      <button type="button" class="plain" @click="gear.refetch()">Try again</button>
    </StateNotice>
    <template v-else>
      <p v-if="!gear.items.value.length" class="py-4">
        Nothing in the store yet. First type a model from its leaflet, then the items that you have of it.
      </p>
      <p class="mt-3 flex flex-wrap gap-3">
        <RouterLink v-if="session.may('record:examination')" class="plain" to="/examine" data-examine
          >Examine</RouterLink
        >
        <RouterLink class="plain" to="/labels" data-labels>Labels</RouterLink>
        <RouterLink class="plain" to="/store/recalls" data-recalls>Recalls</RouterLink>
        <template v-if="session.may('put-gear')">
          <RouterLink class="plain" to="/store/items" data-add-items>Add items</RouterLink>
          <RouterLink class="plain" to="/store/model" data-add-model>Add a model</RouterLink>
          <RouterLink class="plain" to="/store/import" data-import>Load a table</RouterLink>
        </template>
        <RouterLink class="plain" to="/store/kits" data-kits>Kits</RouterLink>
        <a class="quiet" href="/api/v1/gear/list.pdf" download>list, PDF</a>
      </p>
      <section
        v-for="[title, list] in [
          ['In quarantine', out],
          ['Everything else', rest],
        ] as const"
        :key="title"
        class="mt-5"
      >
        <h2>{{ title }}</h2>
        <div v-if="list === rest" class="my-2 grid grid-cols-2 gap-x-4 gap-y-2 sm:grid-cols-4" role="search">
          <input
            v-model="wanted"
            class="field col-span-full"
            type="search"
            placeholder="label, serial, model, place, kit or owner"
            aria-label="Find an item"
            data-find
          />
          <label
            >Class
            <select v-model="onlyClass" class="field" data-only-class>
              <option value="">all</option>
              <option v-for="c in classes" :key="c" :value="c">{{ c.replaceAll('-', ' ') }}</option>
            </select>
          </label>
          <label
            >Place
            <select v-model="onlyPlace" class="field" data-only-place>
              <option value="">all</option>
              <option v-for="p in places" :key="p" :value="p">{{ p }}</option>
            </select>
          </label>
          <label
            >In order of
            <select v-model="order" class="field" data-order>
              <option value="label">label</option>
              <option value="examined">last examination</option>
              <option value="made">manufacture</option>
              <option value="place">place</option>
            </select>
          </label>
          <label class="flex min-h-12 items-center gap-2 self-end"
            ><input v-model="retired" type="checkbox" class="size-6" data-retired /> retired too</label
          >
          <p class="text-soft figure col-span-full text-sm" role="status" data-found-items>
            {{ found.length }} of {{ sorted.length - out.length }} items
          </p>
        </div>
        <p v-else-if="!list.length" class="py-2">Nothing is in quarantine.</p>
        <ul class="divide-line border-line divide-y border-y">
          <li v-for="i in list" :key="i.id">
            <button
              type="button"
              class="flex min-h-14 w-full flex-wrap items-center gap-x-4 py-1 text-left"
              :aria-expanded="chosen === i.id"
              :data-item="i.id"
              :data-state="i.state"
              @click="choose(i.id)"
            >
              <b class="min-w-40">{{ i.label }}</b>
              <span class="text-soft flex-1 text-sm"
                ><span class="figure">{{ i.serial }}</span> · {{ titleOf(i)
                }}<template v-if="i.place"> · {{ i.place }}</template></span
              >
              <span v-if="i.state === 'quarantine'" class="text-stop max-sm:w-full">■ {{ i.reason }}</span>
              <span v-else-if="i.state === 'retired'" class="text-soft max-sm:w-full">retired: {{ i.reason }}</span>
              <span v-else-if="open(i).length" class="text-stop max-sm:w-full"
                >■ {{ count(open(i).length, 'event') }} not checked</span
              >
            </button>
            <div v-if="chosen === i.id && item" class="pb-4">
              <p v-for="(e, n) in i.events ?? []" :key="n" class="text-sm">
                {{ e.on }} {{ e.kind.replace('-', ' ') }}<template v-if="e.note">: {{ e.note }}</template
                >,
                {{
                  e.checked_on
                    ? `checked ${e.checked_on}${e.checked_by ? ` by ${e.checked_by}` : ''}`
                    : 'not checked yet'
                }}
              </p>
              <form
                v-if="i.state === 'quarantine' && !further && session.may('record:back-in-service')"
                class="my-3 grid gap-2"
                @submit.prevent="back(i)"
              >
                <p class="text-soft text-sm">
                  By whoever may examine it, and never by who was in the event. Say what was looked at and what was
                  found; where it was tagged and kept is in its reason.
                </p>
                <label>
                  What was checked, and found
                  <input v-model="note" class="field" maxlength="380" required />
                </label>
                <button type="submit" class="strong" :disabled="!note.trim()">Back in service, signed</button>
              </form>
              <p v-else-if="i.state === 'quarantine' && !further" class="text-soft my-2">
                A store keeper brings it back.
              </p>
              <form
                v-else-if="i.state !== 'retired' && session.may('record:quarantine')"
                class="my-3 flex flex-wrap items-end gap-2"
                @submit.prevent="stop(i)"
              >
                <label>
                  What happened
                  <select v-model="event" class="field">
                    <option v-for="(words, key) in events" :key="key" :value="key">{{ words }}</option>
                  </select>
                </label>
                <label>
                  Who was in it
                  <select v-model="inIt" class="field" data-in>
                    <option value="">nobody, or not known</option>
                    <option v-for="p in people.data.value ?? []" :key="p.id" :value="p.id">{{ p.name }}</option>
                  </select>
                </label>
                <label class="min-w-52 flex-1">Note<input v-model="note" class="field" maxlength="380" /></label>
                <label class="min-w-52">
                  Tagged and kept apart at
                  <input v-model="kept" class="field" maxlength="80" data-kept-at />
                </label>
                <PhotoTake v-model="photos" />
                <button type="submit" class="plain border-stop! text-stop! min-h-12!">
                  {{ i.state === 'quarantine' ? 'Note it too, signed' : 'Into quarantine' }}
                </button>
              </form>
              <button
                v-if="i.state === 'quarantine' && session.may('record:quarantine')"
                type="button"
                class="quiet -ml-2"
                data-further
                @click="another()"
              >
                {{ further ? 'nothing else happened to it' : 'something else happened to it' }}
              </button>
              <p class="my-2 flex flex-wrap gap-x-6">
                <RouterLink class="quiet" :to="`/store/item/${i.id}`" :data-life="i.id">its life and place</RouterLink>
                <template v-if="session.may('put-gear')">
                  <RouterLink class="quiet" :to="`/store/items/${i.id}`" :data-change="i.id"
                    >change {{ i.label }}</RouterLink
                  >
                  <RouterLink class="quiet" :to="`/store/model/${i.model}`">its model, from the leaflet</RouterLink>
                </template>
              </p>
              <RecordList v-if="history.data.value?.records.length" :records="history.data.value.records" />
              <p v-else-if="!waits.has(i.id) && !history.isFetching.value" class="text-soft text-sm">
                Nothing is recorded of it yet.
              </p>
              <p v-if="waits.has(i.id)" class="text-look text-sm">◆ Recorded on this device, and not yet sent.</p>
            </div>
          </li>
        </ul>
        <p v-if="list === rest && found.length > maxItems" class="text-soft py-2">
          {{ found.length - maxItems }} more: type what you look for.
        </p>
      </section>
      <section v-if="models.length" class="mt-6">
        <h2>Models</h2>
        <ul class="divide-line border-line mt-2 divide-y border-y">
          <li v-for="m in models" :key="m.id">
            <RouterLink
              :to="`/store/model/${m.id}`"
              class="flex min-h-12 flex-wrap items-center gap-x-4"
              :data-model="m.id"
            >
              <b class="min-w-40"
                >{{ m.name }}<template v-if="m.generation">, {{ m.generation }}</template></b
              >
              <span class="text-soft flex-1 text-sm">{{ m.class.replaceAll('-', ' ') }} · {{ m.maker }}</span>
              <span class="text-soft figure text-sm">{{ m.count === 1 ? '1 item' : `${m.count} items` }}</span>
            </RouterLink>
          </li>
        </ul>
      </section>
    </template>
  </main>
</template>
