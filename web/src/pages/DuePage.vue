<script setup lang="ts">
// What is due, and what that blocks: by day, place and person; as a list and a calendar.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, must, Refused, type DueLine } from '@/api/client'
import StateNotice from '@/components/StateNotice.vue'
import { timeWords } from '@/lib/records'
import { count } from '@/lib/words'
import { useSession } from '@/stores/session'

const session = useSession()
const client = useQueryClient()
const due = useQuery({ queryKey: ['drops', 'due'], queryFn: async () => must(await api.GET('/api/v1/due')) })
const feeds = useQuery({
  queryKey: ['feeds'],
  queryFn: async () => must(await api.GET('/api/v1/due/feeds')),
  enabled: computed(() => session.may('feeds')),
})
const place = ref('')
const holder = ref('')
const blocking = ref(false)
const secret = ref('')
const failure = ref('')
const every = computed(() => due.data.value?.due ?? [])
const some = (of: (d: DueLine) => string | undefined) =>
  [...new Set(every.value.map((d) => of(d) ?? ''))].filter(Boolean).sort()
const places = computed(() => some((d) => d.place))
const holders = computed(() => some((d) => d.holder))
const shown = computed(() =>
  every.value.filter(
    (d) =>
      (!place.value || d.place === place.value) &&
      (!holder.value || d.holder === holder.value) &&
      (!blocking.value || d.blocks?.length),
  ),
)
const groups = computed(() =>
  [
    { title: 'Nobody can say', of: (d: DueLine) => Boolean(d.missing) },
    { title: 'Before first use', of: (d: DueLine) => !d.on && !d.missing },
    { title: 'Overdue', of: (d: DueLine) => Boolean(d.on) && d.days < 0 },
    { title: 'Within 30 days', of: (d: DueLine) => Boolean(d.on) && d.days >= 0 && d.days <= 30 },
    { title: 'Within 60 days', of: (d: DueLine) => d.days > 30 && d.days <= 60 },
    { title: 'Within 90 days', of: (d: DueLine) => d.days > 60 },
  ]
    .map((g) => ({ ...g, list: shown.value.filter(g.of) }))
    .filter((g) => g.list.length),
)
const blocked = computed(() => {
  const by = new Map<string, { id: string; name: string; day: string; things: DueLine[] }>()
  for (const d of every.value)
    for (const b of d.blocks ?? []) {
      const drop = by.get(b.drop) ?? { id: b.drop, name: b.name, day: b.day, things: [] }
      drop.things.push(d)
      by.set(b.drop, drop)
    }
  return [...by.values()].sort((a, b) => a.day.localeCompare(b.day))
})
const what = { examination: 'thorough examination', 'end-of-life': 'end of life' }

async function change(act: () => Promise<unknown>) {
  failure.value = ''
  try {
    await act()
    await client.invalidateQueries({ queryKey: ['feeds'] })
  } catch (e) {
    failure.value = e instanceof Refused ? e.message : 'The server does not answer: nothing was changed.'
  }
}
const add = () =>
  change(async () => {
    const f = must(await api.POST('/api/v1/due/feeds'))
    secret.value = `${location.origin}/api/v1/feeds/${f.secret}.ics`
  })
const revoke = (id: string) =>
  change(async () => {
    must(await api.DELETE('/api/v1/due/feeds/{id}', { params: { path: { id } } }))
    secret.value = ''
  })
</script>

