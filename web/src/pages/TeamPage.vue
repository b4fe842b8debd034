<script setup lang="ts">
// Team: a load lowered and raised from the top. The move that is chosen is found with
// what is rigged, stepped through with calls, hands and what one failure would do;
// beside it what every ratio asks of the haulers and both schools of the strands.
import { computed, ref, shallowRef, toRaw, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, must, type Fault, type TeamAnswer, type TeamRig } from '@/api/client'
import LiveChoice from '@/components/LiveChoice.vue'
import LiveNumber from '@/components/LiveNumber.vue'
import MoveFailures from '@/components/MoveFailures.vue'
import StepButtons from '@/components/StepButtons.vue'
import TeamFiguresView from '@/components/TeamFiguresView.vue'
import TeamScore from '@/components/TeamScore.vue'
import { labelOf } from '@/lib/gear'
import { findTeamMove } from '@/lib/moves'
import { states } from '@/lib/team'
import { useStepping } from '@/lib/stepping'
import { show } from '@/lib/units'
import { useDraft } from '@/stores/draft'

defineProps<{ id: string }>()

const draft = useDraft()
const moves = useQuery({
  queryKey: ['team-moves'],
  queryFn: async () => must(await api.GET('/api/v1/team/moves')),
  staleTime: Infinity,
})
const team = computed(() => draft.drop?.team)
const move = ref('lower')
const from = ref<number>()
const to = ref<number>()
const ratio = ref<1 | 2 | 3 | 5 | 9>(3)
const answer = shallowRef<TeamAnswer>()
const faults = ref<Fault[]>([])
const here = ref(false)
let asked = 0

const top = computed(() => draft.drop?.geometry.top_m ?? 0)
const needsTo = computed(() => ['lower', 'raise'].includes(move.value))
const needsRatio = computed(() => ['raise', 'lower-to-raise', 'change-ratio'].includes(move.value))
const hangs = computed(() => !['prove-brake', 'edge'].includes(move.value))
/** Where it comes to while nothing is told: near the landing, or near the top. */
const target = computed(() => to.value ?? (move.value === 'raise' ? Math.round(top.value * 0.8) : 1))
const start = computed(() => from.value ?? (move.value === 'raise' ? 2 : undefined))
const plan = computed(() => answer.value?.plan)
const { step, failing, go } = useStepping(() => plan.value?.steps.length)
const current = computed(() => plan.value?.steps[step.value - 1])
const at = computed(() => (plan.value ? states(plan.value)[step.value] : undefined))

async function find() {
  if (!draft.drop || !team.value) return
  const n = ++asked
  const told = await findTeamMove({
    drop: toRaw(draft.drop),
    move: move.value,
    ...(hangs.value && start.value !== undefined ? { from_m: start.value } : {}),
    ...(needsTo.value ? { to_m: target.value } : {}),
    ...(needsRatio.value ? { ratio: ratio.value } : {}),
  }).catch(() => undefined)
  if (n !== asked) return
  answer.value = told?.data
  faults.value = told ? told.faults : [{ pointer: '', detail: 'no connection, and no core on this device' }]
  here.value = told?.here ?? false
  step.value = Math.min(step.value, plan.value?.steps.length ?? 0)
}

// A change of the school changes no finding, but the plan.
watch([move, from, to, ratio, () => draft.report, () => JSON.stringify(team.value)], () => void find(), {
  immediate: true,
})
watch(move, () => {
  step.value = 0
  from.value = to.value = undefined
})

function set(change: (t: TeamRig) => void) {
  draft.edit((d) => d.team && change(d.team))
}
</script>

