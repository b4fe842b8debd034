<script setup lang="ts">
// Moves: what is in the way gives the moves; the one that is chosen is found with
// the kit carried and shown as a score, to step through.
import { useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, shallowRef, toRaw, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useQuery } from '@tanstack/vue-query'
import { api, must, type Action, type Breach, type Fault, type MovePlan, type Schools } from '@/api/client'
import LiveChoice from '@/components/LiveChoice.vue'
import LiveNumber from '@/components/LiveNumber.vue'
import MoveScore from '@/components/MoveScore.vue'
import { stances } from '@/lib/score'
import { show } from '@/lib/units'
import { useDraft } from '@/stores/draft'
import { useMoving } from '@/stores/moving'

const props = defineProps<{ id: string; who?: string }>()

const draft = useDraft()
const moving = useMoving()
const router = useRouter()
const moves = useQuery({
  queryKey: ['moves'],
  queryFn: async () => must(await api.GET('/api/v1/moves')),
  staleTime: Infinity,
})
const person = computed(() => draft.drop?.people?.find((p) => p.id === props.who) ?? draft.drop?.people?.[0])
const move = ref('')
const from = ref<number>()
/** The work place of a whole way there and back. */
const to = ref<number>()
const whole = computed(() => move.value === 'there-and-back')
/** Another way that is held against the one that is shown. */
const other = ref<Cover | ''>('')
const otherPlan = shallowRef<MovePlan>()
const otherNone = ref('')
type Cover = NonNullable<Schools['knot_cover']>
const cover = ref<Cover>('any')
const covers = [
  { value: 'any' as const, words: 'any way' },
  { value: 'second-device' as const, words: 'a second backup device' },
  { value: 'loop' as const, words: 'a loop tied beside it' },
  { value: 'eye' as const, words: 'the eye of the knot' },
]
/** What was found, and what was made of it by hand; undefined while nothing was. */
const sought = shallowRef<MovePlan>()
const edited = shallowRef<MovePlan>()
const list = shallowRef<Action[]>()
const breaches = ref<Breach[]>([])
const plan = computed(() => edited.value ?? sought.value)
const impossible = ref('')
const faults = ref<Fault[]>([])
const step = ref(0)
const failing = ref(false)
let asked = 0

const current = computed(() => plan.value?.steps[step.value - 1])
const at = computed(() => (plan.value ? stances(plan.value)[step.value] : undefined))

/** Asks for the move that is chosen, by a way of covering the backup's knots. */
function ask(by: Cover) {
  const body = {
    drop: toRaw(draft.drop!),
    person: person.value!.id,
    move: move.value,
    ...(from.value === undefined || whole.value ? {} : { from_m: from.value }),
    ...(whole.value ? { to_m: to.value ?? person.value!.at_m } : {}),
    schools: { knot_cover: by },
  }
  return api.POST('/api/v1/moves/plan', { body }).catch(() => undefined)
}

/** Finds the move; an answer that came too late is let go. */
async function find() {
  if (!move.value || !draft.drop || !person.value) return
  const n = ++asked
  const answer = await ask(cover.value)
  if (n !== asked) return
  sought.value = answer?.data?.plan
  asFound()
  impossible.value = answer ? (answer.data?.impossible ?? '') : 'Moves are found by the server: there is no connection.'
  faults.value = answer?.error?.errors ?? []
  step.value = Math.min(step.value, plan.value?.steps.length ?? 0)
  otherPlan.value = undefined
  otherNone.value = ''
  if (!other.value || !plan.value) return
  const second = await ask(other.value)
  if (n !== asked) return
  otherPlan.value = second?.data?.plan
  otherNone.value = second?.data?.impossible ?? ''
}

/** The first step at which two plans part; 0 where they do not. */
const parts = computed(() => {
  const [a, b] = [sought.value?.steps ?? [], otherPlan.value?.steps ?? []]
  const i = a.findIndex((s, n) => JSON.stringify(s.action) !== JSON.stringify(b[n]?.action))
  return i >= 0 ? i + 1 : a.length === b.length ? 0 : a.length + 1
})

/** Gives up what was changed by hand. */
function asFound() {
  edited.value = list.value = undefined
  breaches.value = []
}

