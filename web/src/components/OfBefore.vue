<script setup lang="ts">
// What was answered, while something else is asked already: faint, out of reach, and said
// to be of before, so that nobody takes it for the answer.
defineProps<{ there: boolean; finding?: boolean; what: string }>()
</script>

<template>
  <div>
    <p v-if="!there" role="status" data-not-there>
      <template v-if="finding">◆ Looking at {{ what }}: below is the answer to what was asked before.</template>
      <b v-else class="text-stop">■ Nothing is known of {{ what }}: it was not answered.</b>
    </p>
    <div v-show="there || finding" :inert="!there" :class="there ? '' : 'opacity-40'"><slot /></div>
  </div>
</template>
