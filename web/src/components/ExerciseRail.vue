<script setup lang="ts">
// The strands of an exercise to scale. Each thing on it can be pointed at; none of it says what
// is wrong.
import { computed, ref, shallowRef, watch } from 'vue'
import type { Drop, Report } from '@/api/client'
import { askHere } from '@/lib/core'
import { stretches, strandX, ticks } from '@/lib/rail'
import { labelled, tagged, type Thing } from '@/lib/practice'
import { show, toShown, unitOf } from '@/lib/units'
import { plainNumber } from '@/lib/words'

const props = defineProps<{
  drop: Drop
  points?: boolean
  chosen?: string
  person?: string
  atM?: number
  xM?: number
}>()
const emit = defineEmits<{ point: [thing: Thing] }>()

const width = 320
const height = 460
const top = computed(
  () => Math.max(props.drop.geometry.top_m, ...(props.drop.anchors ?? []).map((a) => a.height_m)) + 1,
)
const y = (m: number) => 24 + ((top.value - m) / top.value) * (height - 60)
const xs = computed(() => (props.drop.anchors ?? []).map((a) => a.x_m))
const middle = computed(() => (Math.min(0, ...xs.value) + Math.max(0, ...xs.value)) / 2)
const span = computed(() => Math.max(1, Math.max(0, ...xs.value) - Math.min(0, ...xs.value)))
const x = (m: number) => 112 + ((m - middle.value) / span.value) * 76
const metres = (m: number) => plainNumber(toShown(m, 'm'))

const anchors = computed(() => new Map((props.drop.anchors ?? []).map((a) => [a.id, a])))
/** Where each strand ends, as the core computes it; undefined while it is not known. */
const ends = shallowRef<Map<string, number>>()
const unknown = ref(false)
watch(
  () => props.drop,
  async (drop) => {
    ends.value = undefined
    const report = (await askHere<Report>('check', drop, { options: { figures: true } }).catch(() => undefined))?.answer
    if (drop !== props.drop) return
    unknown.value = !report?.strands
    ends.value = report?.strands && new Map(report.strands.map((f) => [f.strand, f.end_m]))
  },
  { immediate: true },
)
const strands = computed(() =>
  (ends.value ? (props.drop.strands ?? []) : []).map((s) => {
    const end = Math.max(0, ends.value?.get(s.id) ?? 0)
    const parts = stretches(s, anchors.value, end)
    const aside = s.role === 'main' ? -5 : 5
    const path = parts
      .map((p, i) =>
        i === 0
          ? `M${x(p.x) + aside} ${y(p.top)}V${y(p.bottom)}`
          : `Q${(x(p.fromX) + x(p.x)) / 2 + aside} ${y(p.top) + 16} ${x(p.x) + aside} ${y(p.top)}V${y(p.bottom)}`,
      )
      .join('')
    return { s, parts, path, aside, end, low: x(parts.at(-1)?.x ?? 0) + aside }
  }),
)
const ropes = (ids: string[]) =>
  ids
    .map((id) => {
      const i = props.drop.items?.find((o) => o.id === id)
      return `${labelled(props.drop, id)}, ${show(i?.length_m ?? 0, 'm')}${i?.measured_mm ? `, measures ${i.measured_mm} mm` : ''}${tagged(props.drop, id) ? `, ${tagged(props.drop, id)}` : ''}`
    })
    .join('; ')
const people = computed(() =>
  (props.drop.people ?? []).map((p) => {
    const on = strands.value.find((o) => o.s.id === p.holds?.[0]?.strand)
    const here = p.id === props.person && props.atM !== undefined
    const at = here ? props.atM! : p.at_m
    return { p, at, x: here && props.xM !== undefined ? x(props.xM) : on ? x(strandX(on.parts, at)) + on.aside : x(0) }
  }),
)

type Row = { thing: Thing; at: number; words: string }
/** Every thing that can be pointed at, in words, from the top down: the same as on the picture. */
const rows = computed<Row[]>(() => {
  const list: Row[] = []
  for (const a of props.drop.anchors ?? [])
    list.push({
      thing: { kind: 'anchor', id: a.id, label: a.name },
      at: a.height_m,
      words: `${a.name}: ${a.legs.map((l) => l.id).join(' and ')}${a.legs.length > 1 ? `, legs ${metres(Math.abs(a.legs[0]!.x_m - a.legs.at(-1)!.x_m))} apart over ${metres(Math.abs(a.legs[0]!.y_m))}` : ''}`,
    })
  for (const e of props.drop.geometry.edges ?? [])
    list.push({
      thing: { kind: 'edge', id: e.id, label: e.name },
      at: e.height_m,
      words: `${e.name}${e.sharp ? ', sharp' : ''}: ${e.protection === 'none' ? 'nothing between' : e.protection}`,
    })
  for (const s of props.drop.strands ?? []) {
    for (const m of s.marks ?? [])
      list.push({
        thing: { kind: 'mark', id: m.id, label: m.name || m.kind },
        at: m.height_m,
        words: `${m.name || m.kind} on ${s.name}`,
      })
    list.push({
      thing: { kind: 'strand', id: s.id, label: `${s.name} strand` },
      at: 0,
      words: `${s.name}: ${ropes(s.ropes)}; its end: ${s.end_stop === 'none' ? 'nothing tied' : s.end_stop}`,
    })
  }
  for (const p of people.value)
    list.push({
      thing: { kind: 'person', id: p.p.id, label: p.p.name },
      at: p.at,
      words: `${p.p.name}, ${show(p.p.mass_kg, 'kg')}`,
    })
  return list.sort((a, b) => b.at - a.at)
})
const colour = { main: 'var(--main)', backup: 'var(--backup)' } as Record<string, string>
</script>

