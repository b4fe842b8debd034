<script setup lang="ts">
// A class: exercises that a trainer gives to people. Everybody gets the same ones; the trainer
// sees who stands where, and shows them large, one at a time, with no name beside a result.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, must, type ClassDocument, type Fault, type Listed, type MarkLine } from '@/api/client'
import ClassShow from '@/components/ClassShow.vue'
import ExerciseBand from '@/components/ExerciseBand.vue'
import LiveChoice from '@/components/LiveChoice.vue'
import StateNotice from '@/components/StateNotice.vue'
import { usePeople } from '@/lib/gear'
import { anySeed, kinds, kindTitle, scoreWords } from '@/lib/practice'
import { timeWords } from '@/lib/records'
import { useSession } from '@/stores/session'

const props = defineProps<{ id: string }>()
const session = useSession()
const router = useRouter()
const client = useQueryClient()
const people = usePeople()
const fresh = computed(() => props.id === 'new')
const classes = useQuery({
  queryKey: ['classes'],
  queryFn: async () => must(await api.GET('/api/v1/practice/classes')).classes,
})
const drops = useQuery({
  queryKey: ['drops', 'first'],
  queryFn: async () => must(await api.GET('/api/v1/drops', { params: { query: { limit: 50 } } })),
})
const kept = computed(() => classes.data.value?.find((c) => c.id === props.id))
const marks = useQuery({
  queryKey: ['marks', computed(() => props.id)],
  queryFn: async () => must(await api.GET('/api/v1/practice/marks', { params: { query: { class: props.id } } })).marks,
  enabled: computed(() => !fresh.value),
})
const empty = (): ClassDocument => ({ format: 'class', version: 1, name: '', exercises: [] })
const edited = ref<ClassDocument>(empty())
const editing = ref(false)
/** The version that is changed here: what somebody else keeps meanwhile is not written over. */
const version = ref(0)
function begin() {
  edited.value = kept.value ? (JSON.parse(JSON.stringify(kept.value.class)) as ClassDocument) : empty()
  version.value = kept.value?.version ?? 0
  editing.value = true
}
watch(
  fresh,
  (is) => {
    if (is) begin()
    else editing.value = false
  },
  { immediate: true },
)
const shown = computed(() => (editing.value ? edited.value : kept.value?.class))
const showing = ref(false)
const kind = ref<Listed['kind']>('faults')
const level = ref(1)
const drop = ref('')
const faults = ref<Fault[]>([])
const message = ref('')
const busy = ref(false)

function add() {
  const e: Listed = { kind: kind.value, level: level.value, seed: anySeed() }
  if (drop.value && kind.value !== 'apart') e.drop = drop.value
  edited.value.exercises = [...edited.value.exercises, e]
}
const given = (id: string) => edited.value.people?.includes(id) ?? false
function give(id: string) {
  const list = given(id) ? edited.value.people!.filter((p) => p !== id) : [...(edited.value.people ?? []), id]
  edited.value.people = list.length ? list : undefined
}

async function save() {
  busy.value = true
  faults.value = []
  message.value = ''
  const id = fresh.value ? crypto.randomUUID() : props.id
  const { data, error } = await api.PUT('/api/v1/practice/classes/{id}', {
    params: { path: { id }, header: { 'If-Match': `"${version.value}"` } },
    body: edited.value,
  })
  busy.value = false
  if (!data) {
    faults.value = error?.errors ?? []
    message.value = error?.detail ?? error?.title ?? 'it was not kept'
    return
  }
  editing.value = false
  await client.invalidateQueries({ queryKey: ['classes'] })
  if (fresh.value) void router.replace(`/practice/class/${id}`)
}

async function remove() {
  const { response } = await api.DELETE('/api/v1/practice/classes/{id}', {
    params: { path: { id: props.id }, header: { 'If-Match': `"${kept.value?.version ?? 0}"` } },
  })
  if (!response.ok) message.value = 'it was not removed: somebody else has changed it'
  else {
    await client.invalidateQueries({ queryKey: ['classes'] })
    void router.replace('/practice')
  }
}

