import type { Drop, Item, Model } from '@/api/client'
import { freePoint, include, usedItems } from '@/lib/gear'
import { freeId } from '@/lib/words'

/** A rope of the store with its model. */
export type Rope = { item: Item; model: Model }

/**
 * Ropes that a strand may hang, the likeliest first: the shortest that reaches, without damage
 * on its map, of a low-stretch construction. What does not fit is found once it hangs.
 */
export function freeRopes(drop: Drop, items: Item[], models: Map<string, Model>): Rope[] {
  const used = usedItems(drop)
  const long = (r: Rope) => (r.item.length_m ?? 0) > drop.geometry.top_m
  const unlikely = (r: Rope) =>
    (long(r) ? 0 : 4) +
    (r.item.noted?.damage?.length ? 2 : 0) +
    (r.model.rope?.construction.startsWith('low-stretch') ? 0 : 1)
  return items
    .filter((i) => i.state === 'in-service' && !used.has(i.id))
    .map((item) => ({ item, model: models.get(item.model)! }))
    .filter((r) => r.model?.class === 'rope')
    .sort(
      (a, b) =>
        unlikely(a) - unlikely(b) ||
        (long(a) ? 1 : -1) * ((a.item.length_m ?? 0) - (b.item.length_m ?? 0)) ||
        a.item.label.localeCompare(b.item.label, 'en', { numeric: true }),
    )
}

/** Puts an anchor at the top: first the main one, then one for the backup. */
export function addAnchor(d: Drop) {
  const there = d.anchors ?? []
  const n = there.length
  const id = freeId(
    'anchor',
    there.map((a) => a.id),
  )
  const name = ['main anchor', 'backup anchor'][n] ?? `anchor ${n + 1}`
  const legs = [{ id: freePoint(d), x_m: 0, y_m: 0.5 }]
  d.anchors = [...there, { id, name, x_m: n ? n - 0.5 : -0.5, height_m: d.geometry.top_m, legs }]
}

/** Hangs a rope as a further main or backup, on an anchor of its own where there is one. */
export function addStrand(d: Drop, role: 'main' | 'backup', rope: Rope) {
  include(d, rope.item, rope.model)
  const anchors = d.anchors ?? []
  const there = d.strands ?? []
  const set = Math.max(0, ...there.filter((s) => s.role === role).map((s) => s.set)) + 1
  const held = new Set(there.flatMap((s) => s.anchors))
  const anchor = anchors.find((a) => !held.has(a.id)) ?? anchors[role === 'backup' ? 1 : 0] ?? anchors[0]!
  const id = freeId(
    role,
    there.map((s) => s.id),
  )
  const name = set > 1 ? `${role} ${set}` : role
  d.strands = [...there, { id, name, role, set, anchors: [anchor.id], ropes: [rope.item.id], end_stop: 'none' }]
}

/** Hangs the first main and backup, each on an anchor of its own. */
export function hangPair(d: Drop, main: Rope, backup: Rope) {
  while ((d.anchors?.length ?? 0) < 2) addAnchor(d)
  addStrand(d, 'main', main)
  addStrand(d, 'backup', backup)
}
