<script setup lang="ts">
// Who stands where with which hands, and what is called before each step, in the team's
// own words.
import type { TeamAnswer, TeamCall } from '@/api/client'
import { useDraft } from '@/stores/draft'
import LiveText from './LiveText.vue'

defineProps<{ answer: TeamAnswer }>()

const draft = useDraft()
const words: Record<TeamCall['do'], string> = {
  'over-edge': 'over the edge',
  lower: 'lower',
  settle: 'let down onto the grab',
  extend: 'back onto the brake',
  haul: 'haul',
  capture: 'give slack: the brake bears',
  strip: 'the haul off',
  share: 'both strands carry',
  unshare: 'the main carries again',
  swap: 'another hand on the brake strand',
  'free-teeth': 'open a toothed capture',
  turn: 'turn the wheel',
  'free-lock': 'free the wheel’s lock',
}

function set(c: TeamCall, change: Partial<TeamCall>) {
  draft.edit((d) => {
    if (!d.team) return
    d.team.calls = [...(d.team.calls ?? []).filter((o) => o.do !== c.do), { ...c, ...change }]
  })
}
</script>

<template>
  <div class="grid gap-x-10 gap-y-4 @3xl:grid-cols-2">
    <section data-roles>
      <h2>Who stands where</h2>
      <dl class="mt-1 space-y-3 text-[0.95rem] leading-snug">
        <div v-for="r in answer.figures?.roles ?? []" :key="r.who + r.at">
          <dt class="font-semibold">
            {{ r.who }}<span class="text-soft font-normal"> · {{ r.at }}</span>
          </dt>
          <dd>{{ r.place }}</dd>
          <dd v-if="r.paying_out"><span class="text-soft">paying out:</span> {{ r.paying_out }}</dd>
          <dd v-if="r.taking_in"><span class="text-soft">taking in:</span> {{ r.taking_in }}</dd>
          <dd v-if="r.sees"><span class="text-soft">sees:</span> {{ r.sees }}</dd>
        </div>
      </dl>
    </section>
    <section data-calls>
      <h2>Calls</h2>
      <p class="text-soft text-sm">No step moves the load before its call is answered. Change the words to your own.</p>
      <table class="mt-1 w-full text-sm">
        <thead>
          <tr class="text-soft text-left">
            <th class="pr-3 font-normal">before</th>
            <th class="pr-3 font-normal">called</th>
            <th class="font-normal">answered</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in answer.calls" :key="c.do" class="border-line border-t" :data-call="c.do">
            <th scope="row" class="pr-3 text-left font-normal">{{ words[c.do] }}</th>
            <td class="pr-3">
              <LiveText
                :value="c.call"
                :label="`Call before: ${words[c.do]}`"
                required
                @set="(v) => set(c, { call: v })"
              />
            </td>
            <td>
              <LiveText
                :value="c.answer ?? ''"
                :label="`Answer to: ${words[c.do]}`"
                required
                @set="(v) => set(c, { answer: v })"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>
