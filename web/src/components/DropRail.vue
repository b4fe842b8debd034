<script setup lang="ts">
// The rail: the real strands to scale, and the way through the drop. Choose a
// mark and you are at its strand; choose a person and you are at their kit; drag
// a person to another height.
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Drop, Finding, Mark } from '@/api/client'
import { labelWidth, makeScale, spread, stretches, strandX, ticks } from '@/lib/rail'
import { show, toShown, unitOf } from '@/lib/units'
import { plainNumber, shape, worst } from '@/lib/words'
import { useCurves } from '@/stores/curves'
import { useDraft } from '@/stores/draft'
import { useMoving } from '@/stores/moving'

const props = defineProps<{ drop: Drop }>()

const draft = useDraft()
const moving = useMoving()
const router = useRouter()
const curves = useCurves()
const readAt = computed(() =>
  curves.open && curves.reading !== undefined ? curves.heights?.[curves.reading] : undefined,
)
const metres = (m: number) => plainNumber(toShown(m, 'm'))
const box = ref<HTMLElement>()
const { width, height } = useElementSize(box, { width: 280, height: 640 })
const scale = computed(() => makeScale(props.drop, width.value, height.value))
const labelGap = 15

const anchors = computed(() => new Map((props.drop.anchors ?? []).map((a) => [a.id, a])))
const strands = computed(() =>
  (props.drop.strands ?? []).map((s) => {
    const end = draft.report?.strands?.find((f) => f.strand === s.id)?.end_m ?? 0
    const parts = stretches(s, anchors.value, end)
    return { strand: s, end, parts, points: path(parts, beside(s.role)) }
  }),
)

/** Main and backup are drawn a little apart, so that both are seen on one anchor. */
function beside(role: string): number {
  return role === 'main' ? -5 : 5
}

/** The line of a strand: straight down each stretch, across at each re-belay. */
function path(parts: ReturnType<typeof stretches>, aside: number): string {
  const { y } = scale.value
  const x = (metres: number) => scale.value.x(metres) + aside
  return parts
    .map((p, i) =>
      i === 0
        ? `M${x(p.x)} ${y(p.top)}V${y(p.bottom)}`
        : `Q${(x(p.fromX) + x(p.x)) / 2} ${y(p.top) + 16} ${x(p.x)} ${y(p.top)}V${y(p.bottom)}`,
    )
    .join('')
}

type Sign = { key: string; x: number; y: number; mark: Mark; strand: string; role: string; worst?: Finding['severity'] }
const signs = computed<Sign[]>(() =>
  strands.value.flatMap(({ strand, parts }) =>
    (strand.marks ?? []).map((mark) => ({
      key: `${strand.id}/${mark.id}`,
      x:
        beside(strand.role) +
        scale.value.x(
          mark.kind === 're-belay' ? (anchors.value.get(mark.anchor ?? '')?.x_m ?? 0) : strandX(parts, mark.height_m),
        ),
      y: scale.value.y(mark.height_m),
      mark,
      strand: strand.id,
      role: strand.role,
      worst: worst(draft.about(`mark:${strand.id}:${mark.id}`)),
    })),
  ),
)

