<script setup lang="ts">
// One hold: its load path, and a sentence that says how it is put on.
import { computed, ref } from 'vue'
import type { Drop, Hold, Link, Person, Place } from '@/api/client'
import { labelOf, modelOf } from '@/lib/gear'
import { short } from '@/lib/look'
import { useDraft } from '@/stores/draft'
import FallCourse from './FallCourse.vue'
import HoldPicture from './HoldPicture.vue'
import FigureList from './FigureList.vue'
import LiveChoice from './LiveChoice.vue'
import LiveNumber from './LiveNumber.vue'
import LoadPath from './LoadPath.vue'
import ModelCautions from './ModelCautions.vue'

const props = defineProps<{ drop: Drop; person: Person; personIndex: number; hold: Hold; index: number }>()
const emit = defineEmits<{ choose: [place: Place, title: string]; addLink: [hold: number, class_: string] }>()

const draft = useDraft()
const course = ref(false)
const at = computed(() => `/people/${props.personIndex}/holds/${props.index}`)
const model = computed(() => modelOf(props.drop, props.hold.device))
const figures = computed(() =>
  draft.report?.holds?.find((h) => h.person === props.person.id && h.hold === props.hold.id),
)
const ceiling = computed(() => figures.value?.figures.find((f) => f.name === 'arrest force')?.limit?.value)
const strands = computed(() =>
  (props.drop.strands ?? []).map((s) => ({ value: s.id, words: s.name, note: `set ${s.set}` })),
)
const modes = computed(() =>
  (model.value?.device?.modes ?? []).map((m) => ({ value: m.name, words: m.name, note: `${m.persons} rated` })),
)
const positions = computed(() =>
  (model.value?.device?.positions ?? []).map((p) => ({
    value: p.name,
    words: p.name,
    note: `hands off: ${p.hands_off}`,
  })),
)
const checked = computed(
  () =>
    figures.value !== undefined &&
    !draft.about(`hold:${props.person.id}:${props.hold.id}`).some((f) => f.rule === 'service.function-check'),
)
const connectors = computed(() =>
  props.hold.links
    .map((link, k) => ({ link, k }))
    .filter(({ link }) => modelOf(props.drop, link.item)?.class === 'connector'),
)

const words = (list: string[]) => list.map((v) => ({ value: v, words: v.replace('-', ' ') }))
const points = words(['ventral', 'sternal', 'dorsal', 'lateral']) as { value: Hold['point']; words: string }[]
const lies = [
  { value: 'right', words: 'the right way' },
  { value: 'reversed', words: 'the wrong way round' },
  { value: 'wrong-path', words: 'misthreaded' },
] as { value: Hold['threaded']; words: string }[]
const plates = [
  { value: false, words: 'shut' },
  { value: true, words: 'not shut' },
]
const bends = [
  { value: true, words: 'in' },
  { value: false, words: 'not in' },
]
const gates = words(['locked', 'shut', 'open']) as { value: NonNullable<Link['gate']>; words: string }[]
const lieWords = words(['along', 'may-turn', 'across']) as { value: NonNullable<Link['lie']>; words: string }[]
const sides = [
  { value: '', words: 'not recorded' },
  { value: 'left front', words: 'left, seen from the front' },
  { value: 'right front', words: 'right, seen from the front' },
  { value: 'left back', words: 'left, seen from behind' },
  { value: 'right back', words: 'right, seen from behind' },
]
const leaves = computed(() => (props.hold.leaves ? `${props.hold.leaves.side} ${props.hold.leaves.seen_from}` : ''))

function change(f: (h: Hold, d: Drop) => void, dragging = false) {
  const edit = (d: Drop) => {
    const h = d.people?.[props.personIndex]?.holds?.[props.index]
    if (h) f(h, d)
  }
  draft.edit(edit, dragging)
}

function setSecond(h: Hold, kg: number) {
  if (kg > 0) h.second_kg = kg
  else delete h.second_kg
}

function setLeaves(h: Hold, text: string) {
  const [side, seen_from] = text.split(' ') as ['left' | 'right', 'front' | 'back']
  if (text) h.leaves = { side, seen_from }
  else delete h.leaves
}

function setLink(k: number, f: (l: Link) => void) {
  change((h) => {
    const l = h.links[k]
    if (l) f(l)
  })
}

function remove() {
  draft.edit((d) => {
    const p = d.people?.[props.personIndex]
    p?.holds?.splice(props.index, 1)
  })
}
</script>

