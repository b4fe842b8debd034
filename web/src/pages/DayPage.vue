<script setup lang="ts">
// The day: which drops go out when, who and what is on which, and what the wind will do.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, must, Refused, type DayCover, type Filled } from '@/api/client'
import AskProgress from '@/components/AskProgress.vue'
import DayFill from '@/components/DayFill.vue'
import DayLanes from '@/components/DayLanes.vue'
import DaySlot from '@/components/DaySlot.vue'
import FindingNote from '@/components/FindingNote.vue'
import LiveNumber from '@/components/LiveNumber.vue'
import StateNotice from '@/components/StateNotice.vue'
import { useAsking } from '@/lib/asking'
import { clock, coverDay, dayAfter, fillDay, readWind, useDay, writeWind } from '@/lib/days'
import { today } from '@/lib/records'
import { count, shape } from '@/lib/words'
import { useSession } from '@/stores/session'

const props = defineProps<{ date?: string }>()
const router = useRouter()
const client = useQueryClient()
const session = useSession()
const date = computed(() => props.date || today())
const { board, report, current, query, mine, state, failure, change, changeSlot, move, takeTheirs } = useDay(date)
const week = useQuery({
  queryKey: computed(() => ['week', date.value]),
  queryFn: async () =>
    must(await api.GET('/api/v1/days', { params: { query: { from: dayAfter(date.value, -1), days: 7 } } })).days,
})
const people = useQuery({ queryKey: ['people'], queryFn: async () => must(await api.GET('/api/v1/people')) })
const members = computed(() => (people.data.value ?? []).map((p) => ({ id: p.id, name: p.name })))

const chosen = ref('')
const selected = computed(() => board.value?.slots.find((s) => s.drop === chosen.value))
const lane = computed(() => report.value?.lanes.find((l) => l.drop === chosen.value))
const names = computed(() => Object.fromEntries((report.value?.lanes ?? []).map((l) => [l.drop, l.name])))

const said = ref('')
const windText = ref('')
const windOpen = ref(false)
const windWrong = ref('')
function openWind() {
  windText.value = writeWind(board.value?.wind)
  windWrong.value = ''
  windOpen.value = !windOpen.value
}
function setWind() {
  const { wind, wrong } = readWind(windText.value, date.value)
  windWrong.value = wrong
  if (wrong) return
  change((b) => {
    if (wind) b.wind = wind
    else delete b.wind
  })
  windOpen.value = false
}

function setNote(text: string) {
  change((b) => {
    if (text.trim()) b.note = text.trim()
    else delete b.note
  })
}

const asking = useAsking()
const filled = ref<Filled>()
const cover = ref<DayCover>()
const taking = ref(false)
watch([date, () => JSON.stringify(board.value)], () => {
  // What was found of another board is no answer for this one.
  filled.value = undefined
  cover.value = undefined
})
async function ask<T>(what: () => Promise<T | undefined>, into: (a: T) => void) {
  said.value = ''
  try {
    const answer = await what()
    if (answer !== undefined) into(answer)
  } catch (e) {
    said.value = e instanceof Refused ? e.message : 'The server does not answer: nothing is known.'
  }
}
const fill = () =>
  ask(
    () => asking.run((how) => fillDay(board.value!, how)),
    (a) => (filled.value = a),
  )
const askCover = () =>
  ask(
    () => asking.run((how) => coverDay(board.value!, how)),
    (a) => (cover.value = a),
  )

/** Takes a proposal: the drops whose people or items are others, then the board. */
async function take() {
  const f = filled.value
  if (!f) return
  taking.value = true
  await ask(
    async () => {
      for (const d of f.drops) {
        const path = { id: d.id }
        // Of the version that was looked at: what somebody changed since is reported, not replaced.
        const header = { 'If-Match': `"${d.version}"` }
        must(await api.PUT('/api/v1/drops/{id}', { params: { path, header }, body: d.document }))
      }
      return f.board
    },
    (b) => {
      change((now) => (now.slots = b.slots))
      filled.value = undefined
    },
  )
  taking.value = false
}

