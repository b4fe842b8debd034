<script setup lang="ts">
// Finds any page, person, item, drop, move or word by a few letters, from anywhere.
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computedAsync, refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter, type RouteLocationRaw } from 'vue-router'
import { api, must, type Drop } from '@/api/client'
import { codeIn, isCode } from '@/lib/codes'
import { labelOf } from '@/lib/gear'
import { moveWords } from '@/lib/words'
import { useMoving } from '@/stores/moving'
import { useTeam } from '@/stores/team'
import { firstDrops } from '@/lib/offline'
import { system, systems } from '@/lib/units'
import { figureTitles } from '@/api/titles'
import { pages, teamPages } from '@/router'
import { useDraft } from '@/stores/draft'
import CameraScan from './CameraScan.vue'

const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()

type Goal = { key: string; words: string; what: string; to?: RouteLocationRaw; act?: () => void }
const maxGoals = 12

const draft = useDraft()
const moving = useMoving()
const team = useTeam()
const route = useRoute()
const router = useRouter()
const text = ref('')
const camera = ref(false)
const find = refDebounced(
  computed(() => text.value.trim()),
  150,
)
const drops = useQuery({
  queryKey: computed(() => ['drops', 'box', find.value]),
  queryFn: async () =>
    must(
      await api.GET('/api/v1/drops', {
        params: { query: find.value ? { limit: maxGoals, find: find.value } : firstDrops },
      }),
    ),
  enabled: computed(() => props.open),
  placeholderData: keepPreviousData,
})

/** From two letters on, the store, the people, the moves and the glossary are searched too. */
const searched = computed(() => props.open && find.value.length > 1)
const gear = useQuery({
  queryKey: ['gear'],
  queryFn: async () => must(await api.GET('/api/v1/gear')),
  enabled: searched,
})
const people = useQuery({
  queryKey: ['people'],
  queryFn: async () => must(await api.GET('/api/v1/people')),
  enabled: searched,
})
const moves = useQuery({
  queryKey: ['moves'],
  queryFn: async () => must(await api.GET('/api/v1/moves')),
  enabled: searched,
  staleTime: Infinity,
})
const teamMoves = useQuery({
  queryKey: ['team-moves'],
  queryFn: async () => must(await api.GET('/api/v1/team/moves')),
  enabled: searched,
  staleTime: Infinity,
})
const terms = computedAsync(async () => (searched.value ? (await import('@/api/glossary')).glossary : []), [])

/** What is found beyond the open drop, once there are letters. */
function beyond(): Goal[] {
  if (!searched.value) return []
  const names = new Map((gear.data.value?.models ?? []).map((m) => [m.id, m.name]))
  const id = draft.id
  const passes = (name: string) => () => {
    moving.wanted = name
    void router.push({ name: 'moves', params: { id } })
  }
  const teamPasses = (name: string) => () => {
    team.choose(name)
    void router.push({ name: 'team', params: { id } })
  }
  const inDrop = route.params.id && draft.drop
  return [
    ...(inDrop ? (moves.data.value ?? []) : []).map((m) => ({
      key: `move ${m.name}`,
      words: moveWords(m.name),
      what: `move, ${m.does}`,
      act: passes(m.name),
    })),
    ...(inDrop && draft.drop?.team ? (teamMoves.data.value ?? []) : []).map((m) => ({
      key: `team ${m.name}`,
      words: moveWords(m.name),
      what: `move of the team, ${m.does}`,
      act: teamPasses(m.name),
    })),
    ...(people.data.value ?? []).map((p) => ({
      key: `person ${p.id}`,
      words: p.name,
      what: 'person of the team',
      to: `/people/person/${p.id}`,
    })),
    ...(gear.data.value?.items ?? []).map((i) => ({
      key: `item ${i.id}`,
      words: i.label,
      what: [names.get(i.model), i.serial, i.state === 'in-service' ? '' : i.state].filter(Boolean).join(', '),
      to: `/store/item/${i.id}`,
    })),
    ...terms.value.map((t) => ({
      key: `term ${t.word}`,
      words: t.word,
      what: ['word', ...(t.also ?? [])].join(', '),
      to: { name: 'glossary', query: { find: t.word } },
    })),
  ]
}

/** Everything in the open drop that has a place on a page. */
function goalsOf(drop: Drop): Goal[] {
  const id = draft.id
  const kit = (person: string) => ({ name: 'kit', params: { id, who: person } })
  return [
    ...pages.map((p) => ({ key: p.name, words: p.words, what: 'page', to: { name: p.name, params: { id } } })),
    ...(drop.people ?? []).map((p) => ({ key: p.id, words: p.name, what: 'person', to: kit(p.id) })),
    ...(drop.strands ?? []).flatMap((s) =>
      s.ropes.map((r) => ({
        key: r,
        words: labelOf(drop, r),
        what: `rope, ${s.name}`,
        to: { name: 'drop', params: { id }, hash: `#strand-${s.id}` },
      })),
    ),
    ...(drop.people ?? []).flatMap((p) =>
      [...(p.holds ?? []).flatMap((h) => [h.device, ...h.links.map((l) => l.item)]), ...(p.carries ?? [])].map((i) => ({
        key: i,
        words: labelOf(drop, i),
        what: `item, ${p.name}`,
        to: kit(p.id),
      })),
    ),
  ]
}

