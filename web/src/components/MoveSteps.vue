<script setup lang="ts">
// The steps of a move as a list, to be dragged, left out, and added to by hand.
import { computed, ref } from 'vue'
import type { Action, Breach, Drop, MovePlan } from '@/api/client'
import { labelOf, modelOf } from '@/lib/gear'
import { personActions } from '@/api/actions'
import { show } from '@/lib/units'
import LiveChoice from './LiveChoice.vue'
import LiveNumber from './LiveNumber.vue'

const props = defineProps<{
  drop: Drop
  plan: MovePlan
  person: string
  list: Action[]
  step: number
  breaches: Breach[]
}>()
const emit = defineEmits<{ step: [n: number]; change: [list: Action[]] }>()

const dragged = ref<number>()
const over = ref<number>()
const adding = ref(false)
const draft = ref<Action>({ do: 'put-on' })

const person = computed(() => props.drop.people?.find((p) => p.id === props.person))
const kit = computed(() =>
  [...(person.value?.holds ?? []).map((h) => h.device), ...(person.value?.carries ?? [])]
    .filter((i) =>
      ['descender', 'chest-ascender', 'hand-ascender', 'backup-device', 'lanyard'].includes(
        modelOf(props.drop, i)?.class ?? '',
      ),
    )
    .map((i) => ({ value: i, words: labelOf(props.drop, i) })),
)
const strands = computed(() => [
  ...(props.drop.strands ?? []).map((s) => ({ value: s.id, words: s.name })),
  ...(props.drop.anchors?.some((a) => a.sling) ? [{ value: 'structure', words: 'slings' }] : []),
])
const wants = computed(() => personActions[draft.value.do].needs)
const kinds = Object.entries(personActions).map(([value, a]) => ({ value: value as Action['do'], words: a.label }))
const broken = (n: number) => props.breaches.filter((b) => b.step === n)

function words(a: Action) {
  const where = a.strand && (strands.value.find((s) => s.value === a.strand)?.words ?? a.strand)
  return [
    personActions[a.do].label,
    a.item && labelOf(props.drop, a.item),
    a.into === 'mark' ? `into ${a.strand === 'structure' ? `sling ${a.span}` : `the mark above span ${a.span}`}` : '',
    where && a.strand !== 'structure' ? `on ${where}` : '',
    a.at_m !== undefined ? `at ${show(a.at_m, 'm')}` : '',
  ]
    .filter(Boolean)
    .join(' ')
}

function put(from: number, to: number) {
  const list = [...props.list]
  const [a] = list.splice(from, 1)
  list.splice(to, 0, a!)
  emit('change', list)
  emit('step', to + 1)
}

function leaveOut(i: number) {
  emit(
    'change',
    props.list.filter((_, n) => n !== i),
  )
}

/** What is added says only what its action must be given. */
function add() {
  const a: Action = { do: draft.value.do }
  const draftAction = draft.value
  if (wants.value.includes('item')) a.item = draftAction.item ?? kit.value[0]?.value
  if (wants.value.includes('strand')) a.strand = draftAction.strand ?? strands.value[0]?.value
  if (wants.value.includes('span')) a.span = draftAction.span ?? 0
  if (wants.value.includes('at'))
    a.at_m = draftAction.at_m ?? (props.plan.steps[props.step - 1]?.after ?? props.plan.start).at_m
  if (wants.value.includes('into')) a.into = draftAction.into ?? 'mark'
  const list = [...props.list]
  list.splice(props.step, 0, a)
  emit('change', list)
  emit('step', props.step + 1)
  adding.value = false
}

function drop_(to: number) {
  if (dragged.value !== undefined && dragged.value !== to) put(dragged.value, to)
  dragged.value = over.value = undefined
}
</script>

<template>
  <section class="no-print" aria-label="Steps by hand" data-steps>
    <p class="text-soft text-sm">
      Drag a step, or use its buttons; what that breaks is shown at once. A new step comes after step {{ step }}.
    </p>
    <ol class="mt-1">
      <li
        v-for="(a, i) in list"
        :key="i"
        draggable="true"
        class="border-line flex flex-wrap items-center gap-x-2 border-t"
        :class="[step === i + 1 ? 'bg-rock' : '', over === i ? 'border-accent! border-t-4!' : '']"
        :data-nth="i + 1"
        @dragstart="dragged = i"
        @dragover.prevent="over = i"
        @dragleave="over = undefined"
        @drop.prevent="drop_(i)"
        @dragend="dragged = over = undefined"
      >
        <span class="text-soft cursor-grab px-1" aria-hidden="true">⠿</span>
        <button type="button" class="quiet min-w-0 flex-1 text-left" @click="emit('step', i + 1)">
          <span class="figure text-soft mr-2">{{ i + 1 }}</span>{{ words(a) }}
        </button>
        <button type="button" class="quiet" :disabled="!i" :aria-label="`step ${i + 1} earlier`" @click="put(i, i - 1)">
          ↑
        </button>
        <button
          type="button"
          class="quiet"
          :disabled="i + 1 === list.length"
          :aria-label="`step ${i + 1} later`"
          @click="put(i, i + 1)"
        >
          ↓
        </button>
        <button type="button" class="quiet" :aria-label="`leave step ${i + 1} out`" @click="leaveOut(i)">
          leave out
        </button>
        <template v-for="b in broken(i + 1)" :key="b.step">
          <p v-for="v in b.broken ?? []" :key="v.rule + v.why" class="w-full pl-8 text-sm">
            <b :class="v.severity === 'stop' ? 'text-stop' : 'text-look'">{{ v.severity === 'stop' ? '■' : '◆' }}</b>
            {{ v.why }} <span class="figure text-soft">{{ v.rule }}</span>
          </p>
          <p v-if="b.impossible" class="text-stop w-full pl-8 text-sm"><b>■ cannot be done:</b> {{ b.impossible }}</p>
        </template>
      </li>
    </ol>
    <p v-if="adding" class="briefing border-line border-t pt-2" data-adding>
      After step {{ step }}:
      <LiveChoice :value="draft.do" :options="kinds" label="Action" @set="(v) => (draft = { ...draft, do: v })" />
      <LiveChoice
        v-if="wants.includes('item')"
        :value="draft.item ?? kit[0]?.value ?? ''"
        :options="kit"
        label="Item"
        @set="(v) => (draft = { ...draft, item: v })"
      />
      <template v-if="wants.includes('strand')">
        on
        <LiveChoice
          :value="draft.strand ?? strands[0]?.value ?? ''"
          :options="strands"
          label="Strand"
          @set="(v) => (draft = { ...draft, strand: v })"
        />
      </template>
      <template v-if="wants.includes('span')">
        span
        <LiveNumber
          :value="draft.span ?? 0"
          unit=""
          label="Span, counted from the top"
          :step="1"
          :min="0"
          :max="99"
          @set="(v) => (draft = { ...draft, span: v })"
        />
      </template>
      <template v-if="wants.includes('at')">
        at
        <LiveNumber
          :value="draft.at_m ?? (plan.steps[step - 1]?.after ?? plan.start).at_m"
          unit="m"
          label="Height"
          :step="0.05"
          :min="0"
          :max="drop.geometry.top_m + 5"
          @set="(v) => (draft = { ...draft, at_m: v })"
        />
      </template>
      <button type="button" class="plain" @click="add()">put it in</button>
      <button type="button" class="quiet" @click="adding = false">not now</button>
    </p>
    <button v-else type="button" class="quiet" data-insert @click="adding = true">
      + a step after step {{ step }}
    </button>
  </section>
</template>
