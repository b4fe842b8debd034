<script setup lang="ts">
// What somebody wears and carries, looked at thing by thing and signed by one long press: with
// what is not as it must be, if anything is.
import { computed, ref } from 'vue'
import type { Drop, Due } from '@/api/client'
import type { Result } from '@/lib/checking'
import { count } from '@/lib/words'
import HoldButton from './HoldButton.vue'

const props = defineProps<{ drop: Drop; due: Due }>()
const emit = defineEmits<{ done: [results: Result[]]; leave: [] }>()

/** What is wrong with each thing that is not as it must be, by its id. */
const wrong = ref<Record<string, string>>({})
const failing = computed(() => Object.keys(wrong.value))
const unsaid = computed(() => props.due.proofs.find((p) => wrong.value[p.id]?.trim() === ''))
const labelOf = (id: string) => props.drop.items?.find((i) => i.id === id)?.label ?? id
/** What is done, with the things that it is done with. */
const groups = computed(() => {
  const list: { how: string; must: string; fails: string; things: { id: string; label: string }[] }[] = []
  for (const p of props.due.proofs) {
    const label = labelOf(p.id)
    const how = p.do.startsWith(`${label}: `) ? p.do.slice(label.length + 2) : p.do
    let group = list.find((g) => g.how === how && g.must === p.must)
    if (!group) list.push((group = { how, must: p.must, fails: p.fails, things: [] }))
    group.things.push({ id: p.id, label })
  }
  return list
})
const words = computed(() => {
  const sound = props.due.proofs.length - failing.value.length
  if (!failing.value.length) return `✓ Hold: all ${sound} as they must be`
  return `■ Hold: ${sound} as they must be, ${failing.value.length} into quarantine`
})

function turn(id: string) {
  if (id in wrong.value) delete wrong.value[id]
  else wrong.value[id] = ''
}

let ended = false
function done() {
  if (ended || unsaid.value) return
  ended = true
  emit(
    'done',
    props.due.proofs.map((p) => {
      const note = wrong.value[p.id]?.trim()
      return note === undefined ? { proof: p.id, did: true } : { proof: p.id, did: false, note }
    }),
  )
}
</script>

<template>
  <section class="mx-auto max-w-xl" :aria-label="`Check of what ${due.on} wears`" data-worn>
    <button type="button" class="quiet -ml-2 min-h-14" @click="emit('leave')">← all checks</button>
    <p class="text-soft">
      <b>{{ drop.name }}</b> · {{ due.on }}
    </p>
    <h1 class="text-2xl">{{ due.label }}: {{ count(due.proofs.length, 'thing') }}</h1>
    <p class="text-soft">Take each in the hand. Say at once what is not as it must be.</p>
    <section v-for="g in groups" :key="g.how + g.must" class="border-line mt-3 border-t pt-3">
      <p class="text-lg">{{ g.how }}</p>
      <p><b>You must find:</b> {{ g.must }}</p>
      <ul class="mt-1">
        <li v-for="t in g.things" :key="t.id" class="py-1" :data-worn-item="t.id">
          <div class="flex items-center gap-4">
            <h2 class="min-w-0 flex-1 text-lg font-semibold">{{ t.label }}</h2>
            <button
              type="button"
              class="border-stop min-h-14 shrink-0 rounded-md border-2 px-4 font-bold"
              :class="t.id in wrong ? 'bg-stop text-ground' : 'bg-raised text-stop'"
              :aria-pressed="t.id in wrong"
              :aria-label="`Something wrong: ${t.label}`"
              data-wrong
              @click="turn(t.id)"
            >
              {{ t.id in wrong ? '■' : '□' }} Something wrong
            </button>
          </div>
          <label v-if="t.id in wrong" class="my-2 block"
            >what is wrong with it<input
              v-model="wrong[t.id]"
              maxlength="200"
              required
              class="field min-h-14!"
              data-wrong-note
            /><span class="text-stop block">■ {{ g.fails }}</span></label
          >
        </li>
      </ul>
    </section>
    <!-- Below all of them: nobody signs what they have not come past. -->
    <p v-if="unsaid" class="text-stop mt-4" role="status">■ Say what is wrong with {{ labelOf(unsaid.id) }}.</p>
    <HoldButton v-else class="mt-4" :words="words" held="Signing…" @done="done" />
  </section>
</template>
