<script setup lang="ts">
// One step of a move: what is called, what to do, what to look for, and why now.
import type { MoveStep } from '@/api/client'
import { show } from '@/lib/units'

defineProps<{ n: number; step?: MoveStep; start: MoveStep['after'] }>()
</script>

<template>
  <section class="no-print" aria-live="polite" data-step>
    <p v-if="step?.call" class="text-accent text-lg font-semibold">“{{ step.call }}” — wait for the answer</p>
    <h2 class="text-lg leading-snug">
      <template v-if="step">{{ n }}. {{ step.say }}</template>
      <template v-else>Start: {{ start.grounded ? 'on your feet' : `at ${show(start.at_m, 'm')}` }}</template>
    </h2>
    <p v-if="step?.reason" class="text-soft">{{ step.reason }}</p>
    <p v-if="step?.settle_m">The body settles {{ show(step.settle_m, 'm') }}.</p>
    <p v-for="b in step?.broken ?? []" :key="b.rule + b.why" :class="b.severity === 'stop' ? 'text-stop' : 'text-look'">
      {{ b.severity === 'stop' ? '■' : '◆' }} {{ b.why }} <span class="figure text-sm">{{ b.rule }}</span>
    </p>
  </section>
</template>
