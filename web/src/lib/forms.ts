import { useQuery } from '@tanstack/vue-query'
import { api, must, type Fault, type FormField } from '@/api/client'

/** What is asked of models, items and people, by the tags they are read by. */
export function useForms() {
  return useQuery({
    queryKey: ['forms'],
    queryFn: async () => must(await api.GET('/api/v1/forms')),
    staleTime: Infinity,
  })
}

export type Value = Record<string, unknown>

/** A value without what is left out: empty texts, empty lists, objects with nothing in them. */
export function trimmed(fields: FormField[], v: Value): Value {
  const out: Value = {}
  for (const f of fields) {
    const is = v[f.name]
    if (is === undefined || is === '' || is === null || is === false) continue
    if (f.kind === 'object') out[f.name] = trimmed(f.fields ?? [], is as Value)
    else if (f.kind === 'list') {
      const list = (is as unknown[]).filter((e) => e !== '' && e !== undefined)
      if (!list.length) continue
      out[f.name] = f.of === 'object' ? list.map((e) => trimmed(f.fields ?? [], e as Value)) : list
    } else out[f.name] = is
  }
  // What the form does not ask for stays as it was read.
  for (const [name, is] of Object.entries(v)) if (!fields.some((f) => f.name === name)) out[name] = is
  return out
}

/** An id made of what people call a thing. */
export const idOf = (words: string) =>
  words
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 64)

/** What was refused in the field at a pointer, without what is below it. */
export const faultAt = (faults: Fault[], pointer: string) =>
  faults
    .filter((f) => f.pointer === pointer)
    .map((f) => f.detail)
    .join('; ')

/** Numbered names: "R-{n}" from a number on; no pattern gives no name. */
export const numbered = (pattern: string, n: number) =>
  pattern.includes('{n}') || !pattern.trim() ? pattern.replaceAll('{n}', String(n)) : `${pattern}${n}`
