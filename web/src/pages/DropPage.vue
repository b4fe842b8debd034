<script setup lang="ts">
// Drop: a briefing that can be edited. Geometry, anchors, strands with their
// marks, people.
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Drop, Person, Place } from '@/api/client'
import AnchorLines from '@/components/AnchorLines.vue'
import ItemChooser from '@/components/ItemChooser.vue'
import LieLines from '@/components/LieLines.vue'
import LiveChoice from '@/components/LiveChoice.vue'
import LiveNumber from '@/components/LiveNumber.vue'
import LiveText from '@/components/LiveText.vue'
import PlanPanel from '@/components/PlanPanel.vue'
import RigIt from '@/components/RigIt.vue'
import PageRow from '@/components/PageRow.vue'
import StrandLines from '@/components/StrandLines.vue'
import { addAnchor, addStrand, freeRopes, hangPair } from '@/lib/build'
import { include, useGear, usePeople, usedItems } from '@/lib/gear'
import { useDraft } from '@/stores/draft'
import TermWord from '@/components/TermWord.vue'

defineProps<{ id: string }>()

const draft = useDraft()
const route = useRoute()
const gear = useGear()
const team = usePeople()
const drop = computed(() => draft.drop!)
const place = ref<Place>()
const placeTitle = ref('')

/** Goes to the part of the page that the address names. */
function toPart() {
  if (route.hash) document.getElementById(route.hash.slice(1))?.scrollIntoView({ block: 'start' })
}
onMounted(toPart)
// The first findings push things down.
watch([() => route.hash, () => draft.report !== undefined], toPart, { flush: 'post' })

const ropes = computed(() => freeRopes(drop.value, gear.items.value, gear.models.value))
/** What keeps strands from being hung by one press; empty where nothing does. */
const roped = computed(() => {
  if (ropes.value.length || gear.isPending.value) return ''
  return gear.isError.value ? 'The store could not be fetched.' : 'No rope that is in service is free in the store.'
})

const absent = computed(() => (team.data.value ?? []).filter((m) => !drop.value.people?.some((p) => p.id === m.id)))

function addPerson(memberId: string) {
  const m = team.data.value?.find((m) => m.id === memberId)
  if (!m) return
  const harness = gear.items.value.find((i) => i.id === m.harness)
  const model = harness && gear.models.value.get(harness.model)
  draft.edit((d) => {
    const { id, name, mass_kg, reach_up_m, reach_out_m, hand_mm, familiar } = m
    const p: Person = { id, name, mass_kg, reach_up_m, reach_out_m, hand_mm, at_m: 1, grounded: true, familiar }
    if (harness && model && !usedItems(d).has(harness.id)) {
      include(d, harness, model)
      p.harness = harness.id
    }
    d.people = [...(d.people ?? []), p]
  })
}

function editPerson(i: number, f: (p: Person) => void, dragging = false) {
  const edit = (d: Drop) => {
    const p = d.people?.[i]
    if (p) f(p)
  }
  draft.edit(edit, dragging)
}

const standing = [
  { value: false, words: 'hangs' },
  { value: true, words: 'stands' },
]
const personal = (p: Person) => draft.about(`person:${p.id}`)
</script>

