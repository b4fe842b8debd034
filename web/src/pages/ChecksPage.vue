<script setup lang="ts">
// Checks at the top of the drop: which the rig needs today, how each stands, and
// one at a time with gloves on. Who is signed in signs.
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import type { Due, Entry, Place } from '@/api/client'
import ItemChooser from '@/components/ItemChooser.vue'
import OutboxNotice from '@/components/OutboxNotice.vue'
import PaperCheck from '@/components/PaperCheck.vue'
import PinSign from '@/components/PinSign.vue'
import ProofSteps from '@/components/ProofSteps.vue'
import WornSteps from '@/components/WornSteps.vue'
import { entryOf, keyOf, type Result } from '@/lib/checking'
import { usePeople } from '@/lib/gear'
import { today } from '@/lib/records'
import { rest } from '@/lib/where'
import { useDraft } from '@/stores/draft'
import { useOutbox, type Given } from '@/stores/outbox'
import { useSession } from '@/stores/session'
import { count } from '@/lib/words'

const props = defineProps<{ id: string }>()

/** Whose checks a team's brakes are. */
const teamLoad = 'team-load'
const draft = useDraft()
const outbox = useOutbox()
const session = useSession()
const open = ref<string>()
/** What failed here just now: its notice goes when the item is back in service. */
const failed = ref<string[]>([])
const aside = computed(() => {
  const stopped = (draft.drop?.items ?? []).filter((i) => failed.value.includes(i.id) && i.state !== 'in-service')
  const words = stopped.map((i) => i.label).join(', ')
  return stopped.length ? `${words} ${stopped.length > 1 ? 'are' : 'is'} in quarantine` : ''
})
const place = ref<Place>()

onMounted(() => (draft.checksWanted = true))
onBeforeUnmount(() => (draft.checksWanted = false))

const list = computed<Due[]>(() => draft.report?.checks ?? [])
const due = computed(() => list.value.find((d) => keyOf(d) === open.value))
const passed = computed(() => list.value.filter((d) => d.state === 'passed').length)
const groups = computed(() => {
  const name = (d: Due) =>
    d.person
      ? d.person === teamLoad
        ? 'The team’s brakes'
        : (draft.drop?.people?.find((p) => p.id === d.person)?.name ?? d.person)
      : 'Ropes and knots'
  const map = new Map<string, Due[]>()
  for (const d of list.value) map.set(name(d), [...(map.get(name(d)) ?? []), d])
  return [...map]
})

const words = { 'not-done': '○ not done', passed: '✓ passed', failed: '■ failed', stale: '◆ does not count any more' }
const inks = { 'not-done': 'text-ink', passed: 'text-soft', failed: 'text-stop', stale: 'text-look' }

/** Why who is signed in does not do a check; empty where they may. */
function blocked(d: Due): string {
  const right = {
    device: 'function-check',
    rope: 'function-check',
    worn: 'worn-check',
    partner: 'partner-check',
  } as const
  const may = session.may(`record:${right[d.kind]}`)
  if (!may) return 'Your roles record no checks.'
  return own(d) ? 'The other person does this one: signed in as themselves, or here with their PIN.' : ''
}
const own = (d: Due) => d.kind === 'partner' && d.person === session.person

/** Whether what was done on paper is typed. */
const paper = ref(false)
/** A check that the partner does on this device, and what of it waits for their PIN. */
const partner = ref(false)
const unsigned = ref<{ label: string; entry: Given }>()
const signed = ref('')
/** What was otherwise in the store than this device could know. */
const conflict = ref('')
const client = useQueryClient()
const people = usePeople()

/** Whether who is signed in was shown the model of a device: its proofs may be signed at once. */
const familiar = computed(() => {
  const model = draft.drop?.items?.find((i) => i.id === due.value?.item)?.model
  const me = people.data.value?.find((p) => p.id === session.person)
  return due.value?.kind === 'device' && !!me?.familiar?.some((f) => f.model === model && f.on <= draft.drop!.day)
})

function begin(d: Due, byPartner = false) {
  signed.value = ''
  partner.value = byPartner
  open.value = keyOf(d)
}

function done(d: Due, results: Result[], more?: { together?: boolean; paper?: Entry['paper']; note?: string }) {
  open.value = undefined
  void rest()
  if (!draft.drop || !results.length) return
  const entry = entryOf(props.id, draft.drop.day, d, results)
  if (more?.together && entry.check) entry.check.way = 'together'
  if (more?.paper) entry.paper = more.paper
  if (more?.note) entry.note = more.note
  const label = `${d.label}, ${d.on}`
  if (partner.value) {
    unsigned.value = { label, entry }
    return
  }
  if (!outbox.record(label, entry)) return
  void draft.overlay()
  const not = results.filter((r) => !r.did)
  if (d.kind === 'worn') failed.value = not.map((r) => r.proof)
  else if (d.item && not.length) failed.value = [d.item]
}

function partnerSigned(name: string, meanwhile?: string) {
  unsigned.value = undefined
  conflict.value = meanwhile ?? ''
  signed.value = name
  void rest()
  void client.invalidateQueries()
}

/** Shows what the store has in the place of an item that failed. */
function chooseInstead(d: Due) {
  const rope = draft.drop?.strands?.find((s) => s.id === d.strand)?.ropes.indexOf(d.item ?? '') ?? 0
  place.value =
    d.kind === 'rope'
      ? { strand: d.strand, rope: Math.max(0, rope) }
      : d.person === teamLoad
        ? { team: d.hold === 'team-belay' ? 'belay' : 'main' }
        : { person: d.person, hold: d.hold }
  failed.value = []
}
</script>

