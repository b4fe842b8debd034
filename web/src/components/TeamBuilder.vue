<script setup lang="ts">
// The team's rig in sentences that are edited where they are read: load, brakes, what
// fixes them, who works them, what lies ready, and the schools that are followed.
import { computed, ref } from 'vue'
import type { Drop, Place, TeamRig } from '@/api/client'
import { include, itemOf, labelOf, useGear, usedItems } from '@/lib/gear'
import { kitClasses, loads } from '@/lib/team'
import { useDraft } from '@/stores/draft'
import ItemChooser from './ItemChooser.vue'
import ItemPicker from './ItemPicker.vue'
import LiveChoice from './LiveChoice.vue'
import LiveNumber from './LiveNumber.vue'
import LiveText from './LiveText.vue'

const props = defineProps<{ drop: Drop; team: TeamRig }>()

const draft = useDraft()
const gear = useGear()
const place = ref<Place>()
const placeTitle = ref('')

function set(change: (t: TeamRig, d: Drop) => void) {
  draft.edit((d) => d.team && change(d.team, d))
}

function choose(p: Place['team'], title: string) {
  place.value = { team: p }
  placeTitle.value = `In the place of ${title}`
}

const kind = computed(() => (props.team.load.stretcher ? 'stretcher' : props.team.load.persons > 1 ? 'two' : 'one'))

function setLoad(value: string) {
  const l = loads.find((o) => o.value === value)
  if (l)
    set(
      (t) =>
        (t.load = { name: l.words, mass_kg: l.kg, persons: l.persons, ...(l.stretcher ? { stretcher: true } : {}) }),
    )
}

const free = computed(() => {
  const used = usedItems(props.drop)
  return gear.items.value.flatMap((item) => {
    const model = gear.models.value.get(item.model)
    return model && kitClasses.includes(model.class) && !used.has(item.id) && item.state === 'in-service'
      ? [{ item, model }]
      : []
  })
})
const connectors = computed(() => free.value.filter((f) => f.model.class === 'connector'))
const lines = ['main', 'belay'] as const
/** What a line hangs from: its legs are stated on the Drop page. */
const anchorsOf = (line: 'main' | 'belay') => {
  const strand = props.drop.strands?.find((s) => s.id === props.team[line].strand)
  const names = (strand?.anchors ?? []).map((id) => props.drop.anchors?.find((a) => a.id === id)?.name ?? id)
  return names.join(' and ') || 'no anchor yet'
}
/** The edge that the load goes over: the highest. */
const edge = computed(() => [...(props.drop.geometry.edges ?? [])].sort((a, b) => b.height_m - a.height_m)[0])

const knots = (line: 'main' | 'belay') => (props.team[line].knots_m ?? []).map(String).join(', ')
function setKnots(line: 'main' | 'belay', text: string) {
  const list = text
    .split(/[,;]\s*|\s+/)
    .filter(Boolean)
    .map((s) => Number(s))
  set((t) => {
    if (list.length && list.every((n) => Number.isFinite(n))) t[line].knots_m = list.sort((a, b) => a - b)
    else if (!list.length) delete t[line].knots_m
  })
}

const ways = {
  walk_away: [
    'when an operator leaves, the brake is parked and',
    [
      ['overhand', 'an overhand in a bight round the load strand'],
      ['stopped-eight', 'a stopped figure-eight'],
      ['connector', 'the bight with a connector to the anchor'],
    ],
  ],
  park_at_changeover: [
    'at a changeover the park brake is',
    [
      ['set', 'set'],
      ['hand', 'left off, the hand on the rope'],
    ],
  ],
  speed_by: [
    'speed comes',
    [
      ['hand', 'by the brake hand, the handle fully open'],
      ['handle', 'by the handle'],
    ],
  ],
  catch: [
    'a load at a knot is caught by',
    [
      ['mechanical', 'a mechanical grab'],
      ['cord', 'one hitch cord'],
      ['two-cords', 'two hitch cords'],
    ],
  ],
  ratio_way: [
    'a haul is',
    [
      ['build-up', 'built up from a simple one'],
      ['compound', 'started compound'],
    ],
  ],
} as const
type Way = keyof typeof ways
const wayNames = Object.keys(ways) as Way[]
const setWay = (way: Way, value: string) => set((t) => Object.assign(t, { [way]: value }))
</script>

