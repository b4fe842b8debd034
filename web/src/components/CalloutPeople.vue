<script setup lang="ts">
// Who comes, by a tap on each; when they are there and how long they have been awake besides.
import { computed } from 'vue'
import type { CalloutKnown } from '@/api/client'
import { usePeople } from '@/lib/gear'

type Comer = NonNullable<CalloutKnown['people']>[number]
const props = defineProps<{ people: Comer[] }>()
const emit = defineEmits<{ change: [people: Comer[]] }>()

const team = usePeople()
const names = computed(() => (team.data.value ?? []).map((p) => p.name))
const others = computed(() => props.people.filter((p) => !names.value.includes(p.name)))
const has = (name: string) => props.people.some((p) => p.name === name)

function toggle(name: string) {
  emit('change', has(name) ? props.people.filter((p) => p.name !== name) : [...props.people, { name }])
}
/** Somebody who is not on the team's list. */
function another() {
  let n = 1
  while (has(`helper ${n}`)) n++
  emit('change', [...props.people, { name: `helper ${n}` }])
}
function set(name: string, change: Partial<Comer>) {
  emit(
    'change',
    props.people.map((p) => (p.name === name ? { ...p, ...change } : p)),
  )
}
const arrivals = [0, 10, 20, 40]
const awake = [8, 14, 18, 24]
</script>

<template>
  <div class="grid grid-cols-2 gap-2">
    <button
      v-for="name in names"
      :key="name"
      type="button"
      class="plain min-h-14!"
      :aria-pressed="has(name)"
      :class="has(name) ? 'border-accent! border-2! font-semibold' : ''"
      @click="toggle(name)"
    >
      {{ name }}
    </button>
    <button
      v-for="p in others"
      :key="p.name"
      type="button"
      class="plain min-h-14! border-accent! border-2! font-semibold"
      aria-pressed="true"
      @click="toggle(p.name)"
    >
      {{ p.name }}
    </button>
    <button type="button" class="plain min-h-14!" @click="another">+ a helper</button>
  </div>
  <div v-for="p in people" :key="p.name" class="mt-3" :data-comer="p.name">
    <b>{{ p.name }}</b>
    <div class="mt-1 flex flex-wrap items-center gap-2" role="group" :aria-label="`${p.name}: there in minutes`">
      <span class="text-soft w-16 text-sm">there in</span>
      <button
        v-for="m in arrivals"
        :key="m"
        type="button"
        class="plain figure min-h-14! min-w-14!"
        :aria-pressed="(p.arrives_min ?? 0) === m"
        :class="(p.arrives_min ?? 0) === m ? 'border-accent! border-2! font-semibold' : ''"
        @click="set(p.name, { arrives_min: m })"
      >
        {{ m ? `${m}′` : 'here' }}
      </button>
    </div>
    <div class="mt-1 flex flex-wrap items-center gap-2" role="group" :aria-label="`${p.name}: awake for hours`">
      <span class="text-soft w-16 text-sm">awake</span>
      <button
        v-for="h in awake"
        :key="h"
        type="button"
        class="plain figure min-h-14! min-w-14!"
        :aria-pressed="p.awake_h === h"
        :class="p.awake_h === h ? 'border-accent! border-2! font-semibold' : ''"
        @click="set(p.name, { awake_h: p.awake_h === h ? undefined : h })"
      >
        {{ h }} h
      </button>
    </div>
  </div>
</template>
