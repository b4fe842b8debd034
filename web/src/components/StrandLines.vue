<script setup lang="ts">
// One strand: its anchors, ropes, end, and marks from the top down.
import { computed } from 'vue'
import type { Drop, Mark, Place, Strand } from '@/api/client'
import { itemOf, labelOf, modelOf, include, useGear, usedItems } from '@/lib/gear'
import { freeId, plainNumber } from '@/lib/words'
import { useDraft } from '@/stores/draft'
import FigureList from './FigureList.vue'
import LiveChoice from './LiveChoice.vue'
import LiveNumber from './LiveNumber.vue'
import LiveText from './LiveText.vue'

const props = defineProps<{ drop: Drop; strand: Strand; index: number }>()
const emit = defineEmits<{ choose: [place: Place, title: string] }>()

const draft = useDraft()
const gear = useGear()
const figures = computed(() => draft.report?.strands?.find((s) => s.strand === props.strand.id))
const anchors = computed(() => (props.drop.anchors ?? []).map((a) => ({ value: a.id, words: a.name })))
const second = computed(() => [
  { value: '', words: 'nothing else' },
  ...anchors.value.filter((a) => a.value !== props.strand.anchors[0]),
])
const marks = computed(() =>
  (props.strand.marks ?? []).map((mark, i) => ({ mark, i })).sort((a, b) => b.mark.height_m - a.mark.height_m),
)
const damages = computed(() => [
  { value: '', words: 'nothing' },
  ...(props.strand.marks ?? [])
    .filter((m) => m.kind === 'damage')
    .map((m) => ({ value: m.id, words: m.name || `damage at ${plainNumber(m.height_m)} m` })),
])
const ends = [
  { value: 'knot', words: 'a stopper knot' },
  { value: 'sewn', words: 'a sewn end' },
  { value: 'none', words: 'nothing' },
] as { value: Strand['end_stop']; words: string }[]
const kinds: { kind: Mark['kind']; words: string }[] = [
  { kind: 'knot', words: 'knot' },
  { kind: 're-belay', words: 're-belay' },
  { kind: 'deviation', words: 'deviation' },
  { kind: 'damage', words: 'damage' },
]

function edit(f: (s: Strand, d: Drop) => void, dragging = false) {
  const change = (d: Drop) => {
    const s = d.strands?.[props.index]
    if (s) f(s, d)
  }
  draft.edit(change, dragging)
}

const setMark = (i: number, f: (m: Mark) => void, dragging = false) =>
  edit((s) => s.marks?.[i] && f(s.marks[i]), dragging)

function addMark(kind: Mark['kind']) {
  edit((s, d) => {
    const mark: Mark = {
      id: freeId(kind, s.marks?.map((m) => m.id) ?? []),
      kind,
      height_m: Math.round(d.geometry.top_m * 5) / 10,
    }
    if (kind === 're-belay' || kind === 'deviation') mark.anchor = s.anchors[0]
    if (kind === 're-belay') mark.loop_m = 1
    s.marks = [...(s.marks ?? []), mark]
  })
}

/** Joins another free rope to the lower end, with the join where it comes to hang. */
function joinRope() {
  const used = usedItems(props.drop)
  const rope = gear.items.value.find(
    (i) => i.state === 'in-service' && !used.has(i.id) && gear.models.value.get(i.model)?.class === 'rope',
  )
  const model = rope && gear.models.value.get(rope.model)
  if (!rope || !model) return
  edit((s, d) => {
    include(d, rope, model)
    s.ropes.push(rope.id)
    const mark: Mark = {
      id: freeId('join', s.marks?.map((m) => m.id) ?? []),
      kind: 'join',
      height_m: Math.max(0, figures.value?.end_m ?? 0),
    }
    mark.height_m = Math.round(mark.height_m * 10) / 10
    s.marks = [...(s.marks ?? []), mark]
  })
}

function removeMark(i: number) {
  edit((s) => {
    const gone = s.marks?.splice(i, 1)[0]
    // A join goes with the rope below it.
    if (gone?.kind === 'join') s.ropes.pop()
    s.marks?.forEach((m) => m.isolates === gone?.id && delete m.isolates)
  })
}

function setSecond(id: string) {
  edit((s) => (s.anchors = id ? [s.anchors[0]!, id] : [s.anchors[0]!]))
}

function ropeWords(id: string): string {
  const item = itemOf(props.drop, id)
  const rope = modelOf(props.drop, id)?.rope
  if (!item || !rope) return ''
  const d = item.measured_mm
    ? `${plainNumber(item.measured_mm)} mm measured`
    : `${plainNumber(rope.diameter_mm)} mm nominal`
  return `${plainNumber(item.length_m ?? 0)} m, ${d}, ${rope.construction}, ${item.condition ?? 'dry'}`
}
</script>

