<script setup lang="ts">
// A hold's load path as a chain: rope, device, links, harness point. The bar
// under each is its margin against the margin asked for; the weakest is named.
import { computed, ref } from 'vue'
import type { Drop, Hold, HoldFigures, Person, Place } from '@/api/client'
import { labelOf, modelOf } from '@/lib/gear'
import { show, showFigure } from '@/lib/units'
import { shape, worst } from '@/lib/words'
import { useDraft } from '@/stores/draft'
import GearIcon from './GearIcon.vue'
import WorkingView from './WorkingView.vue'

const props = defineProps<{ drop: Drop; person: Person; hold: Hold; figures?: HoldFigures }>()
const emit = defineEmits<{ choose: [place: Place, title: string] }>()

const draft = useDraft()
const working = ref(false)
const strand = computed(() => props.drop.strands?.find((s) => s.id === props.hold.strand))

type Bead = { key: string; item: string; label: string; place: Place; small: string }
const beads = computed<Bead[]>(() => {
  const at = { person: props.person.id, hold: props.hold.id }
  return [
    ...(strand.value?.ropes ?? []).map((item, rope) => ({
      key: 'rope' + rope,
      item,
      label: labelOf(props.drop, item),
      place: { strand: props.hold.strand, rope },
      small: `${strand.value?.name} strand`,
    })),
    {
      key: 'device',
      item: props.hold.device,
      label: labelOf(props.drop, props.hold.device),
      place: at,
      small: props.hold.mode,
    },
    ...props.hold.links.map((l, link) => ({
      key: 'link' + link,
      item: l.item,
      label: labelOf(props.drop, l.item),
      place: { ...at, link },
      small: linkWords(l),
    })),
  ]
})

const harness = computed(() => (props.person.harness ? part(props.person.harness) : undefined))

function linkWords(l: Hold['links'][number]): string {
  const model = modelOf(props.drop, l.item)
  if (model?.class !== 'connector') return model?.length_m ? show(model.length_m, 'm') : ''
  const lie = l.lie && l.lie !== 'along' ? `, ${l.lie.replace('-', ' ')}` : ''
  return `gate ${l.gate ?? 'locked'}${lie}`
}

function part(item: string) {
  return props.figures?.path.find((p) => p.item === item)
}

/** The part of the path whose margin is the least part of what is required. */
const weakest = computed(() => props.figures?.path.find((p) => p.label === props.figures?.weakest)?.item)

/** How much of the bar is filled: all of it at twice the required margin. */
function fill(item: string): number {
  const p = part(item)
  return p?.margin ? Math.min(100, (50 * p.margin) / p.wanted) : 0
}

function severity(item: string) {
  return worst(
    draft.findings.filter((f) => f.subject.item === item && (f.subject.hold === props.hold.id || !f.subject.hold)),
  )
}
</script>

<template>
  <div>
    <ol class="flex flex-wrap items-stretch gap-y-3" aria-label="Load path from the rope to the harness">
      <li v-for="(b, i) in beads" :key="b.key" class="flex items-stretch">
        <span v-if="i" class="text-soft self-center px-1" aria-hidden="true">──</span>
        <button
          type="button"
          class="hover:border-accent bg-raised min-h-[56px] min-w-28 rounded-md border px-3 py-1 text-left"
          :class="
            severity(b.item) === 'stop'
              ? 'border-stop border-2'
              : b.item === weakest
                ? 'border-ink border-2'
                : 'border-line'
          "
          :data-bead="b.item"
          @click="emit('choose', b.place, b.label)"
        >
          <span class="flex gap-2">
            <GearIcon :model="modelOf(drop, b.item)" />
            <span class="block">
              <span class="block font-semibold">
                <span v-if="severity(b.item)" :class="severity(b.item) === 'stop' ? 'text-stop' : 'text-look'"
                  >{{ shape[severity(b.item)!] }}&nbsp;</span
                >{{ b.label }}
              </span>
              <span class="text-soft block text-sm">{{ b.small }}</span>
            </span>
          </span>
          <span v-if="b.item === weakest" class="block text-sm font-semibold" data-weakest-bead>weakest</span>
          <span v-if="part(b.item)" class="block">
            <svg viewBox="0 0 100 6" preserveAspectRatio="none" class="h-1.5 w-full" aria-hidden="true">
              <rect width="100" height="6" fill="var(--rock)" />
              <rect
                :width="fill(b.item)"
                height="6"
                :fill="(part(b.item)?.margin ?? 0) < part(b.item)!.wanted ? 'var(--stop)' : 'var(--soft)'"
              />
              <rect x="49" width="2" height="6" fill="var(--ink)" />
            </svg>
            <span class="figure text-soft text-xs">{{ part(b.item)?.text }}, needs {{ part(b.item)?.wanted }}</span>
          </span>
          <span class="sr-only">Choose another</span>
        </button>
      </li>
      <li class="flex items-center">
        <span class="text-soft px-1" aria-hidden="true">──</span>
        <GearIcon v-if="person.harness" :model="modelOf(drop, person.harness)" />
        <span class="px-2">
          <b>{{ hold.point }}</b>
          <span v-if="harness" class="text-soft block text-sm">{{ harness.label }}</span>
          <span v-if="harness" class="text-soft block text-xs">{{ harness.text }}, needs {{ harness.wanted }}</span>
        </span>
      </li>
    </ol>
    <p v-if="figures" class="text-soft mt-1 text-sm">
      Weakest: {{ figures.weakest || 'not known' }}, under <span class="figure">{{ showFigure(figures.load) }}</span> at
      rest. The mark in each bar is the required margin.
      <button
        type="button"
        class="quiet -my-2 text-sm"
        data-working
        :aria-expanded="working"
        @click="working = !working"
      >
        {{ working ? 'hide working' : 'working' }}
      </button>
    </p>
    <WorkingView v-if="working && figures" :working="figures.path.flatMap((p) => p.working)" />
  </div>
</template>
