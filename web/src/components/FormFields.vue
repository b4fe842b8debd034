<script setup lang="ts">
// The fields of a thing, drawn from the tags they are read by: one list of fields, for
// models, items and people. What is refused stands at its field.
import type { Fault, FormField } from '@/api/client'
import { figure, othersOf } from '@/lib/figures'
import { faultAt, type Value } from '@/lib/forms'

const props = defineProps<{
  fields: FormField[]
  at: string
  faults: Fault[]
  /** Fields that are shown elsewhere, or asked for otherwise. */
  without?: string[]
  /** Parts that may not be left out here. */
  needed?: string[]
  /** Ids that a field may name, by its name. */
  names?: Record<string, { id: string; words: string }[]>
  /** What nobody judges while a field is empty, by the field's path without entries of lists. */
  silences?: Record<string, string[]>
}>()
const value = defineModel<Value>({ required: true })

const shown = () =>
  props.fields.filter((f) => !props.without?.includes(f.name) && f.kind !== 'table' && f.kind !== 'either')
const set = (f: FormField, v: unknown) => (value.value = { ...value.value, [f.name]: v })
const pathOf = (f: FormField) => `${props.at}/${f.name}`.replace(/^\/\w+\/\d+\//, '').replace(/\/\d+(?=\/)/g, '')
/** Said of a field while it is empty. */
const silent = (f: FormField) =>
  value.value[f.name] === undefined || value.value[f.name] === '' ? (props.silences?.[pathOf(f)] ?? []) : []
const listOf = (f: FormField) => (value.value[f.name] as unknown[] | undefined) ?? []
const add = (f: FormField) => set(f, [...listOf(f), f.of === 'object' ? {} : ''])
const take = (f: FormField, i: number) => set(f, listOf(f).toSpliced(i, 1))
const change = (f: FormField, i: number, v: unknown) => set(f, listOf(f).with(i, v))
/** Sentences are read in full, not through a slot. */
const long = (f: FormField) => f.kind === 'text' && !f.id && (f.longest ?? 0) >= 400
/** What it names that is not among what may be chosen: it stands there, not as left out. */
const stranger = (f: FormField) => {
  const is = value.value[f.name]
  return is && !props.names?.[f.name]?.some((n) => n.id === is) ? String(is) : ''
}
const asNumber = (f: FormField) => f.kind === 'number' || f.kind === 'whole'
</script>

<template>
  <div class="grid gap-x-5 gap-y-3 @2xl:grid-cols-2">
    <template v-for="f in shown()" :key="f.name">
      <fieldset v-if="f.kind === 'object'" class="border-line col-span-full border-t pt-2" :data-part="f.name">
        <legend class="pr-2 font-semibold">{{ f.words }}</legend>
        <template v-if="value[f.name]">
          <FormFields
            :model-value="value[f.name] as Value"
            :fields="f.fields ?? []"
            :at="`${at}/${f.name}`"
            :faults="faults"
            :names="names"
            :silences="silences"
            @update:model-value="(v) => set(f, v)"
          />
          <button
            v-if="!f.required && !needed?.includes(f.name)"
            type="button"
            class="quiet text-sm"
            @click="set(f, undefined)"
          >
            leave {{ f.words }} out
          </button>
        </template>
        <button v-else type="button" class="plain" :data-add="f.name" @click="set(f, {})">Add {{ f.words }}</button>
        <p v-if="f.doc" class="text-soft text-sm">{{ f.doc }}</p>
        <p v-for="s in silent(f)" :key="s" class="text-look text-sm" data-silent>◇ empty: not judged whether {{ s }}</p>
        <p v-if="faultAt(faults, `${at}/${f.name}`)" class="text-stop" role="alert">
          ■ {{ faultAt(faults, `${at}/${f.name}`) }}
        </p>
      </fieldset>
      <fieldset
        v-else-if="f.kind === 'list' && f.of === 'choice'"
        class="border-line col-span-full border-t pt-2"
        :data-part="f.name"
      >
        <legend class="pr-2 font-semibold">
          {{ f.words }}<span v-if="f.required" class="text-soft font-normal"> · needed</span>
        </legend>
        <p v-if="f.doc" class="text-soft text-sm">{{ f.doc }}</p>
        <span class="flex flex-wrap gap-x-5">
          <label v-for="c in f.choices" :key="c" class="flex min-h-12 items-center gap-2">
            <input
              type="checkbox"
              class="accent-accent size-5"
              :checked="listOf(f).includes(c)"
              :data-choose="`${at}/${f.name}/${c}`"
              @change="set(f, listOf(f).includes(c) ? listOf(f).filter((o) => o !== c) : [...listOf(f), c])"
            />
            {{ c.replaceAll('-', ' ') }}
          </label>
        </span>
        <p v-if="faultAt(faults, `${at}/${f.name}`)" class="text-stop" role="alert">
          ■ {{ faultAt(faults, `${at}/${f.name}`) }}
        </p>
      </fieldset>
      <fieldset v-else-if="f.kind === 'list'" class="border-line col-span-full border-t pt-2" :data-part="f.name">
        <legend class="pr-2 font-semibold">{{ f.words }}</legend>
        <p v-if="f.doc" class="text-soft text-sm">{{ f.doc }}</p>
        <div v-for="(e, i) in listOf(f)" :key="i" class="border-line my-2 border-l-2 pl-3">
          <FormFields
            v-if="f.of === 'object'"
            :model-value="e as Value"
            :fields="f.fields ?? []"
            :at="`${at}/${f.name}/${i}`"
            :faults="faults"
            :names="names"
            :silences="silences"
            @update:model-value="(v) => change(f, i, v)"
          />
          <input
            v-else
            class="field"
            :value="e"
            :aria-label="`${f.words} ${i + 1}`"
            :maxlength="f.longest"
            @input="(x) => change(f, i, (x.target as HTMLInputElement).value)"
          />
          <button type="button" class="quiet text-sm" @click="take(f, i)">take away</button>
        </div>
        <button type="button" class="plain" :data-add="f.name" @click="add(f)">Add to {{ f.words }}</button>
        <p v-if="faultAt(faults, `${at}/${f.name}`)" class="text-stop" role="alert">
          ■ {{ faultAt(faults, `${at}/${f.name}`) }}
        </p>
      </fieldset>
      <label v-else-if="f.kind === 'flag'" class="flex min-h-12 items-center gap-3" :data-field="`${at}/${f.name}`">
        <input
          type="checkbox"
          class="accent-accent size-5"
          :checked="Boolean(value[f.name])"
          @change="(e) => set(f, (e.target as HTMLInputElement).checked)"
        />
        <span>{{ f.doc || f.words }}</span>
      </label>
      <label v-else class="block" :data-field="`${at}/${f.name}`">
        <span
          >{{ f.words }}<span v-if="f.unit" class="text-soft">, {{ f.unit }}</span>
          <span v-if="f.required" class="text-soft"> · needed</span></span
        >
        <select
          v-if="f.kind === 'choice' || names?.[f.name]"
          class="field"
          :value="value[f.name] ?? ''"
          @change="(e) => set(f, (e.target as HTMLSelectElement).value)"
        >
          <option value="">{{ f.required ? 'choose' : 'left out' }}</option>
          <template v-if="names?.[f.name]">
            <option v-if="stranger(f)" :value="stranger(f)">{{ stranger(f) }}</option>
            <option v-for="n in names[f.name]" :key="n.id" :value="n.id">{{ n.words }}</option>
          </template>
          <option v-for="c in f.choices" v-else :key="c" :value="c">{{ c.replaceAll('-', ' ') }}</option>
        </select>
        <textarea
          v-else-if="long(f)"
          class="field field-sizing-content block min-h-12 py-2"
          :maxlength="f.longest"
          :value="String(value[f.name] ?? '')"
          @change="(e) => set(f, (e.target as HTMLTextAreaElement).value)"
        />
        <input
          v-else
          class="field"
          :class="asNumber(f) ? 'figure' : ''"
          :type="f.kind === 'date' ? 'date' : 'text'"
          :inputmode="asNumber(f) ? 'decimal' : undefined"
          :maxlength="f.longest"
          :value="value[f.name] ?? ''"
          @change="
            (e) => {
              const text = (e.target as HTMLInputElement).value
              set(f, asNumber(f) ? figure(text, f.unit) : text)
            }
          "
        />
        <span v-if="f.doc && !names?.[f.name]" class="text-soft block text-sm">{{ f.doc }}</span>
        <span v-if="asNumber(f) && othersOf(f.unit).length" class="text-soft block text-sm"
          >or with its unit: {{ othersOf(f.unit).join(', ') }}</span
        >
        <span v-for="s in silent(f)" :key="s" class="text-look block text-sm" data-silent
          >◇ empty: not judged whether {{ s }}</span
        >
        <span v-if="faultAt(faults, `${at}/${f.name}`)" class="text-stop block" role="alert"
          >■ {{ faultAt(faults, `${at}/${f.name}`) }}</span
        >
      </label>
    </template>
  </div>
</template>
