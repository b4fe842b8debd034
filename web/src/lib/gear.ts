import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, must, type Choice, type Drop, type Item, type Model, type Place } from '@/api/client'
import { freeId } from '@/lib/words'

/** The team's store, read once and kept fresh. */
export function useGear() {
  const query = useQuery({ queryKey: ['gear'], queryFn: async () => must(await api.GET('/api/v1/gear')) })
  const models = computed(() => new Map((query.data.value?.models ?? []).map((m) => [m.id, m])))
  return { ...query, models, items: computed(() => query.data.value?.items ?? []) }
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
