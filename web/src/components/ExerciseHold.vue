<script setup lang="ts">
// A hold of an exercise: its load path, each part of which can be pointed at, and how the rope
// lies. It shows how things are, never how they must be.
import { ref, shallowRef, watch } from 'vue'
import type { Drop, Hold, Person } from '@/api/client'
import { askOf, holdSeen, labelled, linkSeen, tagged, type Thing } from '@/lib/practice'
import { modelOf } from '@/lib/gear'
import type { Loaded } from '@/lib/pictures'
import GearIcon from './GearIcon.vue'
import PictureView from './PictureView.vue'

const props = defineProps<{ drop: Drop; person: Person; hold: Hold; chosen?: string }>()
const emit = defineEmits<{ point: [thing: Thing] }>()

const picture = shallowRef<Loaded>()
const view = ref<'front' | 'back'>('front')
const undrawn = ref(false)
watch(
  [() => props.hold, view],
  async () => {
    const of = { drop: props.drop, person: props.person.id, hold: props.hold.id, view: view.value }
    picture.value = await askOf<Loaded>('loading', of).catch(() => undefined)
    undrawn.value = !picture.value
  },
  { immediate: true },
)
const strand = () => props.drop.strands?.find((s) => s.id === props.hold.strand)
const device = (): Thing => ({ kind: 'hold', id: props.hold.id, label: labelled(props.drop, props.hold.device) })
const link = (item: string): Thing => ({ kind: 'item', id: item, label: labelled(props.drop, item) })
const ring = (id: string) => (props.chosen === id ? 'border-accent border-2' : 'border-line')
</script>

<template>
  <section class="border-line border-b py-3" :data-hold="hold.id">
    <h3 class="font-semibold">{{ strand()?.name }} strand</h3>
    <div class="mt-1 flex flex-wrap items-start gap-x-5 gap-y-2">
      <ol
        class="flex min-w-0 flex-1 flex-wrap items-stretch gap-y-2"
        aria-label="Load path from the device to the harness"
      >
        <li class="flex">
          <button
            type="button"
            class="bg-raised min-h-14 rounded-md border px-3 py-1 text-left"
            :class="ring(hold.id)"
            :aria-pressed="chosen === hold.id"
            :data-thing="hold.id"
            @click="emit('point', device())"
          >
            <span class="flex gap-2">
              <GearIcon :model="modelOf(drop, hold.device)" />
              <span>
                <b class="block">{{ labelled(drop, hold.device) }}</b>
                <span v-for="w in holdSeen(hold)" :key="w" class="block text-sm">{{ w }}</span>
                <span class="text-soft block text-sm">{{ tagged(drop, hold.device) }}</span>
              </span>
            </span>
          </button>
        </li>
        <li v-for="l in hold.links" :key="l.item" class="flex items-stretch">
          <span class="text-soft self-center px-1" aria-hidden="true">──</span>
          <button
            type="button"
            class="bg-raised min-h-14 rounded-md border px-3 py-1 text-left"
            :class="ring(l.item)"
            :aria-pressed="chosen === l.item"
            :data-thing="l.item"
            @click="emit('point', link(l.item))"
          >
            <b class="block">{{ labelled(drop, l.item) }}</b>
            <span class="block text-sm">{{ linkSeen(drop, l) }}</span>
            <span class="text-soft block text-sm">{{ tagged(drop, l.item) }}</span>
          </button>
        </li>
        <li class="flex items-center">
          <span class="text-soft px-1" aria-hidden="true">──</span><b>{{ hold.point }}</b>
        </li>
      </ol>
      <figure v-if="picture">
        <PictureView :drawing="picture.is" class="border-line w-44 max-w-full rounded-md border" />
        <button type="button" class="quiet text-sm" @click="view = view === 'front' ? 'back' : 'front'">
          from the {{ view === 'front' ? 'back' : 'front' }}
        </button>
      </figure>
      <p v-else-if="undrawn" class="text-look" role="alert">
        ◆ How the rope lies could not be drawn: this exercise cannot be judged by its picture.
      </p>
    </div>
  </section>
</template>
