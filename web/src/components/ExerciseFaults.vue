<script setup lang="ts">
// Find the fault: one points at a thing and says what is wrong with it; handed in, each fault is
// shown with what the rules say of it.
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import type { Exercise, ExerciseAnswer, ExerciseMark, MovePlan, ReplayAnswer, TeamAnswer, TeamPlan } from '@/api/client'
import { rigFaults, stepFaults, teamStepFaults, type What } from '@/api/practice'
import { askOf, faultsAt, labelled, scoreWords, tagged, type Thing } from '@/lib/practice'
import { show } from '@/lib/units'
import { count } from '@/lib/words'
import ExerciseHold from './ExerciseHold.vue'
import ExerciseRail from './ExerciseRail.vue'
import FindingNote from './FindingNote.vue'

const props = defineProps<{ exercise: Exercise; mark?: ExerciseMark; busy?: boolean }>()
const emit = defineEmits<{ answer: [answer: ExerciseAnswer] }>()

type Named = { what: What; at: Thing }
const named = ref<Named[]>([])
const pointed = ref<Thing>()
/** Every fault of the list, for what its kind does not offer. */
const all = ref(false)
const drop = computed(() => props.exercise.drop!)
const ofSteps = computed(() => Boolean(props.exercise.question.list) || props.exercise.question.of === 'team')

/** The steps in words; what the rules say of them is not shown before it is handed in. */
const walked = shallowRef<MovePlan | TeamPlan>()
const unwalked = ref(false)
watch(
  () => props.exercise,
  async (e) => {
    named.value = []
    pointed.value = walked.value = undefined
    unwalked.value = false
    const q = e.question
    if (q.of === 'team')
      walked.value = (
        await askOf<TeamAnswer>('plan-team', {
          drop: e.drop,
          move: q.move,
          from_m: q.at_m,
          ...(q.to_m ? { to_m: q.to_m } : {}),
          steps: q.team_steps,
        }).catch(() => undefined)
      )?.plan
    else if (q.list)
      walked.value = (await askOf<ReplayAnswer>('replay-moves', { drop: e.drop, list: q.list }).catch(() => undefined))
        ?.walked
    unwalked.value = ofSteps.value && !walked.value
  },
  { immediate: true },
)
const steps = computed(() =>
  (walked.value?.steps ?? []).map((s, i) => {
    const a = s.action as { unlocked?: boolean; unproved?: boolean; silent?: boolean }
    const call = 'answer' in s && s.call && !a.silent ? `“${s.call}”, “${s.answer}”. ` : ''
    const left = `${a.unlocked ? ' Its connector stays as it is.' : ''}${a.unproved ? ' On with the next.' : ''}`
    return { n: String(i + 1), say: call + s.say + left }
  }),
)
const offered = computed<What[]>(() => {
  if (ofSteps.value) return props.exercise.question.of === 'team' ? teamStepFaults : stepFaults
  return all.value || !pointed.value ? rigFaults : faultsAt(pointed.value)
})

const panel = ref<HTMLElement>()
/** Where one pointed from: the focus goes back there. */
let from: Element | null = null
async function point(t: Thing) {
  all.value = false
  pointed.value = pointed.value?.id === t.id ? undefined : t
  from = document.activeElement
  await nextTick()
  panel.value?.focus({ preventScroll: true })
}
watch(pointed, async (now) => {
  if (now) return
  await nextTick()
  if (from instanceof HTMLElement) from.focus({ preventScroll: true })
})

function name(w: What) {
  if (!pointed.value) return
  const again = named.value.some((n) => n.what.what === w.what && n.at.id === pointed.value!.id)
  if (!again) named.value = [...named.value, { what: w, at: pointed.value }]
  pointed.value = undefined
}

const handIn = () =>
  emit('answer', {
    faults: named.value.map((n) => ({ what: n.what.what, subject: { kind: n.at.kind, id: n.at.id } })),
  })
</script>

