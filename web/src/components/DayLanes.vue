<script setup lang="ts">
// The hours of a day: a lane for each drop and each person. A drop is dragged along its lane,
// or moved with the arrow keys; hours in which the weather stops it are hatched and say why.
import { computed, ref } from 'vue'
import type { Board, DayReport, Finding, Lane, PersonLane } from '@/api/client'
import { clock, minutes } from '@/lib/days'
import { show } from '@/lib/units'
import { shape } from '@/lib/words'

const props = defineProps<{ board: Board; report: DayReport; selected?: string; still: boolean }>()
const emit = defineEmits<{
  select: [drop: string]
  move: [drop: string, minute: number]
  seat: [drop: string, person: string, by: string]
}>()

/** When each drop is worked on, as the board says by now: what is found of it may be a moment behind. */
const lanes = computed(() =>
  props.report.lanes.map((l) => {
    const s = props.board.slots.find((o) => o.drop === l.drop)
    const from = s?.from ? minutes(s.from) : undefined
    return {
      ...l,
      span: s && from !== undefined ? { from_min: from, to_min: from + Math.round(60 * s.hours) } : undefined,
    }
  }),
)
const spans = computed(() => lanes.value.flatMap((l) => (l.span ? [l.span] : [])))
const first = computed(() => Math.floor(Math.min(6 * 60, ...spans.value.map((s) => s.from_min)) / 60) * 60)
const last = computed(() => Math.ceil(Math.max(18 * 60, ...spans.value.map((s) => s.to_min)) / 60) * 60)
const hours = computed(() =>
  Array.from({ length: (last.value - first.value) / 60 + 1 }, (_, i) => first.value + 60 * i),
)
const left = (minute: number) =>
  `${(100 * (Math.min(last.value, Math.max(first.value, minute)) - first.value)) / (last.value - first.value)}%`
const place = (s: { from_min: number; to_min: number }) => {
  const from = Math.min(last.value, Math.max(first.value, s.from_min))
  const to = Math.min(last.value, Math.max(first.value, s.to_min))
  return { left: left(from), width: `${(100 * (to - from)) / (last.value - first.value)}%` }
}
const wind = computed(() =>
  (props.board.wind ?? [])
    .map((w) => ({ ...w, from: Number(w.at.slice(0, 2)) * 60 + Number(w.at.slice(3)) }))
    .filter((w) => w.from >= first.value && w.from < last.value),
)
const found = (drop: string) => props.report.findings.filter((f) => f.subject.drop === drop || f.subject.id === drop)
const worst = (list: Finding[]) => list.find((f) => f.severity === 'stop') ?? list[0]
const twice = computed(
  () => new Set(props.report.findings.filter((f) => f.rule === 'day.twice').map((f) => f.subject.id)),
)

/** Whether somebody is elsewhere while a drop is worked on, and that is found. */
const torn = (drop: string, person: string) => {
  const spans = props.report.people.find((p) => p.person === person)?.spans ?? []
  const here = spans.find((s) => s.drop === drop)
  return (
    twice.value.has(person) &&
    here &&
    spans.some((s) => s !== here && s.from_min < here.to_min && here.from_min < s.to_min)
  )
}

const shutWords = (s: NonNullable<Lane['shut']>[number]) =>
  s.lightning ? 'lightning' : `${show(s.gust_m_s, 'm/s')}, limit ${show(s.limit_m_s, 'm/s')}`

/** How far into a stretch that is shut its words stand, so that the drop does not cover them. */
const beside = (l: Lane, s: { from_min: number; to_min: number }) => {
  const covers = l.span && l.span.from_min < s.from_min + 60 ? l.span.to_min - s.from_min : 0
  return `${(100 * Math.min(s.to_min - s.from_min, Math.max(0, covers))) / (s.to_min - s.from_min)}%`
}

