<script setup lang="ts">
// A bag is counted, checked and sealed; or its seal is broken, and its check stands no more.
import { computed, ref } from 'vue'
import type { CountedKit } from '@/api/client'
import { useGear } from '@/lib/gear'
import { today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'

const props = defineProps<{ kit: CountedKit; label: (item: string) => string }>()
const emit = defineEmits<{ done: [] }>()

const outbox = useOutbox()
const gear = useGear()
const number = ref('')
const seen = ref<string[]>([])
const states = computed(() => new Map(gear.items.value.map((i) => [i.id, i.state])))
const fit = computed(() => props.kit.items.filter((i) => states.value.get(i) === 'in-service'))
const left = computed(() => props.kit.items.filter((i) => !seen.value.includes(i)))

function sign() {
  const seal = props.kit.kit.seal
  const kit = seal
    ? { kit: props.kit.kit.id, seal: seal.number }
    : { kit: props.kit.kit.id, seal: number.value.trim(), items: seen.value }
  if (outbox.record(props.kit.kit.name, { kind: seal ? 'seal-broken' : 'kit-sealed', day: today(), kit })) emit('done')
}
</script>

<template>
  <form class="border-line mt-3 grid gap-2 border-t pt-3" @submit.prevent="sign">
    <template v-if="!kit.kit.seal">
      <p>
        Tick what was looked at and put in, thing by thing.
        <b class="figure">{{ seen.length }} of {{ kit.items.length }}</b>
      </p>
      <ul class="grid gap-x-5 @2xl:grid-cols-2">
        <li v-for="i in kit.items" :key="i">
          <label class="flex min-h-12 items-center gap-3">
            <input
              v-model="seen"
              type="checkbox"
              class="size-6"
              :value="i"
              :disabled="!fit.includes(i)"
              :data-count="i"
            />
            {{ label(i) }}
            <span v-if="!fit.includes(i)" class="text-stop text-sm">■ out of service: take it out</span>
          </label>
        </li>
      </ul>
      <p v-if="left.length && seen.length" class="text-look" role="status">
        ◆ Not counted: {{ left.map(label).join(', ') }}
      </p>
      <label class="max-w-96">
        Number on the seal
        <input v-model="number" class="field figure" maxlength="40" required data-seal-number />
      </label>
    </template>
    <p v-else>
      Its last check, of {{ kit.kit.seal.on }}, stands no more: what is in it is counted and looked at again.
    </p>
    <div class="flex flex-wrap gap-3">
      <button
        type="submit"
        class="strong min-h-12!"
        :disabled="!kit.kit.seal && (!number.trim() || !seen.length)"
        data-sign
      >
        {{ kit.kit.seal ? 'Broken, signed' : 'Sealed, signed' }}
      </button>
      <button type="button" class="plain min-h-12!" @click="emit('done')">Leave it</button>
    </div>
  </form>
</template>