const to = (e: Listed, n: number) => ({
  name: 'exercise',
  params: { kind: e.kind },
  query: {
    seed: String(e.seed ?? 0),
    level: String(e.level),
    class: props.id,
    n: String(n),
    ...(e.drop ? { drop: e.drop } : {}),
    ...(e.move ? { move: e.move } : {}),
  },
})
const trains = computed(() => session.may('save-class'))
const best = (list: { score: number }[]) => (list.length ? Math.max(...list.map((m) => m.score)) : undefined)
const ownBest = (n: number) => best((marks.data.value ?? []).filter((m) => m.own && m.listed === n))
/** Who stands where: everybody whom it is for, and whoever else answered. */
const rows = computed(() => {
  const by = new Map<string, { name: string; person?: string; marks: MarkLine[] }>()
  for (const m of marks.data.value ?? []) {
    const row = by.get(m.account) ?? { name: m.by, person: m.person, marks: [] }
    row.marks.push(m)
    by.set(m.account, row)
  }
  const list = [...by].map(([key, row]) => ({ key, ...row }))
  for (const id of kept.value?.class.people ?? [])
    if (!list.some((r) => r.person === id))
      list.push({ key: id, name: people.data.value?.find((p) => p.id === id)?.name ?? id, marks: [] })
  return list.sort((a, b) => a.name.localeCompare(b.name))
})
/** The best of an exercise: what came after the class's last day counts where nothing else did. */
function resultWords(list: MarkLine[], n: number): string {
  const due = kept.value?.class.due
  const all = list.filter((m) => m.listed === n)
  const inTime = all.filter((m) => !due || timeWords(m.at).slice(0, 10) <= due)
  const score = best(inTime) ?? best(all)
  if (score === undefined) return '—'
  return inTime.length ? scoreWords(score) : `${scoreWords(score)}, late`
}
const dropName = (id: string | undefined) => drops.data.value?.find((d) => d.id === id)?.name
</script>

