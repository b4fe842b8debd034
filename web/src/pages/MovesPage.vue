<script setup lang="ts">
// Moves: what is in the way gives the moves; the one that is chosen is found with
// the kit carried and shown as a score, to step through.
import { computed, onBeforeUnmount, ref, shallowRef, toRaw, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useQuery } from '@tanstack/vue-query'
import {
  api,
  must,
  type Action,
  type Breach,
  type Fault,
  type MoveAsked,
  type MovePlan,
  type Schools,
} from '@/api/client'
import AskBox from '@/components/AskBox.vue'
import LiveChoice from '@/components/LiveChoice.vue'
import LiveNumber from '@/components/LiveNumber.vue'
import { stepKnots } from '@/api/knots'
import KnotPictures from '@/components/KnotPictures.vue'
import ModelCautions from '@/components/ModelCautions.vue'
import MoveClose from '@/components/MoveClose.vue'
import MoveCompare from '@/components/MoveCompare.vue'
import MoveFailures from '@/components/MoveFailures.vue'
import MoveScore from '@/components/MoveScore.vue'
import MoveSteps from '@/components/MoveSteps.vue'
import MoveStepView from '@/components/MoveStepView.vue'
import OfBefore from '@/components/OfBefore.vue'
import SchoolLines from '@/components/SchoolLines.vue'
import StepButtons from '@/components/StepButtons.vue'
import { moveFor, movesAhead } from '@/lib/ahead'
import { useAsking } from '@/lib/asking'
import { itemsOf } from '@/lib/gear'
import { findMove, nobody, walk } from '@/lib/moves'
import { stances } from '@/lib/score'
import { canonical } from '@/lib/same'
import { useStepping } from '@/lib/stepping'
import { show } from '@/lib/units'
import { useDraft } from '@/stores/draft'
import { useMoving } from '@/stores/moving'
import TermWord from '@/components/TermWord.vue'
import { count, moveWords } from '@/lib/words'

const props = defineProps<{ id: string; who?: string }>()

const draft = useDraft()
const moving = useMoving()
const router = useRouter()
const moves = useQuery({
  queryKey: ['moves'],
  queryFn: async () => must(await api.GET('/api/v1/moves')),
  staleTime: Infinity,
})
const schools = useQuery({
  queryKey: ['schools'],
  queryFn: async () => must(await api.GET('/api/v1/schools')),
  staleTime: Infinity,
})
const person = computed(() => draft.drop?.people?.find((p) => p.id === props.who) ?? draft.drop?.people?.[0])
const move = ref('')
const from = ref<number>()
/** The work place of a whole way there and back. */
const to = ref<number>()
const whole = computed(() => move.value === 'there-and-back')
/** Ways chosen for this plan, beside the team's. */
const chosen = ref<Schools>({})
const team = computed<Schools>(() => draft.drop?.policy.schools ?? {})
const questions = computed(() => (schools.data.value ?? []).filter((q) => q.moves.includes(move.value)))
/** What was found, and what was made of it by hand; undefined while nothing was. */
const sought = shallowRef<MovePlan>()
const edited = shallowRef<MovePlan>()
const list = shallowRef<Action[]>()
const breaches = ref<Breach[]>([])
const plan = computed(() => edited.value ?? sought.value)
const impossible = ref('')
const undecided = ref(false)
const faults = ref<Fault[]>([])
const here = ref(false)
const byHand = ref(false)
let asked = 0

const { step, failing, go } = useStepping(() => (there.value ? plan.value?.steps.length : undefined))
const current = computed(() => plan.value?.steps[step.value - 1])
const at = computed(() => (plan.value ? stances(plan.value)[step.value] : undefined))
/** The knot that the step ties, in the strand that it is tied in. */
const tied = computed(() => {
  const a = current.value?.action
  const knot = stepKnots[a?.do ?? '']
  const holds = person.value?.holds ?? []
  return knot ? { knot, strand: a?.strand ?? (holds.find((h) => h.device === a?.item) ?? holds[0])?.strand } : undefined
})
const worstNow = computed(() => (failing.value ? current.value?.fail_one[0] : undefined))
const sets = computed(() => [...new Set((draft.drop?.strands ?? []).map((s) => s.set))])
const set = ref(1)
/** Begin with the holds as the drop has them, and not hanging cleanly at a height. */
const asRigged = ref(false)

