<script setup lang="ts">
// An incident, or a near miss: what happened, who and what was there. The plan, the kit and
// the people are kept with it as they are now.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, must, type Entry, type Item } from '@/api/client'
import ItemScan from '@/components/ItemScan.vue'
import OutboxNotice from '@/components/OutboxNotice.vue'
import PhotoTake from '@/components/PhotoTake.vue'
import StateNotice from '@/components/StateNotice.vue'
import { useGear, usePeople } from '@/lib/gear'
import { eventWords, today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

type Happened = NonNullable<Entry['incident']>

const gear = useGear()
const people = usePeople()
const outbox = useOutbox()
const session = useSession()
const route = useRoute()
const router = useRouter()
const kind = ref<Happened['kind']>('near-miss')
const day = ref(today())
const what = ref('')
const dropId = ref(typeof route.query.drop === 'string' ? route.query.drop : '')
/** The run in which it happened: it is kept as far as it had come. */
const runId = ref(typeof route.query.run === 'string' ? route.query.run : '')
const there = ref<string[]>([])
/** Those there who neither hung on what is stopped nor held it. */
const aside = ref<string[]>([])
const things = ref<{ item: Item; stop: boolean }[]>([])
const event = ref<NonNullable<Happened['event']>>('shock-load')
const photos = ref<string[]>([])
const drops = useQuery({
  queryKey: ['drops', 'of incidents'],
  queryFn: async () => must(await api.GET('/api/v1/drops', { params: { query: { limit: 200 } } })),
})
const drop = useQuery({
  queryKey: computed(() => ['drops', 'incident', dropId.value]),
  queryFn: async () => must(await api.GET('/api/v1/drops/{id}', { params: { path: { id: dropId.value } } })),
  enabled: computed(() => dropId.value !== ''),
})
/** Who is on the drop was there, unless somebody says otherwise. */
watch(
  () => drop.data.value,
  (d) => (there.value = [...new Set([...there.value, ...(d?.people ?? []).map((p) => p.id)])]),
  { immediate: true },
)
const onDrop = computed(() => (dropId.value ? (drop.data.value?.items ?? []) : []))
const stops = computed(() => things.value.filter((t) => t.stop))
const nameOf = (id: string) => people.data.value?.find((p) => p.id === id)?.name ?? id

function add(i: Item, stop: boolean) {
  const has = things.value.find((t) => t.item.id === i.id)
  if (has) has.stop ||= stop
  else things.value.push({ item: i, stop })
}

function sign() {
  const incident: Happened = { kind: kind.value, what: what.value.trim() }
  if (runId.value) incident.run = runId.value
  if (there.value.length) incident.people = there.value
  if (things.value.length) incident.items = things.value.map((t) => t.item.id)
  if (stops.value.length) {
    incident.stop = stops.value.map((t) => t.item.id)
    incident.event = event.value
    incident.in = there.value.filter((id) => !aside.value.includes(id))
  }
  const kept = outbox.record(kind.value === 'incident' ? 'incident' : 'near miss', {
    kind: 'incident',
    day: day.value,
    ...(dropId.value ? { drop: dropId.value } : {}),
    ...(photos.value.length ? { photos: photos.value } : {}),
    incident,
  })
  if (kept) void router.push({ name: 'records', query: { day: day.value } })
}
</script>

<template>
  <main id="page" class="mx-auto max-w-3xl px-5 py-6">
    <RouterLink to="/records" class="quiet -ml-2">← Records</RouterLink>
    <h1>Incident or near miss</h1>
    <OutboxNotice />
    <p v-if="runId" class="text-note" data-of-run>
      ● The run is kept with it, with every event that was given until this is recorded.
    </p>
    <p v-if="outbox.failure" class="text-stop font-bold" role="alert">■ {{ outbox.failure }}</p>
    <StateNotice
      v-if="!session.may('record:incident')"
      part
      title="Your roles record no incidents"
      detail="A supervisor gives roles on the People page."
    />
    <form v-else class="mt-3 grid gap-4" @submit.prevent="sign">
      <div class="grid grid-cols-2 gap-2" role="group" aria-label="What it was">
        <button
          v-for="k in ['near-miss', 'incident'] as const"
          :key="k"
          type="button"
          class="plain min-h-12!"
          :class="kind === k ? 'border-accent! border-2! font-semibold' : 'text-soft!'"
          :aria-pressed="kind === k"
          :data-kind="k"
          @click="kind = k"
        >
          {{ k === 'incident' ? 'Incident' : 'Near miss' }}
        </button>
      </div>
      <label>
        What happened, as it was seen
        <textarea v-model="what" class="field min-h-32" maxlength="4000" required data-what />
      </label>
      <div class="grid gap-3 sm:grid-cols-2">
        <label>On <input v-model="day" type="date" class="field" required /></label>
        <label>
          On which drop
          <select v-model="dropId" class="field" data-drop>
            <option value="">on none of them</option>
            <option v-if="dropId && !drops.data.value?.some((d) => d.id === dropId)" :value="dropId">
              {{ drop.data.value?.name ?? dropId }}
            </option>
            <option v-for="d in drops.data.value ?? []" :key="d.id" :value="d.id">{{ d.name }}</option>
          </select>
        </label>
      </div>
      <p v-if="dropId" class="text-soft text-sm">
        The plan as it is now is kept with it, with everything on it{{
          drop.isError.value ? '; it cannot be shown without a connection' : ''
        }}.
      </p>
      <fieldset>
        <legend class="font-semibold">Who was there</legend>
        <div class="flex flex-wrap gap-x-5">
          <label v-for="p in people.data.value ?? []" :key="p.id" class="flex min-h-12 items-center gap-2">
            <input v-model="there" type="checkbox" class="size-5" :value="p.id" :data-there="p.id" /> {{ p.name }}
          </label>
        </div>
      </fieldset>
      <fieldset>
        <legend class="font-semibold">What nobody may use now, and what else was there</legend>
        <ItemScan :items="gear.items.value" class="mt-2" @item="(i) => add(i, false)" />
        <p v-if="onDrop.length" class="mt-2 flex flex-wrap gap-2">
          <button
            v-for="i in onDrop.filter((o) => !things.some((t) => t.item.id === o.id))"
            :key="i.id"
            type="button"
            class="plain min-h-11!"
            :data-add="i.id"
            @click="add(i, true)"
          >
            + {{ i.label }}
          </button>
        </p>
        <ul class="mt-2">
          <li
            v-for="t in things"
            :key="t.item.id"
            class="border-line flex flex-wrap items-center gap-x-4 border-t"
            :data-thing="t.item.id"
          >
            <span class="flex-1">{{ t.item.label }}</span>
            <label class="flex min-h-12 items-center gap-2" :class="t.stop ? 'text-stop font-semibold' : ''">
              <input v-model="t.stop" type="checkbox" class="size-5" /> {{ t.stop ? '■ ' : '' }}stopped at once
            </label>
            <button
              type="button"
              class="quiet"
              :aria-label="`leave ${t.item.label} out`"
              @click="things = things.filter((o) => o !== t)"
            >
              leave out
            </button>
          </li>
        </ul>
        <template v-if="stops.length">
          <label class="mt-2 block max-w-xs">
            What happened to what is stopped
            <select v-model="event" class="field" data-event>
              <option v-for="(words, value) in eventWords" :key="value" :value="value">{{ words }}</option>
            </select>
          </label>
          <div v-if="there.length" class="mt-3" role="group" aria-labelledby="in-it">
            <p id="in-it">Who hung on it, or held it: somebody else brings it back.</p>
            <div class="flex flex-wrap gap-x-5">
              <label v-for="id in there" :key="id" class="flex min-h-12 items-center gap-2">
                <input
                  type="checkbox"
                  class="size-5"
                  :checked="!aside.includes(id)"
                  :data-in="id"
                  @change="aside = aside.includes(id) ? aside.filter((o) => o !== id) : [...aside, id]"
                />
                {{ nameOf(id) }}
              </label>
            </div>
          </div>
        </template>
      </fieldset>
      <PhotoTake v-model="photos" />
      <button type="submit" class="strong min-h-14!" :disabled="what.trim().length < 3" data-sign>
        {{ stops.length ? `Record it and stop ${stops.length}, signed` : 'Record it, signed' }}
      </button>
    </form>
  </main>
</template>
