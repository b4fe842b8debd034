<script setup lang="ts">
// The roles somebody has in the team; one may have several.
import type { Role } from '@/api/client'

const props = defineProps<{ roles: Role[]; who: string }>()
const emit = defineEmits<{ set: [roles: Role[]] }>()
const all: Role[] = ['technician', 'supervisor', 'store-keeper', 'trainer', 'reader']

function toggle(role: Role) {
  const next = props.roles.includes(role) ? props.roles.filter((r) => r !== role) : [...props.roles, role]
  if (next.length) emit('set', next)
}
</script>

<template>
  <fieldset class="flex flex-wrap gap-x-3" :aria-label="`Roles of ${who}`">
    <label v-for="r in all" :key="r" class="flex min-h-11 items-center gap-1 text-sm">
      <input type="checkbox" class="size-5" :checked="roles.includes(r)" @change="toggle(r)" />{{ r.replace('-', ' ') }}
    </label>
  </fieldset>
</template>