<template>
  <div>
    <h1>Team</h1>
    <p v-if="!team" class="max-w-prose py-4">
      Nothing is rigged for a team on this drop. A drop file says it under <code>team</code>: load, brakes of main and
      belay, operators, haulers and kit. The demo's <b>Basin wall</b> has one.
    </p>
    <template v-else-if="draft.drop">
      <p class="briefing">
        <b>{{ team.load.name }}</b>,
        <LiveNumber
          :value="team.load.mass_kg"
          unit="kg"
          label="Mass of the load"
          :step="5"
          :min="1"
          :max="600"
          pointer="/team/load/mass_kg"
          @set="(v) => set((t) => (t.load.mass_kg = v))"
        />, on {{ labelOf(draft.drop, team.main.brake) }} and {{ labelOf(draft.drop, team.belay.brake) }};
        {{ team.operators.join(', ') }} at the ropes and
        <LiveNumber
          :value="team.haulers ?? 0"
          unit=""
          label="Haulers"
          :step="1"
          :min="0"
          :max="50"
          pointer="/team/haulers"
          @set="(v) => set((t) => (t.haulers = Math.round(v)))"
        />
        to haul. Lowering by
        <LiveChoice
          :value="team.lowering ?? 'slack-belay'"
          :options="[
            {
              value: 'slack-belay' as const,
              words: 'slack belay',
              note: 'all on the main; trouble is heard and seen early',
            },
            { value: 'shared' as const, words: 'shared tension', note: 'small drop; two operators in step' },
          ]"
          label="School of lowering"
          @set="(v) => set((t) => (t.lowering = v))"
        /><template v-if="team.main.knots_m?.length"
          >; a knot comes to the main's brake with the load
          {{ team.main.knots_m.map((k) => show(k, 'm')).join(', ') }} below it</template
        >.
      </p>
      <div class="no-print flex flex-wrap gap-2" role="group" aria-label="Move of the team">
        <button
          v-for="m in moves.data.value ?? []"
          :key="m.name"
          type="button"
          class="plain"
          :class="m.name === move ? 'border-accent! border-2! font-semibold' : ''"
          :aria-pressed="m.name === move"
          :title="m.does"
          :data-move="m.name"
          @click="move = m.name"
        >
          {{ m.name.replaceAll('-', ' ') }}
        </button>
      </div>
      <p v-if="hangs" class="briefing">
        From
        <LiveNumber
          :value="start ?? (plan ? plan.start.at_cm / 100 : top)"
          unit="m"
          label="Height the load hangs at"
          :step="1"
          :min="0"
          :max="top"
          @set="(v) => (from = v)"
        /><template v-if="needsTo">
          to
          <LiveNumber
            :value="target"
            unit="m"
            label="Height it is to come to"
            :step="1"
            :min="0"
            :max="top"
            @set="(v) => (to = v)"
        /></template>
        <template v-if="needsRatio">
          by
          <LiveChoice
            :value="ratio"
            :options="([1, 2, 3, 5, 9] as const).map((r) => ({ value: r, words: `${r}:1` }))"
            label="Ratio of the haul"
            @set="(v) => (ratio = v)" /></template
        >.
      </p>
      <p
        v-if="answer?.impossible"
        class="border-stop bg-raised mt-4 rounded-md border-2 p-3"
        role="alert"
        data-impossible
      >
        <b class="text-stop">■ No way:</b> {{ answer.impossible }}.
      </p>
      <p v-for="f in faults" :key="f.pointer" class="text-look mt-4" role="alert">◆ {{ f.detail }}</p>
      <template v-if="plan && at">
        <p class="figure mt-3">
          <b>{{ plan.steps.length }} steps</b>, about {{ Math.round(plan.seconds_s / 5) * 5 }} s; longest drop of any
          one failure {{ show(plan.worst_drop_m, 'm') }}.<span v-if="here" class="text-look">
            ◆ Found on this device.</span
          >
        </p>
        <div class="mt-2 flex flex-col-reverse gap-x-6 gap-y-3 @3xl:flex-row">
          <div class="min-w-0 flex-1">
            <TeamScore :drop="draft.drop" :plan="plan" :step="step" @step="(n) => (step = n)" />
            <MoveFailures v-if="failing && current" :step="current" fall="drop" />
          </div>
          <div class="no-print w-[300px] shrink-0 max-sm:w-full">
            <StepButtons
              :step="step"
              :count="plan.steps.length"
              :failing="failing"
              @go="go"
              @fail="failing = !failing"
            />
            <section class="mt-2" aria-live="polite" data-step>
              <p v-if="current?.call" class="text-accent text-lg font-semibold">
                “{{ current.call }}” — wait for the answer
              </p>
              <h2 class="text-lg leading-snug">
                <template v-if="current">{{ step }}. {{ current.say }}</template>
                <template v-else
                  >Start:
                  {{
                    at.hangs ? `the load hangs at ${show(at.at_cm / 100, 'm')}` : 'the load is on the level'
                  }}</template
                >
              </h2>
              <p v-for="h in current?.hands_off ?? []" :key="h" class="text-soft text-sm">Hands off, {{ h }}.</p>
            </section>
          </div>
        </div>
        <ol class="hidden list-decimal pl-6 print:block" data-sheet>
          <li v-for="(s, n) in plan.steps" :key="n" class="py-0.5">
            <b v-if="s.call">“{{ s.call }}”, answer. </b>{{ s.say }}
          </li>
        </ol>
      </template>
      <TeamFiguresView v-if="answer?.figures" :figures="answer.figures" :haulers="team.haulers ?? 0" class="mt-4" />
      <p class="text-soft mt-4 text-sm">
        A plan for trained people. Friction at the edge is not in the haul: it errs low. Whether brakes fit ropes and
        loads is not looked at here yet. The manufacturer's instructions and the person in charge come first; practise
        it near the ground.
      </p>
    </template>
  </div>
</template>
