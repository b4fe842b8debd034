<script setup lang="ts">
// One person on a run: where they are, what they do, how old that is, and who reaches them if
// they stop moving now.
import { computed, ref } from 'vue'
import type { RunDocument, RunEvent, Standing } from '@/api/client'
import { ago } from '@/lib/running'
import { show } from '@/lib/units'

const props = defineProps<{
  of: Standing
  run: RunDocument
  now: number
  running: boolean
  /** The run has ended. */
  over: boolean
  may: boolean
  top: number
  drop: string
}>()
const emit = defineEmits<{ give: [event: Omit<RunEvent, 'id' | 'given_at' | 'by'>] }>()

const asked = ref(false)
const height = ref<number>()
const shown = computed(() => height.value ?? props.of.at_m)
const doings = [
  { kind: 'on-rope', words: 'on rope' },
  { kind: 'at-place', words: 'at the place' },
  { kind: 'working', words: 'working' },
  { kind: 'off-rope', words: 'off rope' },
] as const
const late = computed(() => props.of.check_in_due && Date.parse(props.of.check_in_due) < props.now)
const reach = computed(() => props.of.reach)
const still = computed(() => (props.of.moved_at ? Math.max(0, (props.now - Date.parse(props.of.moved_at)) / 1000) : 0))
const minutes = computed(() => (reach.value?.told_s ? Math.ceil(reach.value.told_s / 60) : undefined))
const reachWords = {
  slow: 'too slow',
  'last-resort': 'by a last resort alone',
  undecided: 'not decided',
  uncovered: 'NOT COVERED',
  covered: 'covered',
} as const

function mark(kind: (typeof doings)[number]['kind']) {
  emit('give', { kind, person: props.of.person, at_m: shown.value })
  height.value = undefined
}
function move(e: Event) {
  const at = Number((e.target as HTMLInputElement).value)
  emit('give', { kind: 'height', person: props.of.person, at_m: at })
  height.value = undefined
}
</script>

<template>
  <section class="border-line border-b py-3" :data-run-person="of.person">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h2>{{ of.name }}</h2>
      <b :class="of.doing === 'off rope' ? 'text-soft' : 'text-accent'" data-doing>{{ of.doing }}</b>
      <span class="figure">{{ show(shown, 'm') }}</span>
      <span class="text-soft text-sm">last word {{ ago(of.heard_at, now) }}</span>
      <span v-if="late" class="text-stop font-semibold" role="alert"
        >■ check-in overdue since {{ ago(of.check_in_due, now) }}</span
      >
      <span v-if="!of.briefed" class="text-look text-sm">◆ not briefed</span>
      <span v-else-if="of.briefed_by && of.briefed_by !== of.name" class="text-look text-sm" data-for-them
        >◆ briefed by the word of {{ of.briefed_by }}</span
      >
    </div>
    <div v-if="running && may" class="mt-2 flex flex-wrap gap-2">
      <button
        v-for="d in doings"
        :key="d.kind"
        type="button"
        class="plain min-h-14!"
        :class="of.doing === d.words ? 'border-accent! border-2! font-semibold' : ''"
        :aria-pressed="of.doing === d.words"
        :data-mark="d.kind"
        @click="mark(d.kind)"
      >
        {{ d.words }}
      </button>
      <button
        type="button"
        class="plain min-h-14!"
        data-mark="check-in"
        @click="emit('give', { kind: 'check-in', person: of.person })"
      >
        check in
      </button>
    </div>
    <label v-if="running && may && of.doing !== 'off rope'" class="mt-2 flex items-center gap-3">
      <span class="text-soft shrink-0 text-sm">height</span>
      <input
        type="range"
        class="h-11 w-full max-w-md"
        min="0"
        :max="top"
        step="1"
        :value="shown"
        :aria-label="`Height of ${of.name}, m`"
        data-height
        @input="height = Number(($event.target as HTMLInputElement).value)"
        @change="move"
      />
      <span class="figure w-16 shrink-0">{{ show(shown, 'm') }}</span>
    </label>
    <p v-if="!of.briefed && may && !over" class="mt-1">
      <button
        type="button"
        class="quiet -ml-2"
        data-brief
        @click="emit('give', { kind: 'briefed', person: of.person })"
      >
        sign the briefing: hazards, rescue, calls, channel
      </button>
    </p>
    <template v-if="of.doing !== 'off rope'">
      <button type="button" class="strong mt-2 min-h-14!" :aria-expanded="asked" data-still @click="asked = !asked">
        if {{ of.name.split(' ')[0] }} stops moving now
      </button>
      <div v-if="asked" class="border-stop bg-raised mt-2 rounded-md border-2 p-3" data-rescue-now>
        <p class="text-lg font-semibold">1. Call for help. 2. Everybody else secures, or comes off.</p>
        <p v-if="reach">
          3. <span v-if="!of.briefed" class="text-look">◆ NOT briefed: </span>as planned from
          {{ show(reach.at_m, 'm') }}, <b>{{ reachWords[reach.state] }}</b><span v-if="reach.words"
            >, {{ reach.words.replace('-', ' ') }}</span
          ><span v-if="minutes"
            >; <b class="figure">{{ minutes }} min</b> until the landing (with the policy’s factor: planned minutes err
            low)</span
          >.
        </p>
        <p v-else class="text-stop">■ 3. No rescue was planned for {{ of.name }}: nothing is briefed.</p>
        <p>
          Hanging still counts from the last movement known,
          <b class="figure">{{ Math.floor(still / 60) }} min</b> ago<span v-if="run.hang_limit_s"
            >; the policy’s limit is {{ Math.round(run.hang_limit_s / 60) }} min</span
          >. No time hanging still is harmless.
        </p>
        <RouterLink
          class="plain mt-2 whitespace-normal!"
          :to="{ name: 'rescue', params: { id: drop }, query: { person: of.person, at: String(Math.round(of.at_m)) } }"
          >the whole plan; other ways are not briefed</RouterLink
        >
      </div>
    </template>
  </section>
</template>
