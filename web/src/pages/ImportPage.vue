<script setup lang="ts">
// A table of items or people, as it is kept: tried first, row by row; then all of it is
// loaded, or the rows that are right.
import { useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, type ImportAnswer, type Problem } from '@/api/client'
import { useSession } from '@/stores/session'
import { count } from '@/lib/words'

const props = defineProps<{ kind: 'items' | 'people' | 'hours' }>()
const kinds = {
  models: 'models',
  items: 'items',
  events: 'what happened to items',
  examinations: 'examinations, from a paper',
  people: 'people',
  hours: 'hours on rope',
} as const
/** What the table is of: of the store one of three. */
const kind = ref<keyof typeof kinds>(props.kind)
const keeper = computed(() => props.kind === 'items')
watch(kind, () => {
  answer.value = undefined
  mapping.value = before()
  if (file.value) void ask(true)
})
const session = useSession()
const client = useQueryClient()
const file = shallowRef<File>()
const answer = shallowRef<ImportAnswer>()
const message = ref('')
const busy = ref(false)
const mapping = ref<Record<string, string>>({})
/** What a column was said to be before, by the kind of table and its header: on this device. */
const remembered = useLocalStorage<Record<string, string>>('columns', {})
const before = () =>
  Object.fromEntries(
    Object.entries(remembered.value)
      .filter(([k]) => k.startsWith(`${kind.value} `))
      .map(([k, field]) => [k.slice(kind.value.length + 1), field]),
  )
const dialect = ref<ImportAnswer['dialect']>({})

const workbook = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'
const may = computed(() => session.may({ items: 'put-gear', people: 'put-people', hours: 'record:hours' }[props.kind]))
const shape = { new: '+ new', changes: '→ changes', same: '= same', wrong: '■ wrong' } as const
const worst = { wrong: 0, changes: 1, new: 2, same: 3 } as const
const rank = (r: ImportAnswer['rows'][number]) => (r.stopped ? 0.5 : worst[r.state])
const rows = computed(() => [...(answer.value?.rows ?? [])].sort((a, b) => rank(a) - rank(b) || a.row - b.row))
const stopped = computed(() => rows.value.filter((r) => r.stopped).length)
const maxRows = 300
const wrong = computed(() => answer.value?.counts.wrong ?? 0)

async function ask(trial: boolean, onlyRight = false) {
  if (!file.value) return
  busy.value = true
  const query = {
    dry_run: trial,
    only_right: onlyRight,
    ...(Object.keys(mapping.value).length ? { mapping: JSON.stringify(mapping.value) } : {}),
    ...dialect.value,
  }
  const got = await api
    .POST('/api/v1/imports/{kind}', {
      params: { path: { kind: kind.value }, query },
      body: file.value as never,
      bodySerializer: (b: unknown) => b as File,
      headers: { 'Content-Type': file.value.name.toLowerCase().endsWith('.xlsx') ? workbook : 'text/csv' },
    })
    .catch(() => undefined)
  busy.value = false
  const problem = got?.error as Problem | undefined
  message.value = !got
    ? 'No connection: nothing was loaded.'
    : problem
      ? [problem.detail, ...(problem.errors ?? []).map((f) => f.detail)].join(': ')
      : ''
  if (!got?.data) return
  answer.value = got.data
  mapping.value = got.data.mapping
  const touched = { items: 'gear', people: 'people', hours: 'log' }[props.kind]
  if (got.data.written) await client.invalidateQueries({ queryKey: [touched] })
}

function choose(e: Event) {
  file.value = (e.target as HTMLInputElement).files?.[0]
  answer.value = undefined
  mapping.value = before()
  dialect.value = {}
  void ask(true)
}

function map(header: string, field: string) {
  remembered.value = { ...remembered.value, [`${kind.value} ${header}`]: field }
  mapping.value = { ...mapping.value, [header]: field }
  void ask(true)
}

function say(key: keyof ImportAnswer['dialect'], value: string) {
  dialect.value = { ...dialect.value, [key]: value }
  void ask(true)
}

const choices = {
  separator: ['comma', 'semicolon', 'tab'],
  decimal: ['point', 'comma'],
  dates: ['year-first', 'day-first', 'month-first'],
  encoding: ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'],
} as const
/** What is asked of how it is read: of a workbook the order of dates that are texts alone. */
const asked = computed(() => (answer.value?.dialect.sheet ? { dates: choices.dates } : choices))
</script>

