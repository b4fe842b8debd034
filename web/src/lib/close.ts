import type { Drop, MoveStep } from '@/api/client'
import { modelOf, labelOf } from './gear'

type Stance = MoveStep['after']
export type Shape = 'descender' | 'chest' | 'hand' | 'backup' | 'lanyard'
type Role = 'main' | 'backup' | 'structure'

/** A strand near the body: points from top to bottom, sideways from the body. */
type CloseLine = { key: string; role: Role; points: { x: number; at: number }[] }
type CloseMark = { key: string; role: Role; x: number; at: number; name: string }
type CloseHold = {
  item: string
  shape: Shape
  role: Role
  x: number
  at: number
  /** Height of the harness point that it hangs from, above the body's own. */
  from: number
  bears: boolean
  parked: boolean
  loose: boolean
  words: string
  /** Parked, tied off, or not made sure of. */
  state: string
  left: boolean
  label: number
}

const shapes: Record<string, Shape> = {
  descender: 'descender',
  'chest-ascender': 'chest',
  'hand-ascender': 'hand',
  'backup-device': 'backup',
}
const apart = 0.16
const sternal = 0.35
const above = 2.2
const below = 1.6

/** Lays out what is within reach of the body, in metres from it, for one drawing. */
export function closeUp(drop: Drop, stance: Stance, back: boolean) {
  const flip = back ? -1 : 1
  const anchors = new Map((drop.anchors ?? []).map((a) => [a.id, a]))
  const strands = drop.strands ?? []
  /** Where a span of a strand hangs: at the middle of its set's anchors there. */
  const side = (set: number, section: number) => {
    const xs = strands
      .filter((s) => s.set === set)
      .map((s) => {
        const relays = marksOf(s).filter((m) => m.kind === 're-belay')
        return anchors.get(section ? (relays[section - 1]?.anchor ?? '') : (s.anchors[0] ?? ''))?.x_m ?? 0
      })
    return xs.length ? xs.reduce((a, b) => a + b, 0) / xs.length : 0
  }
  const beside = (role: string) => (role === 'main' ? -apart : apart) * flip
  const aside = (x: number) => Math.min(0.75, Math.max(-0.75, (x - (stance.x_m ?? 0)) * flip))
  const holdAt = (strand: string, span: number) =>
    stance.holds.find((h) => h.strand === strand && h.span === span && !h.into)

  /** What a lanyard is in is named by the lanyard. */
  const taken = (strand: string, at: number) =>
    stance.holds.some((h) => h.into && h.strand === strand && Math.abs(h.at_m - at) < 0.05)

  const lines: CloseLine[] = []
  const marks: CloseMark[] = []
  for (const s of strands) {
    const list = marksOf(s)
    const relays = list.filter((m) => m.kind === 're-belay')
    const heights = [Infinity, ...relays.map((m) => m.height_m), -Infinity]
    for (let section = 0; section + 1 < heights.length; section++) {
      const top = Math.min(heights[section]!, stance.at_m + above)
      const bottom = Math.max(heights[section + 1]!, stance.at_m - below)
      if (top <= bottom) continue
      const x = aside(side(s.set, section)) + beside(s.role)
      const spans = list.flatMap((_, i) => [i, i + 1])
      const drawn = [...new Set([0, ...spans])]
        .map((span) => holdAt(s.id, span))
        .find((h) => h && list.slice(0, h.span).filter((m) => m.kind === 're-belay').length === section)
      const across = drawn && Math.abs(x - beside(s.role)) > 0.05
      lines.push({
        key: `${s.id}/${section}`,
        role: s.role,
        points: across
          ? [
              { x, at: top },
              { x: beside(s.role), at: Math.min(top, drawn.at_m) },
              { x, at: bottom },
            ]
          : [
              { x, at: top },
              { x, at: bottom },
            ],
      })
    }
    for (const m of list) {
      if (m.height_m > stance.at_m + above || m.height_m < stance.at_m - below) continue
      const section = list.filter((o) => o.kind === 're-belay' && o.height_m >= m.height_m).length
      const x = aside(side(s.set, m.kind === 're-belay' ? section : Math.max(0, section))) + beside(s.role)
      marks.push({
        key: `${s.id}/${m.id}`,
        role: s.role,
        x,
        at: m.height_m,
        name: taken(s.id, m.height_m) ? '' : m.name || m.kind,
      })
    }
  }
  for (const a of drop.anchors ?? []) {
    if (a.sling && a.height_m < stance.at_m + above && Math.abs(a.x_m - (stance.x_m ?? 0)) < 0.9)
      marks.push({ key: a.id, role: 'structure', x: (a.x_m - (stance.x_m ?? 0)) * flip, at: a.height_m, name: '' })
  }

  const holds = stance.holds.map((h): CloseHold => {
    const strand = strands.find((s) => s.id === h.strand)
    const sling = strand ? undefined : slingAt(drop, h.span)
    const role: Role = strand ? strand.role : 'structure'
    const shape = h.into ? 'lanyard' : (shapes[modelOf(drop, h.item)?.class ?? ''] ?? 'lanyard')
    const x = sling ? (sling.x_m - (stance.x_m ?? 0)) * flip : beside(role)
    return {
      item: h.item,
      shape,
      role,
      x,
      at: h.at_m,
      from: shape === 'backup' ? sternal : 0,
      bears: stance.bears === h.item,
      parked: h.parked ?? false,
      loose: Boolean(h.unlocked || h.unproved),
      words: labelOf(drop, h.item),
      state: h.unlocked || h.unproved ? 'not locked and proved' : h.tied ? 'tied off' : h.parked ? 'parked' : '',
      left: x < 0,
      label: h.at_m + (sling ? 0.18 : 0),
    }
  })
  // Labels on one side do not lie on each other.
  for (const left of [true, false]) {
    const list = holds.filter((h) => h.left === left).sort((a, b) => b.at - a.at)
    for (let i = 1; i < list.length; i++) list[i]!.label = Math.min(list[i]!.label, list[i - 1]!.label - 0.24)
  }
  const bearing = holds.find((h) => h.bears)?.words
  const words = `${stance.grounded ? 'on your feet' : `hanging in ${bearing ?? 'a loop'}`}; on: ${holds.map((h) => h.words).join(', ') || 'nothing'}`
  return { lines, marks, holds, words }
}

function marksOf(s: NonNullable<Drop['strands']>[number]) {
  return [...(s.marks ?? [])].sort((a, b) => b.height_m - a.height_m)
}

/** The sling of a number, counted from the left. */
function slingAt(drop: Drop, n: number) {
  return (drop.anchors ?? []).filter((a) => a.sling).sort((a, b) => a.x_m - b.x_m)[n - 1]
}