/** A code that was typed, or scanned by a scanner that types, leads to its item. */
const byCode = (code: string): Goal[] =>
  isCode(code)
    ? [{ key: 'code', words: `Item with the code ${code}`, what: 'code', to: `/i/${encodeURIComponent(code)}` }]
    : []

function scanned(read: string) {
  camera.value = false
  const [goal] = byCode(codeIn(read))
  if (goal) go(goal)
}

const goals = computed<Goal[]>(() => {
  const here = route.params.id && draft.drop ? goalsOf(draft.drop) : []
  const others = (drops.data.value ?? []).map((d) => ({
    key: 'drop' + d.id,
    words: d.name,
    what: 'drop',
    to: { name: 'drop', params: { id: d.id } },
  }))
  const always: Goal[] = [
    ...teamPages.map((p) => ({ key: p.name, words: p.words, what: 'page', to: { name: p.name } })),
    { key: 'examine', words: 'Examine', what: 'page', to: '/examine' },
    { key: 'labels', words: 'Labels', what: 'page', to: '/labels' },
    { key: 'me', words: 'My hours, checks and sign-ins', what: 'page', to: '/me' },
    { key: 'glossary', words: 'Glossary', what: 'page', to: '/glossary' },
    ...Object.entries(figureTitles).map(([name, does]) => ({
      key: `figure ${name}`,
      words: `${name}: ${does}`,
      what: 'quick figure',
      to: `/figures/${name}`,
    })),
    { key: 'tables', words: 'Tables behind the figures', what: 'page', to: '/tables' },
    ...systems
      .filter((s) => s !== system.value)
      .map((s) => ({ key: s, words: `Units: ${s}`, what: 'display', act: () => (system.value = s) })),
  ]
  const wanted = text.value.trim().toLowerCase()
  const hit = (g: Goal) => `${g.words} ${g.what}`.toLowerCase().includes(wanted)
  const list = [...here, ...others, ...always, ...beyond()].filter(hit)
  // What begins so comes first; what is here stays before what is elsewhere.
  const begins = (g: Goal) => Number(!g.words.toLowerCase().startsWith(wanted))
  const seen = new Set<string>()
  return [...byCode(codeIn(text.value)), ...list.sort((a, b) => begins(a) - begins(b))]
    .filter((g) => !seen.has(g.key) && seen.add(g.key))
    .slice(0, maxGoals)
})

/** What is asked and not answered yet, or could not be: nothing is said not to be there then. */
const lists = [drops, gear, people, moves, teamMoves]
const looking = computed(() => lists.some((l) => l.isFetching.value && !l.data.value))
const missed = computed(() => lists.some((l) => l.isError.value))

function go(g: Goal | null) {
  if (!g) return
  emit('close')
  text.value = ''
  g.act?.()
  if (g.to) void router.push(g.to)
}
</script>

<template>
  <Dialog :open="open" @close="emit('close')">
    <div class="fixed inset-0 z-40 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-x-0 top-[12vh] z-50 mx-auto max-w-lg px-4">
      <DialogPanel class="bg-ground rounded-lg p-3 shadow-2xl">
        <Combobox :model-value="null" @update:model-value="go">
          <ComboboxInput
            class="border-soft bg-raised h-12 w-full rounded-md border px-3 text-lg"
            placeholder="A page, person, item, drop, move, word or code"
            aria-label="Find"
            @change="text = $event.target.value"
          />
          <ComboboxOptions static class="mt-2 max-h-96 overflow-auto">
            <ComboboxOption v-for="g in goals" v-slot="{ active }" :key="g.key" :value="g" as="template">
              <li
                class="flex min-h-11 cursor-pointer items-center justify-between rounded px-3"
                :class="active ? 'bg-accent text-on-accent' : ''"
              >
                <span>{{ g.words }}</span><span class="ml-4 truncate text-sm opacity-80">{{ g.what }}</span>
              </li>
            </ComboboxOption>
            <li v-if="looking" class="text-soft px-3 py-2">Looking…</li>
            <li v-else-if="missed" class="text-look px-3 py-2">◆ Not everything could be searched: no answer.</li>
            <li v-else-if="!goals.length" class="text-soft px-3 py-2">Nothing by that name.</li>
          </ComboboxOptions>
        </Combobox>
        <button type="button" class="quiet mt-1 -ml-1" data-camera @click="camera = !camera">
          scan a label with the camera
        </button>
        <CameraScan v-if="camera" @read="scanned" @close="camera = false" />
      </DialogPanel>
    </div>
  </Dialog>
</template>
