<script setup lang="ts">
// The rig as the program lays it out: anchors above, the load below the edge, the width
// of a rope by its tension. A part of a rope, or a thing on it, is chosen to read it.
import { computed } from 'vue'
import type { Built } from '@/api/client'
import { show } from '@/lib/units'

type Segment = Built['segments'][number]
type Node = Built['nodes'][number]

const props = defineProps<{
  built: Built
  moving: boolean
  /** The id of a node, or the key of a segment, that is chosen. */
  chosen?: string
  /** The node whose margin is the least. */
  weakest?: string
}>()
const emit = defineEmits<{ choose: [key: string] }>()

const column = 75
const row = 47
const top = 40
const side = 64

const least = computed(() => Math.min(...props.built.nodes.map((n) => n.x)))
const most = computed(() => Math.max(...props.built.nodes.map((n) => n.x)))
const width = computed(() => (most.value - least.value) * column + 2 * side + 84)
const height = top + 10 * row + 60
const x = (c: number) => (c - least.value) * column + side
const y = (r: number) => top + r * row

const nodes = computed(() => new Map(props.built.nodes.map((n) => [n.id, n])))
const key = (s: Segment) => `${s.from}>${s.to}`
const tension = (s: Segment) => (props.moving ? s.moving_kN : s.held_kN)
const share = (s: Segment) => (props.moving ? s.moving_share : s.held_share)
const ink = (line: string) => (line === 'main' ? 'var(--main)' : 'var(--backup)')
const broad = (s: Segment) => 2 + Math.min(7, 3.2 * share(s))

/** Where a rope's part meets a node: on the near side of a pulley. */
function across(n: Node, s: Segment) {
  if (n.kind === 'load') return x(1.5)
  if (n.kind === 'pulley') return x(n.x) + (s.x > n.x ? 17 : -17)
  return n.kind === 'brake' ? x(n.x) : x(s.x)
}

