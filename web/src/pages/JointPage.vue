<script setup lang="ts">
// A team's move that several do together, each on a device: one sees what one's own roles see,
// hears what is called, and answers. At its end each one's mark is kept, for them and the trainer.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, must, Refused, type ExerciseMark, type JointSeen, type JointTurn, type TeamPlan } from '@/api/client'
import ExerciseBand from '@/components/ExerciseBand.vue'
import MoveMark from '@/components/MoveMark.vue'
import OfferChoice from '@/components/OfferChoice.vue'
import StateNotice from '@/components/StateNotice.vue'
import TeamScore from '@/components/TeamScore.vue'
import { jointRoles, markExercise, roleWords, stepExercise } from '@/lib/practice'
import { moveWords } from '@/lib/words'
import { usePractice } from '@/stores/practice'
import { useSession } from '@/stores/session'

const props = defineProps<{ id: string }>()
const session = useSession()
const practice = usePractice()
const client = useQueryClient()
const queryKey = ['joint', props.id]
const at = { params: { path: { id: props.id } } }
const joint = useQuery({
  queryKey,
  queryFn: async () => must(await api.GET('/api/v1/practice/joint/{id}', at)),
})
const seen = computed<JointSeen | undefined>(() => joint.data.value)
const failed = ref('')
const busy = ref(false)
const mark = shallowRef<ExerciseMark>()
const plan = shallowRef<TeamPlan>()

type Role = (typeof jointRoles)[number]
const holder = (r: Role) =>
  (seen.value?.members ?? [])
    .filter((m) => m.roles.includes(r))
    .map((m) => m.name)
    .join(' and ')
const own = (r: Role) => Boolean(seen.value?.own.includes(r))
/** Another's role stays theirs; haulers are many. */
const taken = (r: Role) => r !== 'haul' && !own(r) && holder(r) !== ''
const stopped = computed(() => seen.value?.found.some((v) => v.severity === 'stop'))
const may = computed(() => session.may('take-turn'))

async function turn(t: Omit<JointTurn, 'id'>) {
  if (busy.value) return
  busy.value = true
  failed.value = ''
  // Sent again after a lost answer it has the same id, and counts once.
  const body = { ...t, id: crypto.randomUUID() }
  const send = async () => must(await api.POST('/api/v1/practice/joint/{id}/turns', { ...at, body }))
  try {
    const answer = await send().catch((e: unknown) => (e instanceof Refused ? Promise.reject(e) : send()))
    client.setQueryData(queryKey, answer)
  } catch (e) {
    failed.value =
      e instanceof Refused
        ? e.faults.map((f) => f.detail).join('; ') || e.message
        : 'it did not arrive: is there a connection?'
    void joint.refetch()
  }
  busy.value = false
}
const seat = (r: Role) =>
  turn({ roles: own(r) ? seen.value!.own.filter((o) => o !== r) : [...(seen.value?.own ?? []), r] })

/** At its end it is marked here, and given once. */
async function finish(s: JointSeen) {
  const answer = { team_steps: s.steps ?? [] }
  try {
    plan.value = (await stepExercise({ exercise: s.exercise, ...answer })).team
    mark.value = await markExercise(s.exercise!, answer)
    if (s.mark_id) practice.give(s.exercise!, answer, {}, s.mark_id)
  } catch (e) {
    failed.value = e instanceof Error ? e.message : 'it could not be marked'
  }
}
watch(
  () => seen.value?.ended && seen.value.exercise && seen.value,
  (s) => {
    if (s && !mark.value) void finish(s)
  },
  { immediate: true },
)
const noPart = computed(
  () =>
    `${seen.value?.own.length ? 'You called nothing, answered nothing and did nothing' : 'You took no part'}: nothing is kept.`,
)
const kept = computed(() => {
  if (practice.waiting.length) return 'Kept on this device until there is a connection.'
  return practice.refused.length ? 'An answer was refused: see Practice.' : 'Kept for you and the trainer.'
})
</script>

