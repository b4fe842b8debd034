<script setup lang="ts">
// Practice: what there is to do, the classes one is in, and what one answered.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, must } from '@/api/client'
import ExerciseBand from '@/components/ExerciseBand.vue'
import LiveChoice from '@/components/LiveChoice.vue'
import StateNotice from '@/components/StateNotice.vue'
import { anySeed, beginJoint, kindTitle, kinds, makeExercise, scoreWords, skillTitle } from '@/lib/practice'
import { timeWords } from '@/lib/records'
import { moveWords } from '@/lib/words'
import { usePractice } from '@/stores/practice'
import { useSession } from '@/stores/session'

const router = useRouter()
const session = useSession()
const practice = usePractice()
void practice.send()
const level = ref(1)
const from = ref('')
const drops = useQuery({
  queryKey: ['drops', 'first'],
  queryFn: async () => must(await api.GET('/api/v1/drops', { params: { query: { limit: 50 } } })),
  enabled: computed(() => session.signedIn),
})
const classes = useQuery({
  queryKey: ['classes'],
  queryFn: async () => must(await api.GET('/api/v1/practice/classes')).classes,
  enabled: computed(() => session.signedIn),
})
const marks = useQuery({
  queryKey: ['marks'],
  queryFn: async () => must(await api.GET('/api/v1/practice/marks')).marks,
  enabled: computed(() => session.signedIn),
})
const joint = useQuery({
  queryKey: ['joint'],
  queryFn: async () => must(await api.GET('/api/v1/practice/joint')).exercises,
  enabled: computed(() => session.signedIn),
})
const teamMoves = useQuery({
  queryKey: ['team-moves'],
  queryFn: async () => must(await api.GET('/api/v1/team/moves')),
  enabled: computed(() => session.may('begin-joint')),
  staleTime: Infinity,
})
const move = ref('lower')
const exam = ref(false)
const begun = ref('')
const failed = ref('')
/** Makes a team's move for several, and goes there. */
async function begin() {
  begun.value = 'making it'
  failed.value = ''
  try {
    const drop = from.value
      ? must(await api.GET('/api/v1/drops/{id}', { params: { path: { id: from.value } } }))
      : undefined
    const made = await makeExercise({
      kind: 'move',
      move: move.value,
      seed: anySeed(),
      level: level.value,
      ...(drop ? { drop } : {}),
    })
    await router.push({ name: 'joint', params: { id: await beginJoint(made, exam.value) } })
  } catch (e) {
    failed.value = e instanceof Error ? e.message : 'it could not be begun'
  }
  begun.value = ''
}
const own = computed(() => (marks.data.value ?? []).filter((m) => m.own).slice(0, 20))
const to = (kind: string) => ({
  name: 'exercise',
  params: { kind },
  query: {
    seed: String(anySeed()),
    level: String(level.value),
    ...(from.value && kind !== 'apart' ? { drop: from.value } : {}),
  },
})
const forMe = (people: string[] | undefined) => !people?.length || people.includes(session.person)
</script>

