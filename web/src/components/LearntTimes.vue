<script setup lang="ts">
// What runs say of the team's times: the median with its interval, and what that proposes. A
// supervisor takes one at a time; nothing changes by itself.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, must, type ActionTime, type Learnt } from '@/api/client'
import { count } from '@/lib/words'

const props = defineProps<{ times: ActionTime[]; may: boolean }>()
const emit = defineEmits<{ take: [action: ActionTime, seconds: number] }>()

const query = useQuery({
  queryKey: ['runs', 'learning'],
  queryFn: async () => must(await api.GET('/api/v1/runs/learning')),
})
const named = (table: ActionTime['table'], list: Learnt[] = []) =>
  list.flatMap((l) => {
    const of = props.times.find((t) => t.table === table && t.do === l.do)
    return of ? [{ ...l, of }] : []
  })
const groups = computed(() =>
  [
    { title: '', list: named('team_times', query.data.value?.learnt) },
    { title: 'Rescues', list: named('rescue_times', query.data.value?.rescue) },
  ].filter((g) => g.list.length),
)
const s = (v: number) => `${Math.round(v)} s`
const measured = computed(() => query.data.value?.measured ?? [])
const loadings = { rest: 'hanging still', lowering: 'lowered by a team' } as const
</script>

<template>
  <section class="border-line mt-4 border-t py-4" aria-label="What runs took" data-learning>
    <h2>What runs took</h2>
    <p class="text-soft max-w-prose text-sm">
      Steps of a team's moves and of rescues, over the runs that were put away; none that were tapped in a burst. Of an
      exercise a rescue’s steps alone. A time is proposed from eight on, where the interval of the median leaves out the
      one of now. Times along the rope are not learnt.
    </p>
    <p v-if="query.isPending.value" class="text-soft">Going over the runs…</p>
    <p v-else-if="query.isError.value" class="text-look">◆ The runs could not be gone over.</p>
    <p v-else-if="!groups.length">No run has timed a step yet.</p>
    <p v-else>{{ count(query.data.value!.runs, 'run') }}</p>
    <template v-for="g in groups" :key="g.title">
      <h3 v-if="g.title">{{ g.title }}</h3>
      <p v-if="g.title" class="text-soft max-w-prose text-sm">
        A rescue’s times become shorter only by exercises that were timed, from eight on: to what nine of ten took. Runs
        make them longer.
      </p>
      <ul class="divide-line divide-y">
        <li v-for="l in g.list" :key="l.do" class="flex flex-wrap items-center gap-x-4 py-2" :data-learnt="l.do">
          <b class="min-w-52 flex-1">{{ l.of.words }}</b>
          <span class="figure"
            >now {{ s(l.now_s) }}; {{ l.count }} ×, median {{ s(l.median_s)
            }}<template v-if="l.low_s !== undefined && l.high_s !== undefined"
              >, 90 % {{ s(l.low_s) }} to {{ s(l.high_s) }}</template
            ></span
          >
          <button
            v-if="l.proposed_s !== undefined && may"
            type="button"
            class="plain"
            data-take
            @click="emit('take', l.of, Math.round(l.proposed_s))"
          >
            take {{ s(l.proposed_s) }}
          </button>
          <span v-else class="text-soft text-sm">{{ l.why }}</span>
        </li>
      </ul>
    </template>
    <template v-if="measured.length">
      <h2 class="mt-4">Forces beside what was predicted</h2>
      <p class="text-soft max-w-prose text-sm">
        The median of each run's readings, over nine of ten runs. Where less than three tenths of the load was seen,
        somebody stood on something, and it is left out. Nothing of this holds for a fall.
      </p>
      <ul>
        <li v-for="m in measured" :key="m.loading" :data-measured="m.loading">
          <b>{{ loadings[m.loading] }}</b>: {{ m.words }}
        </li>
      </ul>
    </template>
  </section>
</template>
