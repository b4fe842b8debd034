<script setup lang="ts">
// Recalls: what somebody gives notice of, what of it is in the store, and who has read it.
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, must, type Entry } from '@/api/client'
import OutboxNotice from '@/components/OutboxNotice.vue'
import StateNotice from '@/components/StateNotice.vue'
import { useGear } from '@/lib/gear'
import { timeWords, today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'
import TermWord from '@/components/TermWord.vue'

type Recall = NonNullable<Entry['recall']>

const gear = useGear()
const session = useSession()
const outbox = useOutbox()
const recalls = useQuery({
  queryKey: ['records', 'recalls'],
  queryFn: async () => must(await api.GET('/api/v1/recalls')),
})
const open = ref(false)
const model = ref('')
const asks = ref<Recall['asks']>('stop')
const source = ref('')
const serials = ref('')
const lots = ref('')
const from = ref('')
const to = ref('')
const note = ref('')
const asking = {
  stop: '■ Stop: take out of use',
  inspect: '◆ Inspect before the next use',
  information: '● Information only',
}
const models = computed(() =>
  [...gear.models.value.values()].sort((a, b) => `${a.maker} ${a.name}`.localeCompare(`${b.maker} ${b.name}`)),
)
const linesOf = (text: string) =>
  text
    .split(/[\n,;]+/)
    .map((s) => s.trim())
    .filter(Boolean)
const list = computed(() => linesOf(serials.value))
const lotList = computed(() => linesOf(lots.value))
/** What is meant of the model: by serials, else by lots, else by days. */
const meant = computed(() => {
  if (list.value.length) return { serials: list.value }
  if (lotList.value.length) return { lots: lotList.value }
  return { ...(from.value ? { from: from.value } : {}), ...(to.value ? { to: to.value } : {}) }
})
const recall = computed<Recall | undefined>(() =>
  model.value
    ? {
        model: model.value,
        asks: asks.value,
        source: source.value.trim() || '…',
        ...meant.value,
      }
    : undefined,
)
const wanted = refDebounced(recall, 200)
/** What it would be about, as the server says. */
const affected = useQuery({
  queryKey: computed(() => ['gear', 'affected', wanted.value]),
  queryFn: async () => must(await api.POST('/api/v1/recalls/affected', { body: wanted.value! })),
  enabled: computed(() => wanted.value !== undefined),
})
const title = (id: string) => {
  const m = gear.models.value.get(id)
  return m ? `${m.maker} ${m.name}` : id
}
const waits = (id: string) => outbox.waiting.some((k) => k.entry.confirms === id)

function sign() {
  if (!recall.value || !source.value.trim()) return
  const more = note.value.trim() ? { note: note.value.trim() } : {}
  const entry = { kind: 'recall' as const, day: today(), recall: recall.value, ...more }
  if (!outbox.record(`recall of ${title(model.value)}`, entry)) return
  open.value = false
  model.value = source.value = serials.value = lots.value = from.value = to.value = note.value = ''
}

function read(id: string, name: string) {
  outbox.record(`recall of ${name}`, { kind: 'acknowledgement', day: today(), confirms: id })
}
</script>

<template>
  <main id="page" class="mx-auto max-w-4xl px-5 py-6">
    <RouterLink to="/store" class="quiet -ml-2">← Store</RouterLink>
    <h1><TermWord word="recall">Recalls</TermWord></h1>
    <OutboxNotice />
    <button
      v-if="session.may('record:recall') && !open"
      type="button"
      class="plain mt-2"
      data-recall
      @click="open = true"
    >
      Record a recall
    </button>
    <form v-if="open" class="border-line mt-3 grid max-w-xl gap-3 border-t pt-3" @submit.prevent="sign">
      <label>
        Model
        <select v-model="model" class="field" required data-model>
          <option value="" disabled>choose</option>
          <option v-for="m in models" :key="m.id" :value="m.id">{{ m.maker }} {{ m.name }} {{ m.generation }}</option>
        </select>
      </label>
      <label>
        What it asks
        <select v-model="asks" class="field" data-asks>
          <option v-for="(words, value) in asking" :key="value" :value="value">{{ words }}</option>
        </select>
      </label>
      <label>
        Whose notice, number and date
        <input v-model="source" class="field" required maxlength="120" data-source />
      </label>
      <label>
        Serials, a line each; empty: by lots, by days, or all
        <textarea v-model="serials" class="field min-h-24" data-serials />
      </label>
      <label v-if="!list.length">
        Lots, a line each; what has none noted is affected
        <textarea v-model="lots" class="field" data-lots />
      </label>
      <div v-if="!list.length && !lotList.length" class="grid grid-cols-2 gap-3">
        <label>Made from <input v-model="from" class="field" type="date" data-from /></label>
        <label>until <input v-model="to" class="field" type="date" data-to /></label>
      </div>
      <label>
        What to look for
        <input v-model="note" class="field" maxlength="380" />
      </label>
      <div v-if="model" data-affected>
        <p v-if="affected.isError.value" class="text-look">
          ◆ Which items it is about could not be fetched. The store decides when it is recorded.
        </p>
        <template v-else-if="affected.data.value">
          <p :class="affected.data.value.length ? 'text-stop font-semibold' : ''">
            {{ affected.data.value.length ? '■ ' : '' }}It is about {{ affected.data.value.length }} in the store{{
              affected.data.value.length ? ':' : '.'
            }}
          </p>
          <p class="text-sm">{{ affected.data.value.map((i) => `${i.label} (${i.serial})`).join(', ') }}</p>
          <p v-if="!list.length && (from || to)" class="text-soft text-sm">
            Those with no day of manufacture are among them.
          </p>
        </template>
      </div>
      <div class="flex flex-wrap gap-3">
        <button type="submit" class="strong min-h-12!" :disabled="!model || !source.trim()" data-sign>
          {{ asks === 'information' ? 'Record it, signed' : 'Record it and stop them, signed' }}
        </button>
        <button type="button" class="plain min-h-12!" @click="open = false">Leave it</button>
      </div>
    </form>
    <StateNotice v-if="recalls.isPending.value" part title="Fetching the recalls" busy />
    <StateNotice v-else-if="recalls.isError.value" part title="The recalls could not be fetched">
      <button type="button" class="plain" @click="recalls.refetch()">Try again</button>
    </StateNotice>
    <p v-else-if="!recalls.data.value?.length" class="py-4">No recall is recorded.</p>
    <section
      v-for="r in recalls.data.value ?? []"
      :key="r.id"
      class="border-line mt-4 border-t-2 pt-3"
      :data-notice="r.id"
    >
      <div class="flex flex-wrap items-baseline gap-x-4">
        <h2>{{ r.title }}</h2>
        <p :class="r.recall?.asks === 'information' ? '' : 'text-stop'">{{ asking[r.recall!.asks] }}</p>
      </div>
      <p>{{ r.recall?.source }}{{ r.note ? `: ${r.note}` : '' }}</p>
      <p class="text-soft text-sm">recorded by {{ r.by }}, {{ timeWords(r.at) }}</p>
      <ul v-if="r.affected.length" class="mt-1">
        <li v-for="i in r.affected" :key="i.item" class="flex flex-wrap gap-x-3">
          <RouterLink class="quiet -ml-2" :to="`/store/item/${i.item}`">{{ i.label }}</RouterLink>
          <span class="text-soft text-sm"
            >{{ i.serial }}{{ i.holder ? `, with ${i.holder}` : '' }}{{ i.later ? ', came later' : '' }}</span
          >
          <span :class="i.state === 'quarantine' ? 'text-stop' : ''">{{
            i.state === 'quarantine' ? '■ in quarantine' : i.state === 'retired' ? 'retired' : 'in service'
          }}</span>
        </li>
      </ul>
      <p v-else class="mt-1">Nothing in the store was affected.</p>
      <p class="mt-1 text-sm" data-read>Read by: {{ r.read_by.join(', ') || 'nobody yet' }}</p>
      <p v-if="waits(r.id)" class="text-look">◆ What was signed here is on its way.</p>
      <button
        v-else-if="!r.mine && session.may('record:acknowledgement')"
        type="button"
        class="plain mt-1 min-h-12!"
        data-acknowledge
        @click="read(r.id, r.title)"
      >
        I have read it, signed
      </button>
    </section>
  </main>
</template>