<template>
  <div :class="pointed ? 'pb-[60vh]' : ''">
    <div
      v-if="!mark"
      class="border-line bg-raised sticky top-(--head) z-10 rounded-md border p-3 max-sm:static"
      data-named
    >
      <h2>{{ named.length ? `${count(named.length, 'fault')} named` : 'Point at what is wrong' }}</h2>
      <ul>
        <li v-for="(n, i) in named" :key="i" class="flex min-h-11 flex-wrap items-center gap-2">
          <b>{{ n.at.label }}:</b> {{ n.what.what }}
          <button type="button" class="quiet text-sm" @click="named = named.filter((o) => o !== n)">
            take it back
          </button>
        </li>
      </ul>
      <button
        type="button"
        class="strong mt-1 min-h-14!"
        :disabled="busy || (ofSteps && !walked)"
        data-hand-in
        @click="handIn"
      >
        {{ named.length ? 'Hand in' : 'Nothing is wrong: hand in' }}
      </button>
    </div>
    <section
      v-if="pointed && !mark"
      ref="panel"
      class="border-accent bg-raised fixed inset-x-0 bottom-0 z-30 max-h-[60vh] overflow-y-auto border-t-4 p-4 shadow-lg"
      tabindex="-1"
      role="dialog"
      :aria-label="`What is wrong with ${pointed.label}?`"
      data-what
      @keydown.esc="pointed = undefined"
    >
      <div class="mx-auto max-w-5xl">
        <h2>What is wrong with {{ pointed.label }}?</h2>
        <ul class="mt-1 grid grid-cols-1 gap-2 sm:grid-cols-2">
          <li v-for="w in offered" :key="w.what" class="min-w-0">
            <button
              type="button"
              class="plain min-h-12! w-full justify-start! py-2! text-left whitespace-normal!"
              @click="name(w)"
            >
              {{ w.what }}
            </button>
          </li>
        </ul>
        <button v-if="!ofSteps && !all" type="button" class="quiet mt-1 text-sm" @click="all = true">
          something else
        </button>
        <button type="button" class="quiet mt-1 text-sm" data-nothing @click="pointed = undefined">
          nothing is wrong with it
        </button>
      </div>
    </section>
    <section v-if="mark" class="border-line bg-raised rounded-md border p-3" data-mark>
      <h2 role="status">
        {{ scoreWords(mark.score) }}: {{ count(mark.found.length, 'fault') }} found, {{ mark.missed.length }} missed,
        {{ count(mark.false_alarms.length, 'false alarm') }}
      </h2>
      <p v-if="!mark.found.length && !mark.missed.length">Nothing was wrong: the rules find no stop here.</p>
      <template v-for="(list, title) in { Missed: mark.missed, Found: mark.found }" :key="title">
        <div v-for="f in list" :key="f.rule + f.subject.id" class="mt-2" :data-fault="title">
          <h3 class="font-semibold" :class="title === 'Missed' ? 'text-stop' : ''">
            {{ title === 'Missed' ? '■' : '✓' }} {{ title }}: {{ f.subject.label }}
          </h3>
          <FindingNote v-if="f.finding" :finding="f.finding" />
          <p v-else>{{ f.planted }}</p>
          <p v-if="f.follows?.length" class="text-soft text-sm">Because of it also: {{ f.follows.join(', ') }}.</p>
        </div>
      </template>
      <p v-for="(n, i) in mark.false_alarms" :key="i" class="text-look mt-2" data-false-alarm>
        ◆ False alarm: {{ n.what || n.rule }}
      </p>
    </section>
    <p v-if="ofSteps && unwalked" class="text-stop mt-4" role="alert">
      ■ The steps could not be shown: take another exercise.
    </p>
    <ol v-else-if="ofSteps" class="divide-line border-line mt-4 divide-y border-y">
      <li v-for="s in steps" :key="s.n">
        <button
          type="button"
          class="flex min-h-12 w-full gap-3 py-2 text-left"
          :class="pointed?.id === s.n ? 'bg-raised font-semibold' : ''"
          :aria-pressed="pointed?.id === s.n"
          :disabled="Boolean(mark)"
          :data-thing="s.n"
          @click="point({ kind: 'step', id: s.n, label: `step ${s.n}` })"
        >
          <span class="figure text-soft w-8 shrink-0 text-right">{{ s.n }}</span> <span>{{ s.say }}</span>
        </button>
      </li>
    </ol>
    <div v-else class="mt-4">
      <ExerciseRail :drop="drop" points :chosen="pointed?.id" @point="point" />
      <div class="mt-4">
        <template v-for="p in drop.people ?? []" :key="p.id">
          <h2 v-if="p.holds?.length">{{ p.name }}</h2>
          <ExerciseHold
            v-for="h in p.holds ?? []"
            :key="h.id"
            :drop="drop"
            :person="p"
            :hold="h"
            :chosen="pointed?.id"
            @point="point"
          />
        </template>
        <section v-if="drop.team" class="py-2">
          <h2>The team</h2>
          <template v-for="l in [drop.team.main, drop.team.belay]" :key="l.brake">
            <div class="my-1 flex flex-wrap gap-2">
              <button
                v-for="item in [l.brake, l.connector].filter((i) => i !== undefined)"
                :key="item"
                type="button"
                class="bg-raised min-h-14 min-w-40 rounded-md border px-3 py-1 text-left"
                :class="pointed?.id === item ? 'border-accent border-2' : 'border-line'"
                :data-thing="item"
                @click="point({ kind: item === l.brake ? 'hold' : 'item', id: item, label: labelled(drop, item) })"
              >
                <b class="block">{{ labelled(drop, item) }}</b>
                <span v-if="item === l.brake" class="block text-sm"
                  >on {{ drop.strands?.find((s) => s.id === l.strand)?.name
                  }}{{ l.knots_m?.length ? `, a knot ${l.knots_m.join(' m and ')} m from the load` : '' }}</span
                >
                <span class="text-soft block text-sm">{{ tagged(drop, item) }}</span>
              </button>
            </div>
          </template>
          <button
            type="button"
            class="bg-raised my-1 block min-h-14 w-full rounded-md border px-3 py-1 text-left"
            :class="pointed?.id === 'team-load' ? 'border-accent border-2' : 'border-line'"
            data-thing="team-load"
            @click="point({ kind: 'person', id: 'team-load', label: 'the operators' })"
          >
            {{ drop.team.load.name }}, {{ show(drop.team.load.mass_kg, 'kg') }}; at the brakes:
            {{ drop.team.operators.join(', ') }}
          </button>
        </section>
      </div>
    </div>
  </div>
</template>