<template>
  <main id="page" class="mx-auto max-w-5xl px-5 py-6">
    <ExerciseBand />
    <h1>Practice</h1>
    <p class="text-soft max-w-prose">
      Rare things are forgotten. What is asked here is computed like everything else; a screen does not replace the
      rope: practise near the ground, with somebody who knows it.
    </p>
    <p class="briefing">
      Level
      <LiveChoice
        :value="level"
        :options="[1, 2, 3, 4].map((n) => ({ value: n, words: String(n) }))"
        label="Level"
        @set="(v) => (level = v)"
      />, on
      <LiveChoice
        :value="from"
        :options="[
          { value: '', words: 'a rig that is made up' },
          ...(drops.data.value ?? []).map((d) => ({ value: d.id, words: d.name })),
        ]"
        label="What it is about"
        @set="(v) => (from = v)"
      />.
    </p>
    <ul class="mt-2 grid gap-4 sm:grid-cols-2">
      <li v-for="k in kinds" :key="k.kind">
        <RouterLink
          :to="to(k.kind)"
          class="border-line bg-raised hover:border-accent block min-h-24 rounded-md border-2 p-4"
          :data-kind="k.kind"
        >
          <b class="block text-lg">{{ k.words }}</b>
          <span class="text-soft">{{ k.says }}</span>
        </RouterLink>
      </li>
    </ul>
    <template v-if="session.signedIn">
      <p class="mt-4 flex flex-wrap gap-3">
        <RouterLink to="/practice/skills" class="plain inline-flex items-center" data-skills
          >Who practised what</RouterLink
        >
        <RouterLink
          v-if="session.may('save-class')"
          to="/practice/class/new"
          class="plain inline-flex items-center"
          data-new-class
          >Draw up a class</RouterLink
        >
      </p>
      <h2 class="mt-6">Joint exercises</h2>
      <p class="text-soft max-w-prose text-sm">
        A team's move on two to six devices: each has a role and sees what it would. It needs a connection.
      </p>
      <p v-if="session.may('begin-joint')" class="briefing mb-3">
        <LiveChoice
          :value="move"
          :options="
            (teamMoves.data.value ?? []).map((m) => ({ value: m.name, words: moveWords(m.name), note: m.does }))
          "
          label="The move of a team"
          @set="(v) => (move = v)"
        />, as
        <LiveChoice
          :value="exam"
          :options="[
            { value: false, words: 'learning' },
            { value: true, words: 'an exam' },
          ]"
          label="Learning or an exam"
          @set="(v) => (exam = v)"
        />.
        <button type="button" class="plain" :disabled="begun !== ''" data-begin-joint @click="begin">
          {{ begun || 'Begin one' }}
        </button>
      </p>
      <p v-if="failed" class="text-stop" role="alert">■ {{ failed }}</p>
      <StateNotice v-if="joint.isError.value" part title="The joint exercises could not be fetched">
        <button type="button" class="plain" @click="joint.refetch()">Try again</button>
      </StateNotice>
      <ul v-else class="divide-line border-line divide-y border-y">
        <li v-for="j in (joint.data.value ?? []).slice(0, 8)" :key="j.id">
          <RouterLink
            :to="`/practice/joint/${j.id}`"
            class="flex min-h-14 flex-wrap items-center gap-3"
            :data-joint-line="j.move"
          >
            <b>{{ moveWords(j.move) }}{{ j.exam ? ', an exam' : '' }}</b>
            <span class="text-soft"
              >{{ j.ended ? 'ended' : 'begun' }} {{ timeWords(j.at).slice(0, 16) }} by {{ j.by
              }}<template v-if="j.members.length">; {{ j.members.map((m) => m.name).join(', ') }}</template></span
            >
          </RouterLink>
        </li>
        <li v-if="!joint.data.value?.length" class="text-soft py-3">None in the last week.</li>
      </ul>
      <h2 class="mt-6">Classes</h2>
      <StateNotice v-if="classes.isError.value" part title="The classes could not be fetched">
        <button type="button" class="plain" @click="classes.refetch()">Try again</button>
      </StateNotice>
      <ul v-else class="divide-line border-line divide-y border-y">
        <li v-for="c in classes.data.value" :key="c.id">
          <RouterLink
            :to="`/practice/class/${c.id}`"
            class="flex min-h-14 flex-wrap items-center gap-3"
            :data-class="c.class.name"
          >
            <b>{{ c.class.name }}</b>
            <span class="text-soft"
              >{{ c.class.exercises.length }} exercises<template v-if="c.class.due"
                >, until {{ c.class.due }}</template
              ></span
            >
            <span v-if="forMe(c.class.people)" class="text-accent">for you</span>
          </RouterLink>
        </li>
        <li v-if="!classes.data.value?.length" class="text-soft py-3">No class yet. A trainer draws one up.</li>
      </ul>
      <h2 class="mt-6">What you answered</h2>
      <p class="text-soft text-sm">Seen by you and the trainer alone.</p>
      <p v-if="practice.waiting.length" class="text-look" role="status">
        ◆ {{ practice.waiting.length }} not yet sent: kept on this device until there is a connection.
      </p>
      <div
        v-for="[key, k] in practice.refused"
        :key="key"
        class="border-stop my-2 rounded-md border-2 p-3"
        role="alert"
      >
        ■ An answer to “{{ kindTitle(k.exercise.kind) }}” was refused: {{ k.refused?.map((f) => f.detail).join('; ') }}.
        <button type="button" class="quiet" @click="practice.forget(key)">read</button>
      </div>
      <table v-if="own.length" class="mt-2 w-full text-sm">
        <tbody>
          <tr v-for="m in own" :key="m.id" class="border-line border-t" data-mark-line>
            <td class="figure py-2 pr-4">{{ timeWords(m.at).slice(0, 16) }}</td>
            <td class="pr-4">
              {{ kindTitle(m.kind) }}<template v-if="m.skill">, {{ skillTitle(m.skill) }}</template>
            </td>
            <td class="figure pr-4">level {{ m.level }}</td>
            <td class="figure">{{ scoreWords(m.score) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else-if="marks.isSuccess.value" class="text-soft py-2">Nothing yet.</p>
    </template>
    <p v-else class="text-soft mt-4">
      Nobody is signed in: exercises work all the same, and nothing is kept.
      <RouterLink to="/" class="quiet" data-sign-in>Sign in</RouterLink>
    </p>
  </main>
</template>
