<script setup lang="ts">
// Kit: who carries what, on which strand, in which mode, by which lanyard to
// which point; and what does not fit.
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Drop, Hold, Item, Model, Person, Place } from '@/api/client'
import { personMoves } from '@/api/actions'
import FindingNote from '@/components/FindingNote.vue'
import HoldEditor from '@/components/HoldEditor.vue'
import ItemChooser from '@/components/ItemChooser.vue'
import ItemPicker from '@/components/ItemPicker.vue'
import LiveNumber from '@/components/LiveNumber.vue'
import PageRow from '@/components/PageRow.vue'
import { include, labelOf, modelOf, useGear, usedItems } from '@/lib/gear'
import { short } from '@/lib/look'
import { show } from '@/lib/units'
import { freeId, moveWords, shape, worst } from '@/lib/words'
import { useDraft } from '@/stores/draft'

const props = defineProps<{ id: string; who?: string }>()

const draft = useDraft()
const router = useRouter()
const gear = useGear()
const drop = computed(() => draft.drop!)
const people = computed(() => drop.value.people ?? [])
const index = computed(() =>
  Math.max(
    0,
    people.value.findIndex((p) => p.id === props.who),
  ),
)
const person = computed<Person | undefined>(() => people.value[index.value])

const place = ref<Place>()
const placeTitle = ref('')

function choose(p: Place, title: string) {
  place.value = p
  placeTitle.value = `In the place of ${title}`
}

function editPerson(f: (p: Person, d: Drop) => void, dragging = false) {
  const edit = (d: Drop) => {
    const p = d.people?.[index.value]
    if (p) f(p, d)
  }
  draft.edit(edit, dragging)
}

type Free = { item: Item; model: Model }

/** Items of the store that are free and in service, by class. */
const freeItems = computed(() => {
  const used = usedItems(drop.value)
  const byClass = new Map<string, Free[]>()
  for (const item of gear.items.value) {
    const model = gear.models.value.get(item.model)
    if (!model || used.has(item.id) || item.state !== 'in-service') continue
    byClass.set(model.class, [...(byClass.get(model.class) ?? []), { item, model }])
  }
  return byClass
})

const free = (...classes: string[]): Free[] => classes.flatMap((c) => freeItems.value.get(c) ?? [])

const carriable = [
  'descender',
  'chest-ascender',
  'hand-ascender',
  'backup-device',
  'connector',
  'lanyard',
  'sling',
  'absorber',
  'foot-loop',
  'gloves',
  'pulley',
  'evacuation-kit',
]
const toCarry = computed(() => free(...carriable))
const deviceClasses = ['descender', 'backup-device', 'chest-ascender', 'hand-ascender']

function carry(item: Item, model: Model) {
  editPerson((p, d) => {
    include(d, item, model)
    p.carries = [...(p.carries ?? []), item.id]
  })
}

function addHold(class_: string) {
  const first = free(class_)[0]
  const strand =
    drop.value.strands?.find((s) => s.role === (class_ === 'backup-device' ? 'backup' : 'main')) ??
    drop.value.strands?.[0]
  const device = first?.model.device
  if (!first || !strand || !device) return
  const holding = device.positions.find((p) => p.hands_off === 'stops') ?? device.positions[0]!
  editPerson((p, d) => {
    include(d, first.item, first.model)
    const hold: Hold = {
      id: freeId(`${p.id}-${class_}`, p.holds?.map((h) => h.id) ?? []),
      strand: strand.id,
      device: first.item.id,
      mode: device.modes[0]!.name,
      position: holding.name,
      point: class_ === 'backup-device' ? 'sternal' : 'ventral',
      above_m: class_ === 'backup-device' ? 0.3 : 0.15,
      threaded: 'right',
      links: [],
    }
    p.holds = [...(p.holds ?? []), hold]
  })
}

function addLink(hold: number, class_: string) {
  const first = free(class_)[0]
  if (!first) return
  editPerson((p, d) => {
    include(d, first.item, first.model)
    p.holds?.[hold]?.links.push({ item: first.item.id })
  })
}

const familiarWith = computed(
  () =>
    (person.value?.familiar ?? [])
      .map((f) => gear.models.value.get(f.model))
      .map((m, i) => (m ? `${m.maker} ${m.name}` : person.value?.familiar?.[i]?.model))
      .join(', ') || 'nothing on record',
)

const harnesses = computed(() => free('harness'))

function wear(item: Item, model: Model) {
  editPerson((p, d) => {
    include(d, item, model)
    p.harness = item.id
  })
}

function toggleMove(m: (typeof personMoves)[number]) {
  editPerson((p) => (p.moves = p.moves?.includes(m) ? p.moves.filter((o) => o !== m) : [...(p.moves ?? []), m]))
}

/** Notes of a person that none of their holds shows. */
const keyOf = (h: Hold) => `hold:${person.value?.id}:${h.id}`
function tone(p: Person) {
  return worst(draft.findings.filter((f) => f.subject.person === p.id))
}
const personal = computed(() => draft.about(`person:${person.value?.id}`).filter((f) => !f.subject.hold))
</script>