/** Changes the steps by hand, and has the rules say what that breaks. */
async function change(f: (l: Action[]) => void) {
  const p = sought.value
  if (!p || !draft.drop || !person.value) return
  const next = [...(list.value ?? p.steps.map((s) => s.action))]
  f(next)
  list.value = next
  const body = {
    drop: toRaw(draft.drop),
    list: { person: person.value.id, move: p.move, to_m: p.to_m, start: p.start, steps: next },
    schools: p.schools,
  }
  const answer = await api.POST('/api/v1/moves/replay', { body }).catch(() => undefined)
  if (!answer?.data || list.value !== next) return
  edited.value = answer.data.walked
  breaches.value = answer.data.found
  step.value = Math.min(step.value, edited.value.steps.length)
}

const leaveOut = () => change((l) => l.splice(step.value - 1, 1))

function shift(by: number) {
  const i = step.value - 1
  const other = i + by
  if (i < 0 || other < 0 || other >= (plan.value?.steps.length ?? 0)) return
  void change((l) => ([l[i], l[other]] = [l[other]!, l[i]!])).then(() => (step.value = other + 1))
}

watch([move, from, to, cover, other, person, () => draft.report], () => void find())
watch([move, from], () => (step.value = 0))
watch([at, person], () => (at.value && person.value ? moving.show(person.value.id, at.value.at_m) : moving.stop()))
onBeforeUnmount(() => moving.stop())

function go(by: number) {
  step.value = Math.min(plan.value?.steps.length ?? 0, Math.max(0, step.value + by))
}

useEventListener('keydown', (e) => {
  const t = e.target as HTMLElement
  if (
    !plan.value ||
    t.matches('input, textarea, select, [role=slider], [role=listbox], [role=option]') ||
    e.ctrlKey ||
    e.metaKey
  )
    return
  if (e.key === 'ArrowRight') go(1)
  else if (e.key === 'ArrowLeft') go(-1)
  else if (e.key === 'f') failing.value = !failing.value
  else return
  e.preventDefault()
})
</script>

