<script setup lang="ts">
// The team's drops: where the day starts.
import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, must, Refused, type Drop, type Fault } from '@/api/client'
import StateNotice from '@/components/StateNotice.vue'
import { behind } from '@/lib/behind'
import { firstDrops } from '@/lib/offline'
import { timeWords, today } from '@/lib/records'
import { count, shape } from '@/lib/words'
import { useCallouts } from '@/stores/callouts'
import { useSession } from '@/stores/session'

const router = useRouter()
const client = useQueryClient()
const typed = ref('')
const find = refDebounced(typed, 200)
const query = useInfiniteQuery({
  queryKey: computed(() => ['drops', find.value]),
  queryFn: async ({ pageParam }) => {
    const wanted = { ...firstDrops, ...(find.value.trim() ? { find: find.value.trim() } : {}), ...pageParam }
    const answer = await api.GET('/api/v1/drops', { params: { query: wanted } })
    return { lines: must(answer), more: answer.response.headers.has('Link') }
  },
  initialPageParam: {} as { before?: string; after?: string },
  getNextPageParam: (last) => {
    const end = last.lines.at(-1)
    return last.more && end ? { before: end.changed_at, after: end.id } : undefined
  },
  placeholderData: keepPreviousData,
  staleTime: 0,
  // The server looks at a few at a time; what this device kept of its answer stays as it is.
  refetchInterval: ({ state }) =>
    !behind.has('/api/v1/drops') && state.data?.pages.some((p) => p.lines.some((d) => d.stops === undefined)) && 500,
})
const session = useSession()
const callouts = useCallouts()
const callOut = () => router.push({ name: 'callout', params: { id: callouts.begin() } })
const refused = ref<{ message: string; faults: Fault[] }>()
const file = ref<HTMLInputElement>()
const list = computed(() => query.data.value?.pages.flatMap((p) => p.lines) ?? [])

const removed = useQuery({
  queryKey: ['removed-drops'],
  queryFn: async () => must(await api.GET('/api/v1/removed-drops')).drops,
})
/** Brings a drop back as it was when it was removed. */
async function bringBack(id: string, version: number) {
  refused.value = undefined
  const header = { 'If-Match': `"${version}"` }
  try {
    must(await api.POST('/api/v1/drops/{id}/versions/{version}', { params: { path: { id, version }, header } }))
    await client.invalidateQueries({ queryKey: ['drops'] })
    await client.invalidateQueries({ queryKey: ['removed-drops'] })
    await router.push({ name: 'drop', params: { id } })
  } catch (e) {
    refused.value = e instanceof Refused ? e : { message: 'The server does not answer.', faults: [] }
  }
}

/** Adds a drop; one from a file as the file says it, so that what it says twice is refused. */
async function add(drop: Drop | string) {
  refused.value = undefined
  const bodySerializer = (body: Drop | string) => (typeof body === 'string' ? body : JSON.stringify(body))
  try {
    const kept = must(await api.POST('/api/v1/drops', { body: drop as Drop, bodySerializer }))
    await client.invalidateQueries({ queryKey: ['drops'] })
    await router.push({ name: 'drop', params: { id: kept.id } })
  } catch (e) {
    refused.value = e instanceof Refused ? e : { message: 'The server does not answer.', faults: [] }
  }
}

function addEmpty() {
  void add({
    format: 'drop',
    version: 1,
    name: 'New drop',
    day: today(),
    geometry: { top_m: 20, top_name: 'top', landing_name: 'ground', offset_m: 0 },
    policy: { name: session.team?.name ?? 'our team' },
  })
}