/** What is in the way and around gives the moves; the others stand apart. */
const ahead = computed(() =>
  draft.drop && person.value ? movesAhead(draft.drop, set.value, from.value ?? person.value.at_m) : new Set<string>(),
)
const offered = computed(() => (moves.data.value ?? []).filter((m) => ahead.value.has(m.name) || m.name === move.value))
const others = computed(() => (moves.data.value ?? []).filter((m) => !ahead.value.has(m.name)))
watch(
  () => moving.wanted,
  (name) => {
    if (name) move.value = name
    moving.wanted = undefined
  },
  { immediate: true },
)
watch(
  () => moving.toPass,
  (m) => {
    if (m && person.value) move.value = moveFor(m.kind, m.height, from.value ?? person.value.at_m)
    moving.toPass = undefined
  },
)

/** What is asked: the move that is chosen, by some ways. */
function asks(by: Schools): MoveAsked {
  return {
    drop: toRaw(draft.drop!),
    person: person.value!.id,
    move: move.value,
    ...(from.value === undefined || whole.value ? {} : { from_m: from.value }),
    ...(whole.value ? { to_m: to.value ?? person.value!.at_m } : {}),
    ...(set.value === 1 ? {} : { set: set.value }),
    ...(asRigged.value && !whole.value ? { as_rigged: true } : {}),
    schools: by,
  }
}
const ask = (by: Schools) => findMove(asks(by))
const asking = useAsking()

/** What the plan was found for, as canonical JSON. */
const soughtOf = ref('')
const there = computed(
  () => Boolean(person.value) && soughtOf.value === canonical({ ...asks(chosen.value), drop: draft.drop }),
)

/** Finds the move; an answer that came too late is let go. */
async function find() {
  if (!move.value || !draft.drop || !person.value) return
  const n = ++asked
  const body = asks(chosen.value)
  const answer = await asking.run((how) => findMove(body, how)).catch(() => nobody)
  if (n !== asked) return
  soughtOf.value = canonical(body)
  sought.value = answer?.data?.plan
  asFound()
  here.value = answer?.here ?? false
  impossible.value = answer ? (answer.data?.impossible ?? '') : 'it was stopped before it was decided'
  undecided.value = !answer || answer.data?.outcome === 'undecided'
  faults.value = answer?.faults ?? []
  step.value = Math.min(step.value, plan.value?.steps.length ?? 0)
}

/** Gives up what was changed by hand. */
function asFound() {
  edited.value = list.value = undefined
  breaches.value = []
}

/** Takes steps changed by hand, and has the rules say what that breaks. */
async function change(next: Action[]) {
  const p = sought.value
  if (!p || !draft.drop || !person.value) return
  list.value = next
  const answer = await walk({
    drop: toRaw(draft.drop),
    list: { person: person.value.id, move: p.move, to_m: p.to_m, start: p.start, steps: next },
    schools: p.schools,
  }).catch(() => undefined)
  if (!answer?.data || list.value !== next) return
  edited.value = answer.data.walked
  breaches.value = answer.data.found
  step.value = Math.min(step.value, edited.value.steps.length)
}

const actions = computed(() => list.value ?? sought.value?.steps.map((s) => s.action) ?? [])
const leaveOut = () => change(actions.value.filter((_, i) => i !== step.value - 1))

watch([move, from, to, set, asRigged, chosen, person, () => draft.report], () => void find())
watch([move, from, set], () => (step.value = 0))
watch([at, person, worstNow], () =>
  at.value && person.value
    ? moving.show(
        person.value.id,
        at.value.at_m,
        at.value.grounded ? undefined : (at.value.x_m ?? 0),
        worstNow.value && (worstNow.value.held ? worstNow.value.free_fall_m : at.value.at_m),
      )
    : moving.stop(),
)
onBeforeUnmount(() => moving.stop())
</script>

