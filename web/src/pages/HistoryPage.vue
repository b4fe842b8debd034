<script setup lang="ts">
// Who changed what in a drop, and when; an earlier version can be saved again.
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, must, Refused } from '@/api/client'
import type { components } from '@/api/schema'
import StateNotice from '@/components/StateNotice.vue'
import { timeWords, today } from '@/lib/records'
import { say } from '@/lib/units'
import { count } from '@/lib/words'
import { useDraft } from '@/stores/draft'
import { useSession } from '@/stores/session'

type Version = components['schemas']['Version']
/** What one person changed in one go: from the version before the first to the last. */
type Sitting = { last: Version; first: Version }
type Told = { words: string[]; since: number } | 'asked' | 'failed'

const props = defineProps<{ id: string }>()
const draft = useDraft()
const session = useSession()
const client = useQueryClient()
const router = useRouter()

const etag = ref('')
const query = useInfiniteQuery({
  queryKey: computed(() => ['versions', props.id]),
  queryFn: async ({ pageParam }) => {
    const answer = await api.GET('/api/v1/drops/{id}/versions', {
      params: { path: { id: props.id }, query: { before: pageParam } },
    })
    etag.value = answer.response.headers.get('ETag') ?? ''
    return must(answer).versions
  },
  initialPageParam: 0,
  getNextPageParam: (page) => {
    const oldest = page.at(-1)?.version ?? 1
    return oldest > 1 ? oldest : undefined
  },
  staleTime: 0,
})
watch(
  () => draft.version,
  () => void query.refetch(),
)

/** Drafts are kept at each pause: what one person saved within ten minutes is one sitting. */
const pause = 10 * 60_000
const sittings = computed(() => {
  const list: Sitting[] = []
  for (const v of query.data.value?.pages.flat() ?? []) {
    const after = list.at(-1)
    const near = after && Date.parse(after.first.changed_at) - Date.parse(v.changed_at) < pause
    if (near && after.first.account === v.account && after.first.by === v.by) after.first = v
    else list.push({ last: v, first: v })
  }
  return list
})

const told = reactive(new Map<string, Told>())
async function tell(version: number, since: number) {
  const key = `${version} ${since}`
  if (told.get(key) && told.get(key) !== 'failed') return
  told.set(key, 'asked')
  try {
    const { data } = await api.GET('/api/v1/drops/{id}/versions/{version}/changes', {
      params: { path: { id: props.id, version }, query: { since } },
    })
    told.set(key, data ? { words: data.changes, since: data.since } : 'failed')
  } catch {
    told.set(key, 'failed')
  }
}
const changesOf = (s: Sitting) => told.get(`${s.last.version} ${s.first.version - 1}`)
const newest = computed(() => query.data.value?.pages[0]?.[0]?.version ?? 0)
/** What differs now from then. */
const comparing = ref<number>()
const compared = computed(() => told.get(`${newest.value} ${comparing.value}`))
function compare(version: number) {
  comparing.value = comparing.value === version ? undefined : version
}
// A version that somebody saves meanwhile is the one to compare with.
watch([newest, comparing], ([now, then]) => {
  if (now && then) void tell(now, then)
})
// The last three are what is looked for most.
watch(
  sittings,
  (list) => {
    for (const s of list.slice(0, 3)) void tell(s.last.version, s.first.version - 1)
  },
  { immediate: true },
)

const wrong = ref('')
const done = ref('')
const busy = ref(false)
/** What is edited here and not kept yet would stand against the version that comes. */
const settled = computed(() => draft.keeping === 'kept' && draft.online && draft.version === newest.value)

async function act(what: () => Promise<string>) {
  wrong.value = done.value = ''
  busy.value = true
  try {
    done.value = await what()
  } catch (e) {
    wrong.value =
      e instanceof Refused ? e.message : 'The server does not answer: look at the list before you do it again.'
  } finally {
    busy.value = false
  }
}
const plan = useQuery({
  queryKey: computed(() => ['plan', props.id]),
  queryFn: async () => must(await api.GET('/api/v1/drops/{id}/plan', { params: { path: { id: props.id } } })),
  staleTime: 0,
})
/** The version to go back to that waits for a second word: a plan that was checked goes back with it. */
const doubted = ref<number>()
/** How far the plan is; empty where it could not be fetched, and so may go back too. */
const taken = computed(() => plan.data.value?.state ?? '')
function goBack(v: Version) {
  if (taken.value !== 'draft' && doubted.value !== v.version) doubted.value = v.version
  else void again(v)
}
const again = (v: Version) =>
  act(async () => {
    doubted.value = undefined
    const before = newest.value
    must(
      await api.POST('/api/v1/drops/{id}/versions/{version}', {
        params: { path: { id: props.id, version: v.version }, header: { 'If-Match': etag.value } },
      }),
    )
    comparing.value = undefined
    await draft.load()
    await query.refetch()
    return `Version ${v.version} stands again. What stood before it is version ${before}, below.`
  })
const copy = () =>
  act(async () => {
    const drop = { ...draft.drop!, name: `${draft.drop!.name.slice(0, 70)}, copy`, day: today() }
    const made = must(await api.POST('/api/v1/drops', { body: drop }))
    await client.invalidateQueries({ queryKey: ['drops'] })
    await router.push({ name: 'drop', params: { id: made.id } })
    return ''
  })
const remove = () =>
  act(async () => {
    const answer = await api.DELETE('/api/v1/drops/{id}', {
      params: { path: { id: props.id }, header: { 'If-Match': `"${draft.version}"` } },
    })
    if (!answer.response.ok) must(answer)
    await client.invalidateQueries({ queryKey: ['drops'] })
    await client.invalidateQueries({ queryKey: ['removed-drops'] })
    await router.push({ name: 'drops' })
    return ''
  })
