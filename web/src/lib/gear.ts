import { useQuery } from '@tanstack/vue-query'
import { computed, shallowRef, watch, type Ref } from 'vue'
import { api, must, type Choice, type Drop, type Entry, type Item, type Model, type Place } from '@/api/client'
import { freeId } from '@/lib/words'
import { useOutbox } from '@/stores/outbox'

/**
 * The team's store, read once and kept fresh. Stored are the items as the server has them; items
 * with what this device has recorded of them and not sent yet.
 */
export function useGear() {
  const query = useQuery({ queryKey: ['gear'], queryFn: async () => must(await api.GET('/api/v1/gear')) })
  const models = computed(() => new Map((query.data.value?.models ?? []).map((m) => [m.id, m])))
  const stored = computed(() => query.data.value?.items ?? [])
  const out = useOut(stored)
  const items = computed(() => (out.value.size ? stored.value.map((i) => out.value.get(i.id) ?? i) : stored.value))
  return { ...query, models, stored, items }
}

/** Of some items those that are other than the server has them, by id. */
function useOut(stored: Ref<Item[]>) {
  const outbox = useOutbox()
  const out = shallowRef(new Map<string, Item>())
  let asked = 0
  watch(
    [stored, () => outbox.waiting],
    async () => {
      const mine = ++asked
      const about = stored.value.filter(concerned(outbox.waiting.map((k) => k.entry)))
      const answer = about.length ? await outbox.told({ items: about }) : undefined
      if (mine === asked && (out.value.size || answer)) out.value = new Map(answer?.items.map((i) => [i.id, i]))
    },
    { immediate: true },
  )
  return out
}

/** Whether entries may say anything of an item. */
function concerned(entries: Entry[]) {
  const ids = new Set(
    entries.flatMap((e) => [e.item, ...(e.worn?.items ?? []).map((w) => w.item), ...(e.incident?.stop ?? [])]),
  )
  const recalled = new Set(entries.map((e) => e.recall?.model))
  return (i: Item) => ids.has(i.id) || recalled.has(i.model)
}

/** The team's people. */
/** What people read in place of an id; three dots until it is known, the id of what was removed. */
export const named = (title: string | undefined, id: string, known: unknown) => title ?? (known ? id : '…')

export function usePeople() {
  return useQuery({ queryKey: ['people'], queryFn: async () => must(await api.GET('/api/v1/people')) })
}

export function itemOf(drop: Drop, id: string): Item | undefined {
  return drop.items?.find((i) => i.id === id)
}

export function modelOf(drop: Drop, itemId: string): Model | undefined {
  const model = itemOf(drop, itemId)?.model
  return drop.models?.find((m) => m.id === model)
}

export function labelOf(drop: Drop, itemId: string): string {
  return itemOf(drop, itemId)?.label ?? itemId
}

/** Puts an item and its model into the drop, so that the drop stays whole. */
export function include(drop: Drop, item: Item, model: Model) {
  drop.items = [...(drop.items ?? []).filter((i) => i.id !== item.id), { ...item, revision: undefined }]
  drop.models = [...(drop.models ?? []).filter((m) => m.id !== model.id), { ...model, revision: undefined }]
}

/** An id for a further point of the structure: the same one in two anchors is one point. */
export function freePoint(drop: Drop): string {
  return freeId(
    'bolt',
    (drop.anchors ?? []).flatMap((a) => a.legs.map((l) => l.id)),
  )
}

/** Every item that somebody wears, hangs on or carries. */
export function itemsOf(drop: Drop, person: string | undefined): string[] {
  const p = drop.people?.find((o) => o.id === person)
  const hung = p?.holds?.flatMap((h) => [h.device, ...h.links.map((l) => l.item)]) ?? []
  return [...hung, ...(p?.carries ?? []), ...(p?.harness ? [p.harness] : [])]
}

/** Every item the drop has in some place. */
export function usedItems(drop: Drop): Set<string> {
  const used = new Set<string>()
  for (const s of drop.strands ?? []) s.ropes.forEach((r) => used.add(r))
  for (const p of drop.people ?? []) {
    if (p.harness) used.add(p.harness)
    p.carries?.forEach((c) => used.add(c))
    for (const h of p.holds ?? []) {
      used.add(h.device)
      h.links.forEach((l) => used.add(l.item))
    }
  }
  const team = drop.team
  if (team)
    for (const id of [
      team.main.brake,
      team.belay.brake,
      team.main.connector,
      team.belay.connector,
      ...(team.kit ?? []),
    ])
      if (id) used.add(id)
  return used
}

/** Puts a chosen item into its place; a device with the mode and position it was tried in. */
export function put(drop: Drop, place: Place, choice: Choice, item: Item, model: Model) {
  include(drop, item, model)
  if (place.team && drop.team) {
    const line = drop.team[place.team.startsWith('main') ? 'main' : 'belay']
    if (place.team.endsWith('connector')) line.connector = choice.item
    else line.brake = choice.item
    return
  }
  const strand = drop.strands?.find((s) => s.id === place.strand)
  if (strand) strand.ropes[place.rope ?? 0] = choice.item
  const hold = drop.people?.find((p) => p.id === place.person)?.holds?.find((h) => h.id === place.hold)
  if (!hold) return
  if (place.link !== undefined) {
    hold.links[place.link] = { item: choice.item }
    return
  }
  hold.device = choice.item
  hold.mode = choice.mode ?? hold.mode
  hold.position = choice.position ?? hold.position
}

/** Parts that wear: those of the model, and those that its device lists and the model does not. */
export function wearParts(model: Model): NonNullable<Model['wear']> {
  const own = model.wear ?? []
  const listed = (model.device?.wear_limits ?? []).filter((l) => !own.some((w) => w.part === l.part))
  return [...own, ...listed.map((l) => ({ part: l.part, limit_mm: l.limit_mm, grows: l.deepens }))]
}
