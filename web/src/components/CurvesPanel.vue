<script setup lang="ts">
// The figures at every height, beside the rail and to its scale. Moving over the
// panel, or the arrow keys, read all of them at one height; the worst height of
// each is marked and one press away.
import { useElementSize } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, useTemplateRef } from 'vue'
import type { Curve, Drop } from '@/api/client'
import { headroom, makeScale, padBottom, ticks } from '@/lib/rail'
import { show, toShown, unitOf } from '@/lib/units'
import { plainNumber } from '@/lib/words'
import { useCurves } from '@/stores/curves'
import { useDraft } from '@/stores/draft'

const props = defineProps<{ drop: Drop }>()

// The plotting library is fetched when the first plot is.
const CurvePlot = defineAsyncComponent(() => import('./CurvePlot.vue'))

const store = useCurves()
const draft = useDraft()
const area = ref<HTMLElement>()
const slider = useTemplateRef('slider')
const { height } = useElementSize(area, { width: 480, height: 640 })
const scale = computed(() => makeScale(props.drop, 290, height.value))
const choosing = ref(false)
const table = ref(false)
const axis = 44
const plotWidth = 118

const all = computed(() => store.curves?.curves ?? [])
const shown = computed(() => all.value.filter((c) => store.chosen.includes(c.id)))
const readHeight = computed(() => (store.reading === undefined ? undefined : store.heights?.[store.reading]))

const value = (c: Curve, line: number, i: number | undefined) =>
  i === undefined ? undefined : ((c.lines[line]?.values as (number | null)[])[i] ?? undefined)

function text(c: Curve, line: number, i: number | undefined): string {
  const v = value(c, line, i)
  return v === undefined ? '–' : plainNumber(Number(toShown(v, c.unit).toFixed(Math.abs(v) >= 100 ? 0 : 2)))
}

const worst = (c: Curve) => c.worst && store.heights?.[c.worst.index]
const metres = (h: number | undefined) => (h === undefined ? '' : show(h, 'm', 1))

const spoken = computed(
  () =>
    `at ${metres(readHeight.value)}: ` +
    shown.value.map((c) => `${c.name} ${text(c, 0, store.reading)} ${unitOf(c.unit)}`).join(', '),
)

function move(e: PointerEvent) {
  const box = area.value?.getBoundingClientRect()
  if (!box || e.clientY < box.top + headroom.value) return
  store.read(scale.value.height(e.clientY - box.top))
}

/** Whoever points at a height steps on from there by keys. */
function press(e: PointerEvent) {
  move(e)
  slider.value?.focus({ preventScroll: true })
}

function key(e: KeyboardEvent) {
  const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10, Home: -1e6, End: 1e6 }[e.key]
  if (by === undefined) return
  e.preventDefault()
  store.step(by)
}

/** Hangs the person at the height that is read: their kit then shows each working. */
function putHere() {
  const at = readHeight.value
  draft.edit((d) => {
    const p = d.people?.find((o) => o.id === store.curves?.person)
    if (p && at !== undefined) p.at_m = at
  })
  store.read(undefined)
}

function toggle(id: string) {
  store.chosen = store.chosen.includes(id) ? store.chosen.filter((c) => c !== id) : [...store.chosen, id]
}

/** Rows of the table: every tenth height, the one that is read, and each worst. */
const rows = computed(() => {
  const worsts = new Set(all.value.map((c) => c.worst?.index))
  return (store.heights ?? [])
    .map((h, i) => ({ h, i }))
    .filter(({ i }) => i % 10 === 0 || i === store.reading || worsts.has(i))
    .reverse()
})
</script>