<template>
  <div class="briefing" data-builder>
    <p>
      The load is
      <LiveChoice
        :value="kind"
        :options="loads.map((l) => ({ value: l.value as string, words: l.words }))"
        label="Load"
        @set="setLoad"
      />, called
      <LiveText
        :value="team.load.name"
        label="Name of the load"
        required
        @set="(v) => set((t) => (t.load.name = v))"
      />, of
      <LiveNumber
        :value="team.load.mass_kg"
        unit="kg"
        label="Mass of the load"
        :step="5"
        :min="1"
        :max="600"
        pointer="/team/load/mass_kg"
        @set="(v) => set((t) => (t.load.mass_kg = v))"
      />
      with everything, lowered at
      <LiveNumber
        :value="team.speed_m_s ?? 0.5"
        unit="m/s"
        label="Speed of lowering"
        :step="0.1"
        :min="0.05"
        :max="5"
        pointer="/team/speed_m_s"
        @set="(v) => set((t) => (t.speed_m_s = v))"
      />.
    </p>
    <p v-for="line in lines" :key="line">
      The {{ line }} runs on the
      <LiveChoice
        :value="team[line].strand"
        :options="(drop.strands ?? []).map((s) => ({ value: s.id, words: `${s.name} strand` }))"
        :label="`Strand of the ${line}`"
        :pointer="`/team/${line}/strand`"
        @set="(v) => set((t) => (t[line].strand = v))"
      />
      from
      <RouterLink class="live" :to="{ name: 'drop', params: { id: draft.id }, hash: '#anchors' }">{{
        anchorsOf(line)
      }}</RouterLink>
      through
      <button type="button" class="live" @click="choose(line, labelOf(drop, team[line].brake))">
        {{ labelOf(drop, team[line].brake) }}</button>, which
      <LiveChoice
        :value="team[line].place ?? 'hanging'"
        :options="[
          { value: 'hanging' as const, words: 'hangs' },
          { value: 'ground' as const, words: 'lies on the ground' },
        ]"
        :label="`How the brake of the ${line} lies`"
        @set="(v) => set((t) => (t[line].place = v))"
      />, fixed by
      <button
        v-if="team[line].connector"
        type="button"
        class="live"
        @click="choose(line === 'main' ? 'main-connector' : 'belay-connector', labelOf(drop, team[line].connector!))"
      >
        {{ labelOf(drop, team[line].connector!) }}
      </button>
      <ItemPicker
        v-else
        :items="connectors"
        words="a connector"
        @pick="
          (item, model) =>
            set((t, d) => {
              include(d, item, model)
              t[line].connector = item.id
            })
        "
      />; knots in its rope, counted from the load:
      <LiveText
        :value="knots(line)"
        empty="none"
        :label="`Knots of the ${line}, in metres from the load`"
        :pointer="`/team/${line}/knots_m`"
        @set="(v) => setKnots(line, v)"
      />
      m.
    </p>
    <p>
      At the ropes:
      <template v-for="(who, i) in team.operators" :key="i">
        <LiveText :value="who" :label="`Operator ${i + 1}`" required @set="(v) => set((t) => (t.operators[i] = v))" />
        ({{ ['main', 'belay', 'edge'][i] ?? 'spare' }})<button
          v-if="team.operators.length > 1 && i === team.operators.length - 1"
          type="button"
          class="quiet"
          :aria-label="`take off: ${who}`"
          @click="set((t) => t.operators.pop())"
        >
          take off</button
        >{{ i < team.operators.length - 1 ? ', ' : '' }}
      </template>
      <button
        v-if="team.operators.length < 6"
        type="button"
        class="quiet"
        @click="set((t) => t.operators.push(`operator ${t.operators.length + 1}`))"
      >
        one more</button
      >. They
      <LiveChoice
        :value="!team.out_of_sight"
        :options="[
          { value: true, words: 'see each other' },
          { value: false, words: 'do not see each other' },
        ]"
        label="Operators in sight"
        @set="(v) => set((t) => (t.out_of_sight = !v))"
      />.
      <LiveNumber
        :value="team.haulers ?? 0"
        unit=""
        label="Haulers"
        :step="1"
        :min="0"
        :max="50"
        pointer="/team/haulers"
        @set="(v) => set((t) => (t.haulers = Math.round(v)))"
      />
      to haul, with
      <LiveNumber
        :value="team.run_m ?? 0"
        unit="m"
        label="Clear run of the haulers"
        :step="1"
        :min="0"
        :max="200"
        pointer="/team/run_m"
        @set="(v) => set((t) => (v > 0 ? (t.run_m = v) : delete t.run_m))"
      />
      of clear run; the load goes over
      <RouterLink class="live" :to="{ name: 'drop', params: { id: draft.id } }">{{
        edge ? `${edge.name} (${edge.protection === 'none' ? 'not protected' : edge.protection})` : 'no edge'
      }}</RouterLink>, the anchors stand
      <LiveNumber
        :value="team.back_m ?? 2"
        unit="m"
        label="From the edge back to the anchors"
        :step="0.5"
        :min="0"
        :max="100"
        pointer="/team/back_m"
        @set="(v) => set((t) => (t.back_m = v))"
      />
      back from the edge.
    </p>
    <p>
      Ready at the anchors:
      <template v-for="id in team.kit ?? []" :key="id"
        ><span class="wrap-anywhere"
          >{{ itemOf(drop, id)?.label ?? id
          }}<button
            type="button"
            class="quiet"
            :aria-label="`Leave ${labelOf(drop, id)} out`"
            @click="set((t) => (t.kit = (t.kit ?? []).filter((k) => k !== id)))"
          >
            ×
          </button></span
        >{{ ' ' }}
      </template>
      <ItemPicker
        :items="free"
        words="Add"
        @pick="
          (item, model) =>
            set((t, d) => {
              include(d, item, model)
              t.kit = [...(t.kit ?? []), item.id]
            })
        "
      />
    </p>
    <p>
      Lowered by
      <LiveChoice
        :value="team.lowering ?? 'slack-belay'"
        :options="[
          {
            value: 'slack-belay' as const,
            words: 'slack belay',
            note: 'all on the main; trouble is heard and seen early',
          },
          { value: 'shared' as const, words: 'shared tension', note: 'small drop; two operators in step' },
          { value: 'mixed' as const, words: 'slack belay over the edge, shared after', note: 'each where it is good' },
        ]"
        label="School of lowering"
        @set="(v) => set((t) => (t.lowering = v))"
      />;
      <template v-for="(way, i) in wayNames" :key="way">
        {{ ways[way][0] }}
        <LiveChoice
          :value="team[way] ?? ways[way][1][0][0]"
          :options="ways[way][1].map(([value, words]) => ({ value: value as string, words }))"
          :label="ways[way][0]"
          @set="(v) => setWay(way, v)"
        />{{ i < wayNames.length - 1 ? '; ' : '.' }}
      </template>
    </p>
    <ItemChooser :place="place" :title="placeTitle" @close="place = undefined" />
  </div>
</template>