/** A rope's part stands in its own column; at the load they come together. */
const ropes = computed(() =>
  props.built.segments
    .filter((s) => s.kind === 'rope')
    .map((s) => {
      const a = nodes.value.get(s.from)!
      const b = nodes.value.get(s.to)!
      const end = (n: Node) => ({ x: across(n, s), y: y(n.y) })
      return { s, a: end(a), b: end(b), line: a.line }
    }),
)
const fixed = computed(() =>
  props.built.segments
    .filter((s) => s.kind === 'fixed')
    .map((s) => ({ s, a: nodes.value.get(s.from)!, b: nodes.value.get(s.to)! })),
)
const anchors = computed(() => props.built.nodes.filter((n) => n.kind === 'anchor'))
const span = (line: string) => {
  const xs = props.built.segments.filter((s) => nodes.value.get(s.from)!.line === line).map((s) => x(s.x))
  return {
    from: Math.min(...xs, x(line === 'main' ? 0 : 3)) - 26,
    to: Math.max(...xs, x(line === 'main' ? 0 : 3)) + 26,
  }
}
const letter = (n: Node) => n.id.slice(n.id.indexOf(':') + 1)
/** As much of a name as the box takes, whole words. */
const short = (name: string) => (name.length > 27 ? name.slice(0, name.lastIndexOf(' ', 27)) : name)
const edge = computed(() => props.built.nodes.find((n) => n.kind === 'edge'))
const load = computed(() => props.built.nodes.find((n) => n.kind === 'load')!)
/** The label of a rope's part stands beside its middle. */
const middle = (r: (typeof ropes.value)[number]) => ({ x: (r.a.x + r.b.x) / 2 + 7, y: (r.a.y + r.b.y) / 2 + 4 })
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="group" aria-label="Picture of the rig">
    <svg :width="width" :height="height" class="block" role="img" aria-label="The rig with its tensions">
      <!-- structure: anchors above, the edge -->
      <g v-for="a in anchors" :key="a.id">
        <rect
          :x="span(a.line).from"
          y="16"
          :width="span(a.line).to - span(a.line).from"
          height="12"
          fill="var(--rock)"
          stroke="var(--soft)"
        />
        <text :x="span(a.line).from" y="11" class="text-[12.5px]" fill="var(--ink)">{{ a.label }}</text>
      </g>
      <g v-if="edge">
        <line
          x1="0"
          :x2="width"
          :y1="y(edge.y)"
          :y2="y(edge.y)"
          stroke="var(--soft)"
          stroke-width="6"
          stroke-dasharray="14 5"
          opacity="0.5"
        />
        <text x="2" :y="y(edge.y) - 8" class="text-[12.5px]" fill="var(--soft)">{{ edge.label }}</text>
      </g>
      <line
        v-for="f in fixed"
        :key="key(f.s)"
        :x1="x(f.a.kind === 'anchor' ? f.b.x : f.a.x)"
        :y1="f.a.kind === 'anchor' ? 28 : y(f.a.y)"
        :x2="x(f.b.x)"
        :y2="y(f.b.y)"
        stroke="var(--ink)"
        stroke-width="2"
        stroke-dasharray="1 4"
        stroke-linecap="round"
      />
      <g v-for="r in ropes" :key="key(r.s)">
        <line
          v-if="chosen === key(r.s)"
          :x1="r.a.x"
          :y1="r.a.y"
          :x2="r.b.x"
          :y2="r.b.y"
          stroke="var(--accent)"
          stroke-width="16"
          opacity="0.35"
          stroke-linecap="round"
        />
        <line
          :x1="r.a.x"
          :y1="r.a.y"
          :x2="r.b.x"
          :y2="r.b.y"
          :stroke="ink(r.line)"
          :stroke-width="tension(r.s) > 0 ? broad(r.s) : 1.5"
          :stroke-dasharray="tension(r.s) > 0 ? (r.line === 'belay' ? '9 5' : undefined) : '2 5'"
        />
      </g>
      <g v-for="n in built.nodes" :key="n.id">
        <g v-if="n.kind === 'pulley'">
          <circle
            :cx="x(n.x)"
            :cy="y(n.y)"
            r="17"
            fill="var(--ground)"
            stroke="var(--ink)"
            :stroke-width="chosen === n.id ? 5 : 2.5"
          />
          <path v-if="n.capture" :d="`M${x(n.x) - 9} ${y(n.y) + 21}h18`" stroke="var(--ink)" stroke-width="4" />
        </g>
        <rect
          v-else-if="n.kind === 'grab'"
          :x="x(n.x) - 15"
          :y="y(n.y) - 13"
          width="30"
          height="26"
          fill="var(--ground)"
          stroke="var(--ink)"
          :stroke-width="chosen === n.id ? 5 : 2.5"
        />
        <path
          v-else-if="n.kind === 'brake'"
          :d="`M${x(n.x) - 17} ${y(n.y) - 15}h34l-6 32h-22z`"
          fill="var(--ground)"
          stroke="var(--ink)"
          :stroke-width="chosen === n.id ? 5 : 2.5"
        />
        <text
          v-if="['pulley', 'grab'].includes(n.kind)"
          :x="x(n.x)"
          :y="y(n.y) + 5"
          text-anchor="middle"
          class="text-[14px] font-semibold"
          fill="var(--ink)"
        >
          {{ letter(n) }}
        </text>
        <text v-if="n.kind === 'brake'" :x="x(n.x) + 24" :y="y(n.y) - 4" class="text-[12.5px]" fill="var(--ink)">
          {{ n.label }}
        </text>
        <g v-if="n.kind === 'hand' || n.kind === 'slack'">
          <circle :cx="x(n.x)" :cy="y(n.y)" r="5" fill="var(--ground)" stroke="var(--ink)" stroke-width="2" />
          <text
            :x="x(n.x)"
            :y="n.y < 2 ? y(n.y) - 10 : y(n.y) + 20"
            text-anchor="middle"
            class="text-[12.5px]"
            fill="var(--ink)"
          >
            {{ n.label }}
          </text>
        </g>
        <text
          v-if="n.id === weakest"
          :x="x(n.x) - (n.kind === 'anchor' ? -2 : 20)"
          :y="n.kind === 'anchor' ? 44 : y(n.y) - 20"
          text-anchor="end"
          class="text-[12.5px] font-semibold"
          fill="var(--look)"
        >
          ◆ weakest
        </text>
      </g>
      <rect
        :x="x(1.5) - 88"
        :y="y(load.y) - 2"
        width="176"
        height="40"
        rx="4"
        fill="var(--rock)"
        stroke="var(--ink)"
        stroke-width="2"
      />
      <text :x="x(1.5)" :y="y(load.y) + 15" text-anchor="middle" class="text-[12.5px]" fill="var(--ink)">
        {{ short(load.label) }}
      </text>
      <text
        :x="x(1.5)"
        :y="y(load.y) + 31"
        text-anchor="middle"
        class="figure text-[13px] font-semibold"
        fill="var(--ink)"
      >
        {{ show(built.weight_kN, 'kN') }}
      </text>
      <g v-for="r in ropes" :key="'t' + key(r.s)">
        <rect :x="middle(r).x - 3" :y="middle(r).y - 12" width="56" height="30" fill="var(--ground)" opacity="0.9" />
        <text :x="middle(r).x" :y="middle(r).y" class="figure text-[12.5px] font-semibold" fill="var(--ink)">
          {{ show(tension(r.s), 'kN') }}
        </text>
        <text :x="middle(r).x" :y="middle(r).y + 14" class="figure text-[12px]" fill="var(--soft)">
          {{ Math.round(100 * share(r.s)) }} %
        </text>
      </g>
      <!-- what is chosen by hand: wide enough for a glove -->
      <line
        v-for="r in ropes"
        :key="'h' + key(r.s)"
        :x1="r.a.x"
        :y1="r.a.y"
        :x2="r.b.x"
        :y2="r.b.y"
        stroke="transparent"
        stroke-width="44"
        class="cursor-pointer"
        :data-segment="key(r.s)"
        @click="emit('choose', key(r.s))"
      />
      <circle
        v-for="n in built.nodes.filter((o) => ['pulley', 'grab', 'brake', 'anchor'].includes(o.kind))"
        :key="'h' + n.id"
        :cx="x(n.x)"
        :cy="n.kind === 'anchor' ? 22 : y(n.y)"
        r="22"
        fill="transparent"
        class="cursor-pointer"
        :data-node="n.id"
        @click="emit('choose', n.id)"
      />
    </svg>
  </div>
</template>
