<script setup lang="ts">
// How the rope lies in the device of a hold: as it is, and beside it as it must be.
import { ref } from 'vue'
import type { Drop } from '@/api/client'
import { useLoading } from '@/lib/pictures'
import PictureView from './PictureView.vue'

const props = defineProps<{ drop: Drop; person: string; hold: string }>()

const view = ref<'front' | 'back'>('front')
const loaded = useLoading(
  () => props.drop,
  () => ({ person: props.person, hold: props.hold, view: view.value }),
)
</script>

<template>
  <details v-if="loaded" class="mt-2" :open="!!loaded.must" data-loading>
    <summary class="quiet -ml-2 text-sm">how the rope lies, as a picture</summary>
    <div class="mt-2 flex flex-wrap gap-6">
      <figure>
        <figcaption class="font-semibold">
          <span v-if="loaded.must" class="text-stop">■ as it is</span><template v-else>as it is</template>
        </figcaption>
        <PictureView :drawing="loaded.is" class="border-line w-64 max-w-full rounded-md border" />
      </figure>
      <figure v-if="loaded.must" data-must>
        <figcaption class="font-semibold">✓ as it must be</figcaption>
        <PictureView :drawing="loaded.must" class="border-line w-64 max-w-full rounded-md border" />
      </figure>
    </div>
    <button type="button" class="quiet -ml-2 text-sm" data-turn @click="view = view === 'front' ? 'back' : 'front'">
      show it from the {{ view === 'front' ? 'back' : 'front' }}
    </button>
    <p class="text-soft max-w-prose text-sm">
      {{ loaded.is.note }} A plain drawing of the kind, not of the product. The picture on the device and its
      instructions come first.
    </p>
  </details>
</template>
