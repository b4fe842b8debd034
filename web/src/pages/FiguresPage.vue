<script setup lang="ts">
// Quick figures: one figure by itself, without a drop. What goes in is edited where it is
// read or slid, the answer comes from the core on this device, one input is swept as a curve,
// and the address holds it all.
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Fault, Working } from '@/api/client'
import { quickFigures } from '@/api/figures'
import type { components } from '@/api/schema'
import LiveChoice from '@/components/LiveChoice.vue'
import LiveNumber from '@/components/LiveNumber.vue'
import LiveText from '@/components/LiveText.vue'
import PictureView from '@/components/PictureView.vue'
import SweepPlot from '@/components/SweepPlot.vue'
import WorkingView from '@/components/WorkingView.vue'
import { askHere } from '@/lib/core'
import { leavesOf, nameOf, numbersOf, rangeOf, withValue, type Leaf } from '@/lib/quick'
import { show } from '@/lib/units'
import { count } from '@/lib/words'

const props = defineProps<{ name?: string }>()

type Band = { p5: number | null; p50: number | null; p95: number | null }
type Answer = { working?: Working[]; band?: Record<string, Band> }

const route = useRoute()
const router = useRouter()
const figure = computed(() => quickFigures.find((f) => f.name === props.name) ?? quickFigures[0]!)
const values = shallowRef<object>({})
const answer = shallowRef<Answer>()
const faults = shallowRef<Fault[]>([])
/** What could not be read of the address; the example stands in its place. */
const unread = ref(false)
/** An answer is on its way: what is shown is that of before. */
const busy = ref(false)
/** How far each input may be off, in parts of a hundred; 0: as it is. */
const off = ref(0)
const swept = ref('')
const drawn = ref('')
/** Undefined where an input is refused: the curve has a gap there. */
const curve = shallowRef<({ x: number; y: number } | undefined)[]>([])

const leaves = computed(() => leavesOf(figure.value, values.value))
const numeric = computed(() => leaves.value.filter((l) => typeof l.value === 'number'))
const outputs = computed(() => (answer.value ? numbersOf(figure.value, answer.value) : []))
/** What is read first, and the rest: entries of lists that are long. */
const few = computed(() => outputs.value.filter((o) => !/\.\d+\./.test(o.key) || outputs.value.length <= 12))
const rest = computed(() => outputs.value.filter((o) => !few.value.includes(o)))
const main = computed(
  () =>
    outputs.value.find((o) => o.key === drawn.value) ??
    few.value.find((o) => o.field?.unit === 'kN') ??
    outputs.value[0],
)
const along = computed(() => numeric.value.find((l) => l.path.join('.') === swept.value) ?? numeric.value[0])
/** Inputs that may be added. */
const absent = computed(() =>
  figure.value.in.filter((f) => !f.path.includes('.') && !(f.path in values.value) && f.kind !== 'text'),
)

/** What the address holds, else the example. */
function begin() {
  answer.value = undefined
  unread.value = false
  values.value = structuredClone(figure.value.example)
  const text = route.query.in
  if (typeof text !== 'string') return
  try {
    const told: unknown = JSON.parse(text)
    if (told && typeof told === 'object' && !Array.isArray(told)) values.value = told
  } catch {
    unread.value = true
  }
}
watch(() => props.name, begin, { immediate: true })

/** From where to where each input is slid: it stays while it is slid, and grows where a value is beyond it. */
const ranges = new Map<string, [number, number]>()
watch(figure, () => ranges.clear())
function rangeFor(l: Leaf): [number, number] {
  const key = l.path.join('.')
  const value = l.value as number
  const kept = ranges.get(key)
  if (kept && value >= kept[0] && value <= kept[1]) return kept
  const range = rangeOf(l.field, value)
  ranges.set(key, range)
  return range
}

const write = useDebounceFn(() => {
  void router.replace({ params: { name: figure.value.name }, query: { in: JSON.stringify(values.value) } })
}, 400)

function set(l: Leaf, value: unknown) {
  values.value = withValue(values.value, l.path, value)
  void write()
}

