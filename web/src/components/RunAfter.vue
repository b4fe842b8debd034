<script setup lang="ts">
// What is left to do about the items of a run that is over.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, must } from '@/api/client'
import StateNotice from './StateNotice.vue'

const props = defineProps<{ id: string; away: boolean }>()
// Asked anew once it is put away: what was wet or dirty is known then.
const after = useQuery({
  queryKey: computed(() => ['run', 'after', props.id, props.away]),
  queryFn: async () => must(await api.GET('/api/v1/runs/{id}/after', { params: { path: { id: props.id } } })),
})
const lists = computed(() => {
  const a = after.data.value
  if (!a) return []
  const due = (a.due ?? []).map((d) => ({
    item: d.item,
    label: d.label,
    why: `${d.kind === 'end-of-life' ? 'end of its life' : d.kind} ${d.on || 'before first use'}${d.on && d.days < 0 ? ', overdue' : ''}`,
  }))
  return [
    { name: 'Look at', list: a.look_at ?? [] },
    { name: 'Not back', list: a.not_back ?? [] },
    { name: 'Dry', list: a.dry ?? [] },
    { name: 'Clean', list: a.clean ?? [] },
    { name: 'Due within a month', list: due },
  ].filter((l) => l.list.length)
})
</script>

<template>
  <section class="mt-4" data-after>
    <h2>Left to do</h2>
    <StateNotice v-if="after.isPending.value" part title="Looking through the kit" busy />
    <StateNotice v-else-if="after.isError.value" part title="The kit could not be looked through">
      <button type="button" class="plain" @click="after.refetch()">Try again</button>
    </StateNotice>
    <p v-if="after.data.value?.not_looked_at" class="text-look" data-unseen>
      ◆ What was on this run was not kept with it: look through the kit yourself.
    </p>
    <p v-else-if="after.data.value && !lists.length">
      Nothing: none of its kit is out or stopped, and nothing that has its dates is due within a month.
    </p>
    <template v-for="l in lists" :key="l.name">
      <h3 class="mt-2 font-semibold">{{ l.name }}</h3>
      <ul class="divide-line divide-y">
        <li v-for="i in l.list" :key="i.item + i.why" :data-left="i.item">
          <RouterLink
            class="flex min-h-11 flex-wrap items-center gap-x-3"
            :to="{ name: 'item', params: { id: i.item } }"
            ><b>{{ i.label }}</b
            ><span class="text-soft">{{ i.why }}</span></RouterLink
          >
        </li>
      </ul>
    </template>
    <p v-if="!away" class="text-soft">What is to be dried and cleaned follows from what you sign.</p>
  </section>
</template>
