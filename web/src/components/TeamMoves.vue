<script setup lang="ts">
// A move of the team: chosen, found with what is rigged, stepped through with calls,
// hands and what one failure would do; steps are left out to see what that would do.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { api, must, type Drop } from '@/api/client'
import { useTeamPicture } from '@/lib/pictures'
import { states } from '@/lib/team'
import { useStepping } from '@/lib/stepping'
import { show } from '@/lib/units'
import { useTeam } from '@/stores/team'
import AskBox from './AskBox.vue'
import LiveChoice from './LiveChoice.vue'
import LiveNumber from './LiveNumber.vue'
import MoveFailures from './MoveFailures.vue'
import OfBefore from './OfBefore.vue'
import StepButtons from './StepButtons.vue'
import KnotPictures from './KnotPictures.vue'
import PictureView from './PictureView.vue'
import TeamScore from './TeamScore.vue'
import TermWord from '@/components/TermWord.vue'
import { count, moveWords } from '@/lib/words'

const props = defineProps<{ drop: Drop }>()

const team = useTeam()
const moves = useQuery({
  queryKey: ['team-moves'],
  queryFn: async () => must(await api.GET('/api/v1/team/moves')),
  staleTime: Infinity,
})
const plan = computed(() => team.answer?.plan)
const { step, failing, go } = useStepping(() => (team.there ? plan.value?.steps.length : undefined))
const current = computed(() => plan.value?.steps[step.value - 1])
const at = computed(() => (plan.value ? states(plan.value)[step.value] : undefined))
const rig = useTeamPicture(
  () => at.value && { drop: props.drop, state: at.value, lost: failing.value ? current.value?.fail_one[0] : undefined },
)
/** The list of moves is open until one is chosen. */
const listed = ref(false)
const chosen = computed(() => moves.data.value?.find((m) => m.name === team.move))
const wheel = computed(() => ['wind-up', 'wind-down'])
const broken = computed(() =>
  (team.without?.found ?? []).flatMap((b) =>
    b.impossible ? [{ step: b.step, why: b.impossible }] : (b.broken ?? []).map((v) => ({ step: b.step, why: v.why })),
  ),
)

watch(
  () => team.move,
  () => (step.value = 0),
)
watch(plan, () => (step.value = Math.min(step.value, plan.value?.steps.length ?? 0)))
</script>

