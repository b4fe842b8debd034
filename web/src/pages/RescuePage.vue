<script setup lang="ts">
// Rescue: who comes, who is reached from where, and for a person at a height the best
// way with its plan, its time and what to do if it does not work.
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useWindowSize } from '@vueuse/core'
import type { Rescue, RescueWait } from '@/api/client'
import AskBox from '@/components/AskBox.vue'
import CoverStrip from '@/components/CoverStrip.vue'
import LiveChoice from '@/components/LiveChoice.vue'
import LiveNumber from '@/components/LiveNumber.vue'
import LiveText from '@/components/LiveText.vue'
import OfBefore from '@/components/OfBefore.vue'
import RescuePlanView from '@/components/RescuePlanView.vue'
import RescueTimeline from '@/components/RescueTimeline.vue'
import { canonical } from '@/lib/same'
import { show } from '@/lib/units'
import { useDraft } from '@/stores/draft'
import { useRescue } from '@/stores/rescue'
import TermWord from '@/components/TermWord.vue'
import { count, minutes, moveWords } from '@/lib/words'

const props = defineProps<{ id: string }>()
const route = useRoute()

const draft = useDraft()
const rescue = useRescue()
const { width } = useWindowSize()
const plan = computed(() => draft.drop?.rescue)
const people = computed(() => draft.drop?.people ?? [])
/** When somebody last did a pick-off on ropes, by what a trainer signed; it counts before what is typed. */
const recordedOf = (id: string) =>
  (people.value.find((p) => p.id === id)?.practised ?? [])
    .filter((p) => p.skill === 'pick-off' && p.how !== 'screen')
    .map((p) => p.on)
    .sort()
    .at(-1)
const nameOf = (id: string | undefined) => people.value.find((p) => p.id === id)?.name ?? id ?? ''
const ways = computed(() => rescue.answer?.ways ?? [])
const chosen = computed(() => ways.value[rescue.way])
const walkOf = (person: string) => rescue.answer?.walks?.find((w) => w.person === person)
/** Where a time is from, if not stated on this page. */
const from = (w: RescueWait | undefined) => (w && !w.source.startsWith('entered') ? ` (${w.source})` : '')
const open = computed(() => {
  const count = { uncovered: 0, undecided: 0, 'last-resort': 0, slow: 0, covered: 0 }
  for (const p of rescue.answer?.cover.people ?? []) for (const s of p.states) count[s.state]++
  return count
})
const metresAre = (n: number) => `${count(n, 'metre')} ${n === 1 ? 'is' : 'are'}`
const spare = computed(() => people.value.filter((p) => !plan.value?.rescuers.some((r) => r.person === p.id)))
const sets = computed(() => [...new Set((draft.drop?.strands ?? []).map((s) => s.set))])

function set(change: (r: Rescue) => void) {
  draft.edit((d) => d.rescue && change(d.rescue))
}

function begin() {
  draft.edit((d) => {
    const waiting = (d.people ?? []).filter((p) => p.grounded)
    const who = (waiting.length ? waiting : (d.people ?? [])).map((p) => ({ person: p.id }))
    if (who.length) d.rescue = { rescuers: who, phones: [{ who: 'medical provider' }] }
  })
}

watch(
  () => canonical(draft.drop),
  () => void rescue.find(),
  { immediate: true },
)

// Whom a run asks about, at the height where they hang.
watch(
  () => [draft.id === props.id, route.query.person, route.query.at] as const,
  ([there, person, at]) => {
    if (there && typeof person === 'string' && at) rescue.look(person, Math.max(1, Number(at) || 1))
  },
  { immediate: true, flush: 'post' },
)
</script>