async function addFile(e: Event) {
  const chosen = (e.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  try {
    await add(await chosen.text())
  } catch {
    refused.value = { message: `${chosen.name} could not be read.`, faults: [] }
  } finally {
    if (file.value) file.value.value = ''
  }
}
</script>

<template>
  <StateNotice v-if="query.isPending.value" title="Fetching the drops" busy />
  <StateNotice
    v-else-if="query.isError.value"
    title="The drops could not be fetched"
    :detail="query.error.value?.message"
  >
    <button type="button" class="plain" @click="query.refetch()">Try again</button>
  </StateNotice>
  <main v-else id="page" class="mx-auto max-w-4xl px-5 py-8">
    <button
      v-if="session.may('give-callout')"
      type="button"
      class="strong mb-4 min-h-16! w-full text-xl sm:hidden"
      data-callout
      @click="callOut"
    >
      Callout
    </button>
    <h1>{{ session.team?.name ?? 'Drops' }}</h1>
    <p class="text-soft mt-1 max-w-prose">
      Describe a drop, its strands and kit: see with figures and reasons what does not fit, and how to get past what is
      in the way, alone or as a team. For trained people: the manufacturer's instructions, local rules and the person in
      charge come first; figures are models with stated limits.
    </p>
    <label v-if="list.length > 8 || typed" class="mt-4 block max-w-96">
      Find a drop
      <input v-model="typed" class="field" maxlength="80" placeholder="letters of a name, a site or a day" data-find />
    </label>
    <ul class="divide-line border-line mt-6 divide-y border-y">
      <li v-for="d in list" :key="d.id">
        <RouterLink
          :to="{ name: 'drop', params: { id: d.id } }"
          class="hover:bg-rock flex min-h-16 flex-wrap items-center gap-x-6 gap-y-1 px-2 py-3"
        >
          <span class="min-w-52 flex-1">
            <span class="text-lg font-semibold">{{ d.name }}</span>
            <span class="text-soft block text-sm">{{ d.site }} · {{ d.day }}{{ d.plan ? ` · ${d.plan}` : '' }}</span>
          </span>
          <span v-if="d.stops === undefined" class="text-soft" data-uncounted>not counted yet</span>
          <span v-else-if="d.refused" class="text-stop">■ cannot be checked: {{ d.refused }}</span>
          <span v-else-if="d.stops || d.looks" class="figure">
            <span v-if="d.stops" class="text-stop mr-4">{{ shape.stop }} {{ count(d.stops, 'stop') }}</span>
            <span v-if="d.looks" class="text-look">{{ shape.look }} {{ count(d.looks, 'look') }}</span>
          </span>
          <span v-else class="text-soft">{{ d.empty ? 'nothing to look at yet' : 'nothing found' }}</span>
        </RouterLink>
      </li>
    </ul>
    <button
      v-if="query.hasNextPage.value"
      type="button"
      class="plain mt-3"
      :disabled="query.isFetchingNextPage.value"
      data-older
      @click="query.fetchNextPage()"
    >
      {{ query.isFetchingNextPage.value ? 'Fetching…' : 'Drops that were changed earlier' }}
    </button>
    <p v-if="!list.length && find" class="mt-6">No drop has these letters in its name, site or day.</p>
    <p v-else-if="!list.length" class="mt-6">
      No drop yet. Start an empty one, or open a file; <code>make demo</code> brings a whole scenario to look at.
    </p>
    <p v-if="!list.length && !find && session.may('add-drop')" class="text-soft mt-2 max-w-prose" data-first>
      A drop takes its people and things from the team: first
      <RouterLink class="underline" to="/people">who you are</RouterLink>, then
      <RouterLink class="underline" to="/store">what you have</RouterLink>, typed or as tables.
    </p>
    <div class="mt-6 flex flex-wrap gap-3">
      <template v-if="session.may('add-drop')">
        <button type="button" class="plain" @click="addEmpty">Start an empty drop</button>
        <button type="button" class="plain" @click="file?.click()">Open a drop file</button>
      </template>
      <RouterLink class="plain" to="/figures">Quick figures</RouterLink>
      <RouterLink class="plain" to="/tables">Tables behind the figures</RouterLink>
      <input
        ref="file"
        type="file"
        accept="application/json,.json"
        class="hidden"
        aria-label="Drop file"
        @change="addFile"
      />
    </div>
    <details v-if="removed.data.value?.length" class="mt-6" data-removed>
      <summary class="flex min-h-11 items-center">
        {{ count(removed.data.value.length, 'drop') }} removed, and kept<span aria-hidden="true">&nbsp;▾</span>
      </summary>
      <ul class="divide-line border-line divide-y border-y">
        <li v-for="d in removed.data.value" :key="d.id" class="flex min-h-14 flex-wrap items-center gap-x-4">
          <span class="flex-1">{{ d.name }}</span>
          <span class="text-soft figure text-sm">last changed {{ timeWords(d.changed_at) }}</span>
          <button
            v-if="session.may('restore-drop')"
            type="button"
            class="quiet"
            :data-bring-back="d.id"
            @click="bringBack(d.id, d.version)"
          >
            bring back
          </button>
        </li>
      </ul>
    </details>
    <div v-if="refused" class="text-stop mt-4" role="alert">
      <p>■ {{ refused.message }}</p>
      <ul>
        <li v-for="f in refused.faults" :key="f.pointer + f.detail">
          <span class="figure">{{ f.pointer }}</span> {{ f.detail }}
        </li>
      </ul>
    </div>
  </main>
</template>
