<script setup lang="ts">
// The records of a day, of every drop.
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, must } from '@/api/client'
import OutboxNotice from '@/components/OutboxNotice.vue'
import RecordList from '@/components/RecordList.vue'
import StateNotice from '@/components/StateNotice.vue'
import { today } from '@/lib/records'
import { useSession } from '@/stores/session'
import TermWord from '@/components/TermWord.vue'

const route = useRoute()
const session = useSession()
const router = useRouter()
const day = computed({
  get: () => (typeof route.query.day === 'string' ? route.query.day : today()),
  set: (d) => void router.replace({ query: { day: d } }),
})
const query = useInfiniteQuery({
  queryKey: computed(() => ['records', day.value]),
  queryFn: async ({ pageParam }) =>
    must(await api.GET('/api/v1/records', { params: { query: { day: day.value, before: pageParam } } })),
  initialPageParam: 0,
  getNextPageParam: (last) => (last.more ? last.records.at(-1)?.number : undefined),
  staleTime: 0,
})
const records = computed(() => query.data.value?.pages.flatMap((p) => p.records) ?? [])
</script>

<template>
  <main id="page" class="mx-auto max-w-4xl px-5 py-6">
    <h1><TermWord word="record">Records</TermWord></h1>
    <p class="text-soft max-w-prose">
      Signed, sealed one over the other, neither changed nor removed. A wrong one is followed by one that corrects it.
    </p>
    <RouterLink
      v-if="session.may('record:incident')"
      class="plain mt-3 inline-flex min-h-11! items-center"
      to="/incident"
      data-incident
      >Record an incident or near miss</RouterLink
    >
    <label class="my-4 flex items-center gap-3">
      <span class="font-semibold">of the day</span>
      <input v-model="day" type="date" class="field w-44!" required />
    </label>
    <OutboxNotice />
    <StateNotice v-if="query.isPending.value" part title="Fetching the records" busy />
    <StateNotice
      v-else-if="query.isError.value"
      part
      title="The records could not be fetched"
      :detail="query.error.value?.message"
    >
      <button type="button" class="plain" @click="query.refetch()">Try again</button>
    </StateNotice>
    <p v-else-if="!records.length" class="py-4">
      Nothing is recorded for this day. Checks are done on a drop's Checks page.
    </p>
    <RecordList v-else :records="records" />
    <button v-if="query.hasNextPage.value" type="button" class="plain mt-4" @click="query.fetchNextPage()">
      Earlier ones
    </button>
  </main>
</template>
