<script setup lang="ts">
// What is known of sites before anybody calls from them: a list, and one to read or change.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, must, type Fault, type Preplan } from '@/api/client'
import FormFields from '@/components/FormFields.vue'
import StateNotice from '@/components/StateNotice.vue'
import { askHere } from '@/lib/core'
import { idOf, trimmed, useForms, type Value } from '@/lib/forms'
import { today } from '@/lib/records'
import { count } from '@/lib/words'
import { useSession } from '@/stores/session'

const props = defineProps<{ id?: string }>()
const session = useSession()
const client = useQueryClient()
const router = useRouter()
const forms = useForms()
const query = useQuery({
  queryKey: ['preplans'],
  queryFn: async () => must(await api.GET('/api/v1/preplans')).preplans,
})
const fresh = computed(() => props.id === 'new')
const there = computed(() => query.data.value?.find((p) => p.id === props.id))
/** Anchors whose examination is not in date, by the site's id. */
const stale = shallowRef<Record<string, string[]>>({})
watch(
  () => query.data.value,
  async (list) => {
    const preplans = (list ?? []).map(({ id, preplan }) => ({ id, preplan }))
    const found = await askHere<{ sites: { id: string; stale?: string[] }[] }>('near', {
      preplans,
      day: today(),
    }).catch(() => undefined)
    stale.value = Object.fromEntries((found?.answer?.sites ?? []).map((s) => [s.id, s.stale ?? []]))
  },
  { immediate: true },
)
const value = ref<Value>({})
const faults = ref<Fault[]>([])
const message = ref('')
const busy = ref(false)
/** The version that is changed here: what somebody else keeps meanwhile is not written over. */
const version = ref(0)
watch(
  [() => props.id, () => there.value !== undefined],
  () => {
    value.value = { ...(there.value?.preplan ?? {}) } as Value
    version.value = there.value?.version ?? 0
    faults.value = []
    message.value = ''
  },
  { immediate: true },
)

/** The drops that a site may name, and the anchors of the one that it names. */
const drops = useQuery({
  queryKey: ['drops', 'of-sites'],
  enabled: () => Boolean(props.id),
  queryFn: async () => must(await api.GET('/api/v1/drops', { params: { query: { limit: 200 } } })),
})
const named = computed(() => String(value.value.drop ?? ''))
const anchors = useQuery({
  queryKey: computed(() => ['anchors', named.value]),
  enabled: () => Boolean(named.value),
  queryFn: async () =>
    must(await api.GET('/api/v1/drops/{id}', { params: { path: { id: named.value } } })).anchors ?? [],
})
const names = computed(() => {
  const drop = (drops.data.value ?? []).map((d) => ({ id: d.id, words: d.name }))
  if (named.value && !drop.some((d) => d.id === named.value)) drop.unshift({ id: named.value, words: named.value })
  return { drop, anchor: (anchors.data.value ?? []).map((a) => ({ id: a.id, words: a.name })) }
})

async function act(what: () => Promise<{ error?: { errors?: Fault[]; detail?: string }; response: Response }>) {
  busy.value = true
  message.value = ''
  const answer = await what().catch(() => undefined)
  busy.value = false
  faults.value = answer?.error?.errors ?? []
  if (!answer) message.value = 'No connection: nothing was saved, and what you typed is still here.'
  else if (answer.response.status === 412)
    message.value =
      'Somebody else changed it meanwhile, or it is there already: nothing was saved. Open it again to see.'
  else if (answer.error)
    message.value = faults.value.length ? 'Nothing was saved: see what is marked.' : (answer.error.detail ?? '')
  else {
    await client.invalidateQueries({ queryKey: ['preplans'] })
    await router.push('/preplans')
  }
}
function save() {
  const body = { ...trimmed(forms.data.value!.preplan, value.value), format: 'pre-plan', version: 1 } as Preplan
  const path = { id: fresh.value ? idOf(String(value.value.name ?? '')) : props.id! }
  return act(() =>
    api.PUT('/api/v1/preplans/{id}', { params: { path, header: { 'If-Match': `"${version.value}"` } }, body }),
  )
}
const remove = () =>
  act(() =>
    api.DELETE('/api/v1/preplans/{id}', {
      params: { path: { id: props.id! }, header: { 'If-Match': `"${version.value}"` } },
    }),
  )
const others = computed(() => faults.value.filter((f) => !f.pointer))
</script>

<template>
  <main id="page" class="@container mx-auto max-w-4xl px-5 py-6">
    <template v-if="!id">
      <h1>Pre-plans</h1>
      <p class="text-soft max-w-prose">
        What the team knows of sites before anybody calls: how one gets there, where to meet, the register of anchors, a
        drop that is ready. A callout finds them by name or distance, without signal too.
      </p>
      <StateNotice v-if="query.isPending.value" part title="Fetching the pre-plans" busy />
      <StateNotice v-else-if="query.isError.value" part title="The pre-plans could not be fetched">
        <button type="button" class="plain" @click="query.refetch()">Try again</button>
      </StateNotice>
      <ul v-else class="divide-line border-line mt-4 divide-y border-y">
        <li v-for="p in query.data.value" :key="p.id">
          <RouterLink :to="`/preplans/${p.id}`" class="flex min-h-14 items-center gap-3">
            <b>{{ p.preplan.name }}</b>
            <span class="text-soft">{{ count(p.preplan.anchors?.length ?? 0, 'anchor') }} in the register</span>
            <span v-if="stale[p.id]?.length" class="text-look" data-stale>◆ {{ stale[p.id]!.join('; ') }}</span>
          </RouterLink>
        </li>
        <li v-if="!query.data.value?.length" class="text-soft py-3">No site yet.</li>
      </ul>
      <RouterLink
        v-if="session.may('save-preplan')"
        to="/preplans/new"
        class="plain mt-4 inline-flex items-center"
        data-new
        >Add a site</RouterLink
      >
    </template>
    <template v-else>
      <RouterLink to="/preplans" class="quiet -ml-2">← Pre-plans</RouterLink>
      <h1>{{ fresh ? 'Add a site' : (there?.preplan.name ?? '…') }}</h1>
      <StateNotice v-if="query.isPending.value || forms.isPending.value" part title="Fetching the site" busy />
      <StateNotice v-else-if="!fresh && !there" part title="There is no such site" />
      <template v-else-if="forms.data.value">
        <FormFields
          v-model="value"
          class="mt-4"
          :fields="forms.data.value.preplan"
          at=""
          :faults="faults"
          :names="names"
          :without="['format', 'version']"
        />
        <p v-for="f in others" :key="f.detail" class="text-stop mt-2" role="alert">■ {{ f.detail }}</p>
        <p v-if="message" class="text-stop mt-2" role="alert">■ {{ message }}</p>
        <p v-if="!session.may('save-preplan')" class="text-look mt-3">◆ Your roles change no pre-plan.</p>
        <div v-else class="mt-4 flex flex-wrap gap-3">
          <button type="button" class="strong" :disabled="busy || !value.name" data-save @click="save">Keep it</button>
          <button
            v-if="!fresh && session.may('remove-preplan')"
            type="button"
            class="plain"
            :disabled="busy"
            @click="remove"
          >
            Remove it
          </button>
        </div>
      </template>
    </template>
  </main>
</template>