<template>
  <section :aria-label="`Hold: ${labelOf(drop, hold.device)}`" class="border-line border-t pt-4 pb-6">
    <LoadPath :drop="drop" :person="person" :hold="hold" :figures="figures" @choose="(p, t) => emit('choose', p, t)" />
    <p class="briefing mt-2" :class="short ? 'short' : ''">
      <span class="said"> On the </span>
      <LiveChoice
        :value="hold.strand"
        :options="strands"
        label="Strand"
        :pointer="`${at}/strand`"
        @set="(v) => change((h) => (h.strand = v))"
      />
      <span class="said"> strand, {{ labelOf(drop, hold.device) }} works in mode </span>
      <LiveChoice
        :value="hold.mode"
        :options="modes"
        label="Mode"
        :pointer="`${at}/mode`"
        @set="(v) => change((h) => (h.mode = v))"
      /><span class="said">, is left in </span>
      <LiveChoice
        :value="hold.position"
        :options="positions"
        label="Position it is left in"
        :pointer="`${at}/position`"
        @set="(v) => change((h) => (h.position = v))"
      />
      <span class="said"> and hangs from the </span>
      <LiveChoice
        :value="hold.point"
        :options="points"
        label="Harness point"
        @set="(v) => change((h) => (h.point = v))"
      />
      <span class="said"> point, </span>
      <LiveNumber
        :value="hold.above_m"
        unit="m"
        label="Height above the harness point"
        :step="0.05"
        :min="-5"
        :max="5"
        :pointer="`${at}/above_m`"
        @set="(v, dragging) => change((h) => (h.above_m = v), dragging)"
      />
      <span class="said"> above it, with </span>
      <LiveNumber
        :value="hold.slack_m ?? 0"
        unit="m"
        label="Slack in the strand above"
        :usual="0"
        :step="0.05"
        :min="0"
        :max="50"
        @set="(v, dragging) => change((h) => (h.slack_m = v), dragging)"
      />
      <span class="said"> of slack. The rope lies </span>
      <LiveChoice
        :value="hold.threaded"
        :options="lies"
        label="How the rope lies"
        usual="right"
        @set="(v) => change((h) => (h.threaded = v))"
      /><span class="said">, plates and catches are </span>
      <LiveChoice
        :value="hold.open ?? false"
        :options="plates"
        label="Plates and catches"
        :usual="false"
        @set="(v) => change((h) => (h.open = v))"
      /><span class="said">. </span>
      <template v-if="model?.device?.sides">
        <span class="said"> The anchor strand leaves on the side: </span>
        <LiveChoice
          :value="leaves"
          :options="sides"
          label="Side the strand leaves"
          @set="(v) => change((h) => setLeaves(h, v))"
        /><span class="said">. </span>
      </template>
      <span class="said"> Second person on it: </span>
      <LiveNumber
        :value="hold.second_kg ?? 0"
        unit="kg"
        label="Second person on this hold"
        :step="1"
        :min="0"
        :max="400"
        @set="(v, dragging) => change((h) => setSecond(h, v), dragging)"
      /><template v-if="hold.second_kg"
        ><span class="said">, extra friction </span>
        <LiveChoice
          :value="hold.extra_friction ?? false"
          :options="bends"
          label="Extra friction for two"
          @set="(v) => change((h) => (h.extra_friction = v))" /></template
      ><span class="said">. </span>
      <span
        v-for="{ link, k } in connectors"
        :key="link.item"
        v-memo="[link.item, link.gate, link.lie, k, short]"
        class="parts"
      >
        <span class="said"> {{ labelOf(drop, link.item) }} is </span>
        <LiveChoice
          :value="link.gate ?? 'locked'"
          :options="gates"
          :label="`Gate of ${labelOf(drop, link.item)}`"
          usual="locked"
          @set="(v) => setLink(k, (l) => (l.gate = v))"
        />
        <span class="said"> and lies </span>
        <LiveChoice
          :value="link.lie ?? 'along'"
          :options="lieWords"
          :label="`Lie of ${labelOf(drop, link.item)}`"
          usual="along"
          @set="(v) => setLink(k, (l) => (l.lie = v))"
        /><span class="said">. </span>
      </span>
    </p>
    <ModelCautions :drop="drop" :items="[hold.device, ...hold.links.map((l) => l.item)]" />
    <HoldPicture :drop="drop" :person="person.id" :hold="hold.id" />
    <FigureList v-if="figures" :figures="figures.figures" class="mt-1" />
    <template v-if="figures?.fall">
      <button type="button" class="quiet -ml-2 text-sm" :aria-expanded="course" @click="course = !course">
        {{ course ? 'hide the fall in time' : 'the fall in time, and how sure' }}
      </button>
      <FallCourse v-if="course" :fall="figures.fall" :ceiling="ceiling" />
    </template>
    <div class="no-print mt-2 flex flex-wrap gap-x-2">
      <RouterLink v-if="!checked" class="plain" :to="{ name: 'checks', params: { id: draft.id } }">
        Do its function check
      </RouterLink>
      <span v-else class="text-soft flex min-h-11 items-center">✓ function check recorded for {{ drop.day }}</span>
      <button type="button" class="quiet" @click="emit('addLink', index, 'connector')">add connector</button>
      <button type="button" class="quiet" @click="emit('addLink', index, 'lanyard')">add lanyard</button>
      <button type="button" class="quiet" @click="emit('addLink', index, 'absorber')">add absorber</button>
      <button v-if="hold.links.length" type="button" class="quiet" @click="change((h) => h.links.pop())">
        take last link off
      </button>
      <button type="button" class="quiet" @click="remove">take this hold away</button>
    </div>
  </section>
</template>