<template>
  <div>
    <h1>Moves</h1>
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
        <template v-if="whole">to the work place at</template><template v-else>from</template>
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
          v-else
          :value="from ?? person.at_m"
          unit="m"
          label="Height to begin at"
          :step="0.5"
          :min="0"
          :max="draft.drop?.geometry.top_m ?? 0"
          @set="(v) => (from = v)"
        />; a knot on the backup by
        <LiveChoice
          :value="cover"
          :options="covers"
          label="How a knot on the backup is passed"
          @set="(v) => (cover = v)"
        />.
      </p>
      <div class="no-print flex flex-wrap gap-2" role="group" aria-label="Move">
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
          {{ m.name.replaceAll('-', ' ').replace('rebelay', 're-belay') }}
        </button>
      </div>
      <p v-if="!move" class="text-soft mt-4">
        Choose a move. It is found, not remembered: the cheapest way that keeps every rule at every step with this kit.
      </p>
      <p v-if="impossible" class="border-stop bg-raised mt-4 rounded-md border-2 p-3" role="alert" data-impossible>
        <b class="text-stop">■ No way:</b> {{ impossible }}.
      </p>
      <p v-for="f in faults" :key="f.pointer" class="text-look mt-4" role="alert">◆ {{ f.detail }}</p>
      <div v-if="plan" class="flex flex-col">
        <p class="figure mt-4">
          <b>{{ plan.steps.length }} steps</b>, about {{ Math.round(plan.seconds_s / 5) * 5 }} s,
          {{ plan.handled }} holds put on or taken off; longest fall of any one failure
          {{ show(plan.worst_fall_m, 'm') }}.
        </p>
        <MoveScore
          v-if="draft.drop"
          :drop="draft.drop"
          :plan="plan"
          :step="step"
          class="mt-2"
          @step="(n) => (step = n)"
        />
        <p class="briefing no-print">
          Beside it:
          <LiveChoice
            :value="other"
            :options="[{ value: '', words: 'nothing' }, ...covers.filter((c) => c.value !== cover)]"
            label="Another way to hold it against"
            @set="(v) => (other = v)"
          />
        </p>
        <p v-if="otherNone" class="text-look" data-other>◆ That way: {{ otherNone }}.</p>
        <section v-if="otherPlan && draft.drop" aria-label="Another way" data-other>
          <p class="figure">
            <b>{{ otherPlan.steps.length }} steps</b>, about {{ Math.round(otherPlan.seconds_s / 5) * 5 }} s,
            {{ otherPlan.handled }} holds put on or taken off; longest fall of any one failure
            {{ show(otherPlan.worst_fall_m, 'm') }}.
            {{ parts ? `They part at step ${parts}.` : 'They are the same.' }}
          </p>
          <MoveScore v-if="parts" :drop="draft.drop" :plan="otherPlan" :step="step" @step="(n) => (step = n)" />
        </section>
        <div
          v-if="breaches.length"
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
            <p v-if="b.impossible">step {{ b.step }} <b class="text-stop">■ cannot be done:</b> {{ b.impossible }}</p>
          </template>
        </div>
        <p v-else-if="edited" class="text-soft mt-3" role="status">
          Changed by hand: nothing found by the rules of moves and stances.
        </p>
        <div class="no-print mt-3 flex flex-wrap items-center gap-3 max-sm:order-first">
          <button type="button" class="plain" :disabled="step === 0" @click="go(-1)">← back</button>
          <button type="button" class="strong" :disabled="step === plan.steps.length" @click="go(1)">
            next step →
          </button>
          <button type="button" class="plain" :aria-expanded="failing" @click="failing = !failing">
            what if this fails? <kbd class="figure">f</kbd>
          </button>
          <span class="no-print flex flex-wrap gap-x-1">
            <button type="button" class="quiet" :disabled="!step" data-leave-out @click="leaveOut">
              leave this step out
            </button>
            <button type="button" class="quiet" :disabled="step < 2" @click="shift(-1)">earlier</button>
            <button type="button" class="quiet" :disabled="!step || step === plan.steps.length" @click="shift(1)">
              later
            </button>
            <button v-if="list" type="button" class="quiet" @click="asFound">as it was found</button>
          </span>
        </div>
        <section class="no-print mt-3 max-sm:order-first" aria-live="polite" data-step>
          <h2 class="text-xl">
            <template v-if="current">{{ step }}. {{ current.say }}</template>
            <template v-else>Start: {{ at?.grounded ? 'on the ground' : `at ${show(at?.at_m ?? 0, 'm')}` }}</template>
          </h2>
          <p v-if="current?.reason" class="text-soft">{{ current.reason }}</p>
          <p v-if="current?.settle_m">The body settles {{ show(current.settle_m, 'm') }}.</p>
          <p v-for="b in current?.broken ?? []" :key="b.rule" class="text-look">◆ {{ b.rule }}: {{ b.why }}</p>
          <table v-if="failing && current" class="mt-2 text-sm" data-fail-one>
            <thead>
              <tr class="text-soft text-left">
                <th class="pr-5 font-normal">if this goes</th>
                <th class="pr-5 font-normal">this holds</th>
                <th class="pr-5 font-normal">free fall</th>
                <th class="pr-5 font-normal">peak</th>
                <th class="font-normal">aside</th>
              </tr>
            </thead>
            <tbody class="figure">
              <tr v-for="l in current.fail_one" :key="l.words" class="border-line border-t">
                <td class="py-1 pr-5">{{ l.words }}</td>
                <td class="pr-5">
                  <span v-if="l.held">{{ l.by }}</span><b v-else class="text-stop">■ nothing</b>
                </td>
                <td class="pr-5">{{ show(l.free_fall_m, 'm') }}</td>
                <td class="pr-5">{{ l.peak_kN ? show(l.peak_kN, 'kN') : 'none' }}</td>
                <td>{{ l.swing_m ? show(l.swing_m, 'm') : 'no' }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <!-- On paper every step stands, with what one failure would do. -->
        <ol class="hidden list-decimal pl-6 print:block" data-sheet>
          <li v-for="(s, n) in plan.steps" :key="n" class="py-0.5">
            {{ s.say }}
            <span class="text-soft">{{
              s.fail_one[0]
                ? `If ${s.fail_one[0].words} goes, ${s.fail_one[0].by ?? 'NOTHING'} holds after ${show(s.fail_one[0].free_fall_m, 'm')}.`
                : ''
            }}</span>
          </li>
        </ol>
        <p class="text-soft mt-4 text-sm">
          A plan for trained people, by measures of a middling body. Whether devices fit ropes, loads and points is told
          by the findings, not by a move. The manufacturer's instructions and the person in charge come first; practise
          it near the ground.
        </p>
      </div>
    </template>
  </div>
</template>