<template>
  <div>
    <h1><TermWord word="move">Moves</TermWord></h1>
    <p v-if="!person" class="py-4">Nobody is on this drop yet. People come first, on the Drop page.</p>
    <template v-else>
      <p class="briefing">
        <LiveChoice
          v-if="(draft.drop?.people?.length ?? 0) > 1"
          :value="person.id"
          :options="(draft.drop?.people ?? []).map((p) => ({ value: p.id, words: p.name }))"
          label="Whose moves"
          @set="(v) => router.replace({ name: 'moves', params: { id, who: v } })"
        />
        <b v-else>{{ person.name }}</b>
        with what they carry,
        <template v-if="whole">to the work place at</template>
        <LiveChoice
          v-else
          :value="asRigged"
          :options="[
            { value: false, words: 'hanging cleanly at' },
            { value: true, words: 'with the holds as they are on the drop' },
          ]"
          label="How they begin"
          @set="(v) => (asRigged = v)"
        />
        <LiveNumber
          v-if="whole"
          :value="to ?? person.at_m"
          unit="m"
          label="Height of the work place"
          :step="0.5"
          :min="1"
          :max="draft.drop?.geometry.top_m ?? 0"
          @set="(v) => (to = v)"
        />
        <LiveNumber
          v-else-if="!asRigged"
          :value="from ?? person.at_m"
          unit="m"
          label="Height to begin at"
          :step="0.5"
          :min="0"
          :max="draft.drop?.geometry.top_m ?? 0"
          @set="(v) => (from = v)"
        /><template v-if="sets.length > 1 && !asRigged"
          >, on set
          <LiveChoice
            :value="set"
            :options="sets.map((s) => ({ value: s, words: String(s) }))"
            label="Set that they are on"
            @set="(v) => (set = v)" /></template
        >.
      </p>
      <AskBox
        :moves="offered"
        :move="move"
        :shown="asking.shown.value"
        what="Looking for a way"
        :impossible="impossible"
        :undecided="undecided"
        :faults="faults"
        @choose="(m) => (move = m)"
        @stop="asking.stop()"
      >
        <template #more>
          <span v-if="others.length" class="flex items-center gap-1">
            or
            <LiveChoice
              value=""
              :options="[
                { value: '', words: 'another' },
                ...others.map((m) => ({ value: m.name, words: moveWords(m.name), note: 'nothing here asks for it' })),
              ]"
              label="Another move"
              @set="(v) => (move = v || move)"
            />
          </span>
        </template>
        <p v-if="!move" class="text-soft mt-4">
          Choose a move, or a mark on the rail to get past. It is found, not remembered: the cheapest way that keeps
          every rule at every step with this kit.
        </p>
        <details v-if="questions.length" class="no-print mt-3" data-ways>
          <summary class="cursor-pointer py-3">
            {{ count(questions.length, 'question') }} on which practitioners differ here<template
              v-if="Object.keys(chosen).length"
              >: answered otherwise for this plan</template
            >
          </summary>
          <SchoolLines
            :questions="questions"
            :chosen="chosen"
            :team="team"
            @set="(name, value) => (chosen = { ...chosen, [name]: value })"
          />
        </details>
      </AskBox>
      <OfBefore v-if="plan && at && draft.drop" :there="there" finding what="this move">
        <p v-for="why in plan.left_out" :key="why" class="text-look mt-3" data-left-out>
          ◆ Not planned with: {{ why }}
        </p>
        <p v-if="plan.note" class="border-look bg-raised mt-3 rounded-md border-2 p-3" data-note>
          <b class="text-look">◆</b> {{ plan.note }}
        </p>
        <p class="figure mt-3">
          <b>{{ count(plan.steps.length, 'step') }}</b>, about {{ Math.round(plan.seconds_s / 5) * 5 }} s,
          {{ plan.handled }} holds put on or taken off; longest fall of any one failure
          {{ show(plan.worst_fall_m, 'm') }}.<span v-if="here" class="text-look"> ◆ Found on this device.</span>
        </p>
        <div class="mt-2 flex flex-col-reverse gap-x-6 gap-y-3 @3xl:flex-row">
          <div class="min-w-0 flex-1">
            <MoveScore :drop="draft.drop" :plan="plan" :step="step" @step="(n) => (step = n)" />
            <MoveFailures v-if="failing && current" :step="current" />
            <div
              v-if="breaches.length && !byHand"
              class="border-stop bg-raised mt-3 rounded-md border-2 p-3"
              role="alert"
              data-breaches
            >
              <template v-for="b in breaches" :key="b.step">
                <p v-for="v in b.broken ?? []" :key="v.rule + v.why">
                  <button type="button" class="quiet" @click="step = Math.min(b.step, plan?.steps.length ?? 0)">
                    step {{ b.step }}
                  </button>
                  <b :class="v.severity === 'stop' ? 'text-stop' : 'text-look'"
                    >{{ v.severity === 'stop' ? '■' : '◆' }} {{ v.rule }}</b
                  >
                  {{ v.why }}
                </p>
                <p v-if="b.impossible">
                  step {{ b.step }} <b class="text-stop">■ cannot be done:</b> {{ b.impossible }}
                </p>
              </template>
            </div>
            <p v-else-if="edited && !breaches.length" class="text-soft mt-3" role="status">
              Changed by hand: nothing found by the rules of moves and stances.
            </p>
            <div class="no-print mt-2 flex flex-wrap gap-x-2">
              <button type="button" class="quiet" :disabled="!step" data-leave-out @click="leaveOut">
                leave this step out
              </button>
              <button type="button" class="quiet" :aria-expanded="byHand" data-by-hand @click="byHand = !byHand">
                {{ byHand ? 'close the steps' : 'steps by hand' }}
              </button>
              <button v-if="list" type="button" class="quiet" @click="asFound">as it was found</button>
            </div>
            <MoveSteps
              v-if="byHand"
              :drop="draft.drop"
              :plan="plan"
              :person="person.id"
              :list="actions"
              :step="step"
              :breaches="breaches"
              class="mt-2"
              @step="(n) => (step = Math.min(n, plan?.steps.length ?? 0))"
              @change="change"
            />
            <MoveCompare
              v-if="sought"
              :drop="draft.drop"
              :plan="sought"
              :questions="questions"
              :chosen="chosen"
              :team="team"
              :ask="ask"
              :step="step"
              @step="(n) => (step = n)"
            />
          </div>
          <div class="no-print w-[300px] shrink-0 max-sm:w-full">
            <StepButtons
              :step="step"
              :count="plan.steps.length"
              :failing="failing"
              @go="go"
              @fail="failing = !failing"
            />
            <MoveStepView :n="step" :step="current" :start="at" class="mt-2" />
            <MoveClose :drop="draft.drop" :stance="at" :worst="worstNow" class="mt-2" />
            <details v-if="tied" class="mt-2" data-tied>
              <summary class="quiet -ml-2 text-sm">how it is tied, as a picture</summary>
              <KnotPictures :drop="draft.drop" :strand="tied.strand" :knots="[tied.knot]" />
            </details>
          </div>
        </div>
        <!-- On paper every step stands, with what one failure would do. -->
        <ol class="hidden list-decimal pl-6 print:block" data-sheet>
          <li v-for="(s, n) in plan.steps" :key="n" class="py-0.5">
            <b v-if="s.call">“{{ s.call }}”, answer. </b>{{ s.say }}
            <span class="text-soft">{{
              s.fail_one[0]
                ? `If ${s.fail_one[0].words} goes, ${s.fail_one[0].by ?? 'NOTHING'} holds after ${show(s.fail_one[0].free_fall_m, 'm')}.`
                : ''
            }}</span>
          </li>
        </ol>
        <ModelCautions :drop="draft.drop" :items="itemsOf(draft.drop, person.id)" />
        <p class="text-soft mt-4 text-sm">
          A plan for trained people. Reach is
          {{ person.reach_up_m || person.reach_out_m ? 'the person’s' : 'an average adult’s' }}:
          {{ show(plan.reach_up_mm ?? 0, 'mm') }} up and {{ show(plan.reach_out_mm ?? 0, 'mm') }} aside from the ventral
          point. Findings, not moves, say whether devices fit ropes, loads and points. The manufacturer's instructions
          and the person in charge come first; practise it near the ground.
        </p>
      </OfBefore>
    </template>
  </div>
</template>
