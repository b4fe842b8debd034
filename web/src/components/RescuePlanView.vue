<script setup lang="ts">
// The pick-off as it was found: the score of both bodies and what joins them, stepped
// through, with what one failure would do.
import { computed, ref, watch } from 'vue'
import type { Drop, RescuePlan } from '@/api/client'
import { itemsOf } from '@/lib/gear'
import { usePairPicture } from '@/lib/pictures'
import type { SheetBar, SheetFigures, SheetLane } from '@/lib/sheet'
import { useStepping } from '@/lib/stepping'
import { show, unitOf } from '@/lib/units'
import ModelCautions from './ModelCautions.vue'
import MoveFailures from './MoveFailures.vue'
import { useRescue } from '@/stores/rescue'
import PictureView from './PictureView.vue'
import RescueDrill from './RescueDrill.vue'
import ScoreSheet from './ScoreSheet.vue'
import StepButtons from './StepButtons.vue'
import { count } from '@/lib/words'

const props = defineProps<{
  drop: Drop
  plan: RescuePlan
  casualty: string
  rescuer: string
  /** Who they are on the drop. */
  ids: { rescuer: string; casualty: string }
}>()
const rescue = useRescue()

const { step, failing, go } = useStepping(() => (drilling.value || !rescue.there ? undefined : props.plan.steps.length))
const drilling = ref(false)
const current = computed(() => props.plan.steps[step.value - 1])
watch(
  () => props.plan,
  () => ((step.value = 0), (drilling.value = false)),
)

/** What both hang on, or take over. */
const hung = computed(() => [
  ...itemsOf(props.drop, props.ids.rescuer),
  ...itemsOf(props.drop, props.ids.casualty),
  ...(props.plan.way === 'lowered' ? [props.drop.team?.main.brake, props.drop.team?.belay.brake] : []),
])

type State = RescuePlan['start']
const states = computed<State[]>(() => [props.plan.start, ...props.plan.steps.map((s) => s.after)])

const pair = usePairPicture(() =>
  drilling.value
    ? undefined
    : {
        drop: props.drop,
        ...props.ids,
        state: states.value[step.value]!,
        next: props.plan.steps[step.value]?.action,
        lost: failing.value ? current.value?.fail_one[0] : undefined,
      },
)

/** The bars of a row: where something is on, heavy where it bears. */
function bars(now: (s: State) => [words: string, heavy: boolean, loose?: boolean] | undefined): SheetBar[] {
  const list: SheetBar[] = []
  for (const [n, s] of states.value.entries()) {
    const is = now(s)
    const last = list.at(-1)
    if (!is) continue
    if (last?.to === n && last.words === is[0] && last.heavy === is[1]) last.to = n + 1
    else list.push({ from: n, to: n + 1, words: is[0], heavy: is[1], loose: is[2] })
  }
  return list
}

function body(key: 'rescuer' | 'casualty') {
  const items = new Map(states.value.flatMap((s) => s[key].map((h) => [h.item, h.label] as const)))
  return [...items].map(([item, label]) => ({
    key: item,
    label,
    bars: bars((s) => {
      const h = s[key].find((o) => o.item === item)
      return h && [h.tied ? 'tied off' : h.parked ? 'parked' : h.bears ? 'live' : 'on', Boolean(h.bears)]
    }),
  }))
}

const lanes = computed((): SheetLane[] => [
  { name: props.rescuer, role: 'main', rows: body('rescuer') },
  { name: props.casualty, role: 'backup', rows: body('casualty') },
  {
    name: 'between them',
    role: 'clipped',
    rows: [
      {
        key: 'long',
        label: 'long lanyard',
        bars: bars((s) => (s.long_lanyard ? [s.long_lanyard, false, s.long_lanyard === 'shut'] : undefined)),
      },
      {
        key: 'chain',
        label: props.plan.steps.some((s) => s.after.strap) ? 'short lanyard or sling' : 'chain',
        bars: bars((s) =>
          s.chain ? [s.bears === 'chain' ? 'bears' : s.chain, s.bears === 'chain', s.chain === 'shut'] : undefined,
        ),
      },
      { key: 'bend', label: 'friction for two', bars: bars((s) => (s.bend ? ['in', false] : undefined)) },
    ].filter((r) => r.bars.length),
  },
])
const figures = computed((): SheetFigures[] => {
  const drops = [
    '',
    ...props.plan.steps.map((s) =>
      s.fail_one[0]?.held === false ? '■' : s.fail_one[0] ? show(s.fail_one[0].free_fall_m, 'm').split(' ')[0]! : '',
    ),
  ]
  return [{ words: `worst drop, ${unitOf('m')}`, of: drops, bad: (n) => drops[n] === '■' }]
})
</script>

<template>
  <div data-pick-off>
    <p class="figure">
      <b>{{ count(plan.steps.length, 'step') }}</b>, about {{ Math.round(plan.seconds_s / 5) * 5 }} s; both weigh
      {{ show(plan.pair_kg, 'kg') }}<template v-if="plan.friction">, with the friction for two in</template>. Worst
      failure: {{ plan.worst.words
      }}<template v-if="plan.worst.held">, held after {{ show(plan.worst.free_fall_m, 'm') }}</template
      >.
      <button
        type="button"
        class="quiet no-print"
        :aria-pressed="drilling"
        :disabled="rescue.finding"
        data-start-drill
        @click="drilling = !drilling"
      >
        {{ drilling ? 'back to the plan' : 'drill it' }}
      </button>
    </p>
    <ModelCautions :drop="drop" :items="hung" />
    <RescueDrill v-if="drilling" :plan="plan" />
    <div v-else class="mt-2 flex flex-col-reverse gap-x-6 gap-y-3 @3xl:flex-row">
      <div class="min-w-0 flex-1">
        <ScoreSheet
          :lanes="lanes"
          :figures="figures"
          :steps="plan.steps.length"
          :step="step"
          :column="46"
          words
          name="Score of the rescue"
          :title="`${plan.steps.length} steps`"
          @step="(n) => (step = n)"
        />
        <MoveFailures v-if="failing && current" :step="current" fall="drop" />
      </div>
      <div class="no-print w-[300px] shrink-0 max-sm:w-full">
        <StepButtons :step="step" :count="plan.steps.length" :failing="failing" @go="go" @fail="failing = !failing" />
        <section class="mt-2" aria-live="polite" data-step>
          <p v-if="current?.call" class="text-accent text-lg font-semibold">
            “{{ current.call }}” — wait for the answer
          </p>
          <h2 class="text-lg leading-snug">
            <template v-if="current">{{ step }}. {{ current.say }}</template>
            <template v-else>Start: beside {{ casualty }}, parked</template>
          </h2>
          <p v-if="current?.reason" class="text-soft">{{ current.reason }}</p>
          <p v-for="h in current?.hands_off ?? []" :key="h" class="text-soft text-sm">Hands off, {{ h }}.</p>
        </section>
        <PictureView v-if="pair" :drawing="pair" class="mt-2 w-full" data-pair />
      </div>
    </div>
    <ol class="hidden list-decimal pl-6 print:block">
      <li v-for="(s, n) in plan.steps" :key="n">{{ s.say }}</li>
    </ol>
  </div>
</template>
