<script setup lang="ts">
// A kit is handed out, or counted back: what is there is ticked thing by thing, and what
// was not ticked is said before it is signed.
import { computed, ref } from 'vue'
import type { CountedKit } from '@/api/client'
import { useGear, usePeople } from '@/lib/gear'
import { today } from '@/lib/records'
import { useOutbox } from '@/stores/outbox'

const props = defineProps<{ kit: CountedKit; label: (item: string) => string }>()
const emit = defineEmits<{ done: [] }>()

const outbox = useOutbox()
const people = usePeople()
const gear = useGear()
const to = ref('')
const seen = ref<string[]>([])
const back = computed(() => Boolean(props.kit.kit.issued_to))
/** What there is to count: what went out, and what was missing before; else what is in it. */
const list = computed(() => {
  const out = back.value ? (props.kit.kit.out ?? []) : props.kit.items
  return [...new Set([...out, ...(props.kit.kit.missing ?? [])])]
})
/** What is out of service is not handed out; what went out comes back, whatever became of it. */
const states = computed(() => new Map(gear.items.value.map((i) => [i.id, i.state])))
const stays = (i: string) => !back.value && states.value.get(i) !== 'in-service'
const missing = computed(() => list.value.filter((i) => !seen.value.includes(i)))
const ready = computed(() => (back.value || to.value.trim()) && (back.value || seen.value.length))

function sign() {
  const kit = { kit: props.kit.kit.id, items: seen.value, ...(back.value ? {} : { to: to.value.trim() }) }
  if (outbox.record(props.kit.kit.name, { kind: back.value ? 'kit-return' : 'kit-issue', day: today(), kit }))
    emit('done')
}
</script>

<template>
  <form class="border-line mt-3 grid gap-2 border-t pt-3" @submit.prevent="sign">
    <label v-if="!back" class="max-w-96">
      Who or what has it from now on
      <input v-model="to" class="field" maxlength="80" list="holders" required data-to />
      <datalist id="holders">
        <option v-for="p in people.data.value ?? []" :key="p.id" :value="p.name" />
      </datalist>
    </label>
    <p>
      {{ back ? 'Tick what came back, thing by thing.' : 'Tick what goes out, thing by thing.' }}
      <b class="figure">{{ seen.length }} of {{ list.length }}</b>
    </p>
    <ul class="grid gap-x-5 @2xl:grid-cols-2">
      <li v-for="i in list" :key="i">
        <label class="flex min-h-12 items-center gap-3">
          <input v-model="seen" type="checkbox" class="size-6" :value="i" :disabled="stays(i)" :data-count="i" />
          {{ label(i) }}
          <span v-if="stays(i)" class="text-stop text-sm">■ out of service: stays here</span>
          <span v-if="kit.kit.missing?.includes(i)" class="text-look text-sm">◆ was missing</span>
        </label>
      </li>
    </ul>
    <p v-if="missing.length && (back || seen.length)" class="text-look" role="status" data-left>
      ◆ {{ back ? 'Missing from now on' : 'Stays here' }}: {{ missing.map(label).join(', ') }}
    </p>
    <div class="flex flex-wrap gap-3">
      <button type="submit" class="strong min-h-12!" :disabled="!ready" data-sign>
        {{ back ? 'Counted back, signed' : 'Handed out, signed' }}
      </button>
      <button type="button" class="plain min-h-12!" @click="emit('done')">Leave it</button>
    </div>
  </form>
</template>