type Label = { key: string; y: number; at: number; text: string; go: () => void; bad?: Finding['severity'] }
/** How far names stand apart where there is room, and how high a press may be: for gloves. */
const roomy = 32
const press = 44
const labels = computed<Label[]>(() => {
  const { y } = scale.value
  const seen = new Map<string, Label>()
  for (const s of signs.value) {
    const text = `${metres(s.mark.height_m)} ${s.mark.name || s.mark.kind}`
    seen.set(text, {
      key: s.key,
      y: s.y,
      at: s.y,
      text,
      go: () => toMark(s),
      bad: s.worst ?? seen.get(text)?.bad,
    })
  }
  for (const e of props.drop.geometry.edges ?? [])
    seen.set('e' + e.id, {
      key: 'e' + e.id,
      y: y(e.height_m),
      at: y(e.height_m),
      text: `${metres(e.height_m)} ${e.name}`,
      go: () => goTo('lie'),
    })
  for (const l of props.drop.geometry.ledges ?? [])
    seen.set('l' + l.id, {
      key: 'l' + l.id,
      y: y(l.height_m),
      at: y(l.height_m),
      text: `${metres(l.height_m)} ${l.name}`,
      go: () => goTo('lie'),
    })
  const list = [...seen.values()]
  const from = scale.value.y(props.drop.geometry.top_m) + labelGap
  const to = height.value - 46
  const gap = Math.max(labelGap, Math.min(roomy, (to - from) / list.length))
  const ys = spread(
    list.map((l) => l.at),
    gap,
    from,
    to,
  )
  return list.map((l, i) => ({ ...l, y: ys[i] ?? l.at }))
})
/** Half of what is pressed for a name: as far as the next one leaves it. */
const reach = (l: Label) =>
  Math.min(press / 2, ...labels.value.filter((o) => o.key !== l.key).map((o) => Math.abs(o.y - l.y) / 2))

const people = computed(() =>
  (props.drop.people ?? []).map(moving.seen).map((p, i) => {
    const hold = p.holds?.[0]
    const on = strands.value.find((s) => s.strand.id === hold?.strand)
    return {
      person: p,
      index: i,
      x:
        moving.who === p.id && moving.x !== undefined
          ? scale.value.x(moving.x)
          : on
            ? scale.value.x(strandX(on.parts, p.at_m)) + beside(on.strand.role)
            : scale.value.x(0),
      y: scale.value.y(p.at_m),
      worst: worst(draft.findings.filter((f) => f.subject.person === p.id)),
    }
  }),
)

/** A mark leads to its strand, or among the moves to the one that passes it. */
function toMark(s: Sign) {
  if (router.currentRoute.value.name === 'moves') moving.toPass = { kind: s.mark.kind, height: s.mark.height_m }
  else goTo(`strand-${s.strand}`)
}

function goTo(id: string) {
  void router.push({ name: 'drop', params: { id: draft.id }, hash: `#${id}` })
}

function toKit(person: string) {
  void router.push({ name: 'kit', params: { id: draft.id, who: person } })
}

const snap = 0.1
let grabbed: { index: number; moved: boolean } | undefined

function grab(index: number, e: PointerEvent) {
  grabbed = { index, moved: false }
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
}

function drag(e: PointerEvent) {
  if (!grabbed || !box.value) return
  const h = scale.value.height(e.clientY - box.value.getBoundingClientRect().top)
  const at = Math.min(props.drop.geometry.top_m, Math.max(0, Math.round(h / snap) * snap))
  setHeight(grabbed.index, at, grabbed.moved)
  grabbed.moved = true
}

function drop_(person: string) {
  if (grabbed && !grabbed.moved) toKit(person)
  grabbed = undefined
}

function setHeight(index: number, at: number, dragging = false) {
  const change = (d: Drop) => {
    const p = d.people?.[index]
    if (p) p.at_m = Number(at.toFixed(2))
  }
  draft.edit(change, dragging)
}

function stepHeight(index: number, by: number) {
  const p = props.drop.people?.[index]
  if (p) setHeight(index, Math.min(props.drop.geometry.top_m, Math.max(0, p.at_m + by)))
}

const colour = { main: 'var(--main)', backup: 'var(--backup)' } as Record<string, string>
const severityInk = { stop: 'var(--stop)', look: 'var(--look)', note: 'var(--note)' }
</script>

