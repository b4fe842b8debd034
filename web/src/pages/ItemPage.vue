<script setup lang="ts">
// One thing: its life to scale, where it is, where it is planned, and all that was recorded.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, must } from '@/api/client'
import LifeLine from '@/components/LifeLine.vue'
import RecordList from '@/components/RecordList.vue'
import RetireBox from '@/components/RetireBox.vue'
import RopeMap from '@/components/RopeMap.vue'
import UsePanel from '@/components/UsePanel.vue'
import WearPanel from '@/components/WearPanel.vue'
import StateNotice from '@/components/StateNotice.vue'
import { useGear } from '@/lib/gear'
import { show } from '@/lib/units'
import { useSession } from '@/stores/session'

const props = defineProps<{ id: string }>()
const gear = useGear()
const session = useSession()
const item = computed(() => gear.items.value.find((i) => i.id === props.id))
const model = computed(() => gear.models.value.get(item.value?.model ?? ''))
const life = useQuery({
  queryKey: computed(() => ['records', 'life', props.id]),
  queryFn: async () => must(await api.GET('/api/v1/items/{id}/life', { params: { path: { id: props.id } } })),
})
const records = useQuery({
  queryKey: computed(() => ['records', 'item', props.id]),
  queryFn: async () => must(await api.GET('/api/v1/records', { params: { query: { item: props.id } } })),
})
const open = computed(() => (item.value?.events ?? []).filter((e) => !e.checked_on))
const late = (day: string | undefined) => Boolean(day && life.data.value && day < life.data.value.life.today)
const facts = computed(() => {
  const i = item.value
  const l = life.data.value
  if (!i || !l) return []
  const where = l.kit?.issued_to
    ? `in ${l.kit.name}, with ${l.kit.issued_to} since ${l.kit.issued_on}`
    : (i.place ?? '')
  return [
    { name: 'serial', words: i.serial },
    { name: 'lot', words: i.lot ?? '' },
    { name: 'code', words: i.code ?? '' },
    { name: 'marked', words: i.marking ?? '' },
    { name: 'where it is', words: where || 'not said' },
    { name: 'owner', words: i.owner ?? '' },
    { name: 'kit', words: i.kit ?? '' },
    { name: 'length', words: i.length_m ? show(i.length_m, 'm') : '' },
    { name: 'measured', words: i.measured_mm ? show(i.measured_mm, 'mm') : '' },
    { name: 'condition', words: i.condition ?? '' },
    {
      name: 'next examination',
      words: l.life.due ? `${l.life.due}, by ${l.life.due_by}` : i.state === 'retired' ? '' : 'not known',
      bad: late(l.life.due),
    },
    {
      name: 'end of life',
      words: l.life.end ? `${l.life.end}, from ${l.life.end_from}` : '',
      bad: late(l.life.end),
    },
    {
      name: 'its paper',
      words: i.guest ? `${i.guest.certificate}, by ${i.guest.examiner}, until ${i.guest.valid_until}` : '',
      bad: late(i.guest?.valid_until),
    },
  ].filter((f) => f.words)
})
</script>

<template>
  <main id="page" class="mx-auto max-w-4xl px-5 py-6">
    <RouterLink to="/store" class="quiet -ml-2">← Store</RouterLink>
    <StateNotice v-if="gear.isPending.value || life.isPending.value" title="Fetching it" busy />
    <StateNotice v-else-if="!item || life.isError.value" title="There is no such item, or it could not be fetched">
      <button type="button" class="plain" @click="life.refetch()">Try again</button>
    </StateNotice>
    <template v-else-if="life.data.value">
      <h1>{{ item.label }}</h1>
      <p class="text-soft">
        {{ model ? `${model.maker} ${model.name}` : item.model }}, {{ model?.class.replaceAll('-', ' ') }}
      </p>
      <p v-if="item.state !== 'in-service'" class="text-stop text-lg" data-stopped>
        ■ {{ item.state === 'retired' ? 'retired' : 'in quarantine' }}: {{ item.reason }}
      </p>
      <p v-if="life.data.value.kit?.missing?.includes(item.id)" class="text-stop text-lg">
        ■ It did not come back with {{ life.data.value.kit.name }}.
      </p>
      <p v-for="e in open" :key="e.on + e.kind" class="text-stop">
        ■ {{ e.kind.replace('-', ' ') }} on {{ e.on }}{{ e.note ? `: ${e.note}` : '' }}, not checked yet
      </p>
      <LifeLine :life="life.data.value.life" class="mt-4" />
      <dl class="mt-4 grid grid-cols-[10rem_minmax(0,1fr)] gap-x-4 gap-y-1">
        <template v-for="f in facts" :key="f.name">
          <dt class="text-soft">{{ f.name }}</dt>
          <dd class="wrap-anywhere" :class="f.bad ? 'text-stop font-semibold' : ''">
            {{ f.bad ? '■ ' : '' }}{{ f.words }}{{ f.bad ? ', past' : '' }}
          </dd>
        </template>
      </dl>
      <RopeMap v-if="model?.class === 'rope'" :key="`${item.id} ${item.length_m}`" :item="item" />
      <WearPanel :id="item.id" />
      <UsePanel :item="item" :used="life.data.value.used" />
      <h2 class="mt-5">Planned on</h2>
      <p v-if="!life.data.value.drops.length">No drop of today or later names it.</p>
      <ul>
        <li v-for="d in life.data.value.drops" :key="d.id" :data-planned-on="d.id">
          <RouterLink class="quiet -ml-2" :to="`/drops/${d.id}`">{{ d.day }} · {{ d.name }}</RouterLink>
        </li>
      </ul>
      <p class="no-print mt-3 -ml-2 flex flex-wrap gap-x-4">
        <RouterLink v-if="session.may('record:examination')" class="quiet" :to="`/examine?item=${item.id}`" data-examine
          >examine {{ item.label }}</RouterLink
        >
        <a class="quiet" :href="`/api/v1/items/${item.id}/record.pdf`" download>all of it, PDF</a>
        <a class="quiet" :href="`/api/v1/items/${item.id}/history.json`" download>its history, for another team</a>
        <template v-if="session.may('put-gear')">
          <RouterLink class="quiet" :to="`/store/items/${item.id}`">change {{ item.label }}</RouterLink>
          <RouterLink class="quiet" :to="`/store/model/${item.model}`">its model, from the leaflet</RouterLink>
        </template>
      </p>
      <RetireBox v-if="item.state !== 'retired' && session.may('record:retirement')" :item="item" />
      <h2 class="mt-5">Recorded</h2>
      <RecordList v-if="records.data.value?.records.length" :records="records.data.value.records" />
      <p v-else-if="records.isError.value" class="text-look">◆ What was recorded could not be fetched.</p>
      <p v-else class="text-soft">Nothing is recorded of it yet.</p>
      <p v-if="records.data.value?.more" class="text-soft text-sm">
        Earlier records are not shown here: the Records page finds them by day.
      </p>
    </template>
  </main>
</template>
