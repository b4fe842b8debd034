<script setup lang="ts">
// The lie of the drop: heights, offset, ledges, edges.
import type { Drop } from '@/api/client'
import { freeId } from '@/lib/words'
import { useDraft } from '@/stores/draft'
import LiveChoice from './LiveChoice.vue'
import LiveNumber from './LiveNumber.vue'
import LiveText from './LiveText.vue'

defineProps<{ drop: Drop }>()

const draft = useDraft()
type Geometry = Drop['geometry']
type Edge = NonNullable<Geometry['edges']>[number]
type Ledge = NonNullable<Geometry['ledges']>[number]

function edit(f: (g: Geometry) => void, dragging = false) {
  draft.edit((d) => f(d.geometry), dragging)
}

const protections = ['roller', 'pad', 'sleeve', 'none'].map((v) => ({
  value: v as Edge['protection'],
  words: v === 'none' ? 'nothing' : `a ${v}`,
}))

const sharpness = [
  { value: false, words: 'An edge' },
  { value: true, words: 'A sharp edge' },
]
const kinds = [
  { value: 'ledge' as const, words: 'A ledge to stand on or fall onto' },
  { value: 'structure' as const, words: 'A structure to stand on or fall onto' },
]

const setEdge = (i: number, f: (e: Edge) => void, dragging = false) =>
  edit((g) => g.edges?.[i] && f(g.edges[i]), dragging)
const setLedge = (i: number, f: (l: Ledge) => void, dragging = false) =>
  edit((g) => g.ledges?.[i] && f(g.ledges[i]), dragging)

function addEdge() {
  edit((g) => {
    const id = freeId('edge', g.edges?.map((e) => e.id) ?? [])
    g.edges = [...(g.edges ?? []), { id, name: 'edge', height_m: g.top_m, protection: 'none', rope_m: 0.3 }]
  })
}

function addLedge() {
  edit((g) => {
    const id = freeId('ledge', g.ledges?.map((e) => e.id) ?? [])
    g.ledges = [...(g.ledges ?? []), { id, name: 'ledge', height_m: Math.round(g.top_m * 5) / 10 }]
  })
}
</script>

<template>
  <section id="lie" class="border-line mt-4 scroll-mt-20 border-t pt-4">
    <h2>Lie of the drop</h2>
    <p class="briefing">
      People leave from
      <LiveText
        :value="drop.geometry.top_name"
        label="Name of the top"
        required
        @set="(v) => edit((g) => (g.top_name = v))"
      />,
      <LiveNumber
        :value="drop.geometry.top_m"
        unit="m"
        label="Height of the top"
        :step="0.5"
        :min="0.5"
        :max="2000"
        pointer="/geometry/top_m"
        @set="(v, dragging) => edit((g) => (g.top_m = v), dragging)"
      />
      above
      <LiveText
        :value="drop.geometry.landing_name"
        label="Name of the lowest landing"
        required
        @set="(v) => edit((g) => (g.landing_name = v))"
      />, which lies
      <LiveNumber
        :value="drop.geometry.offset_m"
        unit="m"
        label="How far out from plumb the landing is"
        :step="0.5"
        :min="0"
        :max="500"
        @set="(v, dragging) => edit((g) => (g.offset_m = v), dragging)"
      />
      out from plumb.
    </p>
    <p v-for="(e, i) in drop.geometry.edges ?? []" :key="e.id" class="briefing">
      <LiveChoice
        :value="e.sharp ?? false"
        :options="sharpness"
        label="Sort of edge"
        @set="(v) => setEdge(i, (o) => (o.sharp = v || undefined))"
      />, <LiveText :value="e.name" label="Name of the edge" required @set="(v) => setEdge(i, (o) => (o.name = v))" />,
      at
      <LiveNumber
        :value="e.height_m"
        unit="m"
        label="Height of the edge"
        :step="0.1"
        :min="0"
        :max="2000"
        :pointer="`/geometry/edges/${i}/height_m`"
        @set="(v, dragging) => setEdge(i, (o) => (o.height_m = v), dragging)"
      />, under both strands
      <LiveChoice
        :value="e.protection"
        :options="protections"
        label="Edge protection"
        @set="(v) => setEdge(i, (o) => (o.protection = v))"
      />; it takes
      <LiveNumber
        :value="e.rope_m ?? 0"
        unit="m"
        label="Rope the edge takes up"
        :step="0.1"
        :min="0"
        :max="50"
        @set="(v, dragging) => setEdge(i, (o) => (o.rope_m = v), dragging)"
      />
      of rope.
      <button type="button" class="quiet text-sm" @click="edit((g) => g.edges?.splice(i, 1))">take away</button>
    </p>
    <p v-for="(l, i) in drop.geometry.ledges ?? []" :key="l.id" class="briefing">
      <LiveChoice
        :value="l.kind ?? 'ledge'"
        :options="kinds"
        label="Sort of ledge"
        @set="(v) => setLedge(i, (o) => (o.kind = v))"
      />,
      <LiveText :value="l.name" label="Name of the ledge" required @set="(v) => setLedge(i, (o) => (o.name = v))" />, at
      <LiveNumber
        :value="l.height_m"
        unit="m"
        label="Height of the ledge"
        :step="0.1"
        :min="0.1"
        :max="2000"
        :pointer="`/geometry/ledges/${i}/height_m`"
        @set="(v, dragging) => setLedge(i, (o) => (o.height_m = v), dragging)"
      />.
      <button type="button" class="quiet text-sm" @click="edit((g) => g.ledges?.splice(i, 1))">take away</button>
    </p>
    <div class="no-print flex flex-wrap gap-2">
      <button type="button" class="quiet -ml-2" @click="addEdge">add an edge</button>
      <button type="button" class="quiet" @click="addLedge">add a ledge</button>
    </div>
  </section>
</template>