/** Somebody's turns in rows, so that none lies on another. */
function rows(p: PersonLane) {
  const ends: number[] = []
  return p.spans.map((s) => {
    const free = ends.findIndex((e) => e <= s.from_min)
    const row = free < 0 ? ends.length : free
    ends[row] = s.to_min
    return { ...s, row }
  })
}
const rowCount = (p: PersonLane) => Math.max(...rows(p).map((s) => s.row)) + 1

const hoursWords = (l: Lane) => (l.span ? `${clock(l.span.from_min)} to ${clock(l.span.to_min)}` : 'no time yet')

/** Dragging: how far the pointer was from the beginning of the bar. */
const dragged = ref<{ drop: string; off: number }>()
function minuteAt(e: PointerEvent): number {
  const track = (e.currentTarget as HTMLElement).closest('[data-track]')!.getBoundingClientRect()
  return first.value + ((e.clientX - track.x) / track.width) * (last.value - first.value)
}
function grab(e: PointerEvent, l: Lane) {
  if (props.still || !l.span) return
  ;(e.currentTarget as HTMLElement).setPointerCapture(e.pointerId)
  dragged.value = { drop: l.drop, off: minuteAt(e) - l.span.from_min }
}
function drag(e: PointerEvent) {
  if (dragged.value) emit('move', dragged.value.drop, minuteAt(e) - dragged.value.off)
}
function step(e: KeyboardEvent, l: Lane) {
  const by = { ArrowLeft: -15, ArrowRight: 15 }[e.key]
  if (!by || !l.span || props.still) return
  e.preventDefault()
  emit('move', l.drop, l.span.from_min + by)
}

/** A person who is dragged onto another's place. */
function carry(e: DragEvent, person: string) {
  e.dataTransfer?.setData('text/plain', person)
}
function put(e: DragEvent, drop: string, person: string) {
  const by = e.dataTransfer?.getData('text/plain')
  if (by && by !== person) emit('seat', drop, person, by)
}
</script>