<template>
  <div ref="box" class="relative h-full w-full overflow-hidden">
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      :width="width"
      :height="height"
      class="absolute inset-0 select-none"
      role="group"
      :aria-label="`The drop to scale, ${show(drop.geometry.top_m, 'm')} from ${drop.geometry.top_name} to ${drop.geometry.landing_name}`"
    >
      <g class="figure" font-size="12" fill="var(--soft)">
        <template v-for="t in ticks(drop.geometry.top_m)" :key="t">
          <line :x1="36" :x2="44" :y1="scale.y(t)" :y2="scale.y(t)" stroke="var(--soft)" />
          <text :x="32" :y="scale.y(t) + 4" text-anchor="end">{{ metres(t) }}</text>
        </template>
        <line :x1="44" :x2="44" :y1="scale.y(drop.geometry.top_m)" :y2="scale.y(0)" stroke="var(--soft)" />
        <text x="6" :y="scale.y(scale.top) - 14">{{ unitOf('m') }}</text>
      </g>
      <!-- the top and the landing -->
      <path
        :d="`M44 ${scale.y(drop.geometry.top_m)}H${width - labelWidth + 20}`"
        stroke="var(--ink)"
        stroke-width="2"
      />
      <text
        :x="width - 6"
        :y="scale.y(drop.geometry.top_m) + 4"
        text-anchor="end"
        font-size="13"
        fill="var(--ink)"
        font-weight="600"
      >
        {{ drop.geometry.top_name }}
      </text>
      <rect x="44" :y="scale.y(0)" :width="width - 50" height="10" fill="var(--rock)" />
      <path :d="`M44 ${scale.y(0)}H${width - 6}`" stroke="var(--ink)" stroke-width="2" />
      <text x="48" :y="scale.y(0) + 26" font-size="13" fill="var(--ink)" font-weight="600">
        {{ drop.geometry.landing_name }}
      </text>
      <text
        v-if="drop.geometry.offset_m"
        :x="width - 6"
        :y="scale.y(0) + 26"
        text-anchor="end"
        font-size="12"
        fill="var(--soft)"
      >
        {{ show(drop.geometry.offset_m, 'm') }} out →
      </text>
      <!-- ledges and edges -->
      <g stroke="var(--ink)">
        <path
          v-for="l in drop.geometry.ledges ?? []"
          :key="l.id"
          :d="`M52 ${scale.y(l.height_m)}h34v6h-34z`"
          fill="var(--rock)"
        />
        <path
          v-for="e in drop.geometry.edges ?? []"
          :key="e.id"
          :d="`M52 ${scale.y(e.height_m) + 6}v-6h34`"
          fill="none"
          stroke-width="2"
          :stroke="e.protection === 'none' ? 'var(--stop)' : 'var(--ink)'"
        />
      </g>
      <!-- strands: the main is a full line, the backup a broken one -->
      <g v-for="s in strands" :key="s.strand.id" fill="none" :stroke="colour[s.strand.role]">
        <path :d="s.points" :stroke-width="4" :stroke-dasharray="s.strand.role === 'backup' ? '9 5' : undefined" />
        <template v-if="s.parts.length">
          <path
            v-if="s.strand.end_stop !== 'none'"
            :d="`M${scale.x(s.parts.at(-1)!.x) + beside(s.strand.role) - 6} ${scale.y(Math.max(s.end, 0)) - 2}h12`"
            stroke-width="4"
          />
          <path
            v-else-if="s.end > 0"
            :d="`M${scale.x(s.parts.at(-1)!.x) + beside(s.strand.role) - 5} ${scale.y(s.end) - 5}l10 10m0 -10l-10 10`"
            stroke="var(--stop)"
            stroke-width="2"
          />
        </template>
      </g>
      <!-- anchors -->
      <g v-for="a in drop.anchors ?? []" :key="a.id">
        <path
          :d="`M${scale.x(a.x_m) - 7} ${scale.y(a.height_m) - 9}h14l-7 9z`"
          :fill="
            draft.about(`anchor:${a.id}`).length ? severityInk[worst(draft.about(`anchor:${a.id}`))!] : 'var(--ink)'
          "
        />
      </g>
      <!-- marks -->
      <g v-for="s in signs" :key="s.key" :stroke="colour[s.role]" fill="var(--ground)" stroke-width="2.5">
        <circle v-if="s.mark.kind === 'knot'" :cx="s.x" :cy="s.y" r="5" :fill="colour[s.role]" />
        <template v-else-if="s.mark.kind === 'join'">
          <circle :cx="s.x" :cy="s.y - 4" r="4" :fill="colour[s.role]" />
          <circle :cx="s.x" :cy="s.y + 4" r="4" :fill="colour[s.role]" />
        </template>
        <path v-else-if="s.mark.kind === 'deviation'" :d="`M${s.x - 8} ${s.y}h16`" />
        <path
          v-else-if="s.mark.kind === 'damage'"
          :d="`M${s.x - 6} ${s.y - 5}l4 4 -4 3 4 4M${s.x + 6} ${s.y - 5}l-4 4 4 3 -4 4`"
          fill="none"
          stroke="var(--stop)"
        />
      </g>
      <!-- names of what is there -->
      <g font-size="12.5">
        <g
          v-for="l in labels"
          :key="l.key"
          role="link"
          tabindex="0"
          class="cursor-pointer"
          @click="l.go()"
          @keydown.enter="l.go()"
        >
          <rect
            :x="width - labelWidth - 8"
            :y="l.y - reach(l)"
            :width="labelWidth + 8"
            :height="2 * reach(l)"
            fill="transparent"
          />
          <path :d="`M${width - labelWidth - 8} ${l.at}L${width - labelWidth + 2} ${l.y}`" stroke="var(--soft)" />
          <rect
            :x="width - labelWidth + 4"
            :y="l.y - 8"
            :width="labelWidth - 4"
            height="16"
            fill="var(--ground)"
            fill-opacity="0.85"
          />
          <text :x="width - labelWidth + 6" :y="l.y + 4" fill="var(--ink)">
            <tspan v-if="l.bad" :fill="severityInk[l.bad]" font-weight="700">{{ shape[l.bad] }}</tspan>
            {{ l.text }}
          </text>
        </g>
      </g>
      <!-- the height that is read beside the rail -->
      <path v-if="readAt !== undefined" :d="`M40 ${scale.y(readAt)}H${width}`" stroke="var(--accent)" />
      <!-- people -->
      <g
        v-for="p in people"
        :key="p.person.id"
        role="slider"
        tabindex="0"
        class="cursor-ns-resize"
        :aria-label="`${p.person.name}, height. Enter opens their kit`"
        :aria-valuenow="p.person.at_m"
        aria-valuemin="0"
        :aria-valuemax="drop.geometry.top_m"
        :aria-valuetext="`${show(p.person.at_m, 'm')}${p.worst ? ', ' + p.worst : ''}`"
        @pointerdown="grab(p.index, $event)"
        @pointermove="drag"
        @pointerup="drop_(p.person.id)"
        @pointercancel="grabbed = undefined"
        @keydown.up.prevent="stepHeight(p.index, 0.5)"
        @keydown.down.prevent="stepHeight(p.index, -0.5)"
        @keydown.enter="toKit(p.person.id)"
      >
        <rect :x="p.x - 22" :y="p.y - 22" width="110" height="44" fill="transparent" />
        <g
          v-if="moving.who === p.person.id && moving.fallen !== undefined"
          fill="none"
          stroke="var(--stop)"
          data-fallen
        >
          <path :d="`M${p.x} ${p.y}V${scale.y(moving.fallen)}`" stroke-width="2" stroke-dasharray="3 3" />
          <circle :cx="p.x" :cy="scale.y(moving.fallen)" r="13" stroke-width="2" stroke-dasharray="4 3" />
        </g>
        <circle :cx="p.x" :cy="p.y" r="11" fill="var(--accent)" stroke="var(--ground)" stroke-width="2" />
        <text :x="p.x" :y="p.y + 4.5" text-anchor="middle" font-size="12.5" font-weight="700" fill="var(--on-accent)">
          {{ p.person.name.slice(0, 1) }}
        </text>
        <rect :x="p.x + 14" :y="p.y - 11" width="76" height="22" rx="4" fill="var(--ground)" fill-opacity="0.9" />
        <text :x="p.x + 18" :y="p.y + 4.5" font-size="13" class="figure" fill="var(--ink)" font-weight="600">
          {{ metres(p.person.at_m) }}
          <tspan v-if="p.worst" :fill="severityInk[p.worst]">{{ shape[p.worst] }}</tspan>
        </text>
      </g>
    </svg>
  </div>
</template>