<template>
  <div class="flex flex-wrap items-start gap-4">
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      class="w-64 max-w-full shrink-0"
      role="img"
      aria-label="The strands to scale"
    >
      <g class="figure" font-size="12" fill="var(--soft)">
        <template v-for="t in ticks(drop.geometry.top_m)" :key="t">
          <line x1="34" x2="42" :y1="y(t)" :y2="y(t)" stroke="var(--soft)" />
          <text x="30" :y="y(t) + 4" text-anchor="end">{{ metres(t) }}</text>
        </template>
        <text x="4" y="14">{{ unitOf('m') }}</text>
      </g>
      <path :d="`M42 ${y(drop.geometry.top_m)}H84`" stroke="var(--ink)" stroke-width="2" />
      <rect x="42" :y="y(0)" :width="width - 52" height="9" fill="var(--rock)" />
      <path :d="`M42 ${y(0)}H${width - 10}`" stroke="var(--ink)" stroke-width="2" />
      <text x="44" :y="y(0) + 24" font-size="13" font-weight="600" fill="var(--ink)">
        {{ drop.geometry.landing_name }}
      </text>
      <path
        v-for="e in drop.geometry.edges ?? []"
        :key="e.id"
        :d="`M50 ${y(e.height_m) + 6}v-6h30`"
        fill="none"
        stroke="var(--ink)"
        stroke-width="2"
      />
      <g v-for="o in strands" :key="o.s.id" fill="none" :stroke="colour[o.s.role]">
        <path :d="o.path" stroke-width="4" :stroke-dasharray="o.s.role === 'backup' ? '9 5' : undefined" />
        <path v-if="o.s.end_stop !== 'none'" :d="`M${o.low - 6} ${y(o.end) - 2}h12`" stroke-width="4" />
      </g>
      <path
        v-for="a in drop.anchors ?? []"
        :key="a.id"
        :d="`M${x(a.x_m) - 7} ${y(a.height_m) - 9}h14l-7 9z`"
        fill="var(--ink)"
      />
      <template v-for="o in strands" :key="o.s.id">
        <g v-for="m in o.s.marks ?? []" :key="m.id" :stroke="colour[o.s.role]" stroke-width="2.5">
          <circle
            v-if="m.kind === 'knot' || m.kind === 'join'"
            :cx="x(strandX(o.parts, m.height_m)) + o.aside"
            :cy="y(m.height_m)"
            r="5"
            :fill="colour[o.s.role]"
          />
          <path
            v-else-if="m.kind === 'damage'"
            :d="`M${x(strandX(o.parts, m.height_m)) + o.aside - 6} ${y(m.height_m) - 5}l4 4 -4 3 4 4`"
            fill="none"
            stroke="var(--ink)"
          />
        </g>
      </template>
      <g v-for="p in people" :key="p.p.id">
        <circle :cx="p.x" :cy="y(p.at)" r="11" fill="var(--accent)" stroke="var(--ground)" stroke-width="2" />
        <text :x="p.x + 16" :y="y(p.at) + 5" font-size="13" font-weight="600" class="figure" fill="var(--ink)">
          {{ metres(p.at) }}
        </text>
      </g>
    </svg>
    <p v-if="unknown" class="text-stop" role="alert">■ The strands could not be computed: take another exercise.</p>
    <ul
      v-if="points"
      class="divide-line border-line min-w-64 flex-1 divide-y border-y"
      aria-label="What is on the rig, from the top"
    >
      <li v-for="r in rows" :key="r.thing.kind + r.thing.id">
        <button
          type="button"
          class="flex min-h-12 w-full items-center gap-3 py-1 text-left"
          :class="chosen === r.thing.id ? 'bg-raised font-semibold' : ''"
          :aria-pressed="chosen === r.thing.id"
          :data-thing="r.thing.id"
          @click="emit('point', r.thing)"
        >
          <span class="figure text-soft w-12 shrink-0 text-right text-sm">{{ metres(r.at) }}</span>
          <span>{{ r.words }}</span>
        </button>
      </li>
    </ul>
  </div>
</template>
