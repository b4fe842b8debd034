<script setup lang="ts">
// A class for a projector: one exercise at a time, large; the answer stays hidden until it is
// called for. No name stands anywhere.
import { useEventListener } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, must, type ClassDocument, type Exercise, type ExerciseMark } from '@/api/client'
import { kindTitle, makeExercise, markExercise } from '@/lib/practice'
import { count } from '@/lib/words'
import ExerciseBand from './ExerciseBand.vue'
import ExerciseFaults from './ExerciseFaults.vue'
import ExerciseMove from './ExerciseMove.vue'
import ExerciseOptions from './ExerciseOptions.vue'
import StateNotice from './StateNotice.vue'

const props = defineProps<{ of: ClassDocument }>()
const emit = defineEmits<{ close: [] }>()

const n = ref(0)
const exercise = shallowRef<Exercise>()
const answered = shallowRef<ExerciseMark>()
const called = ref(false)
const failed = ref('')
let asked = 0
watch(
  n,
  async (i) => {
    const mine = ++asked
    exercise.value = answered.value = undefined
    called.value = false
    failed.value = ''
    const e = props.of.exercises[i]!
    try {
      const drop = e.drop ? must(await api.GET('/api/v1/drops/{id}', { params: { path: { id: e.drop } } })) : undefined
      const made = await makeExercise({
        kind: e.kind,
        seed: e.seed,
        level: e.level,
        answers: true,
        ...(e.move ? { move: e.move } : {}),
        ...(drop ? { drop } : {}),
      })
      const right = made.answers
      const mark = await markExercise(made, {
        option: right?.option,
        steps: right?.steps,
        team_steps: right?.team_steps,
        rescue_steps: right?.rescue_steps,
        faults: right?.faults?.map((f) => ({ rule: f.rule, subject: { kind: f.subject.kind, id: f.subject.id } })),
      })
      if (mine !== asked) return
      exercise.value = { ...made, answers: undefined }
      answered.value = mark
    } catch (e) {
      if (mine === asked) failed.value = e instanceof Error ? e.message : 'it could not be made'
    }
  },
  { immediate: true },
)
const mark = computed(() => (called.value ? answered.value : undefined))
const go = (by: number) => (n.value = Math.min(props.of.exercises.length - 1, Math.max(0, n.value + by)))
useEventListener('keydown', (e) => {
  if ((e.target as HTMLElement).matches('input, textarea, [role=listbox]')) return
  if (e.key === 'ArrowRight') go(1)
  else if (e.key === 'ArrowLeft') go(-1)
  else if (e.key === 'a') called.value = !called.value
  else if (e.key === 'Escape') emit('close')
})
</script>

<template>
  <main id="page" class="@container px-8 py-4 text-xl" data-projector>
    <ExerciseBand :words="of.name" />
    <div class="no-print flex flex-wrap items-center gap-3">
      <button type="button" class="plain" :disabled="n === 0" @click="go(-1)">← before</button>
      <b class="figure">{{ n + 1 }} of {{ count(of.exercises.length, 'exercise') }}</b>
      <button type="button" class="plain" :disabled="n === of.exercises.length - 1" data-on @click="go(1)">
        next →
      </button>
      <button
        type="button"
        class="strong"
        :aria-pressed="called"
        :disabled="!answered"
        data-call
        @click="called = !called"
      >
        {{ called ? 'hide the answer' : 'the answer' }} <kbd class="ml-1">a</kbd>
      </button>
      <button type="button" class="quiet" data-close @click="emit('close')">back to the class</button>
    </div>
    <h1 class="mt-2 text-4xl!">{{ kindTitle(of.exercises[n]!.kind) }}</h1>
    <p v-if="failed" class="text-stop" role="alert">■ {{ failed }}</p>
    <StateNotice v-else-if="!exercise" part title="Making the exercise" busy />
    <template v-else>
      <ExerciseFaults v-if="exercise.kind === 'faults'" :exercise="exercise" :mark="mark" />
      <ExerciseMove v-else-if="exercise.kind === 'move'" :exercise="exercise" :mark="mark" />
      <ExerciseOptions v-else :exercise="exercise" :mark="mark" :hidden="!called" />
    </template>
  </main>
</template>
