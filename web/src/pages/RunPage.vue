<script setup lang="ts">
// The run of a drop, live: who is where by the last word on it, the steps of moves, what was
// not as planned. It replaces no call.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, must, Refused, type AwayLine, type EdgeLine, type RunDocument, type RunEvent } from '@/api/client'
import RunAfter from '@/components/RunAfter.vue'
import RunAway from '@/components/RunAway.vue'
import RunBriefing from '@/components/RunBriefing.vue'
import RunDevices from '@/components/RunDevices.vue'
import RunMoves from '@/components/RunMoves.vue'
import RunReadings from '@/components/RunReadings.vue'
import RunPerson from '@/components/RunPerson.vue'
import StateNotice from '@/components/StateNotice.vue'
import { useGear } from '@/lib/gear'
import { ago, useRun } from '@/lib/running'
import { timeWords, today } from '@/lib/records'
import { count } from '@/lib/words'
import { useDraft } from '@/stores/draft'
import { useRunning } from '@/stores/running'
import { useSession } from '@/stores/session'

const props = defineProps<{ id: string }>()
const session = useSession()
const client = useQueryClient()
const running = useRunning()
const draft = useDraft()
const gear = useGear()
const now = useNow({ interval: 1000 })
const list = useQuery({
  queryKey: computed(() => ['runs', props.id]),
  queryFn: async () => must(await api.GET('/api/v1/runs', { params: { query: { drop: props.id } } })).runs,
})
const chosen = ref('')
const shown = computed(() => {
  const all = list.data.value ?? []
  return chosen.value || (all.find((r) => r.phase !== 'closed') ?? all[0])?.id || ''
})
const { query, state, document, waiting, lacks } = useRun(shown)
const body = computed(() => query.data.value)
/** How many days ago the day is that a run was prepared for; undefined once it is started. */
const daysAgo = computed(() => {
  if (state.value?.phase !== 'prepared' || document.value?.entered_after) return undefined
  return (Date.parse(today()) - Date.parse(body.value?.day ?? today())) / 86_400_000
})
/** Its checks are of another day: a night shift goes on into the next one, no longer. */
const otherDay = computed(() => daysAgo.value !== undefined && (daysAgo.value < 0 || daysAgo.value > 1))
/** Nobody starts it any more, and another run may be made. */
const over = computed(() => otherDay.value && daysAgo.value! > 1 && !document.value?.exercise)
/** What is on the run and out of service by now, whoever stopped it, with who hangs on it. */
const outOfService = computed(() => {
  const run = document.value
  if (!run || state.value?.phase === 'closed') return []
  const hangs = (person: RunDocument['people'][number], item: string) =>
    person.devices?.includes(item) || run.bands?.some((b) => b.person === person.id && b.items?.includes(item))
  return gear.items.value
    .filter((i) => run.items?.includes(i.id) && i.state !== 'in-service')
    .map((i) => ({ ...i, who: run.people.filter((p) => hangs(p, i.id)).map((p) => p.name) }))
})
const live = computed(() => state.value?.phase === 'running')
const supervises = computed(() => session.may('make-run'))
const gives = computed(() => session.may('give-events'))
/** People mark themselves; a supervisor everybody. */
const mayMark = (person: string) => gives.value && (supervises.value || person === session.person)
/** Whoever looks sees themselves first. */
const people = computed(() =>
  [...(state.value?.people ?? [])].sort(
    (a, b) => Number(b.person === session.person) - Number(a.person === session.person),
  ),
)
const top = computed(() => Math.ceil(draft.drop?.geometry.top_m ?? 100))
const others = computed(() => (list.data.value ?? []).filter((r) => r.id !== shown.value))
const refusals = computed(() => running.refused.filter((k) => k.run === shown.value))
const troubles = computed(() => [...(state.value?.conflicts ?? []), ...(state.value?.addenda ?? [])])

const give = (event: Omit<RunEvent, 'id' | 'given_at' | 'by'>) => running.give(shown.value, event)