<template>
  <div>
    <h1><TermWord word="rescue cover">Rescue</TermWord></h1>
    <p class="text-soft max-w-prose text-sm">
      A casualty hanging still is a medical emergency. Medical decisions belong to a medical provider.
    </p>
    <div v-if="!plan" class="max-w-prose py-4">
      <p>
        No rescuer is assigned to this drop. Assign one, and rescue cover is computed for every metre: which ways work
        with the people, kit and rigging planned, and how long each takes.
      </p>
      <button type="button" class="strong mt-3" :disabled="!people.length" data-begin @click="begin">
        {{ people.length ? 'Plan the rescue' : 'First put people on the drop' }}
      </button>
    </div>
    <template v-else-if="draft.drop">
      <p class="text-lg" data-cover>
        <template v-if="rescue.finding && !rescue.current">Looking at every metre…</template>
        <b v-else-if="!rescue.answer || !rescue.current" class="text-stop">■ It is not known who is reached.</b>
        <template v-else-if="open.uncovered || open.undecided"
          ><b v-if="open.uncovered" class="text-stop">■ {{ metresAre(open.uncovered) }} reached by nobody</b
          ><b v-if="open.undecided" class="text-stop"
            >{{ open.uncovered ? ', ' : '■ ' }}{{ metresAre(open.undecided) }} not decided, which counts as not
            covered</b
          ><template v-if="open.slow || open['last-resort']"
            >, {{ open.slow + open['last-resort'] }} too slowly or by a last resort only</template
          >.</template
        >
        <template v-else-if="open.slow || open['last-resort']"
          ><b class="text-look"
            >◆ {{ metresAre(open.slow + open['last-resort']) }} reached too slowly, or by a last resort only.</b
          ></template
        >
        <template v-else-if="rescue.people.length"
          >Every metre is reached within {{ rescue.answer.limit_min }} minutes by what is planned.</template
        >
        <template v-else>Nobody is on the strands of this drop.</template>
        <button
          v-if="open.uncovered || open.undecided || open.slow || open['last-resort']"
          type="button"
          class="plain no-print ml-3"
          :disabled="rescue.looking"
          data-changes
          @click="rescue.changes()"
        >
          {{ rescue.looking ? 'Trying changes…' : 'What would cover more?' }}
        </button>
      </p>
      <ul v-if="rescue.current && rescue.answer?.cover.not_looked_at.length" data-unseen>
        <li v-for="line in rescue.answer.cover.not_looked_at" :key="line" class="text-look">
          ◆ Not looked at: {{ line }}.
        </li>
      </ul>
      <AskBox :shown="rescue.trying.shown" what="Trying changes" @stop="rescue.trying.stop()" />
      <AskBox
        :shown="rescue.asking.shown"
        what="Looking at every metre"
        :faults="rescue.faults"
        @stop="rescue.asking.stop()"
      />
      <ol v-if="rescue.answer?.changes" class="border-line my-2 border-y" data-change-list>
        <li
          v-for="(c, i) in rescue.answer.changes"
          :key="c.words"
          class="border-line flex flex-wrap items-center gap-x-4 border-b py-1 last:border-0"
        >
          <span class="figure w-36 font-semibold"
            >+{{ c.gain_m }} m{{
              !c.slow_m
                ? ''
                : c.slow_m > 0
                  ? `, ${c.slow_m} m in time`
                  : `, ${-c.slow_m} m of it slowly or by a last resort`
            }}</span
          >
          <span class="min-w-0 flex-1 basis-64"
            >{{ c.words }}<span class="text-soft"> · {{ c.why }}</span></span
          >
          <span class="text-soft figure text-sm">{{
            c.left_m ? `${c.left_m} m ${c.left_m === 1 ? 'stays' : 'stay'} open` : 'nothing stays open'
          }}</span>
          <button type="button" class="plain" :data-apply="i + 1" @click="rescue.apply(i + 1)">Plan it so</button>
        </li>
        <li v-if="!rescue.answer.changes.length" class="py-2">No single change that is known here covers more.</li>
      </ol>
      <div v-if="width < 900 && rescue.answer" class="border-line my-3 h-[55vh] border-y">
        <CoverStrip :drop="draft.drop" alone />
      </div>
      <template v-if="rescue.who && rescue.height !== undefined">
        <h2 class="briefing mt-4" data-at>
          <LiveChoice
            v-if="rescue.people.length > 1"
            :value="rescue.who.person"
            :options="rescue.people.map((p) => ({ value: p.person, words: p.name }))"
            label="Casualty who is looked at"
            @set="(v) => rescue.look(v, rescue.height ?? 1)"
          />
          <template v-else>{{ rescue.who.name }}</template>
          at
          <LiveNumber
            :value="rescue.height"
            unit="m"
            label="Height of the casualty"
            :step="1"
            :min="1"
            :max="draft.drop.geometry.top_m - 1"
            @set="(v) => rescue.look(rescue.who!.person, v)"
          />
        </h2>
        <OfBefore :there="rescue.there" :finding="rescue.finding" what="this height">
          <p v-if="rescue.here" class="text-look text-sm" data-here>◆ Found on this device.</p>
          <ol class="mt-1" data-ways>
            <li v-for="(w, i) in ways" :key="w.kind + w.rescuer + w.set" class="border-line border-t">
              <button
                type="button"
                class="flex min-h-11 w-full flex-wrap items-baseline gap-x-3 py-1 text-left"
                :aria-pressed="i === rescue.way"
                :class="i === rescue.way ? 'bg-rock' : ''"
                :data-way="w.kind"
                @click="rescue.take(i)"
              >
                <span
                  class="figure w-20 font-semibold"
                  :class="
                    w.works
                      ? w.last_resort || w.seconds_s > rescue.answer!.limit_min * 60
                        ? 'text-look'
                        : ''
                      : 'text-stop'
                  "
                  >{{ w.works ? `${w.last_resort ? '◆ ' : ''}${minutes(w.seconds_s)}` : '■ blocked' }}</span
                >
                <span class="min-w-0 flex-1 basis-72"
                  >{{ w.words }}<span v-if="w.prepared && w.works" class="text-soft"> · rigged beforehand</span>
                  <span v-if="w.why" class="text-soft block text-sm">{{ w.why }}</span>
                  <span v-if="w.blocked" class="block text-sm">{{ w.blocked }}</span>
                  <span v-for="n in w.notes ?? []" :key="n" class="text-look block text-sm">◆ {{ n }}</span>
                </span>
              </button>
            </li>
          </ol>
          <template v-if="chosen">
            <RescueTimeline
              v-if="chosen.works"
              class="mt-4"
              :way="chosen"
              :limit="rescue.answer!.limit_min"
              :name="rescue.who.name"
            />
            <ul v-if="chosen.phases.some((p) => p.past?.length)" class="text-soft text-sm">
              <template v-for="p in chosen.phases" :key="p.name"
                ><li v-for="k in p.past ?? []" :key="p.name + k">
                  {{ p.name === 'lower' ? 'on the way down with both' : 'on the way' }}: past {{ k }}
                </li></template
              >
            </ul>
            <RescuePlanView
              v-if="rescue.answer?.plan"
              class="mt-4"
              :drop="draft.drop!"
              :ids="{ rescuer: chosen.rescuer ?? '', casualty: rescue.who.person }"
              :plan="rescue.answer.plan"
              :casualty="rescue.who.name"
              :rescuer="nameOf(chosen.rescuer)"
            />
            <details v-for="m in rescue.answer?.passes ?? []" :key="m.move + m.to_m" class="mt-2">
              <summary class="quiet -ml-2">
                On the way down with both: {{ moveWords(m.move) }}, {{ count(m.steps.length, 'step') }}, about
                {{ minutes(m.seconds_s) }}
              </summary>
              <ol class="list-decimal pl-6">
                <li v-for="(st, n) in m.steps" :key="n" class="first-letter:uppercase">{{ st.say }}</li>
              </ol>
            </details>
            <ol v-if="rescue.answer?.last_resort?.length" class="mt-3 list-decimal pl-6" data-last>
              <li v-for="(st, n) in rescue.answer.last_resort" :key="n">{{ st.say }}</li>
            </ol>
            <ol v-if="rescue.answer?.team" class="mt-3 list-decimal pl-6">
              <li v-for="(s, n) in rescue.answer.team.steps" :key="n">
                <b v-if="s.call">“{{ s.call }}” – “{{ s.answer }}”. </b>{{ s.who }}: {{ s.say }}
              </li>
            </ol>
            <AskBox
              what="Looking for a plan"
              none="No plan"
              :impossible="rescue.answer?.impossible"
              :undecided="rescue.answer?.outcome === 'undecided'"
            />
            <details v-if="rescue.answer?.gear?.length" class="mt-3">
              <summary class="quiet -ml-2">Gear, and who has it ({{ rescue.answer.gear.length }})</summary>
              <p>{{ rescue.answer.gear.map((g) => `${g.what} (${g.who})`).join(', ') }}</p>
            </details>
            <p class="no-print mt-3 flex gap-2">
              <button type="button" class="plain" data-pdf @click="rescue.sheet('pdf')">Plan to hang up, PDF</button>
              <button type="button" class="plain" data-svg @click="rescue.sheet('svg')">SVG</button>
              <span v-if="rescue.fault" class="text-stop" role="alert">■ {{ rescue.fault }}</span>
            </p>
          </template>
        </OfBefore>
      </template>
      <h2 class="mt-6">As it is planned</h2>
      <div class="briefing" data-planned>
        <p>
          Who comes:
          <template v-for="(r, i) in plan.rescuers" :key="r.person">
            <b>{{ nameOf(r.person) }}</b> from the
            <LiveChoice
              :value="r.from ?? 'top'"
              :options="[
                { value: 'top' as const, words: 'top' },
                { value: 'landing' as const, words: 'landing' },
              ]"
              :label="`${nameOf(r.person)} sets out from`"
              @set="(v) => set((p) => (p.rescuers[i]!.from = v))"
            />, at the strands after
            <LiveNumber
              :value="(r.walk_s ?? walkOf(r.person)?.s ?? 0) / 60"
              unit="min"
              :label="`Minutes until ${nameOf(r.person)} is at the strands`"
              :step="0.5"
              :min="0.1"
              :max="120"
              @set="(v) => set((p) => (p.rescuers[i]!.walk_s = v * 60))"
            /><span class="text-soft">{{ from(walkOf(r.person)) }}</span
            >, practised
            <span v-if="recordedOf(r.person)" class="figure" data-recorded>{{ recordedOf(r.person) }} (recorded)</span>
            <LiveText
              v-else
              :value="r.practised_on ?? ''"
              date
              empty="not stated"
              :label="`Last practice of ${nameOf(r.person)}`"
              @set="(v) => set((p) => (v ? (p.rescuers[i]!.practised_on = v) : delete p.rescuers[i]!.practised_on))"
            />
            <button
              v-if="plan.rescuers.length > 1"
              type="button"
              class="quiet"
              :aria-label="`${nameOf(r.person)} does not come`"
              @click="set((p) => p.rescuers.splice(i, 1))"
            >
              does not come</button
            >.
          </template>
          <button
            v-for="p in spare"
            :key="p.id"
            type="button"
            class="quiet"
            @click="set((r) => r.rescuers.push({ person: p.id }))"
          >
            {{ p.name }} comes too
          </button>
        </p>
        <p>
          A casualty is taken to hang on
          <LiveChoice
            :value="plan.on ?? 'descender'"
            :options="[
              { value: 'descender' as const, words: 'the descender' },
              { value: 'chest-ascender' as const, words: 'the chest ascender' },
              { value: 'backup' as const, words: 'the backup' },
            ]"
            label="What a casualty hangs on"
            @set="(v) => set((p) => (p.on = v))"
          />
          and
          <LiveChoice
            :value="plan.conscious ?? false"
            :options="[
              { value: true, words: 'can help' },
              { value: false, words: 'cannot help' },
            ]"
            label="Casualty"
            @set="(v) => set((p) => (p.conscious = v))"
          />; their own backup is
          <LiveChoice
            :value="plan.their_backup ?? 'strip'"
            :options="[
              { value: 'strip' as const, words: 'stripped where the rescuer’s is rated for two' },
              { value: 'keep' as const, words: 'kept on until the landing' },
            ]"
            label="Casualty's own backup"
            @set="(v) => set((p) => (p.their_backup = v))"
          />. People are brought down onto
          <LiveChoice
            :value="plan.landing ?? 'ground'"
            :options="[
              { value: 'ground' as const, words: 'the ground' },
              { value: 'deck' as const, words: 'a deck' },
              { value: 'water' as const, words: 'water' },
              { value: 'boat' as const, words: 'a boat' },
            ]"
            label="Landing"
            @set="(v) => set((p) => (p.landing = v))"
          />. It is noticed and reported after
          <LiveNumber
            :value="(plan.alarm_s ?? rescue.answer?.alarm.s ?? 0) / 60"
            unit="min"
            label="Minutes until it is noticed and reported"
            :step="0.5"
            :min="0.1"
            :max="120"
            @set="(v) => set((p) => (p.alarm_s = v * 60))"
          /><span class="text-soft">{{ from(rescue.answer?.alarm) }}</span
          >.
        </p>
        <p>
          Rigged for rescue beforehand:
          <template v-for="s in sets" :key="s">
            <label class="mr-3 inline-flex min-h-11 items-center whitespace-nowrap"
              ><input
                type="checkbox"
                class="mr-1 size-5 align-middle"
                :checked="plan.sets?.includes(s)"
                @change="
                  set(
                    (p) => (p.sets = plan!.sets?.includes(s) ? p.sets!.filter((o) => o !== s) : [...(p.sets ?? []), s]),
                  )
                "
              />set {{ s }}</label
            >
          </template>
        </p>
        <p>
          To call:
          <template v-for="(p, i) in plan.phones ?? []" :key="i">
            <LiveText :value="p.who" label="Whom to call" required @set="(v) => set((r) => (r.phones![i]!.who = v))" />
            <LiveText
              :value="p.number ?? ''"
              empty="number to fill in"
              label="Number"
              @set="(v) => set((r) => (v ? (r.phones![i]!.number = v) : delete r.phones![i]!.number))"
            />;
          </template>
          <button type="button" class="quiet" @click="set((r) => (r.phones = [...(r.phones ?? []), { who: 'whom' }]))">
            one more
          </button>
        </p>
      </div>
      <p class="text-soft mt-4 text-sm">
        Times are by the moves that were found and by what is stated; they leave out fright, weather and what nobody
        thought of, and err low. {{ show(0.3, 'm/s') }} down with two. Practise it near the ground.
      </p>
    </template>
  </div>
</template>