<template>
  <ClassShow v-if="showing && kept" :of="kept.class" @close="showing = false" />
  <main v-else id="page" class="@container mx-auto max-w-5xl px-5 py-6">
    <ExerciseBand />
    <RouterLink to="/practice" class="quiet -ml-2">← Practice</RouterLink>
    <h1>{{ fresh ? 'Draw up a class' : (shown?.name ?? '…') }}</h1>
    <StateNotice v-if="classes.isPending.value" part title="Fetching the class" busy />
    <StateNotice v-else-if="classes.isError.value" part title="The class could not be fetched">
      <button type="button" class="plain" @click="classes.refetch()">Try again</button>
    </StateNotice>
    <StateNotice v-else-if="!fresh && !kept" part title="There is no such class" />
    <template v-else-if="shown">
      <template v-if="editing">
        <p class="mt-3 flex flex-wrap items-center gap-3">
          <label class="flex items-center gap-2"
            >Name <input v-model="edited.name" class="field" maxlength="80" data-name
          /></label>
          <label class="flex items-center gap-2">until <input v-model="edited.due" type="date" class="field" /></label>
        </p>
        <fieldset class="mt-3">
          <legend class="font-semibold">For whom</legend>
          <p class="text-soft text-sm">With nobody ticked it is for everybody.</p>
          <label v-for="p in people.data.value ?? []" :key="p.id" class="mr-4 inline-flex min-h-11 items-center gap-2">
            <input type="checkbox" :checked="given(p.id)" :data-for="p.id" @change="give(p.id)" /> {{ p.name }}
          </label>
        </fieldset>
        <p class="briefing mt-3">
          <LiveChoice
            :value="kind"
            :options="kinds.map((k) => ({ value: k.kind, words: k.words }))"
            label="Kind of exercise"
            @set="(v) => (kind = v)"
          />, level
          <LiveChoice
            :value="level"
            :options="[1, 2, 3, 4].map((n) => ({ value: n, words: String(n) }))"
            label="Level of the exercise"
            @set="(v) => (level = v)"
          />, on
          <LiveChoice
            :value="drop"
            :options="[
              { value: '', words: 'a rig that is made up' },
              ...(drops.data.value ?? []).map((d) => ({ value: d.id, words: d.name })),
            ]"
            label="What the exercise is about"
            @set="(v) => (drop = v)"
          />
          <button type="button" class="plain ml-2" data-add @click="add">Add it</button>
        </p>
      </template>
      <p v-else class="text-soft">
        {{ shown.due ? `Until ${shown.due}. ` : '' }}{{ shown.note ?? '' }}
        For
        {{
          shown.people?.length
            ? shown.people.map((p) => people.data.value?.find((o) => o.id === p)?.name ?? p).join(', ')
            : 'everybody'
        }}.
      </p>
      <ol class="divide-line border-line mt-3 divide-y border-y">
        <li v-for="(e, n) in shown.exercises" :key="n" class="flex min-h-14 flex-wrap items-center gap-3">
          <span class="figure text-soft">{{ n + 1 }}</span>
          <RouterLink v-if="!editing" :to="to(e, n)" class="font-semibold underline" :data-do="n">{{
            kindTitle(e.kind)
          }}</RouterLink>
          <b v-else>{{ kindTitle(e.kind) }}</b>
          <span class="text-soft"
            >level {{ e.level }}, number {{ e.seed ?? 0 }}{{ e.drop ? `, on ${dropName(e.drop) ?? e.drop}` : '' }}</span
          >
          <span v-if="!editing && ownBest(n) !== undefined" class="figure">you: {{ scoreWords(ownBest(n)!) }}</span>
          <button
            v-if="editing"
            type="button"
            class="quiet"
            @click="edited.exercises = edited.exercises.filter((o) => o !== e)"
          >
            leave out
          </button>
        </li>
      </ol>
      <p v-for="f in faults" :key="f.pointer" class="text-stop mt-2" role="alert">■ {{ f.pointer }}: {{ f.detail }}</p>
      <p v-if="message" class="text-stop mt-2" role="alert">■ {{ message }}</p>
      <div v-if="trains" class="mt-4 flex flex-wrap gap-3">
        <template v-if="editing">
          <button
            type="button"
            class="strong"
            :disabled="busy || !edited.name.trim() || !edited.exercises.length"
            data-save
            @click="save"
          >
            Keep it
          </button>
          <button v-if="!fresh" type="button" class="quiet" @click="editing = false">leave it as it was</button>
        </template>
        <template v-else>
          <button type="button" class="strong" data-show @click="showing = true">Show it large</button>
          <button type="button" class="plain" data-edit @click="begin">Change it</button>
          <button type="button" class="quiet" data-remove @click="remove">remove it</button>
        </template>
      </div>
      <section v-if="trains && !fresh && !editing" class="mt-6" data-results>
        <h2>Who stands where</h2>
        <p class="text-soft text-sm">For the trainer alone: the best of each exercise, as it is in the class now.</p>
        <div class="overflow-x-auto" tabindex="0" role="region" aria-label="Results">
          <table v-if="rows.length" class="mt-1 text-sm">
            <thead>
              <tr class="text-left">
                <th scope="col" class="pr-6">who</th>
                <th v-for="(_, n) in shown.exercises" :key="n" scope="col" class="figure pr-6">{{ n + 1 }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in rows" :key="row.key" class="border-line border-t">
                <th scope="row" class="py-2 pr-6 text-left font-normal">{{ row.name }}</th>
                <td v-for="(_, n) in shown.exercises" :key="n" class="figure pr-6" :data-result="`${row.name} ${n}`">
                  {{ resultWords(row.marks, n) }}
                </td>
              </tr>
            </tbody>
          </table>
          <p v-else class="text-soft py-2">Nobody has answered yet.</p>
        </div>
      </section>
    </template>
  </main>
</template>