<template>
  <main id="page" class="@container mx-auto max-w-6xl px-5 py-6 max-sm:px-3">
    <ExerciseBand :words="seen?.exam ? 'joint, an exam: the first stop ends it' : 'joint'" />
    <RouterLink to="/practice" class="quiet -ml-2">← Practice</RouterLink>
    <StateNotice v-if="joint.isError.value && !seen" part title="This joint exercise could not be fetched">
      <button type="button" class="plain" @click="joint.refetch()">Try again</button>
    </StateNotice>
    <StateNotice v-else-if="!seen" part title="Fetching the joint exercise" busy />
    <template v-else>
      <h1 class="first-letter:uppercase" data-joint>{{ moveWords(seen.move) }}, each with a role</h1>
      <p v-if="failed" class="text-stop" role="alert">■ {{ failed }}</p>
      <button
        v-if="seen.open"
        type="button"
        class="strong mt-3 min-h-14! w-full"
        :disabled="busy"
        data-answer
        @click="turn({ answer: true })"
      >
        Answer: “{{ seen.open }}”
      </button>
      <section v-if="!seen.ended" aria-labelledby="roles">
        <h2 id="roles" class="mt-2">Who has which role</h2>
        <ul class="mt-1 grid grid-cols-2 gap-2 sm:grid-cols-5">
          <li v-for="r in jointRoles" :key="r">
            <button
              type="button"
              class="plain min-h-14! w-full flex-col! items-start! py-1! text-left"
              :class="own(r) ? 'border-accent! border-2!' : ''"
              :aria-pressed="own(r)"
              :disabled="!may || busy || taken(r)"
              :data-role="r"
              @click="seat(r)"
            >
              <b>{{ own(r) ? '✓ ' : '' }}{{ roleWords[r] }}</b>
              <span class="text-soft text-sm">{{ holder(r) || 'nobody' }}</span>
            </button>
          </li>
        </ul>
        <p v-if="seen.free.length" class="text-look mt-2" role="status" data-free>
          ◆ Nobody is on {{ seen.free.map((r) => `the ${r}`).join(' and ') }}: it begins when somebody is.
        </p>
        <p v-else-if="!seen.own.length && !seen.sees.length" class="text-soft mt-2">
          Take a role to see what it sees. Who takes no part sees nothing of it.
        </p>
      </section>
      <MoveMark v-if="mark" :mark="mark" team>
        <p class="text-soft text-sm" data-kept>{{ seen.mark_id ? kept : noPart }}</p>
      </MoveMark>
      <p v-else-if="seen.ended && !seen.exercise" class="text-soft mt-2">It has ended. You took no part.</p>
      <TeamScore
        v-if="seen.ended && seen.exercise?.drop && plan"
        class="mt-3"
        :drop="seen.exercise.drop"
        :plan="plan"
        :step="plan.steps.length"
      />
      <section
        v-if="seen.found.length && !seen.ended"
        class="bg-raised mt-3 rounded-md border-2 p-3"
        :class="stopped ? 'border-stop' : 'border-look'"
        role="alert"
        data-broken
      >
        <p v-for="v in seen.found" :key="v.rule + v.why">
          <b :class="v.severity === 'stop' ? 'text-stop' : 'text-look'"
            >{{ v.severity === 'stop' ? '■' : '◆' }} {{ v.rule }}</b
          >
          {{ v.why }}
        </p>
        <button
          v-if="stopped && seen.own.length"
          type="button"
          class="strong mt-2 min-h-14!"
          :disabled="busy"
          data-back
          @click="turn({ back: true })"
        >
          go back one step
        </button>
      </section>
      <p v-if="seen.reached && !seen.ended" class="mt-3 font-semibold" role="status">
        The move has come to its end. Hand it in, or go on.
      </p>
      <div class="mt-4 grid gap-6 @3xl:grid-cols-2">
        <section v-if="seen.sees.length" aria-labelledby="sees">
          <h2 id="sees">{{ seen.ended || !seen.own.length ? 'What each sees' : 'What you see' }}</h2>
          <ul class="divide-line border-line mt-1 divide-y border-y" data-sees>
            <li v-for="s in seen.sees" :key="s" class="py-2 first-letter:uppercase">{{ s }}</li>
          </ul>
        </section>
        <section v-if="seen.own.length || seen.heard.length" aria-labelledby="heard">
          <h2 id="heard">{{ seen.ended || !seen.own.length ? 'Said and done' : 'Heard, and done by you' }}</h2>
          <ol class="divide-line border-line mt-1 max-h-80 divide-y overflow-auto border-y" data-heard tabindex="0">
            <li v-for="(h, i) in [...seen.heard].reverse()" :key="seen.heard.length - i" class="py-1">
              <span class="text-soft">{{ h.role ? roleWords[h.role] : 'somebody' }}:</span> {{ h.words }}
            </li>
            <li v-if="!seen.heard.length" class="text-soft py-1">Nothing yet.</li>
          </ol>
        </section>
      </div>
      <section v-if="seen.calls.length" class="mt-4" aria-labelledby="call">
        <h2 id="call">Call</h2>
        <p class="text-soft text-sm">What moves the load is called, and answered by another, before it is done.</p>
        <div class="mt-1 flex flex-wrap gap-2">
          <button
            v-for="c in seen.calls"
            :key="c.do"
            type="button"
            class="plain min-h-12!"
            :disabled="busy"
            :data-call="c.do"
            @click="turn({ call: c.do })"
          >
            “{{ c.call }}”
          </button>
        </div>
      </section>
      <section
        v-if="seen.own.length && !seen.ended && !seen.free.length && !stopped"
        class="mt-4"
        data-offers
        :inert="busy"
      >
        <h2>What do you take in hand?</h2>
        <p v-if="!seen.offers.length" class="text-soft">There is nothing for you to do now. Listen, and answer.</p>
        <OfferChoice
          :offers="seen.offers"
          @take="
            (o, m) =>
              turn({ action: { ...(o.action as JointTurn['action'])!, ...(m === undefined ? {} : { at_m: m }) } })
          "
        />
        <div class="mt-3 flex flex-wrap gap-2">
          <button type="button" class="strong min-h-14!" :disabled="busy" data-hand-in @click="turn({ end: true })">
            Hand in for all
          </button>
          <button
            v-if="!seen.exam"
            type="button"
            class="quiet"
            :disabled="busy"
            data-back
            @click="turn({ back: true })"
          >
            go back one step
          </button>
        </div>
      </section>
    </template>
  </main>
</template>
