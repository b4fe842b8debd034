<script setup lang="ts">
// What every ratio asks of the haulers, and what both schools do at every height when a
// strand fails.
import type { TeamFigures } from '@/api/client'
import { show } from '@/lib/units'
import { minutes } from '@/lib/words'
import TermWord from '@/components/TermWord.vue'

defineProps<{ figures: TeamFigures; haulers: number; run?: number }>()
</script>

<template>
  <div class="grid gap-x-10 gap-y-4 @3xl:grid-cols-2">
    <section class="min-w-0" data-hauls>
      <h2>Haul, the whole way up</h2>
      <div class="overflow-x-auto" tabindex="0" role="region" aria-label="Hauls">
        <table class="mt-1 w-full text-sm whitespace-nowrap">
          <thead>
            <tr class="text-soft text-left">
              <th class="pr-3 font-normal"><TermWord word="mechanical advantage">ratio</TermWord></th>
              <th class="pr-3 font-normal">all pull</th>
              <th class="pr-3 font-normal">haulers</th>
              <th class="pr-3 font-normal">strokes</th>
              <th class="pr-3 font-normal">rope</th>
              <th class="pr-3 font-normal">time</th>
              <th class="font-normal">if it jams</th>
            </tr>
          </thead>
          <tbody class="figure">
            <tr
              v-for="(h, i) in figures.hauls"
              :key="h.system"
              class="border-line border-t"
              :class="i === figures.best ? 'font-semibold' : ''"
            >
              <th scope="row" class="py-1 pr-3 text-left">{{ h.system }}{{ i === figures.best ? ' ←' : '' }}</th>
              <td class="pr-3">{{ show(h.hand_kN, 'kN') }}</td>
              <td class="pr-3" :class="h.haulers_needed > haulers ? 'text-look' : ''">
                {{ h.haulers_needed > haulers ? '◆ ' : '' }}{{ h.haulers_needed }}
              </td>
              <td class="pr-3">{{ h.strokes }}</td>
              <td class="pr-3">{{ show(Math.round(h.rope_through_hands_m), 'm') }}</td>
              <td class="pr-3">{{ minutes(h.seconds_s) }}</td>
              <td>{{ show(h.jammed_kN, 'kN') }}<span v-if="!h.ready" class="text-look"> ◆ kit</span></td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="text-soft mt-1 text-sm">
        ◆: more haulers than are here; ◆ kit: more pulleys, grabs or connectors. ←: what they manage, by your school.
      </p>
      <ul class="mt-2 text-[0.95rem] leading-snug" data-haul-plan>
        <li v-if="figures.best >= 0">
          Each stroke takes {{ show(figures.hauls[figures.best]!.rope_per_stroke_m, 'm', 1) }} of rope{{
            run
              ? `, on ${show(run, 'm')} of run: back ${figures.hauls[figures.best]!.walks} times in a stroke`
              : ', hand over hand'
          }}; {{ figures.hauls[figures.best]!.resets }} resets.
        </li>
        <li v-for="c in figures.changes" :key="c.at_m">
          <b class="figure">{{ show(c.at_m, 'm') }}</b>: from {{ c.from }}:1 to {{ c.to }}:1 at the next reset;
          {{ c.why }}.
        </li>
        <li v-if="!figures.changes.length && figures.best >= 0">One ratio does the whole way up.</li>
        <li v-if="figures.release">
          A toothed capture is freed by taking in <b class="figure">{{ show(figures.release.take_in_m, 'm') }}</b>: its
          release travel and the stretch of the rope behind it<template v-if="!figures.release.cam_holds_open"
            >; ◆ its cam cannot be held open</template
          >.
        </li>
      </ul>
    </section>
    <section class="min-w-0" data-schools>
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
          <tr v-for="s in figures.schools.filter((_, i) => i % 2 === 0)" :key="s.at_m" class="border-line border-t">
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