<template>
  <div v-if="!person" class="max-w-xl py-10">
    <h1>Nobody is on this drop yet</h1>
    <p class="mt-2">Say on the Drop page who goes down; then their kit is put together here.</p>
    <RouterLink class="plain mt-4" :to="{ name: 'drop', params: { id }, hash: '#people' }"
      >To the people of the drop</RouterLink
    >
  </div>
  <div v-else>
    <nav v-if="people.length > 1" class="mb-3 flex flex-wrap gap-2" aria-label="People">
      <button
        v-for="p in people"
        :key="p.id"
        type="button"
        class="plain"
        :aria-current="p.id === person.id"
        :class="p.id === person.id ? 'border-accent! border-2!' : ''"
        @click="router.replace({ name: 'kit', params: { id, who: p.id } })"
      >
        {{ p.name }} <span v-if="tone(p)">{{ shape[tone(p)!] }}</span>
      </button>
    </nav>
    <div class="flex flex-wrap items-baseline justify-between">
      <h1>{{ person.name }}</h1>
      <button type="button" class="quiet no-print text-sm" :aria-pressed="short" data-short @click="short = !short">
        {{ short ? 'in sentences' : 'in short' }}
      </button>
    </div>
    <p class="briefing">
      weighs
      <LiveNumber
        :value="person.mass_kg"
        unit="kg"
        label="Mass with clothing and equipment"
        :step="1"
        :min="1"
        :max="400"
        :pointer="`/people/${index}/mass_kg`"
        @set="(v, dragging) => editPerson((p) => (p.mass_kg = v), dragging)"
      />
      with equipment and {{ person.grounded ? 'stands with the attachment' : 'hangs' }} at
      <LiveNumber
        :value="person.at_m"
        unit="m"
        label="Height of the harness attachment"
        :step="0.1"
        :min="0"
        :max="drop.geometry.top_m + 3"
        :pointer="`/people/${index}/at_m`"
        @set="(v, dragging) => editPerson((p) => (p.at_m = v), dragging)"
      />.
    </p>

    <PageRow v-for="(h, i) in person.holds ?? []" :key="h.id" :about="[keyOf(h)]">
      <HoldEditor
        :drop="drop"
        :person="person"
        :person-index="index"
        :hold="h"
        :index="i"
        @choose="choose"
        @add-link="addLink"
      />
    </PageRow>
    <p v-if="!person.holds?.length" class="border-line border-t py-6">
      No hold yet.
      {{
        drop.strands?.length
          ? 'Put a descender on the main strand first, then a backup on its own strand.'
          : 'The drop needs strands first.'
      }}
    </p>
    <div class="no-print flex flex-wrap items-center gap-2 pb-4">
      <span class="text-soft">Add a hold:</span>
      <button
        v-for="c in deviceClasses"
        :key="c"
        type="button"
        class="plain"
        :disabled="!drop.strands?.length || !free(c).length"
        @click="addHold(c)"
      >
        {{ c.replace('-', ' ') }}
      </button>
    </div>

    <div class="border-line grid gap-x-8 border-t pt-4 @4xl:grid-cols-[minmax(0,1fr)_300px]">
      <div>
        <h2>Carried and worn</h2>
        <p class="briefing mb-2 flex flex-wrap items-center gap-x-3">
          <span
            >Harness: <b>{{ person.harness ? labelOf(drop, person.harness) : 'none entered' }}</b></span
          >
          <ItemPicker :items="harnesses" :words="person.harness ? 'another' : 'choose'" @pick="wear" />
        </p>
        <ul class="flex flex-wrap gap-2">
          <li v-for="(c, i) in person.carries ?? []" :key="c">
            <button
              type="button"
              class="plain named"
              :aria-label="`Take ${labelOf(drop, c)} off the kit list`"
              :title="modelOf(drop, c)?.name"
              @click="editPerson((p) => p.carries?.splice(i, 1))"
            >
              {{ labelOf(drop, c) }} <span aria-hidden="true">×</span>
            </button>
          </li>
          <li>
            <ItemPicker :items="toCarry" words="+ carry" @pick="carry" />
          </li>
        </ul>
        <h2 class="mt-6">Moves on {{ person.name.split(' ')[0] }}'s plan</h2>
        <ul class="mt-2 flex flex-wrap gap-2">
          <li v-for="m in personMoves" :key="m">
            <button
              type="button"
              class="plain"
              :aria-pressed="person.moves?.includes(m) ?? false"
              :class="person.moves?.includes(m) ? 'border-accent! border-2! font-semibold' : 'text-soft!'"
              @click="toggleMove(m)"
            >
              <span aria-hidden="true">{{ person.moves?.includes(m) ? '✓' : '' }}</span> {{ moveWords(m) }}
            </button>
          </li>
        </ul>
        <p class="text-soft mt-4 text-sm">
          Familiar with: {{ familiarWith }}. Attachment at <span class="figure">{{ show(person.at_m, 'm') }}</span>.
        </p>
      </div>
      <aside v-if="personal.length" class="space-y-3 pt-2" aria-label="Findings about this">
        <FindingNote v-for="f in personal" :key="f.rule + f.what" :finding="f" />
      </aside>
    </div>
    <ItemChooser :place="place" :title="placeTitle" @close="place = undefined" />
  </div>
</template>
