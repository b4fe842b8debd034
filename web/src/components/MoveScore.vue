<script setup lang="ts">
// The score of a move: a lane for each strand and for what is clipped into, a row for
// each thing. One bar never ends before the next begins.
import { computed } from 'vue'
import type { Drop, MovePlan } from '@/api/client'
import { score, stances, worst } from '@/lib/score'
import type { SheetFigures } from '@/lib/sheet'
import { show, unitOf } from '@/lib/units'
import ScoreSheet from './ScoreSheet.vue'

const props = defineProps<{ drop: Drop; plan: MovePlan; step: number }>()
const emit = defineEmits<{ step: [n: number] }>()

const lanes = computed(() => score(props.drop, props.plan))
const plain = (m: number) => show(m, 'm').split(' ')[0]!
const figures = computed((): SheetFigures[] => {
  const unit = unitOf('m')
  const held = stances(props.plan).map((s) => (s.grounded ? '' : String(s.held ?? 0)))
  const falls = [undefined, ...props.plan.steps].map((s) => worst(s))
  return [
    { words: 'independent holds', of: held, bad: (n) => held[n] !== '' && Number(held[n]) < 2 },
    { words: `settles, ${unit}`, of: ['', ...props.plan.steps.map((s) => (s.settle_m ? plain(s.settle_m) : ''))] },
    {
      words: `worst fall, ${unit}`,
      of: falls.map((f, n) => (n === 0 ? '' : f.held ? plain(f.fall) : '■')),
      bad: (n) => !falls[n]!.held,
    },
  ]
})
</script>

<template>
  <ScoreSheet
    :lanes="lanes"
    :figures="figures"
    :steps="plan.steps.length"
    :step="step"
    name="Score of the move"
    :title="`${plan.move}, ${plan.steps.length} steps`"
    @step="(n) => emit('step', n)"
  />
</template>
