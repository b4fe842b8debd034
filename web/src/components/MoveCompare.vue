<script setup lang="ts">
// Another way held against a plan: one question answered otherwise.
import { computed, ref, shallowRef, watch } from 'vue'
import type { Drop, MoveAnswer, MovePlan, Question, Schools } from '@/api/client'
import { labelOf } from '@/lib/gear'
import { show } from '@/lib/units'
import LiveChoice from './LiveChoice.vue'
import MoveScore from './MoveScore.vue'

const props = defineProps<{
  drop: Drop
  plan: MovePlan
  questions: Question[]
  chosen: Schools
  team: Schools
  ask: (by: Schools) => Promise<{ data?: MoveAnswer }>
  step: number
}>()
const emit = defineEmits<{ step: [n: number] }>()

/** A question with the other answer, as one word: name=value. */
const other = ref('')
const found = shallowRef<MovePlan>()
const none = ref('')
let asked = 0

const options = computed(() => [
  { value: '', words: 'nothing' },
  ...props.questions.flatMap((q) =>
    q.answers
      .filter((a) => a.value !== props.plan.schools[q.name as keyof Schools])
      .map((a) => ({ value: `${q.name}=${a.value}`, words: `${q.asks}: ${a.words}` })),
  ),
])

watch([() => props.plan, other], async () => {
  const n = ++asked
  found.value = undefined
  none.value = ''
  const [name, value] = other.value.split('=')
  if (!name) return
  const answer = await props.ask({ ...props.chosen, [name]: value }).catch(() => undefined)
  if (n !== asked) return
  found.value = answer?.data?.plan
  none.value = answer?.data?.impossible ?? ''
})

/** The first step at which two plans part; 0 where they do not. */
const parts = computed(() => {
  const [a, b] = [props.plan.steps, found.value?.steps ?? []]
  const i = a.findIndex((s, n) => JSON.stringify(s.action) !== JSON.stringify(b[n]?.action))
  return i >= 0 ? i + 1 : a.length === b.length ? 0 : a.length + 1
})

/** What a plan handles: each thing once. */
const gear = (p: MovePlan) =>
  [
    ...new Set(
      p.steps.filter((s) => ['put-on', 'take-off', 'clip', 'unclip'].includes(s.action.do)).map((s) => s.action.item),
    ),
  ]
    .map((i) => labelOf(props.drop, i ?? ''))
    .join(', ') || 'nothing'

const rows = computed(() =>
  found.value
    ? [
        { words: 'steps', a: String(props.plan.steps.length), b: String(found.value.steps.length) },
        { words: 'time', a: `${Math.round(props.plan.seconds_s)} s`, b: `${Math.round(found.value.seconds_s)} s` },
        { words: 'holds put on or off', a: String(props.plan.handled), b: String(found.value.handled) },
        { words: 'longest fall', a: show(props.plan.worst_fall_m, 'm'), b: show(found.value.worst_fall_m, 'm') },
        { words: 'gear handled', a: gear(props.plan), b: gear(found.value) },
      ]
    : [],
)
</script>

<template>
  <section class="no-print">
    <p class="briefing">
      Beside it:
      <LiveChoice :value="other" :options="options" label="Another way to hold it against" @set="(v) => (other = v)" />
    </p>
    <p v-if="none" class="text-look" data-other>◆ That way: {{ none }}.</p>
    <div v-if="found" data-other>
      <p>{{ parts ? `They part at step ${parts}.` : 'They are the same.' }}</p>
      <table v-if="parts" class="mt-1">
        <thead>
          <tr class="text-soft text-left text-sm">
            <th />
            <th class="pr-6 font-normal">the plan</th>
            <th class="font-normal">that way</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.words" class="border-line border-t align-top">
            <th scope="row" class="pr-6 text-left font-normal">{{ r.words }}</th>
            <td class="figure pr-6">{{ r.a }}</td>
            <td class="figure" :class="r.a === r.b ? 'text-soft' : ''">{{ r.b }}</td>
          </tr>
        </tbody>
      </table>
      <MoveScore v-if="parts" :drop="drop" :plan="found" :step="step" @step="(n) => emit('step', n)" />
    </div>
  </section>
</template>
