<script setup lang="ts">
// The rig with its picture: while it is lowered or raised, held or moving; what a part
// bears, what is the weakest, what a caught load does, and how the haul is changed.
import { computed, ref, watch } from 'vue'
import type { Drop, TeamFigures } from '@/api/client'
import { useForces } from '@/lib/pictures'
import { reevingText } from '@/lib/team'
import { show } from '@/lib/units'
import { useDraft } from '@/stores/draft'
import { useTeam } from '@/stores/team'
import FindingNote from './FindingNote.vue'
import ModelCautions from './ModelCautions.vue'
import TeamHaul from './TeamHaul.vue'
import PictureView from './PictureView.vue'
import WorkingView from './WorkingView.vue'

const props = defineProps<{ drop: Drop; figures: TeamFigures }>()

const draft = useDraft()
const team = useTeam()
const raising = ref(false)
const moving = ref(true)
const chosen = ref<string>()
const working = ref<string>()

const built = computed(() => (raising.value && props.figures.hauling ? props.figures.hauling : props.figures.lowering))
const picture = useForces(() => ({ drop: props.drop, raising: raising.value, moving: moving.value }))
const weakest = computed(() => props.figures.loads.find((l) => l.margin))
const key = (s: { from: string; to: string }) => `${s.from}>${s.to}`
const segment = computed(() => built.value.segments.find((s) => s.kind === 'rope' && key(s) === chosen.value))
const node = computed(() => built.value.nodes.find((n) => n.id === chosen.value))
const loads = computed(() => props.figures.loads.filter((l) => l.node === chosen.value))
const first = computed(() => props.figures.hauling?.jam?.gives.slice(0, 3) ?? [])

/** A part of the haul's rope is one that can be changed. */
const part = computed(() => {
  const s = segment.value
  return raising.value && s?.rope && s.rope !== props.drop.team?.belay.strand
    ? { rope: s.rope, index: s.index ?? 0 }
    : undefined
})
watch(part, (p, was) => {
  if (p?.rope === was?.rope && p?.index === was?.index) return
  team.part = p
  void team.find()
})
watch(raising, () => (chosen.value = undefined))
</script>