/** Puts somebody in somebody's place on a drop. */
const seat = (drop: string, person: string, by: string) =>
  ask(
    async () => {
      const path = { id: drop }
      const was = await api.GET('/api/v1/drops/{id}', { params: { path } })
      must(was)
      const header = { 'If-Match': was.response.headers.get('ETag') ?? '' }
      return must(await api.POST('/api/v1/drops/{id}/seat', { params: { path, header }, body: { person, by } }))
    },
    () => void Promise.all(['days', 'drops', 'plan'].map((k) => client.invalidateQueries({ queryKey: [k] }))),
  )

const words = computed(
  () =>
    ({
      kept: 'kept',
      keeping: 'keeping…',
      waiting: 'not yet kept: the server does not answer',
      'not-mine': 'not kept: a supervisor changes the board',
      failed: 'not kept',
    })[state.value],
)
const goto = (to: string) => to && router.push({ name: 'day', params: { date: to } })
</script>

<template>
  <main id="page" class="mx-auto max-w-6xl px-5 py-6">
    <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
      <h1>Day {{ date }}</h1>
      <label class="no-print flex items-center gap-2"
        ><span class="sr-only">Day</span
        ><input type="date" class="field" :value="date" @change="goto(($event.target as HTMLInputElement).value)"
      /></label>
      <span class="text-soft text-sm" role="status" data-day-state>{{ words }}</span>
      <span v-if="report" class="figure ml-auto" :class="current ? '' : 'opacity-40'" data-counts>
        <span v-if="report.stops" class="text-stop mr-4 font-semibold"
          >{{ shape.stop }} {{ count(report.stops, 'stop') }}</span
        >
        <span v-if="report.looks" class="text-look">{{ shape.look }} {{ count(report.looks, 'look') }}</span>
        <span v-if="!report.stops && !report.looks" class="text-soft">nothing found in what was looked at</span>
      </span>
    </div>
    <nav class="no-print mt-2 flex flex-wrap gap-2" aria-label="Days of the week">
      <RouterLink
        v-for="d in week.data.value ?? []"
        :key="d.day"
        :to="{ name: 'day', params: { date: d.day } }"
        class="plain"
        :class="d.day === date ? 'border-accent! border-2! font-semibold' : ''"
        :aria-current="d.day === date ? 'date' : undefined"
        >{{ d.day.slice(5) }}
        <span class="text-soft ml-1 text-sm">{{
          d.drops.length ? count(d.drops.length, 'drop') : '–'
        }}</span></RouterLink
      >
    </nav>
    <StateNotice v-if="query.isPending.value && !board" part title="Fetching the day" busy />
    <StateNotice
      v-else-if="query.isError.value && !board"
      part
      title="The day could not be fetched"
      :detail="query.error.value?.message"
    >
      <button type="button" class="plain" @click="query.refetch()">Try again</button>
    </StateNotice>
    <template v-else-if="board && report">
      <p v-if="failure || said" class="text-stop mt-3" role="alert">
        ■ {{ failure || said }}
        <button v-if="state === 'failed'" type="button" class="plain ml-2" @click="takeTheirs">
          Take what is kept
        </button>
      </p>
      <p v-if="query.data.value?.body.gone?.length" class="text-look mt-3">
        ◆ No more on this day: {{ query.data.value.body.gone.join(', ') }}.
      </p>
      <p v-if="query.data.value?.body.left?.length" class="text-stop mt-3">
        ■ The board has no room for {{ query.data.value.body.left.join(', ') }}: nothing is said of them.
      </p>
      <div class="no-print mt-3 flex flex-wrap gap-3">
        <button type="button" class="strong" data-fill @click="fill">Fill it</button>
        <button type="button" class="plain" data-cover @click="askCover">Cover across drops</button>
        <button v-if="mine" type="button" class="plain" :aria-expanded="windOpen" data-wind @click="openWind">
          Wind by the hour
        </button>
        <a class="plain" :href="`/api/v1/days/${date}/board.pdf`">Sheet for the wall, PDF</a>
        <a v-if="session.person" class="plain" :href="`/api/v1/days/${date}/calendar.ics`">My days, calendar</a>
      </div>
      <section v-if="windOpen" class="mt-3 max-w-prose">
        <label
          >Wind and gusts in m/s, a line an hour: <code>08:00 3 5</code>; add <code>lightning</code> where it is
          forecast
          <textarea
            v-model="windText"
            rows="8"
            class="border-line bg-raised figure mt-1 w-full rounded border p-2"
            data-wind-text
          />
        </label>
        <p>
          The figures are for
          <template v-if="board.wind_at_m">
            <LiveNumber
              :value="board.wind_at_m"
              unit="m"
              label="Height above ground that the wind is stated for; 0: the height of the work"
              :step="1"
              :min="0"
              :max="2000"
              @set="(v) => change((b) => (v ? (b.wind_at_m = v) : delete b.wind_at_m))"
            />
            above ground, and raised to the work.</template
          ><template v-else>
            the height of the work.
            <button type="button" class="quiet text-sm" @click="change((b) => (b.wind_at_m = 10))">
              they are for another height
            </button></template
          >
        </p>
        <p v-if="windWrong" class="text-stop" role="alert">■ {{ windWrong }}</p>
        <button type="button" class="strong mt-2" data-wind-set @click="setWind">Take this wind</button>
      </section>
      <label v-if="mine" class="no-print mt-3 block max-w-prose">
        <span class="text-soft text-sm">note for the day; it stands on the sheet for the wall</span>
        <textarea
          :value="board.note ?? ''"
          :rows="board.note ? 3 : 1"
          maxlength="2000"
          class="border-line bg-raised mt-1 w-full rounded border p-2"
          data-day-note
          @change="(e) => setNote((e.target as HTMLTextAreaElement).value)"
        />
      </label>
      <p
        v-if="board.note"
        class="mt-3 max-w-prose whitespace-pre-line"
        :class="mine ? 'hidden print:block' : ''"
        data-noted
      >
        {{ board.note }}
      </p>
      <AskProgress :shown="asking.shown.value" what="Looking" @stop="asking.stop()" />
      <DayFill
        v-if="filled"
        :filled="filled"
        :names="names"
        :taking="taking"
        :mine="mine"
        @take="take"
        @leave="filled = undefined"
      />
      <section v-if="cover" class="mt-4" role="status" data-across>
        <h2>Cover across drops</h2>
        <p v-if="!cover.shared.length" class="text-soft">Nobody stands by for two drops at once.</p>
        <p v-for="s in cover.shared" :key="s.person + s.at + s.for" class="mt-1">
          {{ s.name }} at {{ names[s.at] }}, standing by for {{ names[s.for] }}, {{ clock(s.span.from_min) }} to
          {{ clock(s.span.to_min) }}:
          <span v-if="s.unknown" class="text-stop">■ not known.</span>
          <span v-else-if="!s.away.length && !s.coming.length" class="text-soft">as covered as without.</span>
          <span v-else class="text-look">◆ less is covered.</span>
        </p>
        <div class="mt-2 grid gap-4 md:grid-cols-2">
          <FindingNote v-for="f in cover.findings" :key="f.what" :finding="f" />
        </div>
      </section>
      <div class="mt-4 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(0,1fr)_300px]">
        <div :class="current ? '' : 'opacity-70'">
          <p v-if="!report.lanes.length" class="max-w-prose">
            No drop is planned for this day. A drop’s day is set on its page; it then stands here, without a time.
          </p>
          <DayLanes
            v-else
            :board="board"
            :report="report"
            :selected="chosen"
            :still="!mine"
            @select="(d) => (chosen = d)"
            @move="move"
            @seat="seat"
          />
        </div>
        <aside class="space-y-5">
          <DaySlot
            v-if="selected && lane"
            :of="selected"
            :lane="lane"
            :people="members"
            :still="!mine"
            :seats="session.may('seat')"
            @change="(edit) => changeSlot(chosen, edit)"
            @move="(m) => move(chosen, m)"
            @seat="(person, by) => seat(chosen, person, by)"
          />
          <p v-else-if="report.lanes.length" class="text-soft">
            Choose a drop to change its hours, its people and the hazards of its work.
          </p>
          <FindingNote v-for="f in report.findings" :key="f.rule + f.subject.id + f.what" :finding="f" />
          <div v-if="report.not_looked_at.length">
            <h3 class="font-semibold">Not looked at</h3>
            <ul class="text-soft list-disc pl-5 text-sm">
              <li v-for="n in report.not_looked_at" :key="n">{{ n }}</li>
            </ul>
          </div>
        </aside>
      </div>
    </template>
  </main>
</template>