const failure = ref('')
const busy = ref(false)
async function act(what: () => Promise<unknown>) {
  failure.value = ''
  busy.value = true
  try {
    await what()
    await Promise.all(['runs', 'run', 'records', 'log'].map((k) => client.invalidateQueries({ queryKey: [k] })))
  } catch (e) {
    failure.value = e instanceof Refused ? e.words : 'The server does not answer: nothing was done.'
  } finally {
    busy.value = false
  }
}
const make = (exercise: boolean) =>
  act(async () => {
    const made = must(await api.POST('/api/v1/runs', { body: { drop: props.id, ...(exercise ? { exercise } : {}) } }))
    chosen.value = made.id
  })
const putAway = (lines: AwayLine[], edges: EdgeLine[], work: string) =>
  act(async () => {
    const path = { id: shown.value }
    must(await api.POST('/api/v1/runs/{id}/put-away', { params: { path }, body: { lines, edges, work } }))
  })

const saying = ref<'' | 'not-as-planned' | 'stop-work'>('')
const reason = ref('')
const quick = {
  'not-as-planned': ['later than planned', 'kit changed', 'place moved'],
  'stop-work': ['wind', 'something is wrong with the rig', 'somebody is hurt'],
}
function say(words: string) {
  if (!saying.value || !words.trim()) return
  give({ kind: saying.value, reason: words.trim() })
  saying.value = ''
  reason.value = ''
}
</script>

