<script setup lang="ts">
// What would be found of the model as it is typed so far, on a rope of the store.
import { computed, ref, watch } from 'vue'
import { watchDebounced } from '@vueuse/core'
import { api, type Fault, type Model, type ModelTried, type Problem } from '@/api/client'
import { useGear } from '@/lib/gear'
import { say } from '@/lib/units'
import { ink, shape } from '@/lib/words'

const props = defineProps<{ model: Record<string, unknown> }>()

const gear = useGear()
const rope = ref('')
const mass = ref(95)
const tried = ref<ModelTried[]>()
const faults = ref<Fault[]>([])
const lost = ref(false)
const ropes = computed(() =>
  gear.items.value
    .filter((i) => gear.models.value.get(i.model)?.class === 'rope' && i.state !== 'retired')
    .sort((a, b) => a.label.localeCompare(b.label, undefined, { numeric: true })),
)
watch(
  ropes,
  (list) => {
    if (!list.some((r) => r.id === rope.value)) rope.value = list[0]?.id ?? ''
  },
  { immediate: true },
)
const asked = computed(() => JSON.stringify({ model: props.model, rope: rope.value, mass_kg: mass.value }))
let last = 0
/** What the answer is of: while something else is typed nothing of it is shown. */
const answered = ref('')
watchDebounced(
  asked,
  async (body) => {
    if (!rope.value) return
    const n = ++last
    const answer = await api
      .POST('/api/v1/gear/trial', { body: JSON.parse(body) as { model: Model; rope: string; mass_kg: number } })
      .catch(() => undefined)
    if (n !== last) return
    answered.value = body
    tried.value = answer?.data?.tried
    faults.value = (answer?.error as Problem | undefined)?.errors ?? []
    // An answer that says neither what was found nor what is wrong is none.
    lost.value = !tried.value && !faults.value.length
  },
  { debounce: 300, immediate: true },
)
</script>

<template>
  <section class="border-line border-t pt-3" data-trial>
    <h2>On a rope, it would be found</h2>
    <p v-if="!ropes.length" class="text-soft">There is no rope in the store to try it on.</p>
    <template v-else>
      <div class="flex flex-wrap items-end gap-3">
        <label class="min-w-44 flex-1"
          >on
          <select v-model="rope" class="field" data-trial-rope>
            <option v-for="r in ropes" :key="r.id" :value="r.id">
              {{ r.label }}{{ r.measured_mm ? `, ${r.measured_mm} mm` : '' }}
            </option>
          </select>
        </label>
        <label
          >under, kg<input v-model.number="mass" class="field figure w-24!" inputmode="decimal" data-trial-mass
        /></label>
      </div>
      <p v-if="answered !== asked" class="text-soft mt-2" role="status">Not tried yet as it is typed now.</p>
      <p v-else-if="lost" class="text-look mt-2" role="status" data-trial-lost>◆ No answer: not tried.</p>
      <p v-else-if="faults.length" class="text-soft mt-2" role="status" data-not-tried>
        Not tried yet: {{ faults[0]!.pointer?.replace('/model/', '').replaceAll('/', ', ').replaceAll('_', ' ') }}
        {{ faults[0]!.detail }}
      </p>
      <ul v-else-if="tried" role="status">
        <li v-for="t in tried" :key="t.mode" class="border-line border-b py-2 last:border-0" :data-tried="t.mode">
          <b>{{ t.with ? `${t.with}, ${t.mode}` : t.mode }}</b>
          <span v-if="!t.findings.length"> · nothing found</span>
          <span v-for="f in t.findings" :key="f.rule + f.what" class="block">
            <b :class="ink[f.severity]">{{ shape[f.severity] }}</b> {{ say(f.what) }}
          </span>
        </li>
      </ul>
    </template>
  </section>
</template>
