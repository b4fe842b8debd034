<script setup lang="ts">
// What could be done next, right or wrong: first what one takes in hand, then what one does
// with it.
import { computed, ref, watch } from 'vue'
import type { AnyOffer } from '@/api/client'
import { show } from '@/lib/units'
import LiveNumber from './LiveNumber.vue'

const props = defineProps<{ offers: AnyOffer[]; inParts?: (o: AnyOffer) => boolean }>()
const emit = defineEmits<{ take: [offer: AnyOffer, at: number | undefined, loose: boolean] }>()

const open = ref('')
/** The height that is set for an offer, by its words. */
const heights = ref<Record<string, number>>({})
watch(
  () => props.offers,
  () => {
    heights.value = {}
    if (!groups.value.includes(open.value)) open.value = ''
  },
)

/** What can be taken in hand, in the order in which it was offered. */
const groups = computed(() => [...new Set(props.offers.map((o) => o.with))])
const inGroup = computed(() => props.offers.filter((o) => o.with === open.value))
const key = (o: AnyOffer) => JSON.stringify(o.action)
const heightOf = (o: AnyOffer) => heights.value[key(o)] ?? o.action.at_m ?? o.low_m ?? 0
const parts = (o: AnyOffer) => props.inParts?.(o) ?? false

function take(o: AnyOffer) {
  open.value = ''
  emit('take', o, o.low_m === undefined ? undefined : Number(heightOf(o).toFixed(2)), parts(o))
}
</script>

<template>
  <div class="flex flex-wrap gap-2" role="group" aria-label="What do you take in hand?">
    <button
      v-for="g in groups"
      :key="g"
      type="button"
      class="plain min-h-12!"
      :class="g === open ? 'border-accent! border-2! font-semibold' : ''"
      :aria-pressed="g === open"
      :data-group="g"
      @click="open = g === open ? '' : g"
    >
      {{ g }}
    </button>
  </div>
  <ul v-if="open" class="divide-line border-line mt-2 divide-y border-y">
    <li v-for="o in inGroup" :key="key(o)" class="flex flex-wrap items-center gap-x-3 py-1">
      <button
        type="button"
        class="plain min-h-12! justify-start! py-2! text-left whitespace-normal!"
        :data-offer="o.action.do"
        @click="take(o)"
      >
        {{ o.say }}<template v-if="parts(o)">, not locked yet</template>
      </button>
      <span v-if="o.low_m !== undefined" class="figure"
        >at
        <LiveNumber
          :value="heightOf(o)"
          unit="m"
          :label="`Height: ${o.say}`"
          :step="0.01"
          :min="o.low_m"
          :max="o.high_m"
          @set="(v) => (heights = { ...heights, [key(o)]: v })"
        />
        <span class="text-soft text-sm">({{ show(o.low_m, 'm') }} to {{ show(o.high_m ?? 0, 'm') }})</span>
      </span>
      <slot name="beside" :offer="o" />
      <span v-if="'who' in o && o.who" class="text-soft text-sm">{{ o.who }}</span>
    </li>
  </ul>
</template>
