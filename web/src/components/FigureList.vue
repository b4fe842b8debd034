<script setup lang="ts">
// Figures of one thing. Each opens its own working in place; one that passes its
// limit says so by word, shape and colour.
import { ref } from 'vue'
import type { Shown } from '@/api/client'
import { say, showFigure } from '@/lib/units'
import WorkingView from './WorkingView.vue'

defineProps<{ figures: Shown[] }>()

const open = ref<string>()
</script>

<template>
  <dl class="flex flex-wrap gap-x-5">
    <div v-for="f in figures" :key="f.name" class="max-w-full" :class="open === f.name ? 'w-full' : ''">
      <dt class="sr-only">{{ say(f.name) }}</dt>
      <dd>
        <button
          type="button"
          class="quiet -ml-2 flex-wrap gap-x-1.5 text-left no-underline!"
          :aria-expanded="open === f.name"
          :data-figure="f.name"
          @click="open = open === f.name ? undefined : f.name"
        >
          <span v-if="f.beyond" class="text-look font-bold" aria-hidden="true">◆</span>
          <span>{{ say(f.name) }}</span>
          <span
            class="figure font-semibold underline decoration-dotted underline-offset-4"
            :class="f.beyond ? 'text-look' : 'text-ink'"
            >{{ showFigure(f) }}</span
          >
          <span v-if="f.limit" class="figure text-sm"
            >{{ f.beyond ? 'beyond ' : '' }}{{ f.limit.name }} {{ showFigure(f.limit) }}</span
          >
        </button>
        <div v-if="open === f.name" class="pb-2">
          <p v-if="f.note" class="text-sm">{{ say(f.note) }}</p>
          <WorkingView :working="f.working" />
        </div>
        <p v-else-if="f.beyond && f.note" class="text-soft -mt-2 pb-1 text-sm">{{ say(f.note) }}</p>
      </dd>
    </div>
  </dl>
</template>
