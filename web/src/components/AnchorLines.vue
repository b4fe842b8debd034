<script setup lang="ts">
// One anchor: where it is, and its legs.
import { computed } from 'vue'
import type { Anchor, Drop } from '@/api/client'
import { freePoint } from '@/lib/gear'
import { useDraft } from '@/stores/draft'
import AnchorDrawing from './AnchorDrawing.vue'
import LiveNumber from './LiveNumber.vue'
import LiveText from './LiveText.vue'

const props = defineProps<{ drop: Drop; anchor: Anchor; index: number }>()

const draft = useDraft()
const figures = computed(() => draft.report?.anchors?.find((a) => a.anchor === props.anchor.id))
type Leg = Anchor['legs'][number]

function edit(f: (a: Anchor) => void, dragging = false) {
  const change = (d: Drop) => {
    const a = d.anchors?.[props.index]
    if (a) f(a)
  }
  draft.edit(change, dragging)
}

const setLeg = (i: number, f: (l: Leg) => void, dragging = false) => edit((a) => a.legs[i] && f(a.legs[i]), dragging)

function setElongation(l: Leg, pct: number) {
  if (pct > 0) l.elongation_pct = pct
  else delete l.elongation_pct
}

function addLeg() {
  edit((a) => {
    a.legs.push({ id: freePoint(draft.drop!), x_m: 0.4, y_m: 0.5 })
  })
}
</script>

<template>
  <div class="py-1">
    <p v-if="anchor.proposed" class="text-look flex flex-wrap items-center gap-x-3">
      <span>◆ Proposed: nobody has seen it.</span>
      <button
        type="button"
        class="plain scroll-mt-20"
        :data-confirm="anchor.id"
        @click="edit((a) => delete a.proposed)"
      >
        Seen at the anchor, and independent
      </button>
    </p>
    <p class="briefing">
      <LiveText :value="anchor.name" label="Name of the anchor" required @set="(v) => edit((a) => (a.name = v))" /> at
      <LiveNumber
        :value="anchor.height_m"
        unit="m"
        :label="`Height of ${anchor.name}`"
        :step="0.1"
        :min="0"
        :max="2000"
        :pointer="`/anchors/${index}/height_m`"
        @set="(v, dragging) => edit((a) => (a.height_m = v), dragging)"
      />,
      <LiveNumber
        :value="anchor.x_m"
        unit="m"
        :label="`${anchor.name}, sideways; right is positive`"
        :step="0.1"
        :min="-500"
        :max="500"
        @set="(v, dragging) => edit((a) => (a.x_m = v), dragging)"
      />
      sideways (right is positive).
      <button type="button" class="quiet text-sm" @click="addLeg">add a leg</button>
      <button type="button" class="quiet text-sm" @click="draft.edit((d) => d.anchors?.splice(index, 1))">
        take away
      </button>
    </p>
    <p v-for="(l, i) in anchor.legs" :key="i" class="briefing pl-6">
      Leg to
      <LiveText
        :value="l.id"
        label="Anchor point"
        required
        :pointer="`/anchors/${index}/legs/${i}/id`"
        @set="(v) => setLeg(i, (o) => (o.id = v))"
      />,
      <LiveNumber
        :value="l.x_m"
        unit="m"
        label="Leg, to the right"
        :step="0.05"
        :min="-100"
        :max="100"
        @set="(v, d) => setLeg(i, (o) => (o.x_m = v), d)"
      />
      right and
      <LiveNumber
        :value="l.y_m"
        unit="m"
        label="Leg, up"
        :step="0.05"
        :min="-100"
        :max="100"
        @set="(v, d) => setLeg(i, (o) => (o.y_m = v), d)"
      />
      up,
      <LiveNumber
        :value="l.z_m ?? 0"
        unit="m"
        label="Leg, out from the structure"
        :step="0.05"
        :min="-100"
        :max="100"
        @set="(v, d) => setLeg(i, (o) => (o.z_m = v), d)"
      />
      out, stretches
      <LiveNumber
        :value="l.elongation_pct ?? 0"
        unit="%"
        label="Elongation of the leg between 50 and 150 kg; 0: not known"
        :step="0.5"
        :min="0"
        :max="60"
        @set="(v, d) => setLeg(i, (o) => setElongation(o, v), d)"
      /><span v-if="!l.elongation_pct" class="text-soft"> (not known)</span>, holds
      <LiveNumber
        :value="l.strength_kN ?? 0"
        unit="kN"
        label="Strength of the anchor point; 0: not known"
        :step="1"
        :min="0"
        :max="1000"
        @set="(v, d) => setLeg(i, (o) => (o.strength_kN = v), d)"
      /><span v-if="!l.strength_kN" class="text-soft"> (not known)</span>.
      <button
        v-if="anchor.legs.length > 1"
        type="button"
        class="quiet text-sm"
        @click="edit((a) => a.legs.splice(i, 1))"
      >
        take away
      </button>
    </p>
    <AnchorDrawing v-if="figures && figures.legs.length === anchor.legs.length" :anchor="anchor" :figures="figures" />
  </div>
</template>
