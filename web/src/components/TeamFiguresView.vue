<script setup lang="ts">
// What every ratio asks of the haulers, and what both schools do at every height when a
// strand fails.
import type { TeamAnswer } from '@/api/client'
import { show } from '@/lib/units'

defineProps<{ figures: NonNullable<TeamAnswer['figures']>; haulers: number }>()
</script>

<template>
  <div class="grid gap-x-10 gap-y-4 @3xl:grid-cols-2">
    <section data-hauls>
      <h2>Haul, the whole way up</h2>
      <table class="mt-1 w-full text-sm">
        <thead>
          <tr class="text-soft text-left">
            <th class="pr-3 font-normal">ratio</th>
            <th class="pr-3 font-normal">all pull</th>
            <th class="pr-3 font-normal">haulers</th>
            <th class="pr-3 font-normal">strokes</th>
            <th class="pr-3 font-normal">rope</th>
            <th class="font-normal">if it jams</th>
          </tr>
        </thead>
        <tbody class="figure">
          <tr v-for="h in figures.hauls" :key="h.ratio" class="border-line border-t">
            <th scope="row" class="py-1 pr-3 text-left">{{ h.ratio }}:1</th>
            <td class="pr-3">{{ show(h.hand_kN, 'kN') }}</td>
            <td class="pr-3" :class="h.haulers_needed > haulers ? 'text-look' : ''">
              {{ h.haulers_needed > haulers ? '◆ ' : '' }}{{ h.haulers_needed }}
            </td>
            <td class="pr-3">{{ h.strokes }}</td>
            <td class="pr-3">{{ show(h.rope_through_hands_m, 'm') }}</td>
            <td>
              {{ show(h.jammed_kN, 'kN') }}<span v-if="!h.ready" class="text-look"> ◆ {{ h.pulleys }} pulleys</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="text-soft mt-1 text-sm">◆: more haulers, or more pulleys and a grab, than are here.</p>
    </section>
    <section data-schools>
      <h2>If a strand fails</h2>
      <table class="mt-1 w-full text-sm">
        <thead>
          <tr class="text-soft text-left">
            <th class="pr-3 font-normal">load at</th>
            <th class="pr-3 font-normal">slack belay drops</th>
            <th class="pr-3 font-normal">peak</th>
            <th class="pr-3 font-normal">shared drops</th>
            <th class="font-normal">peak</th>
          </tr>
        </thead>
        <tbody class="figure">
          <tr v-for="s in figures.schools" :key="s.at_m" class="border-line border-t">
            <th scope="row" class="py-1 pr-3 text-left font-normal">{{ show(s.at_m, 'm') }}</th>
            <td class="pr-3">{{ show(s.slack.drop_m, 'm') }}</td>
            <td class="pr-3" :class="s.slack.peak_kN > figures.ceiling_kN ? 'text-look' : ''">
              {{ s.slack.peak_kN > figures.ceiling_kN ? '◆ ' : '' }}{{ show(s.slack.peak_kN, 'kN') }}
            </td>
            <td class="pr-3">{{ show(s.shared.drop_m, 'm') }}</td>
            <td>{{ show(s.shared.peak_kN, 'kN') }}</td>
          </tr>
        </tbody>
      </table>
      <p class="text-soft mt-1 text-sm">◆: above the ceiling of {{ show(figures.ceiling_kN, 'kN') }}.</p>
    </section>
  </div>
</template>
