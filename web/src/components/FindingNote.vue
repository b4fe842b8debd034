<script setup lang="ts">
// One finding, as a note beside the thing it is about.
import { ref } from 'vue'
import type { Finding } from '@/api/client'
import { say, showFigure } from '@/lib/units'
import { ink, ruleWords, shape } from '@/lib/words'
import WorkingView from './WorkingView.vue'

defineProps<{ finding: Finding }>()

const open = ref(false)
</script>

<template>
  <article
    class="text-[0.95rem] leading-snug"
    :aria-label="`${finding.severity}: ${finding.subject.label}`"
    :data-rule="finding.rule"
  >
    <p>
      <span :class="ink[finding.severity]" class="font-bold"
        ><span aria-hidden="true">{{ shape[finding.severity] }}</span> {{ finding.severity }}</span
      >
      <span class="text-soft ml-1">{{ finding.subject.label }}</span>
    </p>
    <p>{{ say(finding.what) }}</p>
    <p class="text-soft mt-0.5"><span class="font-semibold">To clear:</span> {{ say(finding.remedy) }}</p>
    <button type="button" class="quiet -ml-2 text-sm" :aria-expanded="open" @click="open = !open">
      {{ open ? 'less' : finding.working?.length ? 'why, figures, working' : 'why, figures' }}
    </button>
    <div v-if="open" class="space-y-1 pb-2">
      <p>{{ say(finding.why) }}</p>
      <dl class="grid grid-cols-[auto_1fr] gap-x-3 text-sm">
        <template v-for="f in finding.figures" :key="f.name">
          <dt class="text-soft">{{ f.name }}</dt>
          <dd class="figure">{{ showFigure(f) }}</dd>
        </template>
      </dl>
      <WorkingView v-if="finding.working?.length" :working="finding.working" />
      <p class="text-soft text-sm">Limit from: {{ finding.source }}.</p>
      <p class="text-soft figure text-xs">rule: {{ ruleWords(finding.rule) }}</p>
    </div>
  </article>
</template>
