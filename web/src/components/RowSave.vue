<script setup lang="ts">
// What saving rows would do, before it is done: which plans go back to draft, which items a
// recall stops, what is refused, what somebody else changed meanwhile.
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, type Fault, type Problem, type RowOutcome } from '@/api/client'
import type { Value } from '@/lib/forms'

const props = defineProps<{
  kind: 'gear' | 'people'
  /** What is saved: models and items, or people. */
  body: () => Record<string, Value[]>
  /** Whether somebody may; says otherwise who may. */
  may: boolean
  who: string
}>()
const emit = defineEmits<{ faults: [faults: Fault[]]; saved: [rows: RowOutcome[]] }>()

const client = useQueryClient()
/** What was tried and waits for a second press; undefined before. */
const tried = ref<{ plans: string[]; stopped: RowOutcome[] }>()
const message = ref('')
const reason = ref('')
const busy = ref(false)

async function put(trial: boolean) {
  const body = { ...props.body(), ...(reason.value.trim() ? { reason: reason.value.trim() } : {}) }
  const how = { body: body as never, params: { query: { dry_run: trial } } }
  busy.value = true
  const answer = await (props.kind === 'gear' ? api.PUT('/api/v1/gear', how) : api.PUT('/api/v1/people', how)).catch(
    () => undefined,
  )
  busy.value = false
  const problem = answer?.error as Problem | undefined
  const conflict = problem?.rows?.find((r) => r.state === 'conflict')
  emit('faults', problem?.errors ?? [])
  if (!answer) message.value = 'No connection: nothing was saved, and what you typed is still here.'
  else if (conflict)
    message.value = conflict.revision
      ? `${conflict.id} is there already, or somebody changed it meanwhile (revision ${conflict.revision}). Nothing was saved.`
      : `${conflict.id} no longer exists. Nothing was saved.`
  else if (problem)
    message.value = problem.errors?.length ? 'Nothing was saved: see what is marked.' : (problem.detail ?? '')
  else message.value = ''
  return answer?.data
}

/** Saves at once where nothing else follows from it; otherwise says what, and waits. */
async function save() {
  if (tried.value === undefined) {
    const answer = await put(true)
    if (!answer) return
    const follows = { plans: answer.plans ?? [], stopped: answer.rows.filter((r) => r.stopped) }
    if (follows.plans.length || follows.stopped.length) {
      tried.value = follows
      return
    }
  }
  const done = await put(false)
  tried.value = undefined
  if (!done) return
  await client.invalidateQueries({ queryKey: [props.kind] })
  reason.value = ''
  emit('saved', done.rows)
}
</script>

<template>
  <div class="mt-4 grid gap-3">
    <p v-if="tried?.plans.length" class="border-look bg-raised rounded-md border-2 p-3" role="alert" data-plans>
      <b class="text-look">◆</b>
      {{ tried.plans.length === 1 ? 'A plan goes' : `${tried.plans.length} plans go` }} back to draft by this:
      {{ tried.plans.join(', ') }}.
    </p>
    <div v-if="tried?.stopped.length" class="border-stop bg-raised rounded-md border-2 p-3" role="alert" data-recalled>
      <p v-for="r in tried.stopped" :key="r.id">
        <b class="text-stop">■</b> {{ r.id }} goes into quarantine at once. {{ r.stopped }}
      </p>
    </div>
    <p v-if="message" class="text-stop" role="alert">■ {{ message }}</p>
    <label class="max-w-prose">
      Why <span class="text-soft">· recorded with the change</span>
      <input v-model="reason" class="field" maxlength="380" />
    </label>
    <p v-if="!may" class="text-soft">{{ who }} saves this.</p>
    <div class="flex flex-wrap gap-3">
      <button type="button" class="strong" :disabled="busy || !may" data-save @click="save">
        {{ tried ? 'Save all the same' : 'Save' }}
      </button>
      <slot />
    </div>
  </div>
</template>
