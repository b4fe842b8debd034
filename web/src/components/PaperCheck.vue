<script setup lang="ts">
// A check that was done on paper, typed afterwards: who did it, when, how it went.
import { computed, ref } from 'vue'
import type { Due, Entry } from '@/api/client'
import type { Result } from '@/lib/checking'
import { usePeople } from '@/lib/gear'
import { timeField, timeOfField } from '@/lib/records'
import { count } from '@/lib/words'

const props = defineProps<{ due: Due }>()
const emit = defineEmits<{ done: [paper: NonNullable<Entry['paper']>, results: Result[], note: string]; leave: [] }>()

const people = usePeople()
/** Nobody checks their own rigging, on paper neither. */
const others = computed(() =>
  (people.data.value ?? []).filter((p) => props.due.kind !== 'partner' || p.id !== props.due.person),
)
const by = ref('')
const now = timeField(new Date())
const at = ref(now)
const passed = ref<boolean>()
const failed = ref('')
const note = ref('')
const ready = computed(
  () => by.value && at.value && passed.value !== undefined && (passed.value || (failed.value && note.value.trim())),
)

function done() {
  if (!ready.value) return
  // One look at a harness says nothing of a lanyard: each thing worn has its own result.
  const whole = passed.value || props.due.kind === 'worn'
  const upTo = whole ? props.due.proofs.length : props.due.proofs.findIndex((p) => p.id === failed.value) + 1
  const results = props.due.proofs.slice(0, upTo).map((p) => {
    const did = p.id !== failed.value || passed.value === true
    return { proof: p.id, did, ...(did || props.due.kind !== 'worn' ? {} : { note: note.value.trim().slice(0, 200) }) }
  })
  emit('done', { by: by.value, at: timeOfField(at.value) }, results, note.value.trim())
}
</script>

<template>
  <form class="mx-auto max-w-xl" data-paper @submit.prevent="done">
    <h1>From paper: {{ due.label }}</h1>
    <p class="text-soft">
      {{ due.on }}<template v-if="due.mode">, {{ due.mode }}</template
      >, {{ count(due.proofs.length, 'proof') }}. You sign that you typed what the paper says.
    </p>
    <label class="mt-3 block"
      >done by<select v-model="by" class="field min-h-14!" required data-paper-by>
        <option v-for="p in others" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select></label
    >
    <label class="mt-3 block"
      >done at<input v-model="at" type="datetime-local" :max="now" class="field min-h-14!" required data-paper-at
    /></label>
    <fieldset class="mt-3">
      <legend>the paper says</legend>
      <label class="flex min-h-14 items-center gap-3"
        ><input v-model="passed" type="radio" :value="true" class="size-6" data-paper-passed /> every proof did what it
        must</label
      >
      <label class="flex min-h-14 items-center gap-3"
        ><input v-model="passed" type="radio" :value="false" class="size-6" data-paper-failed /> one did not</label
      >
    </fieldset>
    <label v-if="passed === false" class="mt-2 block"
      >which one<select v-model="failed" class="field min-h-14!" required>
        <option v-for="p in due.proofs" :key="p.id" :value="p.id">{{ p.do }}</option>
      </select></label
    >
    <label class="mt-3 block"
      >{{ passed === false ? 'what was seen' : 'note, if the paper has one'
      }}<input v-model="note" maxlength="380" class="field min-h-14!" :required="passed === false"
    /></label>
    <div class="mt-4 flex flex-wrap gap-3">
      <button type="submit" class="strong min-h-16! flex-1" :disabled="!ready" data-paper-done>
        Record what the paper says
      </button>
      <button type="button" class="plain min-h-16!" @click="emit('leave')">Leave it</button>
    </div>
  </form>
</template>