<template>
  <div>
    <div class="no-print flex flex-wrap gap-2" role="group" aria-label="What the picture shows">
      <button
        type="button"
        class="plain"
        :aria-pressed="!raising"
        :class="raising ? '' : 'border-accent! border-2! font-semibold'"
        @click="raising = false"
      >
        lowering
      </button>
      <button
        type="button"
        class="plain"
        :aria-pressed="raising"
        :class="raising ? 'border-accent! border-2! font-semibold' : ''"
        data-raising
        @click="raising = true"
      >
        raising
      </button>
      <span class="w-4" />
      <button
        type="button"
        class="plain"
        :aria-pressed="moving"
        :class="moving ? 'border-accent! border-2! font-semibold' : ''"
        @click="moving = true"
      >
        while it moves
      </button>
      <button
        type="button"
        class="plain"
        :aria-pressed="!moving"
        :class="moving ? '' : 'border-accent! border-2! font-semibold'"
        @click="moving = false"
      >
        held
      </button>
    </div>
    <div class="mt-2 flex flex-wrap gap-x-8 gap-y-4">
      <div class="max-w-full overflow-x-auto" tabindex="0" role="region" aria-label="Picture of the rig">
        <PictureView
          v-if="picture"
          :drawing="picture"
          :chosen="chosen ?? ''"
          :style="{ width: `${picture.width}px`, height: `${picture.height}px` }"
          data-forces
          @choose="(k) => (chosen = k)"
        />
      </div>
      <div class="min-w-64 flex-1 basis-64 text-[0.95rem] leading-snug">
        <section v-if="segment || node" class="border-line mb-4 border-b pb-3" aria-live="polite" data-chosen>
          <template v-if="segment">
            <h2>This part of the rope</h2>
            <p class="figure">
              held <b>{{ show(segment.held_kN, 'kN') }}</b>, moving <b>{{ show(segment.moving_kN, 'kN') }}</b>: at most
              {{ show(segment.share, '') }} of the load.
            </p>
          </template>
          <template v-else-if="node">
            <h2>{{ node.label }}</h2>
            <p v-if="node.capture">The haul's capture: here the load hangs when the hands let go.</p>
          </template>
          <ul>
            <li v-for="l in loads" :key="l.label" class="py-1">
              <b>{{ l.label }}</b> {{ l.while }}: <span class="figure">{{ show(l.load_kN, 'kN') }}</span><template
                v-if="l.strength_kN"
              >
                of {{ show(l.strength_kN, 'kN') }}</template
              ><template v-if="l.margin"
                >, <span class="figure">{{ show(l.margin, '') }} ×</span> of {{ l.wanted }} required</template
              ><template v-if="l.working_load_kN">, working load limit {{ show(l.working_load_kN, 'kN') }}</template>
              <button
                type="button"
                class="quiet text-sm"
                :aria-expanded="working === l.label"
                @click="working = working === l.label ? undefined : l.label"
              >
                working
              </button>
              <WorkingView v-if="working === l.label" :working="l.working" />
            </li>
          </ul>
          <template v-if="part">
            <h3 class="mt-2 font-semibold">Change it here</h3>
            <ul data-changes>
              <li v-for="c in team.answer?.changes ?? []" :key="reevingText(c.reeving)">
                <button type="button" class="quiet -ml-2 text-left" @click="team.reeve(c.reeving)">
                  {{ c.words }}
                </button>
                <span class="figure text-soft text-sm">{{ show(c.ideal_ratio, '') }} : 1</span>
              </li>
            </ul>
          </template>
        </section>
        <p v-else class="text-soft">
          Choose a rope or a thing in the picture to read it{{ raising ? ', and to change the haul there' : '' }}.
        </p>
        <p v-if="weakest" data-weakest>
          <span :class="(weakest.margin ?? 0) < weakest.wanted ? 'text-stop' : ''"
            >{{ (weakest.margin ?? 0) < weakest.wanted ? '■ ' : '' }}Weakest: <b>{{ weakest.label }}</b></span
          >, {{ show(weakest.load_kN, 'kN') }} {{ weakest.while }}, with the rope below it,
          <span class="figure">{{ show(weakest.margin ?? 0, '') }} ×</span> of {{ weakest.wanted }} required.
        </p>
        <template v-if="raising && figures.hauling?.haul">
          <p class="mt-2" data-hand>
            All haulers pull <b class="figure">{{ show(figures.hauling.haul.hand_kN, 'kN') }}</b> together:
            {{ figures.hauling.haul.haulers_needed }} of them, for a long while.
            {{ show(figures.hauling.haul.ideal_ratio, '') }} : 1 on paper,
            <b class="figure">{{ show(figures.hauling.haul.actual_ratio, '') }} : 1</b> with what pulleys lose.
          </p>
          <p v-if="figures.hauling.jam" class="mt-2" data-jam>
            If the load is caught and they pull their most, the load line sees
            <b class="figure">{{ show(figures.hauling.jam.line_kN, 'kN') }}</b> to
            {{ show(figures.hauling.jam.ceiling_kN, 'kN') }}. First to give:
          </p>
          <ul class="text-sm">
            <li v-for="g in first" :key="g.label + g.limit" :class="g.passed ? 'text-look' : ''">
              {{ g.passed ? '◆' : '' }} {{ g.label }}, {{ g.limit }} at {{ show(g.limit_kN, 'kN') }}: sees
              {{ show(g.force_kN, 'kN') }}
            </li>
          </ul>
          <TeamHaul :drop="drop" :built="figures.hauling" class="mt-2" />
        </template>
        <template v-else>
          <div v-for="b in figures.brakes" :key="b.line" class="mt-3" :data-brake="b.line">
            <h2 class="text-base font-semibold">{{ b.label }}, {{ b.line }}</h2>
            <ModelCautions :drop="drop" :items="[b.brake]" />
            <p v-if="!b.known" class="text-soft">No friction of it is entered.</p>
            <ul v-else>
              <li v-for="(a, i) in b.adds.slice(0, 3)" :key="a.words" :class="i === b.best ? 'font-semibold' : ''">
                {{ a.words }}: <span class="figure">{{ show(a.hand_kN, 'kN') }}</span> on the brake strand<template
                  v-if="!a.held"
                >
                  <span class="text-look"> ◆ more than a hand holds for long</span></template
                ><template v-else-if="a.stiff"> · hardly runs</template>
              </li>
            </ul>
            <p v-if="b.two">{{ b.two }}.</p>
            <p v-if="b.end_C !== undefined" :class="b.limit_C && b.end_C > b.limit_C ? 'text-stop' : ''">
              {{ show(b.end_C, '°C') }} at the landing, lowered at {{ show(b.speed_m_s, 'm/s')
              }}<template v-if="b.limit_C">; sheath limit {{ show(b.limit_C, '°C') }}</template
              ><template v-if="b.fastest_m_s">, up to {{ show(b.fastest_m_s, 'm/s') }}</template
              >.
            </p>
          </div>
        </template>
        <FindingNote v-for="f in figures.found" :key="f.rule + f.subject.id + f.what" :finding="f" class="mt-3" />
        <p v-if="!figures.found.length && draft.report" class="mt-3">
          Nothing found on the rig as it is built, in what was looked at.
        </p>
      </div>
    </div>
  </div>
</template>
