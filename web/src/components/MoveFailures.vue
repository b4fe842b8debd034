<script setup lang="ts">
// What happens if one thing fails at a step, the worst first.
import type { MoveStep } from '@/api/client'
import { show } from '@/lib/units'
import TermWord from '@/components/TermWord.vue'

withDefaults(defineProps<{ step: { fail_one: MoveStep['fail_one'] }; fall?: string }>(), { fall: 'free fall' })
</script>

<template>
  <div class="no-print">
    <table v-if="step.fail_one.length" class="mt-2 text-sm" data-fail-one>
      <thead>
        <tr class="text-soft text-left">
          <th class="pr-5 font-normal">if this goes</th>
          <th class="pr-5 font-normal">this holds</th>
          <th class="pr-5 font-normal">{{ fall }}</th>
          <th class="pr-5 font-normal"><TermWord word="impact force">peak</TermWord></th>
          <th class="font-normal">aside</th>
        </tr>
      </thead>
      <tbody class="figure">
        <tr
          v-for="(l, i) in step.fail_one"
          :key="l.words"
          class="border-line border-t"
          :class="i ? '' : 'font-semibold'"
        >
          <td class="py-1 pr-5">{{ l.words }}</td>
          <td class="pr-5">
            <span v-if="l.held">{{ l.by }}</span><b v-else class="text-stop">■ nothing</b>
          </td>
          <td class="pr-5">{{ show(l.free_fall_m, 'm') }}</td>
          <td class="pr-5">{{ l.peak_kN ? show(l.peak_kN, 'kN') : 'none' }}</td>
          <td>{{ l.swing_m ? show(l.swing_m, 'm') : 'no' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="text-soft">On your feet nothing can let you fall.</p>
  </div>
</template>
