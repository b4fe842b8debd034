<script setup lang="ts">
// Who practised what, and when it goes stale. Real runs, practice on ropes near the ground and
// exercises on a screen are kept apart.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, must, type Practised } from '@/api/client'
import LiveChoice from '@/components/LiveChoice.vue'
import OutboxNotice from '@/components/OutboxNotice.vue'
import StateNotice from '@/components/StateNotice.vue'
import { skillTitle } from '@/lib/practice'
import { today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

const session = useSession()
const outbox = useOutbox()
const query = useQuery({
  queryKey: ['skills'],
  queryFn: async () => must(await api.GET('/api/v1/practice/skills')),
})
const people = computed(() => query.data.value?.people ?? [])
const ways = [
  { how: 'run', words: 'in earnest', sign: '▲' },
  { how: 'ground', words: 'near the ground', sign: '●' },
  { how: 'screen', words: 'on a screen', sign: '□' },
] as const

const skills = computed(() => query.data.value?.skills ?? [])
/** The skills, with those kinds of one that somebody practised. */
const rows = computed(() =>
  skills.value.filter((s) => !s.of || people.value.some((p) => p.practised.some((q) => q.skill === s.id))),
)
const of = (list: Practised[], skill: string) =>
  ways.flatMap((w) => list.filter((p) => p.skill === skill && p.how === w.how).map((p) => ({ ...p, ...w })))

/** Until when a skill counts, as the server says; undefined where nothing counts. */
const stands = (person: string, skill: string) =>
  people.value.find((p) => p.person === person)?.stands.find((o) => o.skill === skill)

const who = ref('')
const skill = ref('')
const how = ref<'run' | 'ground'>('ground')
const day = ref(today())
const others = computed(() => people.value.filter((p) => p.person !== session.person))
const onRopes = computed(() => skills.value.filter((s) => !s.screen))
function sign() {
  const p = others.value.find((o) => o.person === who.value)
  if (!p || !skill.value) return
  outbox.record(`${p.name}: ${skillTitle(skill.value)}`, {
    kind: 'practice',
    day: day.value,
    person: p.person,
    practice: { skill: skill.value, how: how.value },
  })
  skill.value = ''
}
</script>

<template>
  <main id="page" class="@container mx-auto max-w-6xl px-5 py-6">
    <RouterLink to="/practice" class="quiet -ml-2">← Practice</RouterLink>
    <h1>Who practised what</h1>
    <p class="text-soft max-w-prose">
      <span v-for="w in ways" :key="w.how" class="mr-4 inline-block">{{ w.sign }} {{ w.words }}</span>
      Rescues and captures go stale after {{ query.data.value?.rescue_months ?? '…' }} months, the rest after
      {{ query.data.value?.other_months ?? '…' }}. A screen alone makes nobody practised for a rescue.
    </p>
    <OutboxNotice />
    <section v-if="session.may('record:practice')" class="border-line bg-raised mt-3 rounded-md border p-3" data-sign>
      <h2>Sign what somebody practised</h2>
      <p class="briefing">
        <LiveChoice
          :value="who"
          :options="[{ value: '', words: 'who' }, ...others.map((p) => ({ value: p.person, words: p.name }))]"
          label="Who practised"
          @set="(v) => (who = v)"
        />,
        <LiveChoice
          :value="skill"
          :options="[{ value: '', words: 'which skill' }, ...onRopes.map((s) => ({ value: s.id, words: s.title }))]"
          label="Which skill"
          @set="(v) => (skill = v)"
        />,
        <LiveChoice
          :value="how"
          :options="[
            { value: 'ground', words: 'near the ground' },
            { value: 'run', words: 'in earnest' },
          ]"
          label="How"
          @set="(v) => (how = v)"
        />, on <input v-model="day" type="date" class="field inline-block w-44!" aria-label="Day" :max="today()" />
        <button type="button" class="strong ml-2" :disabled="!who || !skill || !day" data-sign-it @click="sign">
          Sign it
        </button>
      </p>
    </section>
    <StateNotice v-if="query.isPending.value" part title="Fetching who practised what" busy />
    <StateNotice v-else-if="query.isError.value" part title="It could not be fetched">
      <button type="button" class="plain" @click="query.refetch()">Try again</button>
    </StateNotice>
    <p v-else-if="!people.length" class="mt-4">
      Nobody is among the team's people yet: <RouterLink class="underline" to="/people">add them</RouterLink> first.
    </p>
    <div v-else class="relative mt-4 overflow-x-auto" tabindex="0" role="region" aria-label="Skills by person">
      <table class="w-full text-sm">
        <thead>
          <tr class="text-left">
            <th scope="col" class="pr-4">skill</th>
            <th v-for="p in people" :key="p.person" scope="col" class="pr-4">{{ p.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in rows" :key="s.id" class="border-line border-t align-top">
            <th scope="row" class="py-2 pr-4 text-left font-normal" :class="s.of ? 'pl-4' : ''">
              {{ s.title }}<span v-if="s.rescue" class="text-soft block text-xs">rescue</span>
            </th>
            <td v-for="p in people" :key="p.person" class="py-2 pr-4" :data-skill="`${p.person} ${s.id}`">
              <span
                v-for="q in of(p.practised, s.id)"
                :key="q.how"
                class="figure block whitespace-nowrap"
                :title="`${q.words}, signed by ${q.by ?? ''}`"
              >
                {{ q.sign }} {{ q.on }}<span class="sr-only">, {{ q.words }}</span> {{ ' '
                }}<span class="text-soft text-xs">{{ q.how === 'screen' ? '' : q.by }}</span>
              </span>
              <span v-if="!of(p.practised, s.id).length && !stands(p.person, s.id)" class="text-soft"
                >not recorded</span
              >
              <b v-else-if="!stands(p.person, s.id)" class="text-look text-xs">◆ not on ropes</b>
              <b v-else-if="stands(p.person, s.id)!.stale" class="text-look text-xs" data-stale
                >◆ stale since {{ stands(p.person, s.id)!.until }}</b
              >
              <span v-else class="text-soft text-xs">until {{ stands(p.person, s.id)!.until }}</span>
              <span v-if="stands(p.person, s.id)?.kind" class="text-soft block text-xs"
                >by {{ skillTitle(stands(p.person, s.id)!.kind!) }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </main>
</template>
