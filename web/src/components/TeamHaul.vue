<script setup lang="ts">
// The haul as it is reeved: by a ratio's name, or by its text, with what each part is.
import { computed, ref, watch } from 'vue'
import type { Built, Drop } from '@/api/client'
import { labelOf, modelOf } from '@/lib/gear'
import { readReeving } from '@/lib/team'
import { useDraft } from '@/stores/draft'
import { useTeam } from '@/stores/team'
import LiveChoice from './LiveChoice.vue'

const props = defineProps<{ drop: Drop; built: Built }>()

const draft = useDraft()
const team = useTeam()
const systems = ['1:1', '2:1', '3:1', '5:1', '9:1'] as const
const text = ref('')
const wrong = ref('')
const haul = computed(() => props.drop.team?.haul)
const name = computed(() => haul.value?.system ?? (haul.value?.reeving ? 'own' : '3:1'))

watch(
  () => props.built.text,
  (t) => (text.value = t ?? ''),
  { immediate: true },
)

function system(s: string) {
  const chosen = systems.find((o) => o === s)
  if (!chosen) return
  team.part = undefined
  draft.edit((d) => {
    if (d.team) d.team.haul = { system: chosen }
  })
}

function take() {
  const read = readReeving(text.value)
  wrong.value = read.wrong ?? ''
  if (read.ropes) team.reeve(read.ropes)
}

const fault = computed(() => wrong.value || draft.faults.find((f) => f.pointer.startsWith('/team/haul'))?.detail)

/** What of the kit could be a part. */
function couldBe(part: string) {
  const grab = props.built.nodes.some((n) => n.id === `grab:${part}`)
  return (props.drop.team?.kit ?? []).filter((id) => {
    const c = modelOf(props.drop, id)?.class
    return grab ? c === 'rope-grab' : c === 'pulley' || c === 'capture-pulley'
  })
}

function fit(part: string, item: string) {
  draft.edit((d) => {
    if (!d.team) return
    d.team.haul ??= { system: '3:1' }
    const others = (d.team.haul.gear ?? []).filter((g) => g.part !== part && g.item !== item)
    d.team.haul.gear = item ? [...others, { part, item }] : others
  })
}

const chosen = (part: string) => haul.value?.gear?.find((g) => g.part === part)?.item ?? ''
const options = (part: string, item: string) => [
  { value: '', words: item ? `${labelOf(props.drop, item)} (chosen for you)` : 'nothing in the kit' },
  ...couldBe(part).map((id) => ({ value: id, words: labelOf(props.drop, id) })),
]
</script>

<template>
  <section data-haul>
    <p class="briefing">
      Hauled by
      <LiveChoice
        :value="name"
        :options="[
          ...systems.map((s) => ({ value: s as string, words: s })),
          ...(name === 'own' ? [{ value: 'own', words: 'its own reeving' }] : []),
        ]"
        label="Haul of the team"
        @set="system"
      />.
    </p>
    <p v-for="c in built.chosen ?? []" :key="c.part" class="briefing">
      {{ c.part }}:
      <LiveChoice
        :value="chosen(c.part)"
        :options="options(c.part, c.item)"
        :label="`Part ${c.part} of the haul`"
        @set="(v) => fit(c.part, v)"
      />
    </p>
    <label class="mt-2 block text-sm">
      Reeving, from the hand on: a rope to a line
      <textarea
        v-model="text"
        rows="3"
        class="border-soft bg-raised figure mt-1 block w-full rounded-md border p-2 text-sm"
        spellcheck="false"
        data-reeving
      />
    </label>
    <p v-if="fault" class="text-stop text-sm" role="alert">■ {{ fault }}</p>
    <button type="button" class="plain mt-1" :disabled="text === (built.text ?? '')" @click="take">Reeve it so</button>
  </section>
</template>
