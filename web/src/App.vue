<script setup lang="ts">
// The frame around every page: where one is, what was found, and the keys.
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, useTemplateRef, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import StateNotice from '@/components/StateNotice.vue'
import { behind } from '@/lib/behind'
import { failed } from '@/lib/failed'
import { look, looks } from '@/lib/look'
import { system, systems } from '@/lib/units'
import { count, shape } from '@/lib/words'
import { useChanges } from '@/lib/changes'
import { useWhere } from '@/lib/where'
import { timeWords, today } from '@/lib/records'
import { pages, teamPages } from '@/router'
import { useCurves } from '@/stores/curves'
import { useDraft } from '@/stores/draft'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'

// What a key opens is no part of the first load; it is there before anybody presses the key.
const boxes = [
  () => import('@/components/CommandBox.vue'),
  () => import('@/components/KeyList.vue'),
  () => import('@/components/FindingsPanel.vue'),
] as const
const CommandBox = defineAsyncComponent(boxes[0])
const KeyList = defineAsyncComponent(boxes[1])
const FindingsPanel = defineAsyncComponent(boxes[2])
const WaitsHere = defineAsyncComponent(() => import('@/components/WaitsHere.vue'))
const SignInPage = defineAsyncComponent(() => import('@/pages/SignInPage.vue'))
const idle = window.requestIdleCallback ?? window.setTimeout
// What cannot be fetched now is fetched when it is opened.
idle(() => boxes.forEach((fetched) => void fetched().catch(() => undefined)))

const session = useSession()
const draft = useDraft()
const outbox = useOutbox()
const curves = useCurves()
const route = useRoute()
const router = useRouter()
/** Whether the page that is shown is a page of the team, or one below it. */
const within = (name: string) => route.name === name || (name !== 'drops' && route.path.startsWith(`/${name}/`))
const finding = ref(false)
const keys = ref(false)
const found = ref(false)

void session.load()
useChanges()
useWhere()

// What sticks below the head of the page begins where it ends, however many lines it has.
const head = useTemplateRef('head')
const { height } = useElementSize(head, undefined, { box: 'border-box' })
watchEffect(() => document.documentElement.style.setProperty('--head', `${height.value}px`))

const inDrop = computed(() => route.params.id !== undefined && draft.drop !== undefined && draft.state === 'ready')
const looked = computed(() => draft.report?.looked_at.some((l) => l.things > 0) ?? false)
const keeping = computed(() => {
  if (!draft.online) return 'no connection: kept on this device'
  if (draft.busy) return 'not yet kept: on this device'
  return {
    kept: 'kept',
    keeping: 'keeping…',
    waiting: 'keeping…',
    refused: 'not kept: see what was refused',
    'not-mine': 'not kept: your roles change no drop',
  }[draft.keeping]
})

/** Since when what is shown is from this device, where the server gave no answer in time. */
const asOf = computed(() => [...behind.values()].filter(Boolean).sort((a, b) => Date.parse(a) - Date.parse(b))[0])

/** The time alone, of today's. */
function shortTime(at: string): string {
  const words = timeWords(at)
  return words.startsWith(today()) ? words.slice(11, 16) : words.slice(0, 16)
}

function typing(e: KeyboardEvent): boolean {
  const t = e.target as HTMLElement
  return t.matches('input, textarea, select, [role=listbox], [role=option]') || e.ctrlKey || e.metaKey || e.altKey
}

useEventListener('keydown', (e) => {
  if (
    (e.ctrlKey || e.metaKey) &&
    e.key.toLowerCase() === 'z' &&
    !(e.target as HTMLElement).matches('input, textarea')
  ) {
    e.preventDefault()
    if (e.shiftKey) draft.redo()
    else draft.undo()
    return
  }
  if (typing(e) || !session.signedIn) return
  const page = pages[Number(e.key) - 1]
  if (e.key === '?') keys.value = true
  else if (e.key === '/') finding.value = true
  else if (e.key === 'g' && inDrop.value) found.value = !found.value
  else if (e.key === 'u' && inDrop.value) draft.undo()
  else if (e.key === 'r' && inDrop.value) draft.redo()
  else if (e.key === 'c' && inDrop.value) curves.open = !curves.open
  else if (page && inDrop.value) void router.push({ name: page.name, params: { id: draft.id } })
  else return
  e.preventDefault()
})
</script>