<template>
  <main id="page" class="mx-auto max-w-5xl px-5 py-6">
    <RouterLink :to="{ items: '/store', people: '/people', hours: '/me' }[props.kind]" class="quiet -ml-2"
      >← {{ { items: 'Store', people: 'People', hours: 'back' }[props.kind] }}</RouterLink
    >
    <h1>Load a table of {{ kinds[kind] }}</h1>
    <label v-if="keeper" class="my-2 block max-w-80"
      >What the table is of
      <select v-model="kind" class="field" data-kind>
        <option v-for="k in ['items', 'models', 'events', 'examinations'] as const" :key="k" :value="k">
          {{ kinds[k] }}
        </option>
      </select>
    </label>
    <p class="text-soft max-w-prose">
      A CSV file or a workbook (XLSX) with any header, as your spreadsheet saves it. It is tried first: nothing is
      loaded before you say so. A column that is missing leaves its field; an empty cell empties it.
    </p>
    <p class="my-3 flex flex-wrap items-center gap-4">
      <label class="plain cursor-pointer">
        Choose a file
        <input
          type="file"
          accept=".csv,.txt,.tsv,.xlsx,text/csv"
          class="sr-only"
          data-file
          :disabled="!may"
          @change="choose"
        />
      </label>
      <a class="quiet" :href="`/api/v1/exports/${kind}.csv`" download>what is there, as CSV</a>
      <span v-if="!may" class="text-soft"
        >{{ { items: 'A store keeper', people: 'A supervisor', hours: 'Who works on rope' }[props.kind] }} loads
        tables.</span
      >
    </p>
    <p v-if="message" class="text-stop" role="alert">■ {{ message }}</p>
    <template v-if="answer">
      <p class="text-lg" data-counts>
        <b v-if="answer.written">Loaded: </b>
        <span class="figure"
          >{{ answer.counts.new }} new, {{ answer.counts.changes }} changed, {{ answer.counts.same }} the same</span
        ><b v-if="wrong" class="text-stop figure">, ■ {{ wrong }} wrong</b
        ><b v-if="stopped" class="text-stop figure" data-recalled
          >, ■ {{ stopped }} into quarantine by an event or a recall</b
        >
      </p>
      <p v-if="answer.plans?.length" class="border-look bg-raised my-2 rounded-md border-2 p-3" data-plans>
        <b class="text-look">◆</b> {{ answer.written ? 'Plans went' : 'Plans go' }} back to draft by this:
        {{ answer.plans.join(', ') }}.
      </p>
      <p v-if="!answer.written" class="my-3 flex flex-wrap gap-3">
        <button
          type="button"
          class="strong"
          :disabled="busy || wrong > 0 || answer.either_order"
          data-load
          @click="ask(false)"
        >
          Load {{ answer.rows.length === 1 ? 'the row' : `all ${answer.rows.length} rows` }}
        </button>
        <button
          v-if="wrong"
          type="button"
          class="plain"
          :disabled="busy || wrong === answer.rows.length || answer.either_order"
          data-load-right
          @click="ask(false, true)"
        >
          Load the {{ answer.rows.length - wrong }} that are right
        </button>
      </p>
      <p v-if="answer.either_order && !answer.written" class="text-look" data-either-order>
        ◆ Each date could be read with the day first or with the month first. Say which below: then the table loads.
      </p>
      <details class="my-3" :open="!answer.written">
        <summary class="cursor-pointer py-2 font-semibold">How it is read</summary>
        <div class="flex flex-wrap gap-4">
          <p v-if="answer.dialect.sheet" class="w-full">
            Sheet {{ answer.dialect.sheet }} of the workbook: numbers as they are kept, dates by their format.
          </p>
          <label v-for="(list, key) in asked" :key="key"
            >{{ key }}
            <select
              class="field"
              :value="key === 'dates' && answer.either_order ? '' : answer.dialect[key]"
              :data-dialect="key"
              @change="(e) => say(key, (e.target as HTMLSelectElement).value)"
            >
              <option v-if="key === 'dates' && answer.either_order" value="" disabled>choose</option>
              <option v-for="c in list" :key="c" :value="c">{{ c.replace('-', ' ') }}</option>
            </select>
          </label>
        </div>
        <ul class="mt-3 grid gap-2 sm:grid-cols-2 lg:grid-cols-3">
          <li v-for="(field, header) in answer.mapping" :key="header">
            <label
              >{{ header }}
              <select
                class="field"
                :value="field"
                :data-header="header"
                @change="(e) => map(String(header), (e.target as HTMLSelectElement).value)"
              >
                <option value="">not used</option>
                <option v-for="f in answer.fields" :key="f" :value="f">{{ f.replaceAll('_', ' ') }}</option>
              </select>
            </label>
          </li>
        </ul>
      </details>
      <ol class="divide-line border-line divide-y border-y" data-rows>
        <li
          v-for="r in rows.slice(0, maxRows)"
          :key="r.row"
          class="flex flex-wrap gap-x-4 py-1"
          :data-row-state="r.state"
        >
          <span class="figure text-soft w-20">row {{ r.row }}</span>
          <span class="w-28" :class="r.state === 'wrong' ? 'text-stop font-semibold' : ''">{{ shape[r.state] }}</span>
          <b class="min-w-32">{{ r.id }}</b>
          <span class="min-w-0 flex-1 basis-64">
            <span v-if="r.stopped" class="text-stop block"
              >■ {{ answer.written ? 'is' : 'goes' }} in{{ answer.written ? '' : 'to' }} quarantine:
              {{ r.stopped }}</span
            >
            <span v-for="e in r.errors" :key="e.field + e.detail" class="text-stop block"
              >{{ e.field.replaceAll('_', ' ') }}{{ e.field ? ': ' : '' }}{{ e.detail }}</span
            >
            <span v-for="c in r.changes" :key="c.field" class="block"
              >{{ c.field.replaceAll('_', ' ') }}: {{ c.from ?? '–' }} → {{ c.to ?? '–' }}</span
            >
          </span>
        </li>
      </ol>
      <p v-if="rows.length > maxRows" class="text-soft py-2">
        {{ count(rows.length - maxRows, 'row') }} more, none worse than these.
      </p>
    </template>
  </main>
</template>