<template>
  <main id="page" class="mx-auto max-w-5xl px-5 py-6">
    <h1>Due</h1>
    <StateNotice v-if="due.isPending.value" part title="Looking what is due" busy />
    <StateNotice v-else-if="due.isError.value" part title="What is due could not be fetched">
      <button type="button" class="plain" @click="due.refetch()">Try again</button>
    </StateNotice>
    <template v-else-if="due.data.value">
      <p class="text-soft">
        Thorough examinations and ends of life until {{ due.data.value.until }}. The earliest of these dates counts:
        leaflet, team, the examiner’s own date, a guest’s paper.
      </p>
      <p class="no-print mt-2 flex flex-wrap gap-3">
        <RouterLink v-if="session.may('record:examination')" class="strong" to="/examine" data-examine
          >Examine</RouterLink
        >
        <a class="plain" href="/api/v1/due.pdf" download>list, PDF</a>
        <a class="plain" href="/api/v1/due.ics" download>calendar file</a>
      </p>
      <section v-if="blocked.length" class="border-stop mt-4 border-l-4 pl-3" data-blocked>
        <h2 class="text-stop">■ Planned drops that cannot go out as they are</h2>
        <ul>
          <li v-for="b in blocked" :key="b.id" :data-blocks="b.id">
            <RouterLink class="quiet -ml-2" :to="`/drops/${b.id}`">{{ b.day }} · {{ b.name }}</RouterLink>
            {{ b.things.map((d) => d.label).join(', ') }}
          </li>
        </ul>
      </section>
      <div class="no-print mt-4 flex flex-wrap items-end gap-x-4 gap-y-1">
        <label v-if="places.length" class="max-w-full">
          Place
          <select v-model="place" class="field w-auto max-w-full">
            <option value="">all</option>
            <option v-for="p in places" :key="p" :value="p">{{ p }}</option>
          </select>
        </label>
        <label v-if="holders.length" class="max-w-full">
          With
          <select v-model="holder" class="field w-auto max-w-full">
            <option value="">all</option>
            <option v-for="p in holders" :key="p" :value="p">{{ p }}</option>
          </select>
        </label>
        <label class="flex min-h-11 items-center gap-2">
          <input v-model="blocking" type="checkbox" class="size-5" /> what blocks a drop
        </label>
      </div>
      <p v-if="!groups.length" class="py-4">Nothing is due there within 90 days, of what is in service.</p>
      <section v-for="g in groups" :key="g.title" class="mt-4" :data-group="g.title">
        <h2 :class="g.title === 'Overdue' ? 'text-stop' : ''">
          {{ g.title === 'Overdue' ? '■ ' : '' }}{{ g.title }} <span class="figure">({{ g.list.length }})</span>
        </h2>
        <table class="w-full">
          <thead class="text-soft text-left text-sm max-sm:sr-only">
            <tr>
              <th class="font-normal">item</th>
              <th class="font-normal">what, by what</th>
              <th class="font-normal">last day</th>
              <th class="font-normal">where</th>
              <th class="font-normal">blocks</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="d in g.list"
              :key="d.item + d.kind"
              class="border-line border-t align-top max-sm:grid max-sm:py-2"
              :data-due="d.item"
            >
              <td>
                <RouterLink class="quiet -ml-2" :to="`/store/item/${d.item}`">{{ d.label }}</RouterLink>
              </td>
              <td class="text-sm sm:pt-3">
                <template v-if="d.missing">◆ {{ what[d.kind] }}: not recorded is {{ d.missing }}</template>
                <template v-else>{{ what[d.kind] }}, {{ d.by }}</template>
              </td>
              <td
                class="figure text-sm whitespace-nowrap sm:pt-3"
                :class="d.on && d.days < 0 ? 'text-stop font-semibold' : ''"
              >
                {{ d.on ? d.on : d.missing ? 'not known' : 'none' }}
                <span v-if="d.on" class="text-soft">{{
                  d.days < 0 ? `${count(-d.days, 'day')} over` : d.days === 0 ? 'today' : `in ${count(d.days, 'day')}`
                }}</span>
              </td>
              <td class="text-sm sm:pt-3">{{ [d.place, d.holder, d.kit].filter(Boolean).join(', ') }}</td>
              <td class="text-sm sm:pt-3">
                <span v-for="b in d.blocks ?? []" :key="b.drop" class="text-stop block"
                  >■ {{ b.name }}, {{ b.day }}</span
                >
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="session.may('feeds')" class="no-print border-line mt-6 border-t pt-3" data-feeds>
        <h2>Calendar feed</h2>
        <p class="text-soft max-w-prose text-sm">
          A secret address from which a calendar fetches what is due, without signing in. Whoever knows it reads the
          list. It can be revoked at any time, and counts no longer than its maker may make one.
        </p>
        <p v-if="failure" class="text-stop" role="alert">■ {{ failure }}</p>
        <p v-if="secret" class="mt-2" data-secret>
          Told once, copy it now:
          <code class="bg-rock block overflow-auto rounded p-2 text-sm break-all">{{ secret }}</code>
        </p>
        <ul>
          <li
            v-for="f in feeds.data.value ?? []"
            :key="f.id"
            class="flex flex-wrap items-center gap-x-3"
            :data-feed="f.id"
          >
            made by {{ f.made_by }}, {{ timeWords(f.made_at) }}
            <button type="button" class="quiet" @click="revoke(f.id)">shut it</button>
          </li>
        </ul>
        <button type="button" class="plain mt-1" data-add-feed @click="add">Make an address</button>
      </section>
    </template>
  </main>
</template>
