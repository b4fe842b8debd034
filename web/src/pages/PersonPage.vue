<script setup lang="ts">
// A person: mass with kit, and their harness. What they are familiar with is recorded on the
// People page.
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Fault } from '@/api/client'
import FormFields from '@/components/FormFields.vue'
import RowSave from '@/components/RowSave.vue'
import StateNotice from '@/components/StateNotice.vue'
import { idOf, trimmed, useForms, type Value } from '@/lib/forms'
import { named, useGear, usePeople } from '@/lib/gear'
import { useSession } from '@/stores/session'

const props = defineProps<{ id?: string }>()
const people = usePeople()
const gear = useGear()
const forms = useForms()
const session = useSession()
const router = useRouter()
const value = ref<Value>({})
const faults = ref<Fault[]>([])
const there = computed(() => people.data.value?.find((p) => p.id === props.id))
const harnesses = computed(() =>
  gear.items.value
    .filter((i) => gear.models.value.get(i.model)?.class === 'harness' && i.state !== 'retired')
    .map((i) => ({ id: i.id, words: `${i.label} (${i.serial})` })),
)
watch(
  there,
  (p) => {
    if (p && value.value.id !== p.id) value.value = JSON.parse(JSON.stringify(p)) as Value
  },
  { immediate: true },
)
watch(
  () => String(value.value.name ?? ''),
  (now, before) => {
    if (!props.id && (!value.value.id || value.value.id === idOf(before)))
      value.value = { ...value.value, id: idOf(now) }
  },
)
const body = () => ({ people: [trimmed(forms.data.value?.person ?? [], value.value)] })
</script>

<template>
  <main id="page" class="@container mx-auto max-w-3xl px-5 py-6">
    <RouterLink to="/people" class="quiet -ml-2">← People</RouterLink>
    <h1>{{ id ? named(there?.name, id, people.data.value) : 'Add a person' }}</h1>
    <StateNotice v-if="forms.isPending.value || people.isPending.value" part title="Fetching the people" busy />
    <StateNotice v-else-if="id && !there" part title="There is nobody of this id" />
    <template v-else-if="forms.data.value">
      <FormFields
        v-model="value"
        class="mt-4"
        :fields="forms.data.value.person"
        at="/people/0"
        :faults="faults"
        :without="['familiar', 'revision', ...(id ? ['id'] : [])]"
        :names="{ harness: harnesses }"
      />
      <RowSave
        kind="people"
        :body="body"
        :may="session.may('put-people')"
        who="A supervisor"
        @faults="(f) => (faults = f)"
        @saved="router.push('/people')"
      />
    </template>
  </main>
</template>
