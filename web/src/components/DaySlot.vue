<script setup lang="ts">
// One drop of a day: its hours, who answers for it, who is on it, and the hazards of its work.
import { computed } from 'vue'
import type { Lane, Slot } from '@/api/client'
import { minutes } from '@/lib/days'
import LiveChoice from './LiveChoice.vue'
import LiveNumber from './LiveNumber.vue'
import LiveText from './LiveText.vue'

const props = defineProps<{
  of: Slot
  lane: Lane
  people: { id: string; name: string }[]
  still: boolean
  seats: boolean
}>()
const emit = defineEmits<{
  change: [edit: (s: Slot) => void]
  move: [minute: number]
  seat: [person: string, by: string]
}>()

const hazards = {
  cutting: 'cutting',
  grinding: 'grinding',
  'hot-work': 'hot work',
  chemicals: 'chemicals',
  machinery: 'machinery',
  vehicles: 'vehicles near tails',
  boats: 'boats near tails',
  'falling-objects': 'falling objects',
} as const
type Kind = keyof typeof hazards
const nobody = [{ value: '', words: 'nobody yet' }]
const members = computed(() => props.people.map((p) => ({ value: p.id, words: p.name })))
const more = computed(() =>
  (Object.keys(hazards) as Kind[]).filter((k) => !props.of.hazards?.some((h) => h.kind === k)),
)

function setFrom(text: string) {
  const at = /^(\d{1,2})[:.]?(\d\d)$/.exec(text)
  if (at && Number(at[1]) < 24 && Number(at[2]) < 60) emit('move', minutes(`${at[1]!.padStart(2, '0')}:${at[2]}`))
}
</script>

<template>
  <section :inert="still" data-slot>
    <h2>
      <RouterLink :to="{ name: 'drop', params: { id: of.drop } }" class="underline">{{ lane.name }}</RouterLink>
    </h2>
    <p class="briefing">
      From
      <LiveText :value="of.from ?? ''" label="Time it begins" empty="no time yet" @set="setFrom" />
      for
      <LiveNumber
        :value="of.hours"
        unit="h"
        label="Hours it lasts"
        :step="0.25"
        :min="0.25"
        :max="24"
        @set="(v) => emit('change', (s) => (s.hours = v))"
      />.
      <LiveChoice
        :value="of.supervisor ?? ''"
        :options="[...nobody, ...members]"
        label="Supervisor"
        @set="(v) => emit('change', (s) => (v ? (s.supervisor = v) : delete s.supervisor))"
      />
      supervises. Gusts at most
      <template v-if="of.gust_m_s">
        <LiveNumber
          :value="of.gust_m_s"
          unit="m/s"
          label="Gusts at most at this site; 0: the policy's limit"
          :step="0.5"
          :min="0"
          :max="60"
          @set="(v) => emit('change', (s) => (v ? (s.gust_m_s = v) : delete s.gust_m_s))" /></template
      ><template v-else>
        as the policy says
        <button type="button" class="quiet text-sm" @click="emit('change', (s) => (s.gust_m_s = 8))">
          set the site’s own
        </button></template
      >. A rescuer from another drop takes
      <LiveNumber
        :value="of.come_min ?? 10"
        unit="min"
        label="Minutes a rescuer takes from another drop"
        :step="1"
        :min="0"
        :max="600"
        @set="(v) => emit('change', (s) => (s.come_min = v))"
      />.
    </p>
    <ul class="mt-2">
      <li v-for="s in lane.seats" :key="s.person" class="flex min-h-11 flex-wrap items-center gap-x-2">
        <LiveChoice
          v-if="seats && s.task !== 'at the brakes'"
          :value="s.person"
          :options="[
            ...(members.some((m) => m.value === s.person) ? [] : [{ value: s.person, words: s.name }]),
            ...members,
          ]"
          :label="`Who is ${s.task}`"
          @set="(v) => v !== s.person && emit('seat', s.person, v)"
        />
        <b v-else>{{ s.name }}</b>
        <span class="text-soft">{{ s.task }}</span>
      </li>
    </ul>
    <h3 class="mt-3 font-semibold">Hazards of the work</h3>
    <ul>
      <li v-for="(h, n) in of.hazards ?? []" :key="h.kind" class="py-1" data-hazard>
        <b>{{ hazards[h.kind as Kind] }}</b>: <span v-if="!h.protection" class="text-stop">■ </span>
        <LiveText
          :value="h.protection ?? ''"
          label="What protects ropes and people"
          empty="state what protects ropes and people"
          long
          @set="(v) => emit('change', (s) => (s.hazards![n]!.protection = v))"
        />
        <button
          type="button"
          class="quiet text-sm"
          @click="
            emit('change', (s) => {
              s.hazards!.splice(n, 1)
              if (!s.hazards!.length) delete s.hazards
            })
          "
        >
          leave out
        </button>
      </li>
    </ul>
    <p class="flex flex-wrap items-center gap-2">
      <LiveChoice
        v-if="more.length"
        value=""
        :options="[{ value: '', words: 'add a hazard' }, ...more.map((k) => ({ value: k, words: hazards[k] }))]"
        label="Hazard"
        @set="
          (v) =>
            v &&
            emit('change', (s) => {
              s.hazards = [...(s.hazards ?? []), { kind: v as Kind }]
              delete s.no_hazards
            })
        "
      />
      <label v-if="!of.hazards?.length" class="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          class="size-5"
          :checked="of.no_hazards"
          @change="
            (e) =>
              emit('change', (s) =>
                (e.target as HTMLInputElement).checked ? (s.no_hazards = true) : delete s.no_hazards,
              )
          "
        />
        looked at: the work brings none
      </label>
    </p>
  </section>
</template>
