<script setup lang="ts">
// Team: a load lowered and raised from the top. What is rigged is stated in sentences and
// laid out by the program with what every part bears; its moves are found and stepped
// through; its figures stand at every height; everybody has a place and their calls.
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import TeamBuilder from '@/components/TeamBuilder.vue'
import TeamFiguresView from '@/components/TeamFiguresView.vue'
import TeamHeights from '@/components/TeamHeights.vue'
import TeamMoves from '@/components/TeamMoves.vue'
import TeamPlaces from '@/components/TeamPlaces.vue'
import TeamRigView from '@/components/TeamRigView.vue'
import { useGear, usedItems } from '@/lib/gear'
import { newTeam } from '@/lib/team'
import { shape, worst } from '@/lib/words'
import { useDraft } from '@/stores/draft'
import { useTeam } from '@/stores/team'

defineProps<{ id: string }>()

const draft = useDraft()
const team = useTeam()
const gear = useGear()
const rigged = computed(() => draft.drop?.team)
const views = ['moves', 'rig', 'heights', 'places'] as const
type View = (typeof views)[number]
const route = useRoute()
const router = useRouter()
const view = computed<View>({
  get: () => views.find((v) => v === route.query.view) ?? 'moves',
  set: (v) => void router.replace({ query: { view: v } }),
})
const missing = ref('')
const found = computed(() => team.answer?.figures?.found ?? [])
const bad = computed(() => found.value.filter((f) => f.severity !== 'note'))

watch(
  [
    () => team.move,
    () => team.from,
    () => team.to,
    () => team.ratio,
    () => draft.report,
    () => JSON.stringify(rigged.value),
  ],
  () => void team.find(),
  { immediate: true },
)

function rig() {
  draft.edit((d) => {
    const used = usedItems(d)
    const free = gear.items.value.flatMap((item) => {
      const model = gear.models.value.get(item.model)
      return model && !used.has(item.id) && item.state === 'in-service' ? [{ item, model }] : []
    })
    missing.value =
      newTeam(
        d,
        free,
        (d.people ?? []).map((p) => p.name),
      ).missing ?? ''
  })
  view.value = 'rig'
}

const sheet = (kind: 'svg' | 'pdf') => void team.sheet(kind)
</script>

<template>
  <div>
    <h1>Team</h1>
    <div v-if="!rigged" class="max-w-prose py-4">
      <p>Nothing is rigged for a team on this drop: no load that is lowered or raised from the top.</p>
      <button type="button" class="strong mt-3" data-rig :disabled="!gear.isSuccess.value" @click="rig">
        Rig a main and a belay
      </button>
      <p v-if="!gear.isSuccess.value" class="text-soft mt-2">What the store has is not known yet.</p>
      <p v-if="missing" class="text-stop mt-2" role="alert">■ It takes {{ missing }}.</p>
    </div>
    <template v-else-if="draft.drop">
      <div class="no-print mt-1 flex flex-wrap items-center gap-2" role="group" aria-label="What of the team is shown">
        <button
          v-for="v in views"
          :key="v"
          type="button"
          class="plain"
          :class="v === view ? 'border-accent! border-2! font-semibold' : ''"
          :aria-pressed="v === view"
          :data-view="v"
          @click="view = v"
        >
          {{ { moves: 'Moves', rig: 'Rig', heights: 'Hauls and heights', places: 'Places and calls' }[v] }}
          <span v-if="v === 'rig' && bad.length" :class="worst(bad) === 'stop' ? 'text-stop' : 'text-look'"
            >{{ shape[worst(bad) ?? 'look'] }} {{ bad.length }}</span
          >
        </button>
        <span class="ml-auto flex gap-2">
          <button type="button" class="quiet" data-svg @click="sheet('svg')">sheet, SVG</button>
          <button type="button" class="quiet" data-pdf @click="sheet('pdf')">sheet, PDF</button>
        </span>
      </div>
      <p v-if="team.sheetFault" class="text-stop" role="alert">■ {{ team.sheetFault }}</p>
      <TeamMoves v-if="view === 'moves'" :drop="draft.drop" class="mt-3" />
      <template v-else-if="view === 'rig'">
        <TeamRigView v-if="team.answer?.figures" :drop="draft.drop" :figures="team.answer.figures" class="mt-4" />
        <h2 class="mt-6">As it is rigged</h2>
        <TeamBuilder :drop="draft.drop" :team="rigged" class="mt-2" />
      </template>
      <template v-else-if="view === 'heights' && team.answer?.figures">
        <TeamFiguresView
          :figures="team.answer.figures"
          :haulers="rigged.haulers ?? 0"
          :run="rigged.run_m"
          class="mt-4"
        />
        <TeamHeights :answer="team.answer" :top="draft.drop.geometry.top_m" class="mt-4" />
      </template>
      <TeamPlaces v-else-if="team.answer" :answer="team.answer" class="mt-4" />
      <p class="text-soft mt-4 text-sm">
        A plan for trained people. Pulls are taken as parallel and ropes as limber: hauling errs low. The manufacturer's
        instructions and the person in charge come first; practise it near the ground.
      </p>
    </template>
  </div>
</template>
