<script setup lang="ts">
// Two people changed one drop: who, when and what; what does not touch is put together.
import { watchDebounced } from '@vueuse/core'
import { computed, shallowRef, watch } from 'vue'
import { api, must, type Drop } from '@/api/client'
import type { components } from '@/api/schema'
import { timeWords } from '@/lib/records'
import { say } from '@/lib/units'
import { count } from '@/lib/words'
import { rest } from '@/lib/where'
import { useDraft } from '@/stores/draft'

type Merged = components['schemas']['Merged']

const draft = useDraft()
/** Both put together, with mine or with theirs where they touch. */
const merged = shallowRef<{ mine: Merged; theirs: Merged; version: number }>()
const by = shallowRef<{ name: string; at: string }[]>([])

async function put(base: number) {
  const path = { id: draft.id }
  const [began, now, versions] = await Promise.all([
    api.GET('/api/v1/drops/{id}/versions/{version}', { params: { path: { ...path, version: base } } }),
    api.GET('/api/v1/drops/{id}', { params: { path } }),
    api.GET('/api/v1/drops/{id}/versions', { params: { path } }),
  ])
  const version = Number(now.response.headers.get('ETag')?.replaceAll('"', ''))
  by.value = must(versions)
    .versions.filter((v) => v.version > base)
    .map((v) => ({ name: v.by ?? 'somebody', at: v.changed_at }))
  const sides = { base: must(began), mine: draft.drop as Drop, theirs: must(now) }
  const [mine, theirs] = await Promise.all(
    (['mine', 'theirs'] as const).map((prefer) => api.POST('/api/v1/merge', { body: { ...sides, prefer } })),
  )
  return { mine: must(mine!), theirs: must(theirs!), version }
}

let asked = 0
// One may go on editing while it is not decided: what was put together before is gone at once.
const sides = () => [draft.conflict, draft.base, JSON.stringify(draft.drop)]
watch(sides, () => (++asked, (merged.value = undefined)), { flush: 'sync' })
watchDebounced(
  sides,
  async () => {
    const mine = ++asked
    if (draft.conflict === undefined || draft.base === undefined) return
    // Where it cannot be compared the two plain choices are left.
    const found = await put(draft.base).catch(() => undefined)
    if (mine === asked) merged.value = found
  },
  { immediate: true, debounce: 200 },
)
const touching = computed(() => merged.value?.theirs.touching ?? [])
const who = computed(() => by.value.map((v) => `${v.name}, ${timeWords(v.at)}`).join('; '))

/** Once it is decided the question is gone, and with it what had the focus. */
async function decide(how: () => unknown) {
  await how()
  await rest()
}
const together = (m: Merged) => decide(() => draft.putTogether(m.drop, merged.value!.version))
</script>

<template>
  <div class="border-look bg-raised mb-4 rounded-md border-2 p-4" role="alert" data-conflict>
    <p>
      <b class="text-look"
        >◆ Somebody else changed this drop meanwhile<template v-if="who">: {{ who }}</template
        >.</b
      >
      Your changes are on this device and not yet kept.
    </p>
    <div v-if="merged" class="mt-2 grid gap-x-8 gap-y-2 sm:grid-cols-2">
      <section data-theirs>
        <h2 class="text-base">They changed</h2>
        <ul class="list-disc pl-5">
          <li v-for="w in merged.theirs.theirs" :key="w">{{ say(w) }}</li>
        </ul>
        <p v-if="!merged.theirs.theirs.length" class="text-soft">nothing that stands here</p>
      </section>
      <section data-mine>
        <h2 class="text-base">You changed</h2>
        <ul class="list-disc pl-5">
          <li v-for="w in merged.theirs.mine" :key="w">{{ say(w) }}</li>
        </ul>
      </section>
    </div>
    <div v-if="touching.length" class="mt-2" data-touching>
      <p class="text-look font-semibold">◆ Both changed {{ count(touching.length, 'place') }}:</p>
      <ul class="list-disc pl-5">
        <li v-for="t in touching" :key="t.where">
          {{ t.where }}: it was {{ say(t.base) }}; theirs <b>{{ say(t.theirs) }}</b>, yours <b>{{ say(t.mine) }}</b>
        </li>
      </ul>
    </div>
    <div class="mt-3 flex flex-wrap gap-3">
      <template v-if="merged && !touching.length && !merged.theirs.faults">
        <button type="button" class="strong" data-together @click="together(merged.theirs)">Keep both together</button>
      </template>
      <template v-else-if="merged && touching.length">
        <button
          v-if="!merged.theirs.faults"
          type="button"
          class="plain"
          data-both-theirs
          @click="together(merged.theirs)"
        >
          Both, theirs where they touch
        </button>
        <button v-if="!merged.mine.faults" type="button" class="plain" data-both-mine @click="together(merged.mine)">
          Both, mine where they touch
        </button>
      </template>
      <p v-if="merged?.theirs.faults" class="text-stop w-full" data-unfit>
        ■ Both together cannot be kept: {{ merged.theirs.faults[0]?.detail }}.
      </p>
      <button type="button" class="plain" @click="decide(draft.keepMine)">Keep mine over theirs</button>
      <button type="button" class="plain" @click="decide(draft.takeTheirs)">Take theirs, give mine up</button>
    </div>
  </div>
</template>
