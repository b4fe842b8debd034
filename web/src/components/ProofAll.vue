<script setup lang="ts">
// All proofs of a device that one is familiar with, on one screen: signed by one long press.
// What fails is proved one by one.
import { computed } from 'vue'
import type { Drop, Due } from '@/api/client'
import { useLoading } from '@/lib/pictures'
import { count } from '@/lib/words'
import HoldButton from './HoldButton.vue'
import PictureView from './PictureView.vue'
import ProofSign from './ProofSign.vue'

const props = defineProps<{ drop: Drop; due: Due }>()
const emit = defineEmits<{ all: []; singly: [] }>()

const loaded = useLoading(
  () => props.drop,
  () =>
    props.due.person && props.due.hold
      ? { person: props.due.person, hold: props.due.hold, view: 'front' as const }
      : undefined,
)
const drawings = computed(() => new Map((loaded.value?.proofs ?? []).map((p) => [p.proof, p.drawing])))
const cues = { seen: 'see', heard: 'hear', felt: 'feel' } as const
</script>

<template>
  <section :aria-label="`All proofs of ${due.label}`" data-all>
    <h1 class="text-2xl">{{ count(due.proofs.length, 'proof') }} of {{ due.label }}</h1>
    <p class="text-soft">Do each with your hands, in this order. If one does not do what it must, say so at once.</p>
    <ol class="divide-line border-line mt-2 divide-y border-y">
      <li v-for="(p, n) in due.proofs" :key="p.id" class="flex items-center gap-3 py-2" :data-proof="p.id">
        <div class="w-36 shrink-0">
          <PictureView v-if="drawings.get(p.id)" :drawing="drawings.get(p.id)!" class="h-48" />
          <ProofSign v-else :sign="p.sign" class="h-24! w-24!" />
        </div>
        <div class="min-w-0 flex-1">
          <p class="text-lg font-semibold">{{ n + 1 }}. {{ p.do }}</p>
          <p>
            <b>You must {{ cues[p.cue] }}:</b> {{ p.must }}
          </p>
        </div>
      </li>
    </ol>
    <!-- Below all of them: nobody signs what they have not come past. -->
    <div class="mt-4 grid gap-3">
      <HoldButton :words="`✓ Hold: all ${due.proofs.length} did`" held="Signing…" @done="emit('all')" />
      <button
        type="button"
        class="border-stop text-stop bg-raised min-h-14 rounded-md border-2 text-lg font-bold"
        data-singly
        @click="emit('singly')"
      >
        ■ One did not: prove them one by one
      </button>
    </div>
  </section>
</template>
