<script setup lang="ts">
// Kits: what belongs in each and what is there, who has it; handed out and counted back.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, must } from '@/api/client'
import KitCapability from '@/components/KitCapability.vue'
import KitMove from '@/components/KitMove.vue'
import KitSeal from '@/components/KitSeal.vue'
import KitTally from '@/components/KitTally.vue'
import OutboxNotice from '@/components/OutboxNotice.vue'
import StateNotice from '@/components/StateNotice.vue'
import { named, useGear } from '@/lib/gear'
import { useOutbox } from '@/stores/outbox'
import { useSession } from '@/stores/session'
import TermWord from '@/components/TermWord.vue'

const gear = useGear()
const session = useSession()
const outbox = useOutbox()
const moving = ref('')
/** The kit that is being sealed, or whose seal is broken. */
const sealing = ref('')
/** The kit whose capability is shown. */
const shown = ref('')
const kits = useQuery({ queryKey: ['gear', 'kits'], queryFn: async () => must(await api.GET('/api/v1/kits')) })
const labels = computed(() => new Map(gear.items.value.map((i) => [i.id, i.label])))
const label = (id: string) => named(labels.value.get(id), id, gear.data.value)
/** What was signed here and is not at the server yet: the kit is not as it is shown. */
const waits = (id: string) => outbox.waiting.some((w) => w.entry.kit?.kit === id)
</script>

<template>
  <main id="page" class="@container mx-auto max-w-4xl px-5 py-6">
    <RouterLink to="/store" class="quiet -ml-2">← Store</RouterLink>
    <h1><TermWord word="kit">Kits</TermWord></h1>
    <OutboxNotice />
    <StateNotice v-if="kits.isPending.value" part title="Fetching the kits" busy />
    <StateNotice v-else-if="kits.isError.value" part title="The kits could not be fetched">
      <button type="button" class="plain" @click="kits.refetch()">Try again</button>
    </StateNotice>
    <template v-else-if="kits.data.value">
      <p v-if="!kits.data.value.kits.length" class="max-w-prose py-4">
        No kit yet. A kit has a name and a list of what belongs in it; it is handed out and counted back as one.
      </p>
      <RouterLink v-if="session.may('put-gear')" class="plain mt-3" to="/store/kits/kit" data-add-kit
        >Add a kit</RouterLink
      >
      <section
        v-for="k in kits.data.value.kits"
        :key="k.kit.id"
        class="border-line mt-4 border-t-2 pt-3"
        :data-kit="k.kit.id"
      >
        <div class="flex flex-wrap items-baseline gap-x-4">
          <h2>{{ k.kit.name }}</h2>
          <p class="flex-1">
            <template v-if="k.kit.issued_to"
              >with <b>{{ k.kit.issued_to }}</b> since {{ k.kit.issued_on }}</template
            ><template v-else>in the store</template>
          </p>
          <p :class="k.complete ? '' : 'text-stop font-semibold'">
            {{ k.complete ? '✓ complete' : '■ not complete' }}
          </p>
        </div>
        <p v-if="k.kit.missing?.length" class="text-stop" data-missing>
          ■ Did not come back: {{ k.kit.missing.map(label).join(', ') }}
        </p>
        <p v-if="k.seal_undone" class="text-look" data-undone>
          ◆ Look through it: its seal stands, but {{ k.seal_undone }}.
        </p>
        <p v-if="k.kit.seal" data-sealed>
          {{ k.seal_undone ? '' : '✓ ' }}sealed <b class="figure">{{ k.kit.seal.number }}</b>:
          {{ k.kit.seal.items }} counted and checked by {{ k.kit.seal.by }} on {{ k.kit.seal.on }}
        </p>
        <KitTally :kit="k" :label="label" class="mt-2" />
        <p v-if="k.more?.length" class="text-soft mt-1 text-sm">
          More than belongs in it: {{ k.more.map(label).join(', ') }}
        </p>
        <p v-if="waits(k.kit.id)" class="text-look mt-2" data-waits>◆ What was signed here is on its way.</p>
        <KitMove
          v-else-if="moving === k.kit.id"
          :key="k.kit.issued_to ?? ''"
          :kit="k"
          :label="label"
          @done="moving = ''"
        />
        <KitSeal v-else-if="sealing === k.kit.id" :kit="k" :label="label" @done="sealing = ''" />
        <p v-else class="mt-2 flex flex-wrap gap-3">
          <button
            v-if="session.may('record:kit-sealed')"
            type="button"
            class="plain min-h-12!"
            data-seal
            @click="sealing = k.kit.id"
          >
            {{ k.kit.seal ? 'The seal is broken' : 'Check and seal it' }}
          </button>
          <button
            v-if="session.may('record:kit-issue')"
            type="button"
            class="plain min-h-12!"
            data-move
            @click="moving = k.kit.id"
          >
            {{ k.kit.issued_to ? 'Count it back in' : 'Hand it out' }}
          </button>
          <a class="quiet" :href="`/api/v1/kits/${k.kit.id}/list.pdf`" download>list, PDF</a>
          <button
            type="button"
            class="quiet"
            :aria-expanded="shown === k.kit.id"
            data-capable
            @click="shown = shown === k.kit.id ? '' : k.kit.id"
          >
            what it can do
          </button>
          <RouterLink v-if="session.may('put-gear')" class="quiet" :to="`/store/kits/kit/${k.kit.id}`" data-change-kit
            >change {{ k.kit.name }}</RouterLink
          >
        </p>
        <KitCapability v-if="shown === k.kit.id" :name="k.kit.name" />
      </section>
      <section v-if="kits.data.value.unlisted?.length" class="border-line mt-6 border-t pt-3">
        <h2>Without a list</h2>
        <p>Items say that they are in these, and nothing says what belongs in them:</p>
        <p v-for="name in kits.data.value.unlisted" :key="name">
          <RouterLink class="quiet -ml-2" :to="{ path: '/store/kits/kit', query: { name } }">{{ name }}</RouterLink>
        </p>
      </section>
    </template>
  </main>
</template>