<template>
  <div>
    <PinSign v-if="unsigned" v-bind="unsigned" @signed="partnerSigned" @leave="((unsigned = undefined), void rest())" />
    <PaperCheck
      v-else-if="due && draft.drop && paper"
      :key="open"
      :due="due"
      @done="(by, results, note) => done(due!, results, { paper: by, note })"
      @leave="open = undefined"
    />
    <WornSteps
      v-else-if="due?.kind === 'worn' && draft.drop"
      :key="`${draft.drop.day} ${open} ${JSON.stringify(due.proofs)}`"
      :drop="draft.drop"
      :due="due"
      @done="(results) => done(due!, results)"
      @leave="open = undefined"
    />
    <ProofSteps
      v-else-if="due && draft.drop"
      :key="`${draft.drop.day} ${open} ${JSON.stringify(due.proofs)}`"
      :drop-id="props.id"
      :drop="draft.drop"
      :due="due"
      :familiar="familiar"
      @done="(results, together) => done(due!, results, { together })"
      @leave="open = undefined"
    />
    <div v-else class="mx-auto max-w-2xl">
      <h1>Checks for {{ draft.drop?.day }}</h1>
      <p class="briefing">
        <b class="figure">{{ passed }} of {{ list.length }}</b> passed. Signed by <b>{{ session.name }}</b>.
      </p>
      <p v-if="draft.drop && draft.drop.day !== today()" class="text-look">
        ◆ The drop is for {{ draft.drop.day }}, today is {{ today() }}. What is recorded now counts for the drop's day.
      </p>
      <p v-if="paper" class="border-look bg-raised my-2 rounded-md border-2 p-3" data-from-paper>
        ◆ You type what was done on paper: take the check it was. The record has who did it and who typed it.
        <button type="button" class="plain ml-2 min-h-12!" @click="paper = false">No more paper</button>
      </p>
      <p v-if="signed" class="my-2" role="status" data-signed>
        ✓ Recorded, signed by {{ signed }} on this device.<span v-if="conflict" class="text-look block" data-meanwhile
          >◆ meanwhile: {{ conflict }}</span
        >
      </p>
      <OutboxNotice />
      <p v-if="aside" class="border-stop bg-raised my-3 rounded-md border-2 p-4" role="alert" data-aside>
        <b class="text-stop">■ {{ aside }}</b
        >, on every drop. Put it aside and mark it.
      </p>
      <p v-if="!list.length" class="py-4">
        Nothing hangs here yet, so nothing is to be checked. Strands and people come first, on the Drop page.
      </p>
      <section v-for="[name, dues] in groups" :key="name" class="mt-4">
        <h2>{{ name }}</h2>
        <ul class="divide-line border-line mt-1 divide-y border-y">
          <li v-for="d in dues" :key="keyOf(d)">
            <button
              type="button"
              class="flex min-h-16 w-full flex-wrap items-center gap-x-4 py-2 text-left disabled:opacity-60"
              :disabled="blocked(d) !== ''"
              :data-check="d.item ?? `${d.kind}-${d.person}`"
              :data-state="d.state"
              @click="begin(d)"
            >
              <span class="min-w-40 flex-1">
                <span class="text-lg font-semibold">{{ d.label }}</span>
                <span class="text-soft block text-sm"
                  >{{ d.on }}<template v-if="d.mode">, {{ d.mode }}</template
                  >, {{ count(d.proofs.length, d.kind === 'worn' ? 'thing' : 'proof') }}</span
                >
              </span>
              <span class="max-w-full text-right max-sm:w-full max-sm:text-left" :class="inks[d.state]">
                <b>{{ words[d.state] }}</b>
                <span v-if="d.why" class="block text-sm">{{ d.why }}</span>
                <span v-if="d.state !== 'passed' && blocked(d)" class="block text-sm">{{ blocked(d) }}</span>
              </span>
            </button>
            <button
              v-if="own(d) && d.state !== 'passed' && session.may('record-by-pin') && !paper"
              type="button"
              class="plain mb-3 min-h-14!"
              data-by-partner
              @click="begin(d, true)"
            >
              My partner does it here
            </button>
            <RouterLink
              v-if="d.state === 'failed' && !d.item"
              class="plain mb-3 min-h-14!"
              :to="{ name: 'kit', params: { id, who: d.person } }"
              >Change it on Kit</RouterLink
            >
            <button
              v-else-if="d.state === 'failed'"
              type="button"
              class="plain mb-3 min-h-14!"
              @click="chooseInstead(d)"
            >
              What to use instead of {{ d.label }}
            </button>
          </li>
        </ul>
      </section>
      <p class="text-soft mt-4 text-sm">
        The model's own instructions come first. A changed rope, device or mode, and for the partner check anything in
        the rigging, asks for the check again.
      </p>
      <p class="no-print mt-3 flex flex-wrap gap-3">
        <button
          v-if="list.length && !paper && session.may('record:function-check')"
          type="button"
          class="plain"
          data-to-paper
          @click="paper = true"
        >
          Type what was done on paper
        </button>
        <a class="plain" :href="`/api/v1/drops/${id}/checks.pdf`" download>Check sheet, PDF</a>
        <a class="plain" :href="`/api/v1/drops/${id}/checks.csv`" download>as CSV</a>
        <RouterLink class="plain" :to="{ name: 'records', query: { day: draft.drop?.day } }"
          >Records of the day</RouterLink
        >
      </p>
    </div>
    <ItemChooser :place="place" title="In the place of what failed" @close="place = undefined" />
  </div>
</template>
