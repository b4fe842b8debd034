<script setup lang="ts">
// A callout: what is known by taps, the card at its worst end, times that are marked. It works
// on this device alone, and is sent when there is a connection.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, must, Refused, type CalloutMark } from '@/api/client'
import CalloutCardView from '@/components/CalloutCardView.vue'
import CalloutKnown from '@/components/CalloutKnown.vue'
import CalloutSite from '@/components/CalloutSite.vue'
import StateNotice from '@/components/StateNotice.vue'
import { heightKnown, markWords, useCard } from '@/lib/callout'
import { usePeople } from '@/lib/gear'
import { timeWords } from '@/lib/records'
import { show } from '@/lib/units'
import { count, shape } from '@/lib/words'
import { useCallouts } from '@/stores/callouts'
import { useSession } from '@/stores/session'

const props = defineProps<{ id?: string }>()
const router = useRouter()
const session = useSession()
const callouts = useCallouts()
const team = usePeople()
const kept = useQuery({ queryKey: ['callouts'], queryFn: async () => must(await api.GET('/api/v1/callouts')).callouts })

const id = computed(() => props.id ?? '')
const mine = computed(() => callouts.of(id.value))
const there = computed(() => kept.data.value?.find((c) => c.id === id.value))
// What another device began is taken onto this one when it is opened.
watch(
  there,
  (c) => {
    if (c && !c.run) callouts.take(c.id, c.callout)
  },
  { immediate: true },
)
const document = computed(() => mine.value?.document ?? there.value?.callout)
const { card, before, failure, names, seals, pending, unread, shipped } = useCard(document)
const away = computed(() => there.value?.run)
const running = computed(() => (kept.data.value ?? []).filter((c) => !c.run))
const unsentHere = computed(() => callouts.mine.filter(([k, v]) => !v.sent && !running.value.some((c) => c.id === k)))

async function begin(exercise: boolean) {
  await router.push({ name: 'callout', params: { id: callouts.begin(exercise) } })
}

/** In five words what the ropes do. */
const reachWords = computed(() => {
  const c = card.value
  if (!c?.rig) return ''
  const h = show(c.rig.height_m, 'm')
  if (!heightKnown(c)) return `◆ height not known: down ${h} at most`
  return c.reaches ? `down ${h}` : `■ NOT down ${h}`
})
const stops = computed(() => card.value?.findings.filter((f) => f.severity === 'stop').length ?? 0)
const looks = computed(() => card.value?.findings.filter((f) => f.severity === 'look').length ?? 0)
const marking = ref(false)
function mark(what: CalloutMark['what']) {
  callouts.mark(id.value, what, card.value?.rig?.used)
  marking.value = false
}
const ended = computed(() => document.value?.marks?.some((m) => m.what === 'ended') ?? false)

