<script setup lang="ts">
// The tables that figures use: what the program ships, and what the team decided
// for itself. Every drop is computed with them.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, must, Refused, type Policy } from '@/api/client'
import LiveNumber from '@/components/LiveNumber.vue'
import SchoolLines from '@/components/SchoolLines.vue'
import StateNotice from '@/components/StateNotice.vue'
import { tables, valueOf, withoutValue, withValue, type Row } from '@/lib/tables'
import { show } from '@/lib/units'

const client = useQueryClient()
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
const told = ref('')
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
      told.value = ''
    } catch (e) {
      const conflict = e instanceof Refused && e.status === 412
      told.value = conflict
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
const set = (r: Row, value: number) => save((p) => withValue(p.own, p.in_force, r.path, value))
const reset = (r: Row) => save((p) => withoutValue(p.own, p.shipped, r.path))
const differs = (r: Row) =>
  query.data.value && valueOf(query.data.value.in_force, r.path) !== valueOf(query.data.value.shipped, r.path)
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
    <p v-if="told" class="border-look bg-raised mt-4 rounded-md border-2 p-3" role="alert">
      <b class="text-look">◆</b> {{ told }}
    </p>
    <section class="border-line mt-4 border-t py-4" aria-label="Schools">
      <h2>Where practitioners differ over moves</h2>
      <p class="text-soft max-w-prose text-sm">
        None relaxes the two-line rule. A plan says which way it follows, and may be asked for by another.
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
            <tr v-for="r in t.rows" :key="r.path.join('.')" class="border-line border-t" :data-row="r.path.join('.')">
              <th scope="row" class="py-0 pr-3 text-left leading-snug font-normal">{{ r.words }}</th>
              <td class="w-24 whitespace-nowrap">
                <LiveNumber
                  :value="valueOf(query.data.value.in_force, r.path) ?? 0"
                  :unit="r.unit"
                  :label="`${t.title}: ${r.words}`"
                  :step="r.step"
                  :min="r.min"
                  :max="r.max"
                  @set="(v) => set(r, v)"
                />
              </td>
              <td class="w-48 text-sm max-sm:w-28">
                <template v-if="differs(r)">
                  <b>own</b>
                  <button type="button" class="quiet text-sm" @click="reset(r)">
                    back to shipped {{ show(valueOf(query.data.value.shipped, r.path) ?? 0, r.unit) }}
                  </button>
                </template>
                <span v-else class="text-soft">as shipped: to be checked</span>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </main>
</template>