<template>
  <div>
    <button
      type="button"
      class="plain border-accent! no-print max-w-full border-2! text-left whitespace-normal!"
      :aria-expanded="listed"
      data-moves
      @click="listed = !listed"
    >
      <b>{{ moveWords(team.move) }}</b><span v-if="chosen" class="text-soft max-sm:hidden">: {{ chosen.does }}</span> ▾
    </button>
    <AskBox
      :moves="listed ? moves.data.value : undefined"
      :move="team.move"
      :shown="team.asking.shown"
      what="Looking for a way"
      :impossible="team.answer?.impossible"
      :undecided="team.answer?.outcome === 'undecided'"
      :faults="team.faults"
      @choose="(m) => (team.choose(m), (listed = false))"
      @stop="team.asking.stop()"
    >
      <p v-if="team.hangs()" class="briefing">
        From
        <LiveNumber
          :value="team.start() ?? (plan ? plan.start.at_cm / 100 : team.top())"
          unit="m"
          label="Height the load hangs at"
          :step="1"
          :min="0"
          :max="team.top()"
          @set="(v) => (team.from = v)"
        /><template v-if="team.needsTo()">
          to
          <LiveNumber
            :value="team.target()"
            unit="m"
            label="Height it is to come to"
            :step="wheel.includes(team.move) ? 0.1 : 1"
            :min="0"
            :max="team.top()"
            @set="(v) => (team.to = v)"
        /></template>
        <template v-if="team.needsRatio()">
          by
          <LiveChoice
            :value="team.ratio"
            :options="([1, 2, 3, 5, 9] as const).map((r) => ({ value: r, words: `${r}:1` }))"
            label="Ratio of the haul"
            @set="(v) => (team.ratio = v)" /></template
        >.
      </p>
    </AskBox>
    <OfBefore v-if="plan && at" :there="team.there" :finding="team.finding" what="this move">
      <p class="figure mt-3">
        <b>{{ count(plan.steps.length, 'step') }}</b>, about {{ Math.round(plan.seconds_s / 5) * 5 }} s; longest drop of
        any one failure {{ show(plan.worst_drop_m, 'm') }}.<span v-if="team.here" class="text-look">
          ◆ Found on this device.</span
        >
      </p>
      <div class="mt-2 flex flex-col-reverse gap-x-6 gap-y-3 @3xl:flex-row">
        <div class="min-w-0 flex-1">
          <TeamScore :drop="drop" :plan="plan" :step="step" @step="(n) => (step = n)" />
          <MoveFailures v-if="failing && current" :step="current" fall="drop" />
        </div>
        <div class="no-print w-[300px] shrink-0 max-sm:w-full">
          <StepButtons :step="step" :count="plan.steps.length" :failing="failing" @go="go" @fail="failing = !failing" />
          <section class="mt-2" aria-live="polite" data-step>
            <p v-if="current?.call" class="text-accent text-lg font-semibold">
              “{{ current.call }}” — wait for “{{ current.answer }}”
            </p>
            <h2 class="text-lg leading-snug">
              <template v-if="current">{{ step }}. {{ current.say }}</template>
              <template v-else
                >Start:
                {{ at.hangs ? `the load hangs at ${show(at.at_cm / 100, 'm')}` : 'the load is on the level' }}</template
              >
            </h2>
            <p v-if="current?.who" class="text-soft">{{ current.who }}</p>
            <p v-for="h in current?.hands_off ?? []" :key="h" class="text-soft text-sm">Hands off, {{ h }}.</p>
            <button
              v-if="current"
              type="button"
              class="quiet -ml-2 text-sm"
              :aria-pressed="team.left.includes(step)"
              data-leave
              @click="team.leave(step)"
            >
              {{ team.left.includes(step) ? 'put this step back' : 'what if this step is left out?' }}
            </button>
            <template v-if="team.left.length && team.without">
              <p v-if="!broken.length" class="text-sm">
                Without step {{ [...team.left].sort((a, b) => a - b).join(', ') }} no rule is broken; whether the move
                then ends where it should is another matter.
              </p>
              <ul v-else class="text-sm" data-without>
                <li v-for="b in broken.slice(0, 4)" :key="b.step + b.why" class="text-stop">
                  ■ step {{ b.step }} of what is left: {{ b.why }}
                </li>
              </ul>
            </template>
          </section>
          <PictureView v-if="rig" :drawing="rig" class="mt-2 w-full" data-rig-step />
          <KnotPictures
            v-if="current"
            class="mt-3"
            :drop="drop"
            :strand="current.action.line === 'belay' ? drop.team?.belay.strand : drop.team?.main.strand"
            :team-step="current.action.do"
            data-tied
          />
        </div>
      </div>
      <ol class="hidden list-decimal pl-6 print:block" data-sheet>
        <li v-for="(s, n) in plan.steps" :key="n" class="py-0.5">
          <b v-if="s.call">“{{ s.call }}” – “{{ s.answer }}”. </b>{{ s.who }}: {{ s.say }}
        </li>
      </ol>
    </OfBefore>
    <section v-if="team.answer?.figures?.knots.length" class="mt-4" data-knots>
      <h2><TermWord word="knot pass">Knots on the way down</TermWord></h2>
      <div v-for="k in team.answer.figures.knots" :key="k.line + k.knot_m" class="mt-1 text-[0.95rem] leading-snug">
        <p>
          The {{ k.line }}'s knot, {{ show(k.knot_m, 'm') }} of rope from the load, is {{ show(k.left_m, 'm') }} short
          of its brake when the load hangs at <b class="figure">{{ show(k.at_m, 'm') }}</b>. Onto grab and hitch it
          settles <b class="figure">{{ show(k.settle_m, 'm') }}</b><span v-if="!k.settles_within" class="text-stop">
            ■ more than is left</span
          >; the hitch must let out <b class="figure">{{ show(k.needs_m, 'm') }}</b> and lets out {{ show(k.has_m, 'm')
          }}<span v-if="!k.ready" class="text-stop"> ■ a grab with a longer hitch is missing</span>.
        </p>
        <ul class="text-soft list-disc pl-5">
          <li v-for="b in k.before" :key="b">before the lower begins: {{ b }}</li>
        </ul>
      </div>
    </section>
  </div>
</template>