<template>
  <div>
    <h1>
      <LiveText
        :value="drop.name"
        label="Name of the drop"
        required
        pointer="/name"
        class="-ml-1"
        @set="(v) => draft.edit((d) => (d.name = v))"
      />
    </h1>
    <p class="briefing">
      At
      <LiveText
        :value="drop.site ?? ''"
        label="Site"
        empty="a site not named"
        @set="(v) => draft.edit((d) => (d.site = v))"
      />, checked for
      <LiveText
        :value="drop.day"
        label="Day"
        date
        required
        pointer="/day"
        @set="(v) => draft.edit((d) => (d.day = v))"
      />, with
      <LiveNumber
        :value="drop.wind_m_s ?? 0"
        unit="m/s"
        label="The day's wind across the drop"
        :step="0.5"
        :min="0"
        :max="60"
        pointer="/wind_m_s"
        @set="(v, dragging) => draft.edit((d) => (d.wind_m_s = v), dragging)"
      />
      of wind.
    </p>
    <p class="max-w-prose">
      <LiveText
        :value="drop.note ?? ''"
        label="Note"
        empty="Add a note for the team"
        long
        @set="(v) => draft.edit((d) => (d.note = v))"
      />
    </p>

    <PlanPanel :id="id" />
    <RigIt :id="id" />
    <LieLines :drop="drop" />

    <section id="anchors" class="border-line mt-6 scroll-mt-20 border-t pt-4">
      <h2><TermWord word="anchor">Anchors</TermWord></h2>
      <p v-if="!drop.anchors?.length" class="py-2">
        No anchor yet. Put in the main anchor first, then one of its own for the backup.
      </p>
      <PageRow v-for="(a, i) in drop.anchors ?? []" :key="a.id" :about="[`anchor:${a.id}`]">
        <AnchorLines :drop="drop" :anchor="a" :index="i" />
      </PageRow>
      <button type="button" class="plain no-print mt-2" @click="draft.edit(addAnchor)">Add an anchor</button>
    </section>

    <section id="strands" class="border-line mt-6 scroll-mt-20 border-t pt-4">
      <h2><TermWord word="strand">Strands</TermWord></h2>
      <p v-if="!drop.strands?.length" class="py-2">
        No strand yet. {{ drop.anchors?.length ? 'Hang the main strand, then the backup.' : 'An anchor comes first.' }}
      </p>
      <PageRow
        v-for="(s, i) in drop.strands ?? []"
        :id="`strand-${s.id}`"
        :key="s.id"
        class="scroll-mt-20"
        :about="[`strand:${s.id}`, ...(s.marks ?? []).map((m) => `mark:${s.id}:${m.id}`)]"
      >
        <StrandLines
          :drop="drop"
          :strand="s"
          :index="i"
          @choose="
            (p, t) => {
              place = p
              placeTitle = `In the place of ${t}`
            }
          "
        />
      </PageRow>
      <p v-if="roped" class="text-look">◆ {{ roped }}</p>
      <div class="no-print mt-2 flex flex-wrap gap-2">
        <button
          v-if="!drop.strands?.length"
          type="button"
          class="plain"
          :disabled="ropes.length < 2"
          data-pair
          @click="draft.edit((d) => hangPair(d, ropes[0]!, ropes[1]!))"
        >
          Hang a main and a backup, each on its own anchor
        </button>
        <button
          v-for="role in ['main', 'backup'] as const"
          :key="role"
          type="button"
          class="plain"
          :disabled="!drop.anchors?.length || !ropes.length"
          @click="draft.edit((d) => addStrand(d, role, ropes[0]!))"
        >
          Hang a {{ role }} strand
        </button>
      </div>
    </section>

    <section id="people" class="border-line mt-6 scroll-mt-20 border-t pt-4">
      <h2>People</h2>
      <p v-if="!drop.people?.length" class="py-2">Nobody yet. Who goes down?</p>
      <div v-for="(p, i) in drop.people ?? []" :key="p.id">
        <p class="briefing">
          <b>{{ p.name }}</b>,
          <LiveNumber
            :value="p.mass_kg"
            unit="kg"
            :label="`Mass of ${p.name} with equipment`"
            :step="1"
            :min="1"
            :max="400"
            :pointer="`/people/${i}/mass_kg`"
            @set="(v, dragging) => editPerson(i, (o) => (o.mass_kg = v), dragging)"
          />
          with equipment,
          <LiveChoice
            :value="p.grounded ?? false"
            :options="standing"
            label="Hangs or stands"
            @set="(v) => editPerson(i, (o) => (o.grounded = v))"
          />
          at
          <LiveNumber
            :value="p.at_m"
            unit="m"
            :label="`Height of ${p.name}`"
            :step="0.1"
            :min="0"
            :max="drop.geometry.top_m + 3"
            :pointer="`/people/${i}/at_m`"
            @set="(v, dragging) => editPerson(i, (o) => (o.at_m = v), dragging)"
          />.
          <RouterLink class="live" :to="{ name: 'kit', params: { id, who: p.id } }">
            {{ personal(p).length ? `Kit: ${personal(p).length} found` : 'Kit' }} →
          </RouterLink>
          <button type="button" class="quiet text-sm" @click="draft.edit((d) => d.people?.splice(i, 1))">
            take off the drop
          </button>
        </p>
      </div>
      <div class="no-print mt-2 flex flex-wrap items-center gap-2">
        <span v-if="absent.length" class="text-soft">Add:</span>
        <button v-for="m in absent" :key="m.id" type="button" class="plain named" @click="addPerson(m.id)">
          {{ m.name }}
        </button>
      </div>
    </section>
    <ItemChooser :place="place" :title="placeTitle" @close="place = undefined" />
  </div>
</template>
