<script setup lang="ts">
// How far the plan is: draft, checked, released; what took it back; and what is in
// the way of the next state.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, must, Refused, type Fault, type Plan } from '@/api/client'
import { timeWords } from '@/lib/records'
import { shape } from '@/lib/words'
import { useDraft } from '@/stores/draft'
import { useSession } from '@/stores/session'

const props = defineProps<{ id: string }>()

const draft = useDraft()
const session = useSession()
const client = useQueryClient()
const query = useQuery({
  queryKey: computed(() => ['plan', props.id]),
  queryFn: async () => must(await api.GET('/api/v1/drops/{id}/plan', { params: { path: { id: props.id } } })),
})
const plan = computed(() => query.data.value)
const releasing = ref(false)
const refused = ref<{ message: string; faults: Fault[] }>()
const reasons = reactive<Record<string, string>>({})

const looks = computed(() => draft.findings.filter((f) => f.severity === 'look'))
const unsaid = computed(() => looks.value.filter((f) => (reasons[f.what] ?? '').trim().length < 3).length)
/** What stands in the way of the next state, as the server has it. */
const inTheWay = computed(() => (plan.value?.state === 'draft' ? plan.value.to_check : plan.value?.to_release) ?? [])
/** Who changed it last does not check it, unless the team's policy lets them. */
const own = computed(
  () => plan.value?.state === 'draft' && plan.value.changed_by_id === session.account && !plan.value.may_check_alone,
)
/** Nobody signs what they do not see: the drop, the plan and what was found are of one version. */
const ready = computed(
  () => draft.keeping === 'kept' && draft.online && draft.judged && plan.value?.version === draft.version,
)

// What was said before is offered again for the same words.
watch(
  plan,
  (p) => {
    for (const r of p?.reasons ?? []) reasons[r.what] ??= r.reason
  },
  { immediate: true },
)
// A change that was kept may have taken the plan back.
watch(
  () => draft.keeping,
  (k) => {
    if (k === 'kept') void query.refetch()
  },
)

async function set(state: Plan['state']) {
  refused.value = undefined
  const said = looks.value
    .filter((f) => (reasons[f.what] ?? '').trim())
    .map((f) => ({ rule: f.rule, what: f.what, reason: reasons[f.what]!.trim() }))
  try {
    const answer = await api.PUT('/api/v1/drops/{id}/plan', {
      params: { path: { id: props.id }, header: { 'If-Match': `"${plan.value?.version}"` } },
      body: { state, ...(said.length ? { reasons: said } : {}) },
    })
    client.setQueryData(['plan', props.id], must(answer))
    // Checked may be known by another way first, and the form for its release be open by now.
    if (state !== 'checked') releasing.value = false
  } catch (e) {
    refused.value = e instanceof Refused ? e : { message: 'The server does not answer.', faults: [] }
    void query.refetch()
  }
}

const words = { draft: '○ draft', checked: '◐ checked', released: '● released' }
</script>

<template>
  <section v-if="!plan" class="border-line my-3 min-h-17 rounded-md border p-3" aria-label="Plan">
    Plan: {{ query.isError.value ? 'not known without a connection' : '…' }}
  </section>
  <section v-else class="border-line my-3 rounded-md border p-3" aria-label="Plan" :data-plan="plan.state">
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
      <p>
        Plan: <b class="text-lg">{{ words[plan.state] }}</b>
        <span v-if="plan.state !== 'draft' && plan.at" class="text-soft">
          by {{ plan.by }}, {{ timeWords(plan.at) }}</span
        >
      </p>
      <span class="no-print ml-auto flex flex-wrap gap-2">
        <button
          v-if="plan.state === 'draft' && session.may('set-plan')"
          type="button"
          class="plain"
          :disabled="!ready || inTheWay.length > 0 || own"
          @click="set('checked')"
        >
          Mark as checked
        </button>
        <button
          v-if="plan.state === 'checked' && session.may('plan:released')"
          type="button"
          class="strong"
          :disabled="!ready || inTheWay.length > 0"
          @click="looks.length ? (releasing = !releasing) : set('released')"
        >
          Release for use
        </button>
        <button
          v-if="plan.state !== 'draft' && session.may('set-plan')"
          type="button"
          class="plain"
          :disabled="!ready"
          @click="set('draft')"
        >
          Back to draft
        </button>
      </span>
    </div>
    <div v-if="plan.because?.length" class="text-look mt-1" role="status">
      <p>◆ Taken back, since this was changed:</p>
      <ul class="figure ml-5 list-disc">
        <li v-for="b in plan.because" :key="b">{{ b }}</li>
      </ul>
    </div>
    <p v-if="plan.alone" class="text-look text-sm" data-alone>
      ◆ Checked by who had changed it last, as the team’s policy allows.
    </p>
    <div v-if="plan.state !== 'released' && inTheWay.length" class="mt-1 text-sm" data-in-the-way>
      <p>In the way of {{ plan.state === 'draft' ? 'checking' : 'releasing' }} it:</p>
      <ul class="ml-5 list-disc">
        <li v-for="w in inTheWay.slice(0, 3)" :key="w">{{ w }}</li>
        <li v-if="inTheWay.length > 3">and {{ inTheWay.length - 3 }} more, among what was found</li>
      </ul>
    </div>
    <p v-else-if="own" class="text-soft text-sm" data-own>You changed it last: another person checks it.</p>
    <p v-else-if="plan.state === 'checked' && !session.may('plan:released')" class="text-soft text-sm">
      A supervisor releases it for use.
    </p>
    <form v-if="releasing" class="mt-3 grid gap-3" @submit.prevent="set('released')">
      <p>To release it, write for each why it is acceptable here. It is signed with your name.</p>
      <label v-for="f in looks" :key="f.what" class="block">
        <span
          ><span class="text-look font-semibold">{{ shape.look }} look</span> {{ f.what }}</span
        >
        <input
          v-model="reasons[f.what]"
          class="field mt-1"
          maxlength="400"
          placeholder="reason"
          :data-reason="f.rule"
          :aria-label="`Reason for accepting: ${f.what}`"
        />
      </label>
      <button type="submit" class="strong min-h-14" :disabled="unsaid > 0 || !ready">
        {{ unsaid ? `${unsaid} without a reason yet` : 'Release and sign' }}
      </button>
    </form>
    <div v-if="refused" class="text-stop mt-2" role="alert">
      <p>■ {{ refused.message }}</p>
      <p v-for="f in refused.faults" :key="f.detail">{{ f.detail }}</p>
    </div>
  </section>
</template>
