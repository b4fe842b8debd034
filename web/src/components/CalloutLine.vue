<script setup lang="ts">
// One line of the rig of a card.
import { computed } from 'vue'
import type { CalloutCard } from '@/api/client'
import { show } from '@/lib/units'

type Line = NonNullable<CalloutCard['rig']>['main']
const props = defineProps<{ name: string; line: Line; was?: Line }>()
const hand = (l: Line) => (l.known ? `${show(l.hand_kN, 'kN')} in the hand${l.held ? '' : ': NOT held for long'}` : '')
const changed = computed(() => props.was !== undefined && JSON.stringify(props.was) !== JSON.stringify(props.line))
</script>

<template>
  <div class="border-line border-b py-2" :data-line="name">
    <p class="text-lg">
      <b :style="{ color: `var(--${name === 'main' ? 'main' : 'backup'})` }">{{ name }}</b>
      <span v-if="changed" class="text-look ml-2 text-sm font-semibold" data-changed>◆ changed</span>
      <br /><b>{{ line.ropes.join(' tied to ') }}</b> through <b>{{ line.brake }}</b><template v-if="line.connector">
        on {{ line.connector }}</template
      ><span v-else class="text-look"> ◆ no connector in the kits</span>
    </p>
    <p :class="line.known && !line.held ? 'text-stop' : ''">
      <span v-if="line.known && !line.held" aria-hidden="true">■ </span>friction: {{ line.add
      }}<template v-if="line.known">; {{ hand(line) }}</template>
    </p>
    <p v-if="line.stiff" class="text-look">◆ the lightest load hardly runs with that: feed it</p>
    <p class="text-soft figure">
      {{ show(line.need_m, 'm') }} of rope needed;
      <template v-if="!line.short_m">{{ show(line.left_m, 'm') }} behind the brake at the landing</template>
      <b v-else class="text-stop">■ {{ show(line.short_m, 'm') }} short</b>
    </p>
    <p v-for="(k, i) in line.knots" :key="i" :class="k.ready ? '' : 'text-stop'">
      {{ k.ready ? '◆' : '■' }} a knot meets the brake {{ show(k.low_m, 'm') }} to {{ show(k.high_m, 'm') }} down.
      {{ k.ready ? 'Before it goes over: ' + k.before.join('; ') + '.' : 'The kits do not pass it.' }}
    </p>
  </div>
</template>
