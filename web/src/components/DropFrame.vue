<script setup lang="ts">
// A drop's page with its rail, and what stands there while there is no drop to
// show, no connection, or somebody else was faster.
import { useWindowSize } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import { headroom, headroomBeside } from '@/lib/rail'
import { useCurves } from '@/stores/curves'
import { useDraft } from '@/stores/draft'
import { useRescue } from '@/stores/rescue'
import ConflictBox from './ConflictBox.vue'
import CoverStrip from './CoverStrip.vue'
import DropRail from './DropRail.vue'
import StateNotice from './StateNotice.vue'

const props = defineProps<{ id: string }>()

// The curves and their plots are fetched when they are first looked at.
const CurvesPanel = defineAsyncComponent(() => import('./CurvesPanel.vue'))

const draft = useDraft()
const curves = useCurves()
const rescue = useRescue()
const route = useRoute()
// By the window, not by a media query: paper is narrow, and prints what the window shows.
const { width } = useWindowSize()
const wide = computed(() => width.value >= 900)
const railOpen = ref(false)

watch(
  () => props.id,
  (id) => void draft.open(id),
  { immediate: true },
)
watchEffect(() => {
  headroom.value = curves.open ? headroomBeside : 34
  curves.person = typeof route.params.who === 'string' && route.params.who ? route.params.who : undefined
})
</script>

<template>
  <StateNotice v-if="draft.state === 'loading'" title="Fetching the drop" busy />
  <StateNotice
    v-else-if="draft.state === 'missing'"
    title="There is no such drop"
    detail="It may have been removed, or belongs to another team."
  >
    <RouterLink class="plain" to="/">To the drops</RouterLink>
  </StateNotice>
  <StateNotice
    v-else-if="draft.state === 'failed' || !draft.drop"
    title="The drop could not be fetched"
    :detail="draft.failure"
  >
    <button type="button" class="plain" @click="draft.load()">Try again</button>
  </StateNotice>
  <div v-else class="frame flex">
    <aside
      v-if="wide"
      class="border-line sticky top-(--head) h-[calc(100vh-var(--head))] w-[290px] shrink-0 border-r"
      aria-label="Rail"
    >
      <DropRail :drop="draft.drop" />
      <button
        type="button"
        class="quiet no-print absolute top-0 right-1 text-sm"
        :aria-expanded="curves.open"
        @click="curves.open = !curves.open"
      >
        {{ curves.open ? 'close curves' : 'curves' }} <kbd class="figure ml-1">c</kbd>
      </button>
    </aside>
    <aside
      v-if="wide && curves.open"
      class="border-line sticky top-(--head) h-[calc(100vh-var(--head))] max-w-[44vw] shrink-0 border-r"
      :style="{ width: `${60 + Math.max(3, curves.chosen.length) * 118}px` }"
      aria-label="Curves"
    >
      <CurvesPanel :drop="draft.drop" />
    </aside>
    <aside
      v-if="wide && route.name === 'rescue' && rescue.answer && draft.drop.rescue"
      class="border-line sticky top-(--head) h-[calc(100vh-var(--head))] shrink-0 border-r"
      aria-label="Cover"
    >
      <CoverStrip :drop="draft.drop" />
    </aside>
    <main id="page" class="@container min-w-0 flex-1 px-4 pt-4 pb-16 sm:px-7">
      <div v-if="!wide" class="-mt-2 mb-2">
        <button type="button" class="quiet -ml-2" :aria-expanded="railOpen" @click="railOpen = !railOpen">
          {{ railOpen ? 'hide' : 'show' }} the rail
        </button>
        <button type="button" class="quiet" :aria-expanded="curves.open" @click="curves.open = !curves.open">
          {{ curves.open ? 'hide' : 'show' }} the curves
        </button>
        <div v-if="railOpen" class="border-line h-[60vh] border-y"><DropRail :drop="draft.drop" /></div>
        <div v-if="curves.open" class="border-line h-[80vh] border-y"><CurvesPanel :drop="draft.drop" /></div>
      </div>
      <ConflictBox v-if="draft.conflict !== undefined" />
      <div v-if="draft.full" class="border-stop bg-raised mb-4 rounded-md border-2 p-3" role="alert" data-full>
        <b class="text-stop">■ This device has no room left.</b> What you change is NOT kept until the server has it:
        leave this page open.
      </div>
      <div v-if="!draft.online" class="border-look bg-raised mb-4 rounded-md border-2 p-3" role="alert">
        <b class="text-look">◆ No connection.</b> What you change stays on this device and is sent when there is one;
        {{ draft.here ? 'it is checked here, by the records of then' : 'findings are those of the last connection' }}.
      </div>
      <div v-if="draft.busy" class="border-look bg-raised mb-4 rounded-md border-2 p-3" role="alert" data-busy>
        <b class="text-look">◆ Not kept yet.</b> The server says: {{ draft.busy }}. What you change stays on this device
        and is sent again.
      </div>
      <div v-if="draft.faults.length" class="border-stop bg-raised mb-4 rounded-md border-2 p-3" role="alert">
        <p>
          <b class="text-stop">■ This cannot be.</b> Findings are those from before; nothing was kept. Mend it, or undo.
        </p>
        <ul class="mt-1">
          <li v-for="f in draft.faults" :key="f.pointer + f.detail">
            <span class="figure text-soft text-sm">{{ f.pointer }}</span> {{ f.detail }}
          </li>
        </ul>
        <button type="button" class="plain mt-2" @click="draft.undo()">Undo</button>
      </div>
      <RouterView />
      <footer class="text-soft border-line mt-10 border-t pt-3 text-sm">
        For trained people. The manufacturer's instructions, local rules and the person in charge come first; figures
        are models with stated limits. Practise near the ground under instruction.
        <a class="underline" :href="`/api/v1/drops/${id}`" :download="`${id}.json`">Save this drop as a file</a>.
        <RouterLink class="underline" :to="{ name: 'history', params: { id } }" data-history
          >Who changed what: its history</RouterLink
        >.
      </footer>
    </main>
  </div>
</template>
