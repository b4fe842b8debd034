<script setup lang="ts">
// All findings in one place, worst first, with what was and was not looked at.
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { computed } from 'vue'
import { useDraft } from '@/stores/draft'
import FindingNote from './FindingNote.vue'
import { count, ruleWords } from '@/lib/words'

defineProps<{ open: boolean }>()
defineEmits<{ close: [] }>()

const draft = useDraft()
const looked = computed(() => draft.report?.looked_at.filter((l) => l.things > 0) ?? [])
const idle = computed(() => draft.report?.looked_at.filter((l) => l.things === 0) ?? [])
</script>

<template>
  <Dialog :open="open" @close="$emit('close')">
    <div class="fixed inset-0 z-40 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-y-0 right-0 z-50 flex w-full max-w-xl">
      <DialogPanel class="bg-ground flex w-full flex-col overflow-y-auto p-6 shadow-2xl">
        <div class="flex items-start justify-between gap-4">
          <DialogTitle as="h2" class="text-xl">
            {{
              draft.findings.length ? 'Found, worst first' : looked.length ? 'Nothing found' : 'Nothing to look at yet'
            }}
          </DialogTitle>
          <button type="button" class="plain" @click="$emit('close')">Close</button>
        </div>
        <p class="text-soft mt-2">
          In what was looked at. The manufacturer's instructions, local rules and the person in charge come first.
        </p>
        <div class="mt-5 space-y-5">
          <FindingNote v-for="f in draft.findings" :key="f.rule + f.subject.id + f.what" :finding="f" />
        </div>
        <template v-if="draft.report">
          <h3 class="mt-8 font-semibold">Not looked at</h3>
          <ul class="list-disc pl-5">
            <li v-for="n in draft.report.not_looked_at" :key="n">{{ n }}</li>
            <li v-if="idle.length">
              nothing there to look at for: {{ idle.map((l) => ruleWords(l.rule)).join(', ') }}
            </li>
          </ul>
          <details class="mt-4">
            <summary class="quiet -ml-2">Looked at: {{ count(looked.length, 'rule') }}</summary>
            <ul class="text-soft columns-2 text-sm">
              <li v-for="l in looked" :key="l.rule">{{ ruleWords(l.rule) }} · {{ l.things }}</li>
            </ul>
          </details>
        </template>
      </DialogPanel>
    </div>
  </Dialog>
</template>