<template>
  <a href="#page" class="bg-raised sr-only focus:not-sr-only focus:absolute focus:z-50 focus:p-3">To the page</a>
  <header
    ref="head"
    class="border-line bg-ground sticky top-0 z-20 flex min-h-14 flex-wrap items-center gap-x-3 gap-y-0 border-b px-4 py-1 max-sm:static max-sm:gap-x-1"
  >
    <RouterLink to="/" class="flex min-h-11 items-center gap-2 font-semibold">
      <svg width="20" height="24" viewBox="0 0 20 24" aria-hidden="true">
        <path d="M6 0v24" stroke="var(--main)" stroke-width="4" />
        <path d="M14 0v24" stroke="var(--backup)" stroke-width="4" stroke-dasharray="5 3" />
        <circle cx="6" cy="13" r="5" fill="var(--main)" />
      </svg>
      <span v-if="inDrop" class="max-sm:sr-only"
        >{{ draft.drop?.site ? `${draft.drop.site} · ` : '' }}{{ draft.drop?.name }}</span
      >
      <span v-else :class="session.signedIn ? 'max-sm:sr-only' : ''">Zealous Knot</span>
    </RouterLink>
    <nav v-if="inDrop" class="flex flex-wrap max-sm:order-last" aria-label="Pages of the drop, in the order of the day">
      <RouterLink
        v-for="p in pages"
        :key="p.name"
        :to="{ name: p.name, params: { id: draft.id } }"
        class="flex min-h-11 items-center border-b-4 px-3 max-[1400px]:px-2"
        :class="route.name === p.name ? 'border-accent font-semibold' : 'text-soft border-transparent'"
        :aria-current="route.name === p.name ? 'page' : undefined"
        >{{ p.words }}</RouterLink
      >
    </nav>
    <nav v-else-if="session.signedIn" class="flex flex-wrap max-sm:order-last" aria-label="Pages of the team">
      <RouterLink
        v-for="p in teamPages"
        :key="p.name"
        :to="{ name: p.name }"
        class="flex min-h-11 items-center border-b-4 px-3 max-[1400px]:px-2"
        :class="within(p.name) ? 'border-accent font-semibold' : 'text-soft border-transparent'"
        :aria-current="within(p.name) ? 'page' : undefined"
        >{{ p.words }}</RouterLink
      >
    </nav>
    <div
      class="ml-auto flex flex-wrap items-center justify-end gap-x-2 max-[1400px]:gap-x-0.5 max-sm:max-w-[calc(100%-2.25rem)]"
    >
      <span
        v-if="inDrop"
        class="text-soft px-1.5 text-sm"
        role="status"
        :class="draft.online && !draft.busy ? '' : 'text-stop! font-semibold'"
        data-keeping
        >{{ keeping }}</span
      >
      <span v-if="outbox.unshown" class="text-stop px-1.5 text-sm font-semibold" role="alert" data-unshown
        >■ what waits on this device is not counted in</span
      >
      <span v-if="failed" class="text-stop px-1.5 text-sm font-semibold" role="alert" data-failed>■ {{ failed }}</span>
      <span
        v-if="behind.size"
        class="text-look px-1.5 text-sm font-semibold"
        role="status"
        title="The server does not answer: this is what this device had. It is asked again."
        data-behind
        >◆ no answer: {{ asOf ? `as of ${shortTime(asOf)}` : 'as it was' }}</span
      >
      <button v-if="inDrop && draft.undoable.length" type="button" class="quiet text-sm" @click="draft.undo()">
        undo
      </button>
      <button v-if="inDrop && draft.redoable.length" type="button" class="quiet text-sm" @click="draft.redo()">
        redo
      </button>
      <button v-if="inDrop && draft.report" type="button" class="plain figure" data-found @click="found = true">
        <span class="sr-only">What was found: </span>
        <template v-if="draft.findings.length">
          <span v-if="draft.report.stops" class="text-stop"
            >{{ shape.stop }} {{ count(draft.report.stops, 'stop') }}</span
          >
          <span v-else>no stop </span>
          <span v-if="draft.report.looks" class="text-look"
            >{{ shape.look }} {{ count(draft.report.looks, 'look') }}</span
          >
        </template>
        <template v-else>{{ looked ? 'nothing found' : 'nothing to look at yet' }}</template>
      </button>
      <RouterLink
        v-if="session.signedIn"
        to="/me"
        class="quiet text-sm"
        :class="inDrop ? 'max-sm:hidden!' : ''"
        data-me
        :aria-label="`${session.name}: my hours, checks and sign-ins`"
        >{{ session.name }}</RouterLink
      >
      <button v-if="session.signedIn" type="button" class="quiet text-sm" @click="finding = true">
        find <kbd class="figure ml-1 max-sm:hidden">/</kbd>
      </button>
      <button type="button" class="quiet text-sm max-sm:hidden!" @click="keys = true">
        keys <kbd class="figure ml-1">?</kbd>
      </button>
      <button
        type="button"
        class="quiet text-sm max-sm:hidden!"
        :aria-label="`Units: ${system}. Show the other ones`"
        data-units
        @click="system = systems.find((s) => s !== system) ?? system"
      >
        {{ system }}
      </button>
      <Listbox v-model="look">
        <div class="relative">
          <ListboxButton class="quiet text-sm">look</ListboxButton>
          <ListboxOptions class="border-soft bg-raised absolute right-0 z-30 rounded-md border py-1 shadow-lg">
            <ListboxOption v-for="l in looks" v-slot="{ active, selected }" :key="l.id" :value="l.id" as="template">
              <li
                class="flex min-h-11 cursor-pointer items-center px-3 whitespace-nowrap"
                :class="active ? 'bg-accent text-on-accent' : ''"
              >
                <span class="w-5" aria-hidden="true">{{ selected ? '✓' : '' }}</span>
                {{ l.words }}
              </li>
            </ListboxOption>
          </ListboxOptions>
        </div>
      </Listbox>
    </div>
  </header>
  <WaitsHere v-if="session.signedIn" />
  <RouterView
    v-if="session.signedIn || route.name === 'join' || (route.meta.open && (session.session || session.failure))"
    :key="`${session.account} ${session.team?.id}`"
  />
  <SignInPage v-else-if="session.session" />
  <StateNotice v-else-if="session.failure" title="Nobody is signed in here" :detail="session.failure">
    <button type="button" class="plain" @click="session.load()">Try again</button>
  </StateNotice>
  <StateNotice v-else title="Zealous Knot" busy />
  <CommandBox v-if="finding" open @close="finding = false" />
  <KeyList v-if="keys" open @close="keys = false" />
  <FindingsPanel v-if="found" open @close="found = false" />
</template>
