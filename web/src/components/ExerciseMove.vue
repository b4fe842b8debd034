<script setup lang="ts">
// Do it: what comes next is chosen from everything that could be done with what is in hand and
// on the rope, right or wrong. In an exam the first stop ends it; learning shows what was broken
// and the worst that could happen, and goes back.
import { computed, ref, shallowRef, watch } from 'vue'
import type {
  Action,
  AnyOffer,
  Breach,
  Exercise,
  ExerciseAnswer,
  ExerciseMark,
  ExerciseStanding,
  MovePlan,
  ReplayAnswer,
  RescueAction,
  TeamAction,
} from '@/api/client'
import { askOf, makeExercise, stepExercise } from '@/lib/practice'
import type { Drawing } from '@/lib/pictures'
import { moveWords, count } from '@/lib/words'
import { show } from '@/lib/units'
import MoveFailures from './MoveFailures.vue'
import MoveMark from './MoveMark.vue'
import MoveScore from './MoveScore.vue'
import OfferChoice from './OfferChoice.vue'
import PictureView from './PictureView.vue'
import TeamScore from './TeamScore.vue'

const props = defineProps<{ exercise: Exercise; mark?: ExerciseMark; busy?: boolean; exam?: boolean }>()
const emit = defineEmits<{ answer: [answer: ExerciseAnswer] }>()

const q = computed(() => props.exercise.question)
const team = computed(() => q.value.of === 'team')
const fetch = computed(() => q.value.of === 'rescue')
const done = ref<(Action | TeamAction | RescueAction)[]>([])
const standing = shallowRef<ExerciseStanding>()
const failed = ref('')
/** While the last step is computed, what is offered is still that of before it. */
const looking = ref(false)
const silent = ref(false)
const close = shallowRef<Drawing>()
/** The engine's own list, beside the learner's. */
const own = shallowRef<MovePlan>()
let asked = 0

async function look() {
  const n = ++asked
  failed.value = ''
  looking.value = true
  const steps = team.value ? 'team_steps' : fetch.value ? 'rescue_steps' : 'steps'
  const body = { exercise: props.exercise, [steps]: done.value }
  const answer = await stepExercise(body).catch((e: unknown) => {
    failed.value = e instanceof Error ? e.message : 'it was refused'
    return undefined
  })
  if (n === asked) looking.value = false
  if (n !== asked || !answer) return
  standing.value = answer
  if (team.value) return
  const picture = await (
    fetch.value
      ? askOf<Drawing>('pair-picture', {
          drop: props.exercise.drop,
          rescuer: q.value.rescuer,
          casualty: q.value.person,
          state: answer.rescue?.steps.at(-1)?.after ?? answer.rescue?.start,
        })
      : askOf<Drawing>('stance-picture', {
          drop: props.exercise.drop,
          state: answer.walked?.steps.at(-1)?.after ?? q.value.stance,
        })
  ).catch(() => undefined)
  if (n === asked) close.value = picture
}
watch(
  () => props.exercise,
  () => {
    done.value = []
    standing.value = own.value = undefined
    void look()
  },
  { immediate: true },
)

const offers = computed<AnyOffer[]>(
  () => standing.value?.offers ?? standing.value?.team_offers ?? standing.value?.rescue_offers ?? [],
)
const stopped = computed<Breach | undefined>(() =>
  standing.value?.found.find((b) => b.impossible || b.broken?.some((v) => v.severity === 'stop')),
)
const looks = computed(() =>
  (standing.value?.found ?? []).filter((b) => b.step === done.value.length && b !== stopped.value),
)
const told = computed(
  () => standing.value?.walked?.steps ?? standing.value?.team?.steps ?? standing.value?.rescue?.steps ?? [],
)
const last = computed(() => told.value.at(-1))
const over = computed(() => Boolean(props.mark) || (props.exam && Boolean(stopped.value)))

async function take(o: AnyOffer, at?: number, loose = false) {
  const a = { ...o.action } as Action & TeamAction & RescueAction
  if (at !== undefined) a.at_m = at
  // Putting on and clipping are done in parts: what is forgotten then is forgotten.
  if (loose) a.unlocked = true
  if (loose && !fetch.value) a.unproved = true
  if (silent.value && 'call' in o && o.call) a.silent = true
  done.value = [...done.value, a]
  silent.value = false
  await look()
  if (props.exam && stopped.value) handIn()
}

async function back() {
  done.value = done.value.slice(0, -1)
  await look()
}