<template>
  <div class="py-2" :class="strand.role === 'main' ? 'border-main' : 'border-backup border-dashed'">
    <p class="briefing">
      <svg width="34" height="12" class="mr-1 inline-block" aria-hidden="true">
        <path
          d="M0 6h34"
          :stroke="strand.role === 'main' ? 'var(--main)' : 'var(--backup)'"
          stroke-width="4"
          :stroke-dasharray="strand.role === 'backup' ? '9 5' : undefined"
        /></svg
      ><LiveText :value="strand.name" label="Name of the strand" required @set="(v) => edit((s) => (s.name = v))" /> ({{
        strand.role
      }}
      of set {{ strand.set }}) hangs from
      <LiveChoice
        :value="strand.anchors[0]!"
        :options="anchors"
        label="Anchor"
        :pointer="`/strands/${index}/anchors/0`"
        @set="(v) => edit((s) => (s.anchors[0] = v))"
      />
      and
      <LiveChoice :value="strand.anchors[1] ?? ''" :options="second" label="Second anchor" @set="setSecond" />:
      <template v-for="(r, k) in strand.ropes" :key="r">
        <template v-if="k">, then </template>
        <button
          type="button"
          class="live"
          :data-rope="r"
          @click="emit('choose', { strand: strand.id, rope: k }, labelOf(drop, r))"
        >
          {{ labelOf(drop, r) }}
        </button>
        <span class="text-soft"> ({{ ropeWords(r) }})</span></template
      >. It must reach
      <LiveNumber
        :value="strand.to_m ?? 0"
        unit="m"
        :label="`Lowest landing needed on ${strand.name}`"
        :step="0.5"
        :min="0"
        :max="2000"
        @set="(v, dragging) => edit((s) => (s.to_m = v), dragging)"
      />; at its end
      <LiveChoice
        :value="strand.end_stop"
        :options="ends"
        label="End stop"
        @set="(v) => edit((s) => (s.end_stop = v))"
      />; loops and tails take
      <LiveNumber
        :value="strand.loops_m ?? 0"
        unit="m"
        label="Rope in loops and tails"
        :step="0.1"
        :min="0"
        :max="200"
        @set="(v, dragging) => edit((s) => (s.loops_m = v), dragging)"
      />.
    </p>
    <FigureList v-if="figures" :figures="figures.figures" />
    <p v-if="draft.faultAt(`/strands/${index}/ropes`)" class="text-stop" role="alert">
      ■ {{ draft.faultAt(`/strands/${index}/ropes`) }}
    </p>
    <ul class="pl-6">
      <li v-for="{ mark, i } in marks" :key="mark.id" class="briefing">
        <LiveNumber
          :value="mark.height_m"
          unit="m"
          :label="`Height of the ${mark.kind}`"
          :step="0.1"
          :min="0"
          :max="2000"
          :pointer="`/strands/${index}/marks/${i}/height_m`"
          @set="(v, dragging) => setMark(i, (m) => (m.height_m = v), dragging)"
        />
        {{ mark.kind }}
        <LiveText
          :value="mark.name ?? ''"
          label="Name of the mark"
          empty="no name"
          @set="(v) => setMark(i, (m) => (m.name = v))"
        />
        <template v-if="mark.kind === 're-belay' || mark.kind === 'deviation'">
          on
          <LiveChoice
            :value="mark.anchor ?? ''"
            :options="anchors"
            label="Anchor of the mark"
            :pointer="`/strands/${index}/marks/${i}/anchor`"
            @set="(v) => setMark(i, (m) => (m.anchor = v))"
          />
        </template>
        <template v-if="mark.kind === 're-belay'">
          with a loop of
          <LiveNumber
            :value="mark.loop_m ?? 0"
            unit="m"
            label="Slack in the loop"
            :step="0.1"
            :min="0"
            :max="50"
            @set="(v, dragging) => setMark(i, (m) => (m.loop_m = v), dragging)"
          />
        </template>
        <template v-if="mark.kind === 'knot' && damages.length > 1">
          takes out
          <LiveChoice
            :value="mark.isolates ?? ''"
            :options="damages"
            label="Damage it isolates"
            @set="(v) => setMark(i, (m) => (v ? (m.isolates = v) : delete m.isolates))"
          />
        </template>
        <button type="button" class="quiet text-sm" @click="removeMark(i)">take away</button>
      </li>
    </ul>
    <div class="no-print flex flex-wrap pl-6">
      <span class="text-soft flex min-h-11 items-center">add</span>
      <button v-for="k in kinds" :key="k.kind" type="button" class="quiet" @click="addMark(k.kind)">
        {{ k.words }}
      </button>
      <button type="button" class="quiet" @click="joinRope">joined rope</button>
      <button type="button" class="quiet" @click="draft.edit((d) => d.strands?.splice(index, 1))">
        take this strand away
      </button>
    </div>
  </div>
</template>