const person = ref('')
const wrong = ref('')
const busy = ref(false)
/** The callout goes to the server whole, then becomes a drop and a run, which are signed there. */
async function putAway() {
  wrong.value = ''
  busy.value = true
  try {
    // What the server lacks would be gone with the device's copy.
    if (!(await callouts.sendWhole(id.value))) {
      wrong.value = 'The server has not all of it yet: the callout stays on this device.'
      return
    }
    const path = { id: id.value }
    const made = must(
      await api.POST('/api/v1/callouts/{id}/put-away', {
        params: { path },
        body: person.value ? { person: person.value } : {},
      }),
    )
    // What was tapped meanwhile stays: the server says why it does not take it.
    if (callouts.of(id.value)?.sent) callouts.forget(id.value)
    await router.push({ name: 'run', params: { id: made.drop } })
  } catch (e) {
    wrong.value = e instanceof Refused ? e.words : 'The server does not answer: the callout stays on this device.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main v-if="!id" id="page" class="mx-auto max-w-2xl px-5 py-6">
    <h1>Callout</h1>
    <p class="text-soft">No plan, no exact height: say what is known, get the worst end of it. Works without signal.</p>
    <button type="button" class="strong mt-4 min-h-20! w-full text-xl" data-begin @click="begin(false)">
      Callout now
    </button>
    <button type="button" class="plain mt-3 min-h-14! w-full" data-exercise-begin @click="begin(true)">
      The same as an exercise
    </button>
    <template v-if="running.length || unsentHere.length">
      <h2 class="mt-6">Not put away yet</h2>
      <RouterLink
        v-for="c in running"
        :key="c.id"
        :to="{ name: 'callout', params: { id: c.id } }"
        class="border-line flex min-h-14 items-center border-b underline"
        >{{ c.callout.exercise ? 'EXERCISE: ' : '' }}{{ c.callout.name }}</RouterLink
      >
      <RouterLink
        v-for="[k, v] in unsentHere"
        :key="k"
        :to="{ name: 'callout', params: { id: k } }"
        class="border-line text-look flex min-h-14 items-center border-b underline"
        >◆ {{ v.document.name }}: on this device alone</RouterLink
      >
    </template>
    <p class="mt-6">
      <RouterLink to="/preplans" class="flex min-h-14 items-center underline">Pre-plans of known sites</RouterLink>
    </p>
  </main>
  <StateNotice v-else-if="!document && kept.isPending.value" title="Looking for the callout" busy />
  <StateNotice
    v-else-if="!document"
    title="There is no such callout"
    detail="Neither this device nor the team has it."
  />
  <main v-else id="page" class="mx-auto max-w-2xl px-4 pt-4 pb-28">
    <p
      v-if="document.exercise"
      class="bg-look text-ground mb-3 rounded p-2 text-center text-xl font-bold"
      data-exercise
    >
      EXERCISE
    </p>
    <h1>{{ document.name }}</h1>
    <p class="text-soft text-sm">Figures are worst ends of models; what you see and feel comes first.</p>
    <a v-if="card" href="#card" class="border-line mt-3 block border-y py-2" data-short>
      <span v-if="!card.rig" class="text-stop font-semibold">■ No rig for a lower in these kits</span>
      <template v-else>
        <b :class="card.reaches ? '' : heightKnown(card) ? 'text-stop' : 'text-look'">{{ reachWords }}</b>
        <span class="ml-2 text-sm" :class="stops ? 'text-stop' : 'text-look'"
          >{{ stops ? shape.stop : shape.look }} {{ count(stops, 'stop') }}, {{ count(looks, 'look') }}</span
        >
        <br /><b :style="{ color: 'var(--main)' }">main</b> {{ card.rig.main.ropes.join(' + ') }},
        {{ card.rig.main.brake }}; <b :style="{ color: 'var(--backup)' }">belay</b>
        {{ card.rig.belay.ropes.join(' + ') }}, {{ card.rig.belay.brake }}
      </template>
    </a>
    <p v-if="mine && !mine.sent && !mine.refused" class="text-look text-sm" role="status" data-waiting>
      ◆ not yet sent: kept on this device
    </p>
    <p v-if="callouts.failure" class="text-stop" role="alert">■ {{ callouts.failure }}</p>
    <p v-if="mine?.refused" class="text-stop" role="alert" data-refused>
      ■ Not taken by the server: {{ mine.refused.map((f) => f.detail).join('; ') }}. It stays on this device.
    </p>
    <p v-if="away" class="text-note mt-2" data-away>
      ● This callout is put away:
      <RouterLink :to="{ name: 'run', params: { id: there!.drop! } }" class="underline">its run</RouterLink>.
    </p>
    <CalloutSite v-if="!away" :document="document" @take="(known, more) => callouts.know(id, known, more)" />
    <CalloutKnown
      v-if="!away"
      :known="document.known"
      :kits="names"
      :seals="seals"
      @change="callouts.know(id, $event)"
    />
    <p v-if="failure" class="text-stop mt-3" role="alert">■ {{ failure }}</p>
    <p v-if="unread" class="text-stop mt-3" role="alert" data-unread>
      ■ The team's store is not on this device: no rig is looked for.
    </p>
    <p v-if="shipped" class="text-look mt-3" data-shipped>
      ◆ The team's tables are not on this device: the card counts with those that are shipped.
    </p>
    <p v-if="!names.length && !pending && !unread" class="text-look mt-3">
      ◆ No item is in a kit: put the vehicles' things into kits, on the page of each.
    </p>
    <CalloutCardView
      v-if="card"
      :card="card"
      :before="before"
      :document="document"
      @reason="(rule, subject, words) => callouts.reason(id, rule, subject, words)"
    />
    <section v-if="document.marks?.length" class="mt-5" aria-labelledby="times">
      <h2 id="times">Times</h2>
      <ol>
        <li v-for="m in document.marks" :key="m.id" class="border-line figure border-b py-1" data-mark>
          {{ timeWords(m.at).slice(11, 16) }} {{ markWords[m.what] }}<template v-if="m.words">: {{ m.words }}</template>
          <span class="text-soft text-sm"> {{ m.by }}</span>
        </li>
      </ol>
    </section>
    <section v-if="ended && !away" class="border-line mt-5 border-t pt-3" aria-labelledby="away">
      <h2 id="away">Put away</h2>
      <p class="max-w-prose">
        What happened becomes a drop and a run that says <b>entered after</b>; what was counted is corrected, signed and
        sealed there.
      </p>
      <p v-if="!session.may('put-away-callout')" class="text-look">◆ A supervisor puts it away.</p>
      <template v-else>
        <label class="mt-2 block">
          <span>Who went down</span>
          <select v-model="person" class="border-soft bg-raised mt-1 block min-h-14 w-full rounded border px-2">
            <option value="">nobody of the team</option>
            <option v-for="p in team.data.value" :key="p.id" :value="p.id">{{ p.name }}</option>
          </select>
        </label>
        <p v-if="wrong" class="text-stop mt-2" role="alert">■ {{ wrong }}</p>
        <button type="button" class="strong mt-3 min-h-14! w-full" :disabled="busy" data-put-away @click="putAway">
          Make drop and run
        </button>
      </template>
    </section>
    <div
      v-if="!away"
      class="border-line bg-ground fixed inset-x-0 bottom-0 z-10 border-t px-4 py-2"
      style="padding-bottom: max(0.5rem, env(safe-area-inset-bottom))"
    >
      <div
        v-if="marking"
        class="mx-auto mb-2 grid max-w-2xl grid-cols-2 gap-2"
        role="group"
        aria-label="What time is this?"
      >
        <button
          v-for="(words, what) in markWords"
          :key="what"
          type="button"
          class="plain min-h-14!"
          :data-mark-as="what"
          @click="mark(what)"
        >
          {{ words }}
        </button>
      </div>
      <button
        type="button"
        class="strong mx-auto block min-h-14! w-full max-w-2xl"
        :aria-expanded="marking"
        data-mark-time
        @click="marking = !marking"
      >
        {{ marking ? 'Not now' : 'Mark time' }}
      </button>
    </div>
  </main>
</template>
