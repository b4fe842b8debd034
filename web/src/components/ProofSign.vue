<script setup lang="ts">
// A plain drawing of what a proof does: a rope, a block on it, and what moves.
import type { Proof } from '@/api/client'

defineProps<{ sign?: Proof['sign'] }>()

const up = 'M92 74V30m-9 11l9 -12 9 12'
const down = 'M92 46v44m-9 -11l9 12 9 -12'
const moves: Partial<Record<NonNullable<Proof['sign']>, string>> = {
  'pull-up': up,
  'pull-down': down,
  jerk: `${down}M104 40v30m-6 -8l6 8 6 -8`,
  roll: `${up}M110 46v44m-9 -11l9 12 9 -12`,
  'let-go': 'M84 66q14 -16 30 -6m-30 6q16 2 30 -6M108 78l10 8m-4 -18l12 2',
  handle: 'M76 60h30m-8 -14q18 14 0 28m-6 -6l6 7 9 -3',
  cord: 'M76 72q16 4 18 24m-7 -9l7 10 8 -9',
  park: 'M86 46h22v28h-22zM92 46v-8q5 -9 10 0v8',
  shut: 'M112 42l-28 18 28 18m-28 -18h34',
  lay: 'M118 40q-34 4 -34 20t34 20m-9 -9l10 9 -9 9',
  look: 'M80 60q17 -22 36 0q-19 22 -36 0m18 -6a6 6 0 1 0 .1 0',
  gate: 'M88 40v34q0 12 11 12t11 -12v-34q0 -10 -11 -10t-11 10m22 6v18',
  knot: 'M84 60q0 -18 16 -18t16 18 -16 18 -16 -18m8 -12q22 4 16 26',
  person: 'M98 40a8 8 0 1 0 .1 0M98 57v24m-16 -16l16 -6 16 6m-16 16l-9 18m9 -18l9 18',
}
</script>

<template>
  <svg viewBox="0 0 132 120" class="h-[120px] w-[132px]" fill="none" stroke-linecap="round" aria-hidden="true">
    <path d="M50 6v108" stroke="var(--main)" stroke-width="5" />
    <rect x="34" y="42" width="32" height="38" rx="6" fill="var(--ground)" stroke="var(--ink)" stroke-width="3" />
    <path d="M50 54v14m-5 -9l5 -6 5 6" stroke="var(--ink)" stroke-width="2.5" />
    <path :d="moves[sign ?? 'look']" stroke="var(--accent)" stroke-width="3.5" stroke-linejoin="round" />
  </svg>
</template>
