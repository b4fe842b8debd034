<script setup lang="ts">
// One exercise. What makes it stands in the address: kind, seed, level and drop, so that two
// people get the same one. It is made and marked on this device.
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, must, type Drop, type Exercise, type ExerciseAnswer, type ExerciseMark } from '@/api/client'
import ExerciseBand from '@/components/ExerciseBand.vue'
import ExerciseFaults from '@/components/ExerciseFaults.vue'
import ExerciseMove from '@/components/ExerciseMove.vue'
import ExerciseOptions from '@/components/ExerciseOptions.vue'
import LiveChoice from '@/components/LiveChoice.vue'
import StateNotice from '@/components/StateNotice.vue'
import { beginJoint, kindTitle, makeExercise, markExercise, skillTitle, type Kind } from '@/lib/practice'
import { saveAs } from '@/lib/save'
import { usePractice } from '@/stores/practice'
import { useSession } from '@/stores/session'

const props = defineProps<{ kind: string }>()
const route = useRoute()
const router = useRouter()
const session = useSession()
const practice = usePractice()

const whole = (name: string, otherwise: number) => Math.max(0, Math.round(Number(route.query[name] ?? otherwise)) || 0)
const seed = computed(() => whole('seed', 0))
const level = computed(() => Math.min(4, Math.max(1, whole('level', 1))))
const text = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : undefined)
const exam = computed(() => route.query.exam === '1')

const exercise = shallowRef<Exercise>()
const mark = shallowRef<ExerciseMark>()
const failed = ref('')
const busy = ref(false)
let asked = 0

/** The drop that it is about; undefined for a rig that is made up. */
async function dropOf(id: string | undefined): Promise<Drop | undefined> {
  if (!id) return undefined
  return must(await api.GET('/api/v1/drops/{id}', { params: { path: { id } } }))
}

async function make() {
  const n = ++asked
  exercise.value = mark.value = undefined
  failed.value = ''
  try {
    const drop = await dropOf(text('drop'))
    const made = await makeExercise({
      kind: props.kind as Kind,
      seed: seed.value,
      level: level.value,
      ...(drop ? { drop } : {}),
      ...(text('move') ? { move: text('move') } : {}),
    })
    if (n === asked) exercise.value = made
  } catch (e) {
    if (n === asked) failed.value = e instanceof Error ? e.message : 'it could not be made'
  }
}
watch(() => [props.kind, route.query.seed, route.query.level, route.query.drop, route.query.move], make, {
  immediate: true,
})

async function give(answer: ExerciseAnswer) {
  if (!exercise.value || busy.value) return
  busy.value = true
  try {
    mark.value = await markExercise(exercise.value, answer)
    practice.give(exercise.value, answer, {
      ...(text('class') ? { class: text('class') } : {}),
      ...(route.query.n === undefined ? {} : { listed: whole('n', 0) }),
    })
  } catch (e) {
    failed.value = e instanceof Error ? e.message : 'it could not be marked'
  }
  busy.value = false
}

/** What became of the answer. */
const fate = computed(() => {
  const skill = exercise.value?.skill
  if (!session.signedIn) return 'Not kept: nobody is signed in.'
  if (!session.may('give-mark')) return 'Not kept: your roles give no answers.'
  if (practice.waiting.length) return 'Kept on this device until there is a connection.'
  if (practice.refused.length) return 'An answer was refused: see Practice.'
  const full = mark.value?.score === 1 && skill && session.person
  const of = skill ? `: ${skillTitle(skill)}` : ''
  return `${full ? 'Recorded as practised on a screen' : 'Kept for you and the trainer'}${of}.`
})

const change = (query: Record<string, string | undefined>) => router.push({ query: { ...route.query, ...query } })
const another = () => change({ seed: String(seed.value + 1) })

/** The same move, done by several, each with a role. */
async function together() {
  try {
    const id = await beginJoint(exercise.value!, exam.value)
    await router.push({ name: 'joint', params: { id } })
  } catch (e) {
    failed.value = e instanceof Error ? e.message : 'it could not be begun'
  }
}

/** The sheet to print: the exercise, its answers on a page of their own. */
async function print() {
  const drop = await dropOf(text('drop')).catch(() => undefined)
  const body = { kind: props.kind as Kind, seed: seed.value, level: level.value, ...(drop ? { drop } : {}) }
  const { data } = await api.POST('/api/v1/practice/sheet.pdf', { body, parseAs: 'blob' })
  if (data) saveAs(data as unknown as Blob, `exercise-${props.kind}-${seed.value}.pdf`)
  else failed.value = 'the sheet could not be made'
}
</script>

<template>
  <main id="page" class="@container mx-auto max-w-6xl px-5 py-6 max-sm:px-3">
    <ExerciseBand :words="`number ${seed}, level ${level}${text('drop') ? '' : ', made up'}`" />
    <RouterLink to="/practice" class="quiet -ml-2">← Practice</RouterLink>
    <h1>{{ kindTitle(kind as Kind) }}</h1>
    <p class="briefing no-print">
      Level
      <LiveChoice
        :value="level"
        :options="[1, 2, 3, 4].map((n) => ({ value: n, words: String(n) }))"
        label="Level"
        @set="(v) => change({ level: String(v) })"
      /><template v-if="kind === 'move'"
        >, as
        <LiveChoice
          :value="exam"
          :options="[
            { value: false, words: 'learning' },
            { value: true, words: 'an exam' },
          ]"
          label="Learning or an exam"
          @set="(v) => change({ exam: v ? '1' : undefined })" /></template
      >.
      <button type="button" class="quiet" data-another @click="another">another one</button>
      <button
        v-if="exercise?.question.of === 'team' && session.may('begin-joint')"
        type="button"
        class="quiet"
        data-together
        @click="together"
      >
        several together, each with a role
      </button>
      <button v-if="session.may('exercise-pdf')" type="button" class="quiet" data-print @click="print">
        on paper, with answers
      </button>
    </p>
    <StateNotice v-if="failed" part title="There is no such exercise" :detail="failed">
      <button type="button" class="plain" @click="another">Another one</button>
    </StateNotice>
    <StateNotice v-else-if="!exercise" part title="Making the exercise" busy />
    <template v-else>
      <ExerciseFaults v-if="exercise.kind === 'faults'" :exercise="exercise" :mark="mark" :busy="busy" @answer="give" />
      <ExerciseMove
        v-else-if="exercise.kind === 'move'"
        :exercise="exercise"
        :mark="mark"
        :busy="busy"
        :exam="exam"
        @answer="give"
      />
      <ExerciseOptions v-else :exercise="exercise" :mark="mark" :busy="busy" @answer="give" />
      <div v-if="mark" class="no-print mt-4 flex flex-wrap items-center gap-3">
        <button type="button" class="strong min-h-14!" data-next @click="another">Another one</button>
        <span class="text-soft text-sm">
          {{ fate }}
        </span>
      </div>
      <p v-if="practice.failure" class="text-stop mt-2" role="alert">■ {{ practice.failure }}</p>
    </template>
  </main>
</template>
