<script setup lang="ts">
// The tables that figures use: what the program ships, and what the team decided
// for itself. Every drop is computed with them.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, must, Refused, type ActionTime, type Policy } from '@/api/client'
import LearntTimes from '@/components/LearntTimes.vue'
import SchoolLines from '@/components/SchoolLines.vue'
import StateNotice from '@/components/StateNotice.vue'
import TableRow from '@/components/TableRow.vue'
import { tables, valueOf, withoutValue, withValue, type Row } from '@/lib/tables'
import { timeOf, timeTables, withTime } from '@/lib/times'
import TermWord from '@/components/TermWord.vue'
import { count } from '@/lib/words'
import { useSession } from '@/stores/session'

const client = useQueryClient()
const session = useSession()
const query = useQuery({
  queryKey: ['policy'],
  queryFn: async () => {
    const answer = await api.GET('/api/v1/policy')
    return { ...must(answer), version: answer.response.headers.get('ETag') ?? '"0"' }
  },
})
const schools = useQuery({
  queryKey: ['schools'],
  queryFn: async () => must(await api.GET('/api/v1/schools')),
  staleTime: Infinity,
})
const message = ref('')
let saving = Promise.resolve()

/** Saves one after the other: each is written over the version that is there. */
function save(change: (p: NonNullable<typeof query.data.value>) => Policy) {
  saving = saving.then(async () => {
    const now = client.getQueryData<typeof query.data.value>(['policy'])
    if (!now) return
    const own = change(now)
    try {
      const header = { 'If-Match': now.version }
      const answer = await api.PUT('/api/v1/policy', { params: { header }, body: own })
      must(answer)
      message.value = ''
    } catch (e) {
      const conflict = e instanceof Refused && e.status === 412
      message.value = conflict
        ? 'Somebody else changed the tables meanwhile. Theirs are shown now; yours was not kept.'
        : e instanceof Refused
          ? e.faults.map((f) => `${f.pointer} ${f.detail}`).join('; ') || e.message
          : 'No connection: this was not kept.'
    }
    await query.refetch()
  })
}

const follow = (name: string, value: string) =>
  save((p) => ({ ...p.own, schools: { ...p.own.schools, [name]: value } }))
const alone = (may: boolean) => save((p) => ({ ...p.own, checked_alone: may || undefined }))
const set = (r: Row, value: number) => save((p) => withValue(p.own, p.in_force, r.path, value))
const reset = (r: Row) => save((p) => withoutValue(p.own, p.shipped, r.path))
const time = (a: ActionTime, s: number) => save((p) => withTime(p.own, a, s))

const timesOf = (table: ActionTime['table']) => (query.data.value?.times ?? []).filter((a) => a.table === table)
const own = (table: ActionTime['table']) => query.data.value?.own[table]?.length ?? 0

/** A list in two columns, to be read down the first and then the second. */
function halves<T>(all: T[]): T[][] {
  const middle = Math.ceil(all.length / 2)
  return [all.slice(0, middle), all.slice(middle)]
}
</script>

<template>
  <StateNotice v-if="query.isPending.value" title="Fetching the tables" busy />
  <StateNotice
    v-else-if="!query.data.value"
    title="The tables could not be fetched"
    :detail="query.error.value?.message"
  >
    <button type="button" class="plain" @click="query.refetch()">Try again</button>
  </StateNotice>
  <main v-else id="page" class="mx-auto max-w-6xl px-5 py-8">
    <h1>Tables behind the figures</h1>
    <p class="text-soft mt-1 max-w-prose">
      What is marked <b>as shipped</b> is a default of the program: check it against the manufacturer’s instructions and
      local rules, and set your own. Every drop of the team is computed with what stands here.
    </p>
    <p v-if="message" class="border-look bg-raised mt-4 rounded-md border-2 p-3" role="alert">
      <b class="text-look">◆</b> {{ message }}
    </p>
    <section class="border-line mt-4 border-t py-4" aria-label="Schools">
      <h2><TermWord word="school">Where practitioners differ</TermWord> over moves</h2>
      <p class="text-soft max-w-prose text-sm">
        None relaxes the two-line rule. A plan says which way it follows, and you may ask for another.
      </p>
      <SchoolLines
        v-if="schools.data.value"
        :questions="schools.data.value"
        :chosen="{}"
        :team="query.data.value.own.schools ?? {}"
        class="mt-2"
        @set="follow"
      />
    </section>
    <LearntTimes :times="query.data.value.times" :may="session.may('put-policy')" @take="time" />
    <section class="border-line mt-4 border-t py-4" aria-label="Plans">
      <h2>Who checks a plan</h2>
      <p class="text-soft max-w-prose text-sm">
        As shipped another person checks a plan than the one who changed it last. Checked alone it has no second pair of
        eyes: plan, record and sheet say so.
      </p>
      <label class="mt-2 inline-flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          class="size-5"
          data-alone
          :checked="query.data.value.own.checked_alone ?? false"
          @change="alone(($event.target as HTMLInputElement).checked)"
        />
        whoever changed a plan last may check it
        <span class="text-soft text-sm">{{ query.data.value.own.checked_alone ? 'own' : 'as shipped' }}</span>
      </label>
    </section>
    <div class="mt-4 grid gap-x-12 lg:grid-cols-2">
      <section v-for="t in tables" :key="t.id" class="border-line border-t py-4">
        <h2>{{ t.title }}</h2>
        <p class="text-soft max-w-prose text-sm">{{ t.says }}</p>
        <table class="mt-1 w-full">
          <thead class="sr-only">
            <tr>
              <th scope="col">What</th>
              <th scope="col">In force</th>
              <th scope="col">Where from</th>
            </tr>
          </thead>
          <tbody>
            <TableRow
              v-for="r in t.rows"
              :key="r.path.join('.')"
              v-bind="r"
              :label="`${t.title}: ${r.words}`"
              :value="valueOf(query.data.value.in_force, r.path) ?? 0"
              :shipped="valueOf(query.data.value.shipped, r.path) ?? 0"
              :data-row="r.path.join('.')"
              @set="(v) => set(r, v)"
              @reset="reset(r)"
            />
          </tbody>
        </table>
      </section>
    </div>
    <section class="border-line border-t py-4" aria-label="Times">
      <h2>How long single actions take</h2>
      <p class="text-soft max-w-prose text-sm">
        Plans and rescue cover are timed by these. Of a way along the rope more is counted by the metre, of a haul for
        each pulley. They are guesses until you time your own team.
      </p>
      <details v-for="t in timeTables" :key="t.id" class="mt-1" :data-times="t.id">
        <summary class="cursor-pointer py-3">
          {{ t.title }}: {{ count(timesOf(t.id).length, 'action')
          }}<template v-if="own(t.id)"
            >, <b>{{ own(t.id) }} own</b></template
          >
        </summary>
        <div class="grid gap-x-12 lg:grid-cols-2">
          <table v-for="(half, i) in halves(timesOf(t.id))" :key="i" class="w-full self-start">
            <tbody>
              <TableRow
                v-for="a in half"
                :key="a.do"
                :words="a.words"
                :label="`${t.title}: ${a.words}`"
                :value="timeOf(query.data.value.own, a)"
                :shipped="a.s"
                unit="s"
                :step="1"
                :min="0"
                :max="7200"
                :data-row="`${t.id}.${a.do}`"
                @set="(v) => time(a, v)"
                @reset="time(a, a.s)"
              />
            </tbody>
          </table>
        </div>
      </details>
    </section>
  </main>
</template>