<template>
  <div class="overflow-x-auto">
    <div class="min-w-[36rem]">
      <div class="text-soft figure relative h-6 text-sm" aria-hidden="true">
        <span
          v-for="(h, n) in hours"
          :key="h"
          class="absolute"
          :class="n === 0 ? '' : n === hours.length - 1 ? '-translate-x-full' : '-translate-x-1/2'"
          :style="{ left: left(h) }"
          >{{ clock(h % 1440).slice(0, 2) }}</span
        >
      </div>
      <p v-if="!wind.length" class="text-look text-sm">◆ No wind is stated: it is not looked at.</p>
      <div
        v-else
        class="border-line relative h-7 border-b"
        role="img"
        :aria-label="`Gusts: ${wind.map((w) => `${w.at} ${w.gust_m_s ?? w.wind_m_s} m/s${w.lightning ? ', lightning' : ''}`).join('; ')}`"
      >
        <span v-for="w in wind" :key="w.at" class="figure absolute text-sm" :style="{ left: left(w.from) }">{{
          w.lightning ? '■ lightning' : (w.gust_m_s ?? w.wind_m_s)
        }}</span>
        <span class="text-soft bg-ground absolute right-0 pl-1 text-sm">gusts, m/s</span>
      </div>

      <section v-for="l in lanes" :key="l.drop" class="border-line border-b py-1" :data-lane="l.drop">
        <div class="sticky left-0 flex max-w-[calc(100vw-2.5rem)] flex-wrap items-center gap-x-3">
          <button
            type="button"
            class="quiet -ml-2 font-semibold"
            :aria-pressed="selected === l.drop"
            @click="emit('select', l.drop)"
          >
            {{ l.name }}
          </button>
          <span class="figure text-sm">{{ hoursWords(l) }}</span>
          <span
            v-for="s in l.seats"
            :key="s.person"
            class="inline-flex min-h-6 items-center text-sm"
            :class="torn(l.drop, s.person) ? 'text-stop font-semibold' : 'text-soft'"
            :draggable="!still"
            :data-seat="s.person"
            @dragstart="carry($event, s.person)"
            @dragover.prevent
            @drop.prevent="put($event, l.drop, s.person)"
            ><span v-if="torn(l.drop, s.person)" aria-hidden="true">■&nbsp;</span>{{ s.name }}, {{ s.task }}</span
          >
          <span
            v-if="worst(found(l.drop))"
            class="ml-auto text-sm"
            :class="worst(found(l.drop))!.severity === 'stop' ? 'text-stop font-semibold' : 'text-look'"
            >{{ shape[worst(found(l.drop))!.severity] }} {{ found(l.drop).length }}</span
          >
        </div>
        <div class="bg-rock relative h-12" data-track>
          <span
            v-for="h in hours"
            :key="h"
            class="border-line absolute inset-y-0 border-l"
            :style="{ left: left(h) }"
            aria-hidden="true"
          />
          <span
            v-for="s in l.shut ?? []"
            :key="`${s.from_min} ${s.why}`"
            class="shut text-stop absolute inset-y-0 overflow-hidden px-1 text-xs leading-tight"
            :style="place(s)"
            :title="s.why"
            data-shut
            ><span class="block" :style="{ marginLeft: beside(l, s) }">■ {{ shutWords(s) }}</span></span
          >
          <button
            v-if="l.span"
            type="button"
            class="absolute inset-y-0.5 touch-none overflow-hidden rounded border-2 px-2 text-left text-sm whitespace-nowrap"
            :class="[
              selected === l.drop ? 'border-accent' : 'border-ink',
              worst(found(l.drop))?.severity === 'stop' ? 'bg-ground' : 'bg-raised',
              still ? '' : 'cursor-grab',
            ]"
            :style="place(l.span)"
            :aria-label="`${l.name}, ${hoursWords(l)}${still ? '' : '; arrow keys move it by a quarter of an hour'}`"
            data-bar
            @pointerdown="grab($event, l)"
            @pointermove="drag"
            @pointerup="dragged = undefined"
            @pointercancel="dragged = undefined"
            @keydown="step($event, l)"
            @click="emit('select', l.drop)"
          >
            {{ l.name }}
          </button>
          <button
            v-else-if="!still"
            type="button"
            class="quiet absolute inset-y-1 left-1 text-sm"
            data-place
            @click="emit('move', l.drop, 480)"
          >
            give it 08:00
          </button>
        </div>
      </section>

      <h2 class="mt-5 text-base">People</h2>
      <div v-for="p in report.people" :key="p.person" class="border-line border-b py-1" :data-person="p.person">
        <span class="text-sm" :class="twice.has(p.person) ? 'text-stop font-semibold' : ''"
          ><span v-if="twice.has(p.person)" aria-hidden="true">■ </span>{{ p.name
          }}<span v-if="twice.has(p.person)"> — at two drops at once</span></span
        >
        <div class="bg-rock relative" :style="{ height: `${rowCount(p) * 2.1}rem` }">
          <span
            v-for="s in rows(p)"
            :key="s.drop + s.from_min"
            class="border-ink absolute h-7 truncate border px-1 text-xs leading-6"
            :class="s.task === 'on rope' ? 'bg-raised border-2' : 'border-dashed'"
            :style="{ ...place(s), top: `${s.row * 2.1 + 0.15}rem` }"
            :title="`${s.name}: ${s.task}, ${clock(s.from_min)} to ${clock(s.to_min)}`"
            >{{ s.name }}, {{ s.task }}</span
          >
        </div>
      </div>
      <p v-if="!report.people.length" class="text-soft">Nobody is on a drop that has its hours.</p>
    </div>
  </div>
</template>

<style scoped>
.shut {
  background: repeating-linear-gradient(
    135deg,
    transparent 0 6px,
    color-mix(in srgb, var(--stop) 25%, transparent) 6px 9px
  );
}
</style>
