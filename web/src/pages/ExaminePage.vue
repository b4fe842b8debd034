<script setup lang="ts">
// Examinations in a row: scan or type, look, next; signed together. What fails is stopped at
// once.
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, must, type Item } from '@/api/client'
import ItemExamination from '@/components/ItemExamination.vue'
import ItemScan from '@/components/ItemScan.vue'
import OutboxNotice from '@/components/OutboxNotice.vue'
import StateNotice from '@/components/StateNotice.vue'
import { useGear } from '@/lib/gear'
import { examinedWords, today } from '@/lib/records'
import { useExamining, type Found } from '@/stores/examining'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'
import TermWord from '@/components/TermWord.vue'
import { count } from '@/lib/words'

const gear = useGear()
const session = useSession()
const outbox = useOutbox()
const examining = useExamining()
const route = useRoute()
const points = useQuery({
  queryKey: ['gear', 'points'],
  queryFn: async () => must(await api.GET('/api/v1/examinations/points')),
})
const due = useQuery({ queryKey: ['drops', 'due'], queryFn: async () => must(await api.GET('/api/v1/due')) })
const chosen = ref(typeof route.query.item === 'string' ? route.query.item : '')
const more = ref(false)
const s = computed(() => examining.sitting)
const items = computed(() => new Map(gear.items.value.map((i) => [i.id, i])))
const item = computed(() => items.value.get(chosen.value))
const model = computed(() => gear.models.value.get(item.value?.model ?? ''))
const own = computed(() => points.data.value?.models[item.value?.model ?? ''] ?? [])
/** Why who is signed in may not examine what is chosen; empty where they may. */
const mayNot = computed(() => (model.value ? (points.data.value?.may_not[model.value.class] ?? '') : ''))
const looked = computed(() => new Map(s.value.looked.map((l) => [l.item, l])))
const recorded = computed(() => new Set(s.value.recorded))
const stateOf = (id: string) => (looked.value.has(id) ? 'looked' : recorded.value.has(id) ? 'recorded' : '')
/** How many of what was looked at are listed at first, the last first. */
const few = 20
const all = ref(false)
const listed = computed(() => (all.value ? s.value.looked : s.value.looked.slice(-few)).toReversed())
const examinations = computed(() => (due.data.value?.due ?? []).filter((d) => d.kind === 'examination'))
const valuesOf = (of: (d: (typeof examinations.value)[number]) => string | undefined) =>
  [...new Set(examinations.value.map((d) => of(d) ?? ''))].filter(Boolean).sort()
/** By what the list is narrowed. */
const only = ref({ place: '', class: '', holder: '' })
const narrowing = computed(() =>
  (
    [
      { name: 'place', words: 'every place', values: valuesOf((d) => d.place) },
      { name: 'class', words: 'every class', values: valuesOf((d) => d.class) },
      { name: 'holder', words: 'everybody', values: valuesOf((d) => d.holder) },
    ] as const
  ).filter((n) => n.values.length > 1),
)
const list = computed(() =>
  examinations.value.filter((d) => Object.entries(only.value).every(([k, v]) => !v || d[k as keyof typeof d] === v)),
)
/** Whether all that was signed here of this session has arrived, so that its report is whole. */
const arrived = computed(
  () => s.value.recorded.length > 0 && !outbox.waiting.some((k) => k.entry.examined?.batch === s.value.batch),
)
const notice = computed(() => `/api/v1/examinations/${s.value.batch}/notice.pdf`)
const report = (kind: string) => `/api/v1/examinations/${s.value.batch}/report.${kind}`

function choose(i: Item) {
  chosen.value = i.id
  void nextTick(() => document.querySelector('[data-under]')?.scrollIntoView({ block: 'start', behavior: 'instant' }))
}

function found(f: Found) {
  if (!item.value || !examining.put(item.value.id, item.value.label, f)) return
  chosen.value = ''
  void nextTick(() => document.querySelector<HTMLInputElement>('[data-scan]')?.focus())
}
</script>

