<script setup lang="ts">
// How a figure was got: formula, inputs, result, and which way it errs.
import type { Working } from '@/api/client'
import { useMeasured } from '@/lib/measured'
import { show, showFigure } from '@/lib/units'

const props = defineProps<{ working: Working[] }>()

/** What runs measured is said once of each loading, though each part of a path has it. */
const first = (w: Working) => props.working.find((o) => o.loading === w.loading) === w
const { said } = useMeasured(() => props.working.some((w) => w.loading))

const result = (w: Working) => showFigure({ value: w.result, unit: w.unit, text: w.text || show(w.result, w.unit) })
</script>

<template>
  <ol class="border-line mt-1 space-y-2 border-l-2 pl-3 text-sm leading-snug">
    <li v-for="(w, i) in working" :key="i">
      <p>
        <span class="font-semibold">{{ w.name }}</span> = <span class="figure">{{ result(w) }}</span>
      </p>
      <p class="figure text-xs break-words">{{ w.formula }}</p>
      <p class="text-soft">
        <template v-for="(f, k) in w.inputs" :key="f.name"
          ><template v-if="k">, </template>{{ f.name }} <span class="figure">{{ showFigure(f) }}</span></template
        >
      </p>
      <p class="text-soft italic">errs {{ w.errs }}</p>
      <p v-if="first(w) && said(w.loading)" class="text-soft" data-measured>{{ said(w.loading) }}</p>
    </li>
  </ol>
</template>
