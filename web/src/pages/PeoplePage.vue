<script setup lang="ts">
// The team's people: who is familiar with which model, who may sign in as what, and
// invitations.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, must, Refused, type Membership, type Role } from '@/api/client'
import CompareModels from '@/components/CompareModels.vue'
import OutboxNotice from '@/components/OutboxNotice.vue'
import RolePicker from '@/components/RolePicker.vue'
import TeamArchive from '@/components/TeamArchive.vue'
import { useGear, usePeople } from '@/lib/gear'
import { timeWords, today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'
import TermWord from '@/components/TermWord.vue'

const session = useSession()
const outbox = useOutbox()
const client = useQueryClient()
const gear = useGear()
const people = usePeople()
const leads = computed(() => session.may('members'))
const members = useQuery({
  queryKey: ['members'],
  queryFn: async () => must(await api.GET('/api/v1/members')),
  enabled: leads,
})
const invitations = useQuery({
  queryKey: ['members', 'invitations'],
  queryFn: async () => must(await api.GET('/api/v1/invitations')),
  enabled: leads,
})

/** Models that somebody must be familiar with: what rides a rope or is a last resort. */
const models = computed(() => {
  const inStore = new Set(gear.items.value.map((i) => i.model))
  return [...gear.models.value.values()].filter((m) => inStore.has(m.id) && (m.device || m.class === 'evacuation-kit'))
})
const shown = computed(() => {
  const map = new Map<string, string>()
  for (const p of people.data.value ?? [])
    for (const f of p.familiar ?? []) map.set(`${p.id} ${f.model}`, `${f.on}${f.by ? `, by ${f.by}` : ''}`)
  return map
})
const marking = ref<{ person: string; model: string }>()
/** What they know of the same class: two devices that look alike part under load. */
const known = computed(() => {
  const m = marking.value
  const of = gear.models.value.get(m?.model ?? '')?.class
  return [...gear.models.value.values()]
    .filter((o) => m && o.class === of && o.id !== m.model && shown.value.has(`${m.person} ${o.id}`))
    .map((o) => o.id)
    .slice(0, 2)
})
const day = ref(today())
const by = ref('')
/** Nobody shows a model to themself: who did is then said. */
const own = computed(() => marking.value?.person === session.person)

function mark() {
  const m = marking.value
  if (!m) return
  const name = people.data.value?.find((p) => p.id === m.person)?.name ?? m.person
  const familiar = { model: m.model, ...(by.value.trim() ? { by: by.value.trim() } : {}) }
  outbox.record(name, { kind: 'familiarisation', day: day.value, person: m.person, familiar })
  marking.value = undefined
}

const refused = ref('')
const link = ref('')
const invited = reactive<{ name: string; person: string; until: string; roles: Role[] }>({
  name: '',
  person: '',
  until: '',
  roles: ['technician'],
})

async function attempt(f: () => Promise<void>) {
  refused.value = ''
  try {
    await f()
  } catch (e) {
    refused.value = e instanceof Refused ? (e.faults[0]?.detail ?? e.message) : 'The server does not answer.'
  }
  await client.invalidateQueries({ queryKey: ['members'] })
}

const invite = () =>
  attempt(async () => {
    const { name, person, until, roles } = invited
    const body = { name, roles, ...(person ? { person } : {}), ...(until ? { until } : {}) }
    const made = must(await api.POST('/api/v1/invitations', { body }))
    link.value = location.origin + made.path
    invited.name = invited.until = ''
  })
type Said = { roles: Role[]; person: string; nobody: boolean; until: string }
/** One change after the other, each of what is there then: one's own do not collide. */
let changing = Promise.resolve()
const setMember = (account: string, change: Partial<Said>) => {
  changing = changing.then(() =>
    attempt(async () => {
      const m = client.getQueryData<Membership[]>(['members'])?.find((x) => x.account === account)
      if (!m) return
      const was: Said = { roles: m.roles, person: m.person ?? '', nobody: Boolean(m.nobody_by), until: m.until ?? '' }
      const { roles, person, nobody, until } = { ...was, ...change }
      const who = person ? { person } : nobody ? { nobody } : {}
      const body = { roles, ...who, ...(until ? { until } : {}), revision: m.revision }
      must(await api.PUT('/api/v1/members/{id}', { params: { path: { id: account } }, body }))
    }),
  )
}
const setRoles = (m: Membership, roles: Role[]) => setMember(m.account, { roles })
/** Says who somebody is on the drops; "-" for nobody there. */
const setPerson = (m: Membership, who: string) =>
  setMember(m.account, { nobody: who === '-', person: who === '-' ? '' : who })
/** Says until when somebody from outside is in the team; empty: for good. */
const setUntil = (m: Membership, until: string) => setMember(m.account, { until })
const unknown = computed(() => (members.data.value ?? []).filter((m) => !m.person && !m.nobody_by))
const zones = ['UTC', ...Intl.supportedValuesOf('timeZone')]
const setZone = (zone: string) =>
  attempt(async () => {
    must(await api.PUT('/api/v1/team/time-zone', { body: { time_zone: zone } }))
    await session.load()
  })
const takeOut = (m: Membership) =>
  attempt(async () => {
    must(await api.DELETE('/api/v1/members/{id}', { params: { path: { id: m.account } } }))
  })
const takeBack = (id: string) =>
  attempt(async () => {
    must(await api.DELETE('/api/v1/invitations/{id}', { params: { path: { id } } }))
  })
</script>

<template>
  <main id="page" class="mx-auto max-w-5xl px-5 py-6">
    <h1>People</h1>
    <OutboxNotice />
    <section class="mt-3">
      <h2><TermWord word="familiarisation">Who is familiar with what</TermWord></h2>
      <p class="text-soft max-w-prose">
        Devices of one class differ in small ways that matter under load. Whoever carries a model without a record is a
        look on the drop.
      </p>
      <p v-if="people.data.value && !people.data.value.length" class="py-3">Nobody yet.</p>
      <div v-else class="overflow-x-auto">
        <table class="mt-2 border-collapse text-sm">
          <thead>
            <tr>
              <th class="p-2 text-left">model</th>
              <th v-for="p in people.data.value ?? []" :key="p.id" class="min-w-32 p-2 text-left">
                <RouterLink v-if="session.may('put-people')" class="quiet -ml-2" :to="`/people/person/${p.id}`">{{
                  p.name
                }}</RouterLink>
                <template v-else>{{ p.name }}</template>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr class="border-line border-t align-top">
              <th class="p-2 text-left font-normal">papers, as of today</th>
              <td v-for="p in people.data.value ?? []" :key="p.id" class="p-2" :data-member="p.id">
                <span
                  v-for="(paper, i) in p.papers ?? []"
                  :key="i"
                  class="block"
                  :class="paper.until && paper.until < today() ? 'text-look font-semibold' : ''"
                  >{{
                    paper.until && paper.until < today()
                      ? `◆ ${paper.name} ended ${paper.until}`
                      : `${paper.name}${paper.until ? `, until ${paper.until}` : ''}`
                  }}</span
                >
                <span v-if="!p.papers?.length" class="text-soft">none entered</span>
              </td>
            </tr>
            <tr v-for="m in models" :key="m.id" class="border-line border-t">
              <th class="p-2 text-left font-normal">
                {{ m.name }}<template v-if="m.generation">, {{ m.generation }}</template>
                <span class="text-soft block">{{ m.class.replace('-', ' ') }}</span>
              </th>
              <td v-for="p in people.data.value ?? []" :key="p.id" class="p-2" :data-familiar="`${p.id} ${m.id}`">
                <template v-if="shown.has(`${p.id} ${m.id}`)">✓ {{ shown.get(`${p.id} ${m.id}`) }}</template>
                <button
                  v-else-if="session.may('record:familiarisation')"
                  type="button"
                  class="quiet -ml-2"
                  :aria-label="`not yet: record that ${p.name} was shown ${m.name}`"
                  @click="marking = { person: p.id, model: m.id }"
                >
                  ○ not yet
                </button>
                <span v-else class="text-soft">○ not yet</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <RouterLink v-if="session.may('put-people')" class="plain mt-3" to="/people/person" data-add-person
        >Add a person</RouterLink
      >
      <RouterLink v-if="session.may('put-people')" class="plain mt-3 ml-3" to="/people/import">Load a table</RouterLink>
      <form
        v-if="marking"
        class="border-line mt-3 flex flex-wrap items-end gap-3 rounded-md border p-3"
        @submit.prevent="mark"
      >
        <p class="w-full">
          <b>{{ people.data.value?.find((p) => p.id === marking?.person)?.name }}</b> was shown
          <b>{{ gear.models.value.get(marking.model)?.name }}</b>
        </p>
        <label>on<input v-model="day" type="date" class="field" :max="today()" required /></label>
        <label class="min-w-48 flex-1"
          >by<input
            v-model="by"
            class="field"
            maxlength="80"
            pattern=".*\S.*"
            :required="own"
            :placeholder="own ? 'who showed you' : session.name"
        /></label>
        <button type="submit" class="strong min-h-12!">Record and sign</button>
        <button type="button" class="plain min-h-12!" @click="marking = undefined">Leave it</button>
        <div v-if="known.length" class="w-full" data-known>
          <p>They know {{ known.length === 1 ? 'another' : 'others' }} of this class. What differs, first:</p>
          <CompareModels :models="[marking.model, ...known]" />
        </div>
        <p v-else class="text-soft w-full">It is the first of its class that they are shown.</p>
      </form>
    </section>
    <template v-if="leads">
      <section class="border-line mt-6 border-t pt-4">
        <h2>Who may sign in</h2>
        <p v-if="refused" class="text-stop" role="alert">■ {{ refused }}</p>
        <p v-if="unknown.length" class="text-look max-w-prose" data-unknown>
          ◆ It is not known who {{ unknown.map((m) => m.name).join(', ') }} {{ unknown.length === 1 ? 'is' : 'are' }} on
          the drops. Until then they sign no partner check and check no plan: it could be their own. That somebody is
          nobody there is said by another supervisor, and so is that somebody is somebody else.
        </p>
        <ul class="divide-line border-line divide-y border-y">
          <li v-for="m in members.data.value ?? []" :key="m.account" class="flex flex-wrap items-center gap-x-4 py-1">
            <span class="min-w-44 flex-1"
              ><b>{{ m.name }}</b> <span class="text-soft text-sm">{{ m.login }}</span>
              <button type="button" class="quiet -ml-2 block text-sm" @click="takeOut(m)">take out of the team</button>
            </span>
            <label class="text-sm">
              on the drops
              <select
                class="field min-h-12!"
                :value="m.person ?? (m.nobody_by ? '-' : '')"
                :aria-label="`Who ${m.name} is on the drops`"
                :data-link="m.login"
                :disabled="m.account === session.account && Boolean(m.person)"
                @change="(e) => setPerson(m, (e.target as HTMLSelectElement).value)"
              >
                <option value="">not known</option>
                <option value="-" :disabled="m.account === session.account">nobody there</option>
                <option v-for="p in people.data.value ?? []" :key="p.id" :value="p.id">{{ p.name }}</option>
              </select>
              <span v-if="m.nobody_by" class="text-soft block">says {{ m.nobody_by }}</span>
            </label>
            <RolePicker :roles="m.roles" :who="m.name" @set="(r) => setRoles(m, r)" />
            <label class="text-sm">
              in the team until
              <input
                type="date"
                class="field min-h-12!"
                :value="m.until ?? ''"
                :aria-label="`Until when ${m.name} is in the team`"
                :data-until="m.login"
                @change="(e) => setUntil(m, (e.target as HTMLInputElement).value)"
              />
              <span v-if="m.until" class="text-look block"
                >◆ {{ m.until < today() ? 'over: signs in no more' : 'then leaves by themself' }}</span
              >
            </label>
          </li>
        </ul>
      </section>
      <section class="border-line mt-6 border-t pt-4">
        <h2>Whose day it is</h2>
        <label class="mt-2 block max-w-80">
          The team's time zone
          <select
            class="field"
            :value="session.team?.time_zone"
            data-zone
            @change="(e) => setZone((e.target as HTMLSelectElement).value)"
          >
            <option v-for="z in zones" :key="z" :value="z">{{ z.replaceAll('_', ' ') }}</option>
          </select>
        </label>
        <p class="text-soft mt-1 max-w-prose">Days, hours and what is printed are in this zone.</p>
      </section>
      <section class="border-line mt-6 border-t pt-4">
        <h2>Invite somebody</h2>
        <form class="mt-2 flex flex-wrap items-end gap-3" @submit.prevent="invite">
          <label class="min-w-48 flex-1"
            >Name<input v-model="invited.name" class="field" maxlength="80" required data-invite-name
          /></label>
          <label>
            On the drops this is
            <select v-model="invited.person" class="field">
              <option value="">not known yet</option>
              <option v-for="p in people.data.value ?? []" :key="p.id" :value="p.id">{{ p.name }}</option>
            </select>
          </label>
          <label>
            In the team until, or empty: for good
            <input v-model="invited.until" type="date" class="field" :min="today()" data-invite-until />
          </label>
          <RolePicker :roles="invited.roles" who="who is invited" @set="(r) => (invited.roles = r)" />
          <button type="submit" class="strong min-h-12!" :disabled="!invited.roles.length">Make an invitation</button>
        </form>
        <p v-if="link" class="border-look bg-raised mt-3 rounded-md border-2 p-3" role="status">
          Give them this address; it is shown this once, and taken once within seven days:<br />
          <code class="break-all" data-invitation>{{ link }}</code>
        </p>
        <ul class="divide-line mt-3 divide-y">
          <li v-for="i in invitations.data.value ?? []" :key="i.id" class="flex flex-wrap items-center gap-x-4">
            <span class="flex-1"
              >{{ i.name }}, {{ i.roles.join(', ') }}{{ i.until ? `, in the team until ${i.until}` : '' }}</span
            >
            <span class="text-soft figure text-sm">by {{ i.made_by }}, until {{ timeWords(i.ends_at) }}</span>
            <button type="button" class="quiet text-sm" @click="takeBack(i.id)">take it back</button>
          </li>
        </ul>
      </section>
      <TeamArchive />
    </template>
  </main>
</template>