<template>
  <main id="page" class="mx-auto max-w-3xl px-5 py-6 pb-28">
    <RouterLink to="/store" class="quiet -ml-2">← Store</RouterLink>
    <h1><TermWord word="thorough examination">Examine</TermWord></h1>
    <OutboxNotice />
    <p v-if="examining.failure" class="text-stop font-bold" role="alert">■ {{ examining.failure }}</p>
    <StateNotice v-if="gear.isPending.value || points.isPending.value" part title="Fetching the store" busy />
    <StateNotice v-else-if="gear.isError.value || points.isError.value" part title="The store could not be fetched">
      <button type="button" class="plain" @click="(gear.refetch(), points.refetch())">Try again</button>
    </StateNotice>
    <StateNotice
      v-else-if="!session.may('record:examination')"
      part
      title="Your roles record no examinations"
      detail="A supervisor gives roles on the People page."
    />
    <template v-else>
      <div class="mt-2 grid grid-cols-2 gap-2" role="group" aria-label="What is done">
        <button
          v-for="k in ['examination', 'inspection'] as const"
          :key="k"
          type="button"
          class="plain min-h-12!"
          :class="s.kind === k ? 'border-accent! border-2! font-semibold' : 'text-soft!'"
          :aria-pressed="s.kind === k"
          :disabled="s.looked.length > 0 && s.kind !== k"
          @click="((examining.sitting.kind = k), examining.keep())"
        >
          {{ k === 'examination' ? 'Thorough' : 'Interim' }}
        </button>
      </div>
      <button type="button" class="quiet -ml-2" :aria-expanded="more" @click="more = !more">
        {{ s.colour ? `marked with ${s.colour}` : 'colour of the period' }},
        {{ s.examiner ? `examined by ${s.examiner}` : 'an examiner from outside' }} {{ more ? '▴' : '▾' }}
      </button>
      <div v-if="more" class="grid gap-2 sm:grid-cols-2">
        <label>
          Colour of the period
          <input v-model="examining.sitting.colour" class="field" maxlength="30" @change="examining.keep()" />
        </label>
        <label>
          Examined by, where that is not who signs
          <input v-model="examining.sitting.examiner" class="field" maxlength="80" @change="examining.keep()" />
        </label>
      </div>
      <ItemScan :items="gear.items.value" class="mt-3" @item="choose" />
      <p v-if="item && mayNot" class="border-look mt-3 border-l-4 pl-3" role="alert" data-may-not>
        ◆ {{ item.label }} {{ mayNot }}.
        <button type="button" class="quiet" @click="chosen = ''">another</button>
      </p>
      <ItemExamination
        v-else-if="item && model"
        :key="item.id"
        :item="item"
        :model="model"
        :points="own"
        :interim="s.kind === 'inspection'"
        :was="looked.get(item.id)?.found"
        @found="found"
        @leave="chosen = ''"
      />
      <section v-if="s.looked.length" class="mt-5" aria-label="Looked at, not signed">
        <h2>Looked at, not signed yet</h2>
        <ul>
          <li
            v-for="l in listed"
            :key="l.item"
            v-memo="[l, today()]"
            class="border-line flex flex-wrap items-center gap-x-3 border-t"
            :data-looked="l.item"
          >
            <span class="min-w-0 flex-1"
              >{{ l.label }}: {{ examinedWords(l.found)
              }}<b v-if="l.day !== today()" class="text-look">, ◆ on {{ l.day }}</b></span
            >
            <button type="button" class="quiet" @click="chosen = l.item">look again</button>
            <button
              type="button"
              class="quiet"
              :aria-label="`leave ${l.label} out`"
              @click="examining.leaveOut(l.item)"
            >
              leave out
            </button>
          </li>
        </ul>
        <button v-if="s.looked.length > few && !all" type="button" class="quiet -ml-2" data-all @click="all = true">
          all {{ s.looked.length }}
        </button>
      </section>
      <section v-if="s.recorded.length && !s.looked.length" class="mt-5" data-recorded>
        <h2>{{ s.recorded.length }} signed in this session</h2>
        <p v-if="!arrived" class="text-look">◆ On their way: the report is whole when they have arrived.</p>
        <p v-else class="-ml-2 flex flex-wrap gap-x-4">
          <a class="quiet" :href="report('pdf')" download>report, PDF</a>
          <a class="quiet" :href="report('csv')" download>report, CSV</a>
          <a v-if="s.stopped.length" class="quiet text-stop" :href="notice" download data-notice
            >■ notice of {{ s.stopped.length === 1 ? 'an urgent defect' : `${s.stopped.length} urgent defects` }},
            PDF</a
          >
        </p>
        <button type="button" class="plain min-h-12!" data-begin @click="examining.begin()">
          Begin another session
        </button>
      </section>
      <section class="mt-5" aria-label="Due">
        <div class="flex flex-wrap items-center gap-x-4">
          <h2>Due within 90 days</h2>
          <select
            v-for="n in narrowing"
            :key="n.name"
            v-model="only[n.name]"
            class="field w-auto max-w-full"
            :aria-label="n.name"
            :data-only="n.name"
          >
            <option value="">{{ n.words }}</option>
            <option v-for="v in n.values" :key="v" :value="v">{{ v.replaceAll('-', ' ') }}</option>
          </select>
        </div>
        <p v-if="due.isError.value" class="text-look">
          ◆ What is due could not be fetched: scan or type what is there.
        </p>
        <p v-else-if="due.data.value && !list.length" class="text-soft">Nothing is due there.</p>
        <ul>
          <li v-for="d in list" :key="d.item" v-memo="[d, stateOf(d.item)]" class="border-line border-t">
            <button
              type="button"
              class="flex min-h-12 w-full flex-wrap items-center gap-x-3 text-left"
              :data-due="d.item"
              @click="choose(items.get(d.item)!)"
            >
              <span class="flex-1">{{ d.label }}</span>
              <span v-if="stateOf(d.item)" class="font-semibold"
                >✓ {{ stateOf(d.item) === 'looked' ? 'looked at' : 'signed' }}</span
              >
              <span class="figure text-sm" :class="d.days < 0 ? 'text-stop font-semibold' : 'text-soft'">{{
                d.on ? `${d.days < 0 ? '■ overdue, ' : ''}${d.on}` : 'before first use'
              }}</span>
            </button>
          </li>
        </ul>
      </section>
      <div
        v-if="s.looked.length"
        class="border-line bg-ground fixed inset-x-0 bottom-0 z-10 border-t px-5 py-3"
        data-signing
      >
        <button
          type="button"
          class="strong mx-auto block! min-h-14! w-full max-w-3xl"
          data-sign
          @click="examining.sign()"
        >
          Sign {{ count(s.looked.length, 'result') }} as {{ session.name }}
        </button>
      </div>
    </template>
  </main>
</template>
