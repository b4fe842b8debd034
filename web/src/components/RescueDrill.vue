<script setup lang="ts">
// A drill of the rescue: what comes next is chosen by key from what could be done; the
// rules judge each step, and say what would happen.
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { RescueAction, RescuePlan } from '@/api/client'
import { useRescue } from '@/stores/rescue'

const props = defineProps<{ plan: RescuePlan }>()

const rescue = useRescue()
const done = ref<number[]>([])
const wrong = ref('')
const missed = ref(0)
const busy = ref(false)

const isStrand = (i: number) => props.plan.steps[i]!.action.do === 'take-strand'
/** A strand that was in hand is let go by what takes both hands: it can be taken again. */
const left = computed(() => props.plan.steps.map((_, i) => i).filter((i) => !done.value.includes(i)))
const finished = computed(() => left.value.every(isStrand))
/** What comes next among others that come later, in an order that gives no hint. */
const offered = computed(() => {
  const other = left.value.filter((i) => !isStrand(i))
  const later = other
    .slice(1)
    .sort((a, b) => ((a * 7 + done.value.length * 5) % 11) - ((b * 7 + done.value.length * 5) % 11))
  const strands = props.plan.steps.map((_, i) => i).filter((i) => isStrand(i) && done.value.at(-1) !== i)
  return [...other.slice(0, 1), ...later.slice(0, 2), ...strands].sort((a, b) => ((a * 5 + 3) % 7) - ((b * 5 + 3) % 7))
})
const say = (i: number) => props.plan.steps[i]!.say

async function choose(i: number) {
  if (busy.value || finished.value || !rescue.there) return
  busy.value = true
  const steps: RescueAction[] = [...done.value, i].map((n) => props.plan.steps[n]!.action)
  const judged = await rescue.judge(steps)
  busy.value = false
  const last = (judged?.found ?? []).find((b) => b.step >= steps.length)
  const stop = last?.impossible ?? last?.broken?.find((v) => v.severity === 'stop')?.why
  if (!judged) wrong.value = 'no connection, and no core on this device'
  else if (stop) {
    wrong.value = stop
    missed.value++
  } else {
    wrong.value = ''
    done.value = [...done.value, i]
  }
}

useEventListener(
  'keydown',
  (e) => {
    const i = offered.value[Number(e.key) - 1]
    const typing = (e.target as HTMLElement).matches('input, textarea, [role=slider], [role=listbox]')
    if (i === undefined || typing || e.ctrlKey || e.metaKey || e.altKey) return
    e.preventDefault()
    e.stopPropagation()
    void choose(i)
  },
  { capture: true },
)
</script>

<template>
  <section class="border-line rounded-md border p-4" data-drill>
    <h2>Drill: what comes next?</h2>
    <ol class="text-soft list-decimal pl-5 text-sm">
      <li v-for="i in done" :key="i">{{ say(i) }}</li>
    </ol>
    <p v-if="wrong" class="text-stop mt-2" role="alert" data-wrong>■ Not now: {{ wrong }}.</p>
    <p v-if="finished" class="mt-2 font-semibold" role="status">
      Both hang ready to go down. {{ missed ? `${missed} tries were stopped by a rule.` : 'No rule was broken.' }}
    </p>
    <ul v-else class="mt-2 space-y-2">
      <li v-for="(i, n) in offered" :key="i">
        <button
          type="button"
          class="plain w-full justify-start! text-left"
          :disabled="busy"
          :data-offer="i"
          :data-strand="isStrand(i) || undefined"
          @click="choose(i)"
        >
          <kbd class="figure mr-2">{{ n + 1 }}</kbd>{{ say(i) }}
        </button>
      </li>
    </ul>
    <button v-if="done.length" type="button" class="quiet mt-2" @click="((done = []), (wrong = ''), (missed = 0))">
      begin again
    </button>
  </section>
</template>