function add(path: string) {
  const f = figure.value.in.find((i) => i.path === path)
  if (!f) return
  const start = f.kind === 'yes' ? true : (f.choices?.[0] ?? Math.max(f.min ?? 0, 1))
  values.value = { ...values.value, [path]: start }
  void write()
}

function remove(l: Leaf) {
  const copy = structuredClone(values.value) as Record<string, unknown>
  delete copy[l.path[0]!]
  values.value = copy
  void write()
}

/** Inputs of a list's entry are added and taken away together. */
const lists = computed(() =>
  Object.entries(values.value).filter((e): e is [string, unknown[]] => Array.isArray(e[1]) && e[1].length > 0),
)
function resize(key: string, list: unknown[], more: boolean) {
  const last = structuredClone(list.at(-1))
  if (last && typeof last === 'object' && 'id' in last) last.id = `${String(last.id)}-${list.length + 1}`
  values.value = { ...values.value, [key]: more ? [...list, last] : list.slice(0, -1) }
  void write()
}

/** What the range is over: inputs within others, and those that are 0, are taken as they are. */
const varied = computed(() =>
  numeric.value.filter((l) => l.path.length === 1 && l.value !== 0 && l.field.kind === 'number'),
)
const spread = computed(() => {
  if (!off.value) return undefined
  return Object.fromEntries(
    varied.value.map((l) => [l.path[0], { plus_minus: Math.abs((l.value as number) * off.value) / 100 }]),
  )
})

let last = 0
watch(
  [figure, values, spread],
  async () => {
    const mine = ++last
    busy.value = true
    const asked = { ...values.value, working: true, ...(spread.value ? { spread: spread.value, samples: 1000 } : {}) }
    try {
      const here = await askHere<Answer>(`calc-${figure.value.name}`, asked)
      if (mine !== last) return
      busy.value = false
      // An answer of before does not stand beside what was refused.
      answer.value = here.answer
      faults.value = here.errors ?? []
    } catch (e) {
      if (mine !== last) return
      busy.value = false
      answer.value = undefined
      faults.value = [{ pointer: '', detail: e instanceof Error ? e.message : String(e) }]
    }
  },
  { immediate: true },
)

/** The thing with its values; that of before does not stand beside what is asked now. */
const picture = shallowRef<components['schemas']['Drawing']>()
let drawing = 0
watch(
  answer,
  async () => {
    const mine = ++drawing
    picture.value = undefined
    if (!answer.value) return
    const asked = { figure: figure.value.name, in: JSON.stringify(values.value) }
    const here = await askHere<components['schemas']['Drawing']>('figure-picture', asked).catch(() => undefined)
    if (mine === drawing) picture.value = here?.answer
  },
  { immediate: true },
)

const steps = 40
let sweep = 0
watch(
  [answer, along, () => main.value?.key],
  async () => {
    const mine = ++sweep
    const l = along.value
    const key = main.value?.key
    if (!l || !key || !answer.value) {
      curve.value = []
      return
    }
    const [low, high] = rangeFor(l)
    const places = Array.from({ length: steps + 1 }, (_, i) => low + ((high - low) * i) / steps)
    const points = await Promise.all(
      places.map(async (x) => {
        const here = await askHere<Answer>(
          `calc-${figure.value.name}`,
          withValue(values.value, l.path, l.field.kind === 'whole' ? Math.round(x) : x),
        )
        const y = here.answer && numbersOf(figure.value, here.answer).find((o) => o.key === key)?.value
        return y === undefined ? undefined : { x, y }
      }),
    ).catch(() => [])
    if (mine === sweep) curve.value = points
  },
  { immediate: true },
)

const said = (f: Fault) => (f.pointer ? `${nameOf(f.pointer.slice(1).replaceAll('/', '.'))}: ${f.detail}` : f.detail)
const stepOf = (l: Leaf) =>
  l.field.kind === 'whole' ? 1 : Math.abs(l.value as number) >= 20 ? 1 : Math.abs(l.value as number) >= 2 ? 0.1 : 0.01