<template>
  <section class="relative flex h-full flex-col" aria-label="Figures at every height">
    <div class="absolute top-0 right-0 left-0 z-10 flex min-h-11 items-center gap-1 pl-2">
      <span class="mr-auto truncate text-sm">
        <template v-if="store.curves?.name">
          {{ store.curves.name }} at <b class="figure">{{ metres(readHeight) }}</b>
        </template>
        <template v-else>Nobody hangs on this drop yet.</template>
      </span>
      <button v-if="store.at !== undefined" type="button" class="quiet no-print text-sm" @click="putHere">
        put them here
      </button>
      <button v-if="store.at !== undefined" type="button" class="quiet no-print text-sm" @click="store.read(undefined)">
        to the person
      </button>
      <button type="button" class="quiet no-print text-sm" :aria-pressed="table" @click="table = !table">
        {{ table ? 'as plots' : 'as a table' }}
      </button>
      <button type="button" class="quiet no-print text-sm" :aria-expanded="choosing" @click="choosing = !choosing">
        which
      </button>
    </div>
    <div
      v-if="choosing"
      class="border-soft bg-raised no-print absolute top-11 right-2 z-20 rounded-md border p-2 shadow-lg"
    >
      <button
        v-for="c in all"
        :key="c.id"
        type="button"
        class="flex min-h-11 w-full items-center gap-2 px-2 text-left"
        :aria-pressed="store.chosen.includes(c.id)"
        @click="toggle(c.id)"
      >
        <span class="w-4" aria-hidden="true">{{ store.chosen.includes(c.id) ? '✓' : '' }}</span> {{ c.name }}
      </button>
    </div>
    <div v-if="table" class="mt-11 overflow-auto px-2 pb-2">
      <table class="figure w-full text-right text-sm">
        <thead class="bg-ground sticky top-0">
          <tr class="align-bottom">
            <th scope="col" class="p-1 font-normal">height, {{ unitOf('m') }}</th>
            <template v-for="c in all" :key="c.id">
              <th v-for="l in c.lines" :key="l.name" scope="col" class="p-1 font-normal">
                {{ c.name }}{{ c.lines.length > 1 ? `, ${l.name}` : '' }}, {{ unitOf(c.unit) }}
              </th>
            </template>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.i" class="border-line border-t" :class="r.i === store.reading ? 'bg-rock' : ''">
            <th scope="row" class="p-1 font-semibold">{{ plainNumber(toShown(r.h, 'm')) }}</th>
            <template v-for="c in all" :key="c.id">
              <td
                v-for="(l, k) in c.lines"
                :key="l.name"
                class="p-1 whitespace-nowrap"
                :class="k === 0 && c.worst?.index === r.i ? (c.worst.beyond ? 'text-stop font-bold' : 'font-bold') : ''"
              >
                <span v-if="k === 0 && c.worst?.index === r.i">{{ c.worst.beyond ? '■ ' : '○ ' }}</span>{{
                  text(c, k, r.i)
                }}
              </td>
            </template>
          </tr>
        </tbody>
      </table>
      <p class="text-soft p-1 text-sm">○ worst height of a figure; ■ worst, and beyond its limit.</p>
    </div>
    <div
      v-else
      ref="area"
      class="relative min-h-0 flex-1 overflow-x-auto overflow-y-hidden"
      @pointermove="move"
      @pointerdown="press"
    >
      <div class="relative flex h-full" :style="{ width: `${axis + shown.length * plotWidth}px` }">
        <div
          ref="slider"
          class="shrink-0"
          role="slider"
          tabindex="0"
          aria-orientation="vertical"
          aria-label="Height at which figures are read"
          :aria-valuenow="readHeight ?? 0"
          aria-valuemin="0"
          :aria-valuemax="drop.geometry.top_m"
          :aria-valuetext="spoken"
          @keydown="key"
        >
          <svg :width="axis" :height="height" class="figure" aria-hidden="true" font-size="12" fill="var(--soft)">
            <template v-for="t in ticks(drop.geometry.top_m)" :key="t">
              <text :x="axis - 8" :y="scale.y(t) + 4" text-anchor="end">{{ plainNumber(toShown(t, 'm')) }}</text>
              <line :x1="axis - 5" :x2="axis" :y1="scale.y(t)" :y2="scale.y(t)" stroke="var(--soft)" />
            </template>
          </svg>
        </div>
        <div v-for="c in shown" :key="c.id" class="relative shrink-0" :data-curve="c.id">
          <button
            type="button"
            class="absolute top-11 right-0 left-0 z-10 px-1 text-left text-xs leading-tight"
            @click="store.read(worst(c))"
          >
            <span class="block truncate font-semibold">{{ c.name }}</span>
            <span class="figure block text-lg leading-6 font-semibold"
              >{{ text(c, 0, store.reading) }} <span class="text-xs font-normal">{{ unitOf(c.unit) }}</span></span
            >
            <span v-if="c.lines[1]" class="figure text-soft block truncate"
              >┄ {{ c.lines[1].name }} {{ text(c, 1, store.reading) }}</span
            >
            <span v-else-if="c.limit" class="figure text-soft block truncate"
              >┆ {{ c.limit.name }} {{ plainNumber(toShown(c.limit.value, c.unit)) }}</span
            >
            <span v-else class="block">&nbsp;</span>
            <span class="figure block truncate" :class="c.worst?.beyond ? 'text-stop font-bold' : 'text-soft'"
              >{{ c.worst?.beyond ? '■' : '○' }} {{ text(c, 0, c.worst?.index) }} at {{ metres(worst(c)) }}</span
            ><span class="sr-only">: to this worst height</span>
          </button>
          <CurvePlot
            v-if="store.heights && height > 200"
            :curve="c"
            :heights="store.heights"
            :top="scale.top"
            :above="headroom"
            :below="padBottom"
            :width="plotWidth"
            :height="height"
          />
        </div>
        <div
          v-if="readHeight !== undefined"
          class="bg-accent pointer-events-none absolute right-0 h-px"
          :style="{ top: `${scale.y(readHeight)}px`, left: `${axis - 6}px` }"
        />
      </div>
      <p v-if="!shown.length" class="text-soft p-4 text-sm">No curve chosen: “which” lists them.</p>
    </div>
  </section>
</template>