function handIn() {
  if (team.value) emit('answer', { team_steps: done.value as TeamAction[] })
  else if (fetch.value) emit('answer', { rescue_steps: done.value as RescueAction[] })
  else
    emit('answer', {
      steps: {
        move: q.value.move,
        to_m: q.value.to_m,
        person: q.value.person,
        start: q.value.stance!,
        steps: done.value as Action[],
        schools: q.value.schools,
      },
    })
}

async function beside() {
  const e = props.exercise
  const with_ = await makeExercise({
    kind: 'move',
    seed: e.seed,
    level: e.level,
    move: q.value.move,
    person: q.value.person,
    drop: e.drop,
    answers: true,
  }).catch(() => undefined)
  const list = with_?.answers?.steps
  if (list)
    own.value = (await askOf<ReplayAnswer>('replay-moves', { drop: e.drop, list }).catch(() => undefined))?.walked
}
const parts = (o: AnyOffer) =>
  ['put-on', 'clip', 'long-lanyard', 'chain'].includes(o.action.do) && props.exercise.level > 1
</script>

<template>
  <div>
    <p class="text-lg font-semibold" data-asks>
      {{ moveWords(q.move ?? '') }}<template v-if="fetch">: you hang parked beside the casualty</template
      ><template v-else-if="!team">, from {{ show(q.at_m ?? 0, 'm') }}</template
      >. {{ exam ? 'Exam: the first stop ends it.' : 'Learning: what is broken is shown, and you go back.' }}
    </p>
    <p v-if="failed" class="text-stop" role="alert">■ {{ failed }}</p>
    <section
      v-if="stopped && !mark"
      class="border-stop bg-raised mt-2 rounded-md border-2 p-3"
      role="alert"
      data-broken
    >
      <p v-for="v in stopped.broken?.filter((b) => b.severity === 'stop')" :key="v.rule + v.why">
        <b class="text-stop">■ {{ v.rule }}</b> {{ v.why }}
      </p>
      <p v-if="stopped.impossible"><b class="text-stop">■</b> {{ stopped.impossible }}</p>
      <MoveFailures v-if="last?.fail_one.length" :step="{ fail_one: last.fail_one.slice(0, 1) }" />
      <button v-if="!exam" type="button" class="strong mt-2 min-h-14!" data-back @click="back">go back one step</button>
    </section>
    <p v-for="b in looks" :key="b.step" class="text-look mt-1">
      ◆ <template v-for="v in b.broken" :key="v.rule">{{ v.why }}. </template>
    </p>
    <MoveMark v-if="mark" :mark="mark" :team="team">
      <button v-if="!team && !fetch && !own" type="button" class="quiet" data-beside @click="beside">
        the engine's own beside it
      </button>
    </MoveMark>
    <section v-if="!over && !stopped && standing" class="mt-3" data-offers :inert="looking">
      <p v-if="standing.reached" class="font-semibold" role="status">You are there. Hand it in, or go on.</p>
      <OfferChoice :offers="offers" :in-parts="parts" @take="take">
        <template #beside="{ offer }">
          <label v-if="'call' in offer && offer.call" class="inline-flex min-h-11 items-center gap-2 text-sm"
            ><input v-model="silent" type="checkbox" :value="false" /> without calling “{{ offer.call }}”</label
          >
        </template>
      </OfferChoice>
      <div class="mt-3 flex flex-wrap gap-2">
        <button type="button" class="strong min-h-14!" :disabled="busy || !done.length" data-hand-in @click="handIn">
          Hand in
        </button>
        <button v-if="!exam && done.length" type="button" class="quiet" data-back @click="back">
          go back one step
        </button>
      </div>
    </section>
    <div class="mt-4 flex flex-col gap-4 @3xl:flex-row">
      <div class="min-w-0 flex-1">
        <template v-if="exercise.drop">
          <MoveScore v-if="standing?.walked" :drop="exercise.drop" :plan="standing.walked" :step="done.length" />
          <TeamScore v-if="standing?.team" :drop="exercise.drop" :plan="standing.team" :step="done.length" />
          <template v-if="own">
            <h2 class="mt-4">The engine's own: {{ count(own.steps.length, 'step') }}</h2>
            <MoveScore :drop="exercise.drop" :plan="own" :step="own.steps.length" />
            <ol class="list-decimal pl-6 text-sm">
              <li v-for="(s, i) in own.steps" :key="i">{{ s.say }}</li>
            </ol>
          </template>
        </template>
        <ol v-if="done.length" class="text-soft mt-2 list-decimal pl-6 text-sm" aria-label="Done">
          <li v-for="(s, i) in told" :key="i">{{ s.say }}</li>
        </ol>
      </div>
      <PictureView v-if="close" :drawing="close" class="border-line w-72 max-w-full self-start rounded-md border" />
    </div>
  </div>
</template>
