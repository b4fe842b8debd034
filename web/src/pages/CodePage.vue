<script setup lang="ts">
// Where the code on a label leads: to its item.
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, must, Refused } from '@/api/client'
import StateNotice from '@/components/StateNotice.vue'

const props = defineProps<{ code: string }>()
const router = useRouter()
const why = ref('')

onMounted(async () => {
  try {
    const { item } = must(await api.GET('/api/v1/codes/{code}', { params: { path: { code: props.code } } }))
    void router.replace(`/store/item/${item}`)
  } catch (e) {
    const said = e instanceof Refused ? (e.faults[0]?.detail ?? e.message) : 'the server does not answer'
    why.value = e instanceof Refused && e.status === 404 ? 'No item of this team has this code.' : `${said}.`
  }
})
</script>

<template>
  <StateNotice v-if="why" :title="`Code ${code}`" :detail="why" />
  <StateNotice v-else title="Looking whose code it is" busy />
</template>