const bandOf = (key: string) => answer.value?.band?.[key]
</script>

<template>
  <main id="page" class="mx-auto max-w-5xl p-4">
    <h1>Quick figures</h1>
    <p class="text-soft">One figure by itself, without a drop. The address holds what goes in: send it to somebody.</p>
    <nav class="mt-3 flex flex-wrap gap-2" aria-label="Figures">
      <RouterLink
        v-for="f in quickFigures"
        :key="f.name"
        :to="{ name: 'figures', params: { name: f.name } }"
        class="plain"
        :class="f.name === figure.name ? 'border-accent! border-2! font-semibold' : ''"
        :aria-current="f.name === figure.name ? 'page' : undefined"
        >{{ f.name }}</RouterLink
      >
    </nav>
    <h2 class="mt-5 first-letter:uppercase">{{ figure.does }}</h2>
    <div class="mt-2 grid gap-8 lg:grid-cols-2">
      <section aria-label="What goes in">
        <ul class="divide-line border-line divide-y border-y">
          <li v-for="l in leaves" :key="l.path.join('.')" class="py-2" :data-in="l.path.join('.')">
            <div class="flex flex-wrap items-baseline gap-x-2">
              <span class="first-letter:uppercase">{{ l.label }}</span>
              <LiveNumber
                v-if="typeof l.value === 'number'"
                :value="l.value"
                :unit="l.field.unit ?? ''"
                :label="l.label"
                :step="stepOf(l)"
                :min="l.field.min"
                :max="l.field.max"
                @set="(v) => set(l, v)"
              />
              <LiveChoice
                v-else-if="l.field.choices"
                :value="String(l.value)"
                :options="l.field.choices.map((c) => ({ value: c, words: c.replaceAll('-', ' ') }))"
                :label="l.label"
                @set="(v) => set(l, v)"
              />
              <LiveText
                v-else-if="typeof l.value === 'string'"
                :value="l.value"
                :label="l.label"
                @set="(v) => set(l, v)"
              />
              <LiveChoice
                v-else
                :value="Boolean(l.value)"
                :options="[
                  { value: true, words: 'yes' },
                  { value: false, words: 'no' },
                ]"
                :label="l.label"
                @set="(v) => set(l, v)"
              />
              <button
                v-if="l.path.length === 1 && !l.field.needed"
                type="button"
                class="quiet text-sm"
                @click="remove(l)"
              >
                leave out
              </button>
            </div>
            <p v-if="l.field.doc" class="text-soft text-sm">{{ l.field.doc }}</p>
            <input
              v-if="typeof l.value === 'number'"
              type="range"
              class="accent-accent h-11 w-full"
              :aria-label="`Slide ${l.label}`"
              :min="rangeFor(l)[0]"
              :max="rangeFor(l)[1]"
              :step="stepOf(l)"
              :value="l.value"
              @input="set(l, Number(($event.target as HTMLInputElement).value))"
            />
          </li>
        </ul>
        <div class="flex flex-wrap items-center gap-x-4">
          <template v-for="[key, list] in lists" :key="key">
            <button type="button" class="quiet text-sm" :data-more="key" @click="resize(key, list, true)">
              one more of {{ nameOf(key) }}
            </button>
            <button v-if="list.length > 1" type="button" class="quiet text-sm" @click="resize(key, list, false)">
              take the last of {{ nameOf(key) }} away
            </button>
          </template>
          <label v-if="absent.length" class="flex min-h-11 items-center gap-2 text-sm">
            add
            <select class="field" data-add @change="add(($event.target as HTMLSelectElement).value)">
              <option value=""></option>
              <option v-for="f in absent" :key="f.path" :value="f.path">{{ nameOf(f.path) }}</option>
            </select>
          </label>
        </div>
      </section>
      <section aria-label="What comes out">
        <p v-if="unread" class="text-look" role="status" data-unread>
          ◆ The address could not be read. This is the example.
        </p>
        <ul v-if="faults.length" role="alert" data-faults>
          <li v-for="f in faults" :key="f.pointer + f.detail" class="text-stop">■ {{ said(f) }}</li>
        </ul>
        <PictureView
          v-if="picture"
          :drawing="picture"
          :class="picture.height > 300 ? 'h-[28rem]' : 'h-56'"
          class="mx-auto max-w-full"
        />
        <template v-if="answer">
          <ul
            class="divide-line border-line divide-y border-y transition-opacity delay-300"
            :class="busy ? 'opacity-40' : ''"
            :aria-busy="busy"
            data-out
          >
            <li v-for="o in few" :key="o.key" class="flex flex-wrap items-baseline gap-x-3 py-2">
              <span class="min-w-40 first-letter:uppercase">{{ o.label }}</span>
              <b class="figure text-lg" :data-value="o.key">{{ show(o.value, o.field?.unit ?? '') }}</b>
              <span v-if="bandOf(o.key)" class="text-soft text-sm" data-band>
                {{ show(bandOf(o.key)?.p5 ?? 0, o.field?.unit ?? '') }} to
                {{ show(bandOf(o.key)?.p95 ?? 0, o.field?.unit ?? '') }} in 9 of 10
              </span>
              <span v-if="o.field?.doc" class="text-soft w-full text-sm">{{ o.field.doc }}</span>
            </li>
          </ul>
          <label class="mt-3 flex min-h-11 flex-wrap items-center gap-2">
            if {{ varied.map((l) => l.label).join(', ') || 'nothing of it' }} may each be off by
            <select v-model.number="off" class="field w-auto!" data-off>
              <option :value="0">nothing</option>
              <option :value="5">5 %</option>
              <option :value="10">10 %</option>
              <option :value="20">20 %</option>
            </select>
          </label>
          <template v-if="along && main">
            <div class="mt-3 flex flex-wrap items-center gap-2">
              <label class="flex min-h-11 items-center gap-2"
                >curve of
                <select
                  class="field w-auto!"
                  :value="main.key"
                  data-drawn
                  @change="drawn = ($event.target as HTMLSelectElement).value"
                >
                  <option v-for="o in outputs" :key="o.key" :value="o.key">{{ o.label }}</option>
                </select></label
              >
              <label class="flex min-h-11 items-center gap-2"
                >over
                <select
                  class="field w-auto!"
                  :value="along.path.join('.')"
                  data-swept
                  @change="swept = ($event.target as HTMLSelectElement).value"
                >
                  <option v-for="l in numeric" :key="l.path.join('.')" :value="l.path.join('.')">{{ l.label }}</option>
                </select></label
              >
            </div>
            <SweepPlot
              :points="curve"
              :now="{ x: along.value as number, y: main.value }"
              :x-unit="along.field.unit ?? ''"
              :y-unit="main.field?.unit ?? ''"
              :x-name="along.label"
              :y-name="main.label"
            />
          </template>
          <details v-if="rest.length" class="mt-3" data-rest>
            <summary class="quiet -ml-2">every part: {{ count(rest.length, 'figure') }}</summary>
            <ul class="columns-2 text-sm">
              <li v-for="o in rest" :key="o.key">
                {{ o.label }} <b class="figure">{{ show(o.value, o.field?.unit ?? '') }}</b>
              </li>
            </ul>
          </details>
          <details v-if="answer.working?.length" class="mt-3">
            <summary class="quiet -ml-2">working</summary>
            <WorkingView :working="answer.working" />
          </details>
        </template>
        <p v-else-if="!faults.length" class="text-soft" role="status">Computing on this device.</p>
        <p class="text-soft mt-4 text-sm">
          For trained people. Each figure is a model with stated limits; its working says which way it errs.
        </p>
      </section>
    </div>
    <p v-if="main" class="bg-ground border-line sticky bottom-0 z-10 border-t py-2 lg:hidden" aria-hidden="true">
      {{ main.label }} <b class="figure text-lg">{{ show(main.value, main.field?.unit ?? '') }}</b>
    </p>
  </main>
</template>
