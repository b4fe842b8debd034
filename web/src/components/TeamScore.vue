<script setup lang="ts">
// The score of a team: for each strand its brake, the hand on it, grab and haul.
import { computed } from 'vue'
import type { Drop, TeamPlan } from '@/api/client'
import type { SheetFigures } from '@/lib/sheet'
import { states, teamScore } from '@/lib/team'
import { show, unitOf } from '@/lib/units'
import ScoreSheet from './ScoreSheet.vue'

const props = defineProps<{ drop: Drop; plan: TeamPlan; step: number }>()
const emit = defineEmits<{ step: [n: number] }>()

const lanes = computed(() => teamScore(props.drop, props.plan))
const plain = (m: number) => show(m, 'm').split(' ')[0]!
const figures = computed((): SheetFigures[] => {
  const unit = unitOf('m')
  const drops = [
    '',
    ...props.plan.steps.map((s) =>
      s.fail_one[0]?.held === false ? '■' : s.fail_one[0] ? plain(s.fail_one[0].free_fall_m) : '',
    ),
  ]
  return [
    { words: `load at, ${unit}`, of: states(props.plan).map((s) => (s.hangs ? plain(s.at_cm / 100) : '')) },
    { words: `worst drop, ${unit}`, of: drops, bad: (n) => drops[n] === '■' },
  ]
})
</script>

<template>
  <ScoreSheet
    :lanes="lanes"
    :figures="figures"
    :steps="plan.steps.length"
    :step="step"
    :column="46"
    words
    name="Score of the team"
    :title="`${plan.move}, ${plan.steps.length} steps`"
    @step="(n) => emit('step', n)"
  />
</template>
