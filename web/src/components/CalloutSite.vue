<script setup lang="ts">
// A known site for a callout: found by name or by how far it is; what its pre-plan knows is
// taken over, and its anchors are shown with their examinations.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, must, type CalloutDocument, type CalloutKnown, type Preplan } from '@/api/client'
import { askHere } from '@/lib/core'
import { today } from '@/lib/records'
import { show } from '@/lib/units'

type Found = { id: string; name: string; far?: string; stale?: string[] }
const props = defineProps<{ document: CalloutDocument }>()
const emit = defineEmits<{ take: [known: CalloutKnown, more: { name: string; preplan: string }] }>()

const query = useQuery({
  queryKey: ['preplans'],
  queryFn: async () => must(await api.GET('/api/v1/preplans')).preplans,
})
const open = ref(false)
const find = ref('')
const here = ref<{ lat: number; lon: number }>()
const told = ref('')
const sites = shallowRef<Found[]>([])
const taken = computed(() => query.data.value?.find((p) => p.id === props.document.preplan))
/** What the examinations of the site's anchors say; undefined while nobody has looked. */
const stale = shallowRef<string[]>()
watch(
  taken,
  async (site) => {
    stale.value = undefined
    if (!site) return
    const asked = { preplans: [{ id: site.id, preplan: site.preplan }], day: today() }
    const found = (await askHere<{ sites: Found[] }>('near', asked).catch(() => undefined))?.answer?.sites
    if (taken.value === site && found) stale.value = found[0]?.stale ?? []
  },
  { immediate: true },
)
watch(
  [() => query.data.value, find, here],
  async ([list]) => {
    const preplans = (list ?? []).map(({ id, preplan }) => ({ id, preplan }))
    const asked = { preplans, find: find.value, day: today(), ...here.value }
    sites.value = (await askHere<{ sites: Found[] }>('near', asked).catch(() => undefined))?.answer?.sites ?? []
  },
  { immediate: true },
)
function locate() {
  told.value = 'Looking for this device…'
  navigator.geolocation?.getCurrentPosition(
    (p) => {
      here.value = { lat: p.coords.latitude, lon: p.coords.longitude }
      told.value = `within about ${show(p.coords.accuracy, 'm')}`
    },
    () => (told.value = 'This device does not say where it is.'),
    { timeout: 10000 },
  )
}
/** What the pre-plan knows stands; what it does not stays as it was said. */
function take(id: string) {
  const p: Preplan | undefined = query.data.value?.find((o) => o.id === id)?.preplan
  if (!p) return
  const { height_m, back_m, edge, landing } = p
  const known = { ...props.document.known }
  for (const [k, v] of Object.entries({ height_m, back_m, edge, landing }))
    if (v !== undefined) Object.assign(known, { [k]: v })
  emit('take', known, { name: p.name, preplan: id })
  open.value = false
}
</script>

<template>
  <div class="mt-3">
    <button type="button" class="plain min-h-14! w-full" :aria-expanded="open" data-sites @click="open = !open">
      {{ taken ? `Site: ${taken.preplan.name}` : 'A known site?' }}
    </button>
    <div v-if="open" class="mt-2">
      <input
        v-model="find"
        class="border-soft bg-raised min-h-14 w-full rounded border px-3"
        placeholder="letters of its name"
        aria-label="Letters of its name"
      />
      <button type="button" class="plain mt-2 min-h-14! w-full" @click="locate">Nearest to this device</button>
      <p v-if="told" class="text-soft text-sm" role="status">{{ told }}</p>
      <button
        v-for="s in sites"
        :key="s.id"
        type="button"
        class="border-line flex min-h-14 w-full items-center border-b text-left"
        :data-site="s.id"
        @click="take(s.id)"
      >
        {{ s.name }} <span v-if="s.far" class="text-soft figure ml-auto">{{ s.far }}</span>
      </button>
      <p v-if="query.isError.value" class="text-look">◆ The pre-plans are not on this device.</p>
      <p v-else-if="!sites.length && !query.isPending.value" class="text-soft">No site with these letters.</p>
    </div>
    <div v-else-if="taken" class="mt-2 space-y-1" data-preplan>
      <p v-if="taken.preplan.rendezvous"><b>Meet:</b> {{ taken.preplan.rendezvous }}</p>
      <p v-if="taken.preplan.access"><b>Access:</b> {{ taken.preplan.access }}</p>
      <p v-if="taken.preplan.radio"><b>Radio:</b> {{ taken.preplan.radio }}</p>
      <p v-if="taken.preplan.hazards" class="text-look"><b>◆ Hazards:</b> {{ taken.preplan.hazards }}</p>
      <p v-if="taken.preplan.landing_at"><b>Landing:</b> {{ taken.preplan.landing_at }}</p>
      <p v-if="taken.preplan.anchors?.length">
        <b>Anchors:</b>
        {{
          taken.preplan.anchors
            .map((a) => a.name + (a.strength_kN ? ` ${show(a.strength_kN, 'kN')}` : '') + (a.what ? `, ${a.what}` : ''))
            .join('; ')
        }}
      </p>
      <p v-if="taken.preplan.anchors?.length && !stale" class="text-look">◆ Their examinations were not looked at.</p>
      <p v-for="s in stale" :key="s" class="text-look">◆ {{ s }}</p>
      <RouterLink
        v-if="taken.preplan.drop"
        :to="{ name: 'drop', params: { id: taken.preplan.drop } }"
        class="flex min-h-14 items-center underline"
        >The drop that is ready</RouterLink
      >
    </div>
  </div>
</template>