<template>
  <div class="mx-auto max-w-4xl">
    <p
      v-if="document?.exercise"
      class="bg-look text-ground mb-3 rounded p-2 text-center text-xl font-bold"
      data-exercise
    >
      EXERCISE
    </p>
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h1>
        Run<span v-if="body"> · {{ body.name }}</span>
      </h1>
      <b v-if="state" class="text-lg" data-phase>{{ state.phase }}</b>
      <span v-if="state" class="text-soft text-sm" data-events>{{ count(state.events, 'event') }}</span>
      <span v-if="state" class="text-soft text-sm"
        >last word {{ ago(state.last_at, now.getTime()) }}; no answer means stop</span
      >
      <span v-if="waiting.length" class="text-look text-sm" role="status" data-waiting
        >◆ {{ waiting.length }} not yet sent, kept on this device{{ lacks ? '; what is shown LACKS them' : '' }}</span
      >
    </div>
    <p class="text-soft">The screen replaces no call: voice stops work.</p>
    <p v-if="failure || running.failure" class="text-stop mt-2" role="alert">■ {{ failure || running.failure }}</p>
    <div
      v-for="k in refusals"
      :key="k.key"
      class="border-stop bg-raised mt-2 rounded-md border-2 p-3"
      role="alert"
      data-trouble
    >
      <b class="text-stop">■ {{ k.kept ? 'Kept, but' : 'Not taken' }}:</b> {{ k.event.kind }}, given
      {{ timeWords(k.event.given_at) }}: {{ k.refused!.map((f) => f.detail).join('; ') }}.
      <button v-if="!k.kept" type="button" class="plain ml-2" @click="running.again(k.key)">Send it again</button>
      <button type="button" class="plain ml-2" @click="running.putAside(k.key)">Read: put it aside</button>
    </div>
    <StateNotice v-if="list.isPending.value" part title="Looking for runs" busy />
    <template v-else-if="!shown">
      <p class="mt-4 max-w-prose">
        No run of this drop yet. A run is made of a plan that is released; an exercise of any, and nothing of it is
        counted or learnt.
      </p>
    </template>
    <StateNotice v-else-if="query.isError.value && !body" part title="The run could not be fetched">
      <button type="button" class="plain" @click="query.refetch()">Try again</button>
    </StateNotice>
    <template v-else-if="state && document && body">
      <p v-if="document.entered_after" class="text-note mt-2" data-entered>
        ● Entered after: typed by {{ document.entered_after.by }} at {{ timeWords(document.entered_after.at) }}, with
        the times that were marked.
      </p>
      <p
        v-else-if="body.plan !== 'released' && !document.exercise && state.phase !== 'closed'"
        class="text-look mt-2"
        data-plan-back
      >
        ◆ The plan is {{ body.plan }} again. The run goes on; nobody new loads what changed.
      </p>
      <div v-if="outOfService.length" class="border-stop bg-raised mt-3 rounded-md border-2 p-3" role="alert" data-out>
        <p v-for="i in outOfService" :key="i.id">
          <b class="text-stop">■ {{ i.label }} is {{ i.state === 'retired' ? 'retired' : 'in quarantine' }}</b
          >: {{ i.reason }}{{ i.who.length ? ` On the rope by plan: ${i.who.join(', ')}.` : '' }}
        </p>
        <p class="font-semibold">Who hangs on it stops and is made safe; nobody new loads it.</p>
      </div>
      <p v-else-if="gear.isError.value" class="text-look mt-2" data-out-unknown>
        ◆ The store could not be fetched: whether something on this run was stopped meanwhile is not known.
      </p>
      <p v-if="otherDay" class="text-look mt-2" data-other-day>
        ◆ Planned for <span class="whitespace-nowrap">{{ body.day }}</span>, and today is
        <span class="whitespace-nowrap">{{ today() }}</span>. Its checks are of that day: set the drop's day, and check
        again, before anybody goes on a rope.<template v-if="over">
          It is not started any more: release the plan again, and make another run.</template
        >
      </p>
      <p v-for="u in document.unplanned" :key="u" class="text-look mt-2" data-unplanned>◆ Not planned: {{ u }}.</p>
      <p v-if="state.stopped" class="bg-stop text-ground mt-3 rounded p-3 text-lg font-bold" role="alert" data-stopped>
        ■ STOP WORK since {{ ago(state.stopped.at, now.getTime()) }}, {{ state.stopped.by }}: {{ state.stopped.words }}
        <button
          v-if="supervises"
          type="button"
          class="plain ml-2 min-h-14!"
          data-resume
          @click="give({ kind: 'resume' })"
        >
          work goes on
        </button>
      </p>
      <RunBriefing
        v-if="!document.entered_after && (state.briefing || state.phase === 'prepared' || state.phase === 'running')"
        :state="state"
        :writes="supervises && (state.phase === 'prepared' || state.phase === 'running')"
        :now="now.getTime()"
        @give="give"
      />
      <div class="mt-3 flex flex-wrap gap-2">
        <button
          v-if="state.phase === 'prepared' && supervises"
          type="button"
          class="strong min-h-14!"
          data-start
          @click="give({ kind: 'start' })"
        >
          Start the run
        </button>
        <template v-if="live && gives">
          <button
            type="button"
            class="plain border-stop! min-h-14! border-2! font-semibold"
            data-stop
            @click="saying = saying === 'stop-work' ? '' : 'stop-work'"
          >
            stop work
          </button>
          <button
            type="button"
            class="plain min-h-14!"
            data-otherwise
            @click="saying = saying === 'not-as-planned' ? '' : 'not-as-planned'"
          >
            not as planned
          </button>
          <RouterLink
            class="plain inline-flex min-h-14! items-center"
            :to="{ name: 'incident', query: { drop: id, run: shown } }"
            data-happened
            >incident, near miss</RouterLink
          >
          <button type="button" class="plain min-h-14!" data-time @click="give({ kind: 'mark' })">mark the time</button>
          <button v-if="supervises" type="button" class="plain min-h-14!" data-end @click="give({ kind: 'end' })">
            End the run
          </button>
        </template>
      </div>
      <details class="mt-1">
        <summary class="flex min-h-11 cursor-pointer items-center">papers</summary>
        <p class="flex flex-wrap gap-2">
          <a class="plain" :href="`/api/v1/runs/${shown}/log.pdf`">Log, PDF</a>
          <a class="plain" :href="`/api/v1/runs/${shown}/log.csv`">CSV</a>
          <a class="plain" :href="`/api/v1/runs/${shown}`" :download="`run-${shown}.json`">JSON</a>
          <a class="plain" :href="`/api/v1/runs/${shown}/sheet.pdf`">Sheet to hang up</a>
        </p>
      </details>
      <form v-if="saying" class="mt-2 flex flex-wrap gap-2" @submit.prevent="say(reason)">
        <button v-for="q in quick[saying]" :key="q" type="button" class="plain min-h-14!" @click="say(q)">
          {{ q }}
        </button>
        <input
          v-model="reason"
          class="field min-h-14! flex-1"
          maxlength="400"
          :aria-label="saying === 'stop-work' ? 'Why work stops' : 'What is not as planned'"
          placeholder="or in your words"
          data-why
        />
        <button type="submit" class="strong min-h-14!">say it</button>
      </form>
      <RunPerson
        v-for="p in people"
        :key="p.person"
        :of="p"
        :run="document"
        :now="now.getTime()"
        :running="live"
        :over="state.phase !== 'prepared' && !live"
        :may="mayMark(p.person)"
        :top="top"
        :drop="id"
        @give="give"
      />
      <RunMoves :run="document" :state="state" :running="live" :may="gives" @give="give" />
      <RunReadings :id="shown" :run="document" :state="state" :now="now.getTime()" :may="gives" @give="give" />
      <RunDevices v-if="supervises && state.phase !== 'closed'" :id="shown" />
      <RunAway
        v-if="state.phase === 'ended' && supervises"
        :run="document"
        :state="state"
        :signing="busy || waiting.length > 0"
        @sign="putAway"
      />
      <RunAfter
        v-if="!document.exercise && ['ended', 'put away', 'closed'].includes(state.phase)"
        :id="shown"
        :away="state.phase !== 'ended'"
      />
      <section
        v-if="state.not_as_planned?.length || troubles.length || state.marks?.length || state.quarantined?.length"
        class="mt-4"
        data-notes
      >
        <h2>Noted</h2>
        <ul class="list-disc pl-5">
          <li v-for="n in state.not_as_planned" :key="n.event">
            {{ timeWords(n.at) }}, {{ n.by }}: not as planned, {{ n.words }}
          </li>
          <li v-for="n in state.quarantined" :key="n.event" class="text-stop">
            {{ timeWords(n.at) }}, {{ n.by }}: into quarantine, {{ n.items?.join(', ') }}; {{ n.words }}
          </li>
          <li v-for="n in state.marks" :key="n.event">
            {{ timeWords(n.at) }}, {{ n.by }}: {{ n.words || 'time marked' }}
          </li>
          <li v-for="n in troubles" :key="n.event" class="text-look">
            ◆ {{ timeWords(n.at) }}, {{ n.by }}: {{ n.words }}
          </li>
        </ul>
      </section>
      <p v-if="state.phase === 'closed'" class="mt-4" data-sealed>
        Put away and sealed: {{ state.events }} events, SHA-256
        <span class="figure break-all">{{ state.sha256 }}</span>.
      </p>
    </template>
    <div v-if="supervises && list.data.value" class="mt-6 flex flex-wrap gap-3">
      <button
        v-if="!shown || state?.phase === 'closed' || over"
        type="button"
        class="strong"
        :disabled="busy"
        data-make
        @click="make(false)"
      >
        {{ busy ? 'Making it…' : 'Make a run of the released plan' }}
      </button>
      <button
        v-if="!shown || state?.phase === 'closed' || over"
        type="button"
        class="plain"
        :disabled="busy"
        data-make-exercise
        @click="make(true)"
      >
        Make an exercise
      </button>
    </div>
    <details v-if="others.length" class="mt-6">
      <summary class="quiet -ml-2">Other runs of this drop: {{ others.length }}</summary>
      <ul>
        <li v-for="r in others" :key="r.id">
          <button type="button" class="quiet" @click="chosen = r.id">
            {{ timeWords(r.at) }}, {{ r.phase }}<span v-if="r.exercise">, EXERCISE</span>
          </button>
        </li>
      </ul>
    </details>
  </div>
</template>
