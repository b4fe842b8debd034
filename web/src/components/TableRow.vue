<script setup lang="ts">
// One figure of a table: what is in force, where from, and the way back.
import { computed } from 'vue'
import LiveNumber from '@/components/LiveNumber.vue'
import { show } from '@/lib/units'

const props = defineProps<{
  words: string
  /** What the figure is, for those who do not see the table around it. */
  label: string
  value: number
  shipped: number
  unit: string
  step: number
  min: number
  max: number
}>()
const emit = defineEmits<{ set: [value: number]; reset: [] }>()
const differs = computed(() => props.value !== props.shipped)
</script>

<template>
  <tr class="border-line border-t">
    <th scope="row" class="py-1 pr-3 text-left leading-snug font-normal">{{ words }}</th>
    <td class="w-24 whitespace-nowrap">
      <LiveNumber
        :value="value"
        :unit="unit"
        :label="label"
        :step="step"
        :min="min"
        :max="max"
        @set="(v) => emit('set', v)"
      />
    </td>
    <td class="w-48 text-sm max-sm:w-28">
      <template v-if="differs">
        <b>own</b>
        <button type="button" class="quiet text-sm" @click="emit('reset')">
          back to shipped {{ show(shipped, unit) }}
        </button>
      </template>
      <span v-else class="text-soft">as shipped: to be checked</span>
    </td>
  </tr>
</template>