const span = (s: Sitting) => {
  const [from, to] = [timeWords(s.first.changed_at), timeWords(s.last.changed_at)]
  if (from === to) return to
  return from.slice(0, 10) === to.slice(0, 10) ? `${from.slice(0, 16)} to ${to.slice(11)}` : `${from} to ${to}`
}
</script>

<template>
  <div>
    <h1>History of {{ draft.drop?.name }}</h1>
    <p class="text-soft max-w-prose">
      Every change that was kept, last first. What a person changed within ten minutes stands together.
    </p>
    <p v-if="draft.keeping !== 'kept' || !draft.online" class="text-look mt-2" data-unkept>
      ◆ What you changed is not kept yet: wait for it before an earlier one.
    </p>
    <p v-if="done" class="mt-2" role="status" data-done>✓ {{ done }}</p>
    <p v-if="wrong" class="text-stop mt-2" role="alert">■ {{ wrong }}</p>
    <StateNotice v-if="query.isPending.value" part title="Fetching the history" busy />
    <StateNotice v-else-if="query.isError.value" part title="The history could not be fetched">
      <button type="button" class="plain" @click="query.refetch()">Try again</button>
    </StateNotice>
    <ol v-else class="border-line mt-4 border-t">
      <li
        v-for="(s, i) in sittings"
        :key="s.last.version"
        class="border-line border-b py-3"
        :data-sitting="s.last.version"
      >
        <p class="flex flex-wrap items-baseline gap-x-4">
          <b>{{ s.last.by ?? 'by whom is not recorded' }}</b>
          <span class="figure">{{ span(s) }}</span>
          <span class="text-soft figure">
            {{
              s.first.version === s.last.version
                ? `version ${s.last.version}`
                : `versions ${s.first.version} to ${s.last.version}`
            }}{{ i ? '' : ', as it stands' }}
          </span>
        </p>
        <template v-if="changesOf(s)">
          <p v-if="changesOf(s) === 'asked'" class="text-soft" role="status">Looking for what changed…</p>
          <p v-else-if="changesOf(s) === 'failed'" class="text-look">
            ◆ What changed could not be fetched.
            <button type="button" class="quiet" @click="tell(s.last.version, s.first.version - 1)">Try again</button>
          </p>
          <p v-else-if="s.first.version === 1">The first version.</p>
          <p v-else-if="!(changesOf(s) as { words: string[] }).words.length" class="text-soft">
            Nothing that stands in the drop.
          </p>
          <ul v-else class="list-disc pl-5">
            <li v-for="w in (changesOf(s) as { words: string[] }).words" :key="w">{{ say(w) }}</li>
          </ul>
        </template>
        <div class="no-print flex flex-wrap gap-x-2">
          <button
            v-if="!changesOf(s)"
            type="button"
            class="quiet -ml-2"
            data-tell
            @click="tell(s.last.version, s.first.version - 1)"
          >
            what changed
          </button>
          <template v-if="i">
            <button
              type="button"
              class="quiet"
              :aria-expanded="comparing === s.last.version"
              data-compare
              @click="compare(s.last.version)"
            >
              what differs now
            </button>
            <button
              v-if="session.may('restore-drop')"
              type="button"
              class="quiet"
              :disabled="busy || !settled || plan.isPending.value"
              data-again
              @click="goBack(s.last)"
            >
              {{ doubted === s.last.version ? 'go back all the same' : 'go back to this' }}
            </button>
          </template>
          <a
            class="quiet"
            :href="`/api/v1/drops/${id}/versions/${s.last.version}`"
            :download="`${id}-${s.last.version}.json`"
            >save as a file</a
          >
        </div>
        <p v-if="doubted === s.last.version" class="text-look" role="status" data-takes-back>
          ◆ {{ taken ? `The plan is ${taken}.` : 'It is not known whether the plan was checked.' }} If anything that
          matters differs, it becomes a draft again.
          <button type="button" class="quiet" @click="doubted = undefined">leave it as it is</button>
        </p>
        <div v-if="comparing === s.last.version" class="border-soft mt-1 border-l-4 pl-4" data-compared>
          <p v-if="compared === 'failed'" class="text-look">◆ It could not be compared.</p>
          <p v-else-if="!compared || compared === 'asked'" class="text-soft" role="status">Comparing…</p>
          <template v-else>
            <p class="font-semibold">
              From version {{ compared.since }} to now: {{ count(compared.words.length, 'difference') }}
            </p>
            <ul class="list-disc pl-5">
              <li v-for="w in compared.words" :key="w">{{ say(w) }}</li>
            </ul>
          </template>
        </div>
      </li>
    </ol>
    <button
      v-if="query.hasNextPage.value"
      type="button"
      class="plain mt-3"
      :disabled="query.isFetchingNextPage.value"
      @click="query.fetchNextPage()"
    >
      Earlier versions
    </button>
    <section class="border-line no-print mt-8 border-t pt-4" aria-labelledby="whole">
      <h2 id="whole">The drop as a whole</h2>
      <p class="max-w-prose">
        A copy is for today and is a draft: checks are not copied. A drop that is removed can be brought back from the
        list of drops; what was recorded for it stands.
      </p>
      <div class="mt-2 flex flex-wrap gap-3">
        <button v-if="session.may('add-drop')" type="button" class="plain" :disabled="busy" data-copy @click="copy">
          Copy it as a new drop
        </button>
        <button
          v-if="session.may('remove-drop')"
          type="button"
          class="plain"
          :disabled="busy || !settled"
          data-remove
          @click="remove"
        >
          Remove this drop
        </button>
      </div>
    </section>
  </div>
</template>
