import { ref } from 'vue'
import type { Anchor, Drop, Mark, Strand } from '@/api/client'

/** Drawing of the drop to scale: only places on the page, no figure of the job. */
export type Scale = {
  y: (height: number) => number
  x: (metres: number) => number
  height: (y: number) => number
  top: number
}

/** Space above the scale of the rail; curves beside it need more for their figures. */
export const headroom = ref(34)
export const headroomBeside = 140
/** Space below the scale of the rail. */
export const padBottom = 42
const left = 62
/** Width kept at the right for the names of what is there. */
export const labelWidth = 132

export function makeScale(drop: Drop, width: number, height: number): Scale {
  const heights = [
    drop.geometry.top_m,
    ...(drop.anchors ?? []).map((a) => a.height_m),
    ...(drop.people ?? []).map((p) => p.at_m),
  ]
  const top = Math.max(...heights, 1)
  const padTop = headroom.value
  const usable = Math.max(height - padTop - padBottom, 50)
  const xs = (drop.anchors ?? []).map((a) => a.x_m)
  const min = Math.min(...xs, -0.5)
  const max = Math.max(...xs, 0.5)
  const middle = (left + width - labelWidth) / 2
  // Sideways distances are small beside heights, so they have their own scale.
  const perMetre = Math.min(60, (width - left - labelWidth - 24) / Math.max(max - min, 0.5))
  return {
    top,
    y: (h) => padTop + (1 - h / top) * usable,
    x: (m) => middle + (m - (min + max) / 2) * perMetre,
    height: (y) => (1 - (y - padTop) / usable) * top,
  }
}

/** Round values from zero up, about as many as wanted; ten for the heights of the axis. */
export function ticks(top: number, wanted = 10): number[] {
  const rough = top / wanted
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].map((f) => f * power).find((s) => s >= rough) ?? rough
  return Array.from({ length: Math.floor(top / step + 1e-9) + 1 }, (_, i) => Number((i * step).toPrecision(12)))
}

/** A stretch of a strand between two anchors, as it is drawn. */
export type Stretch = { fromX: number; x: number; top: number; bottom: number }

/** The stretches of a strand from its anchor down to its lower end. */
export function stretches(strand: Strand, anchors: Map<string, Anchor>, end: number): Stretch[] {
  const first = strand.anchors.map((id) => anchors.get(id)).filter((a) => a !== undefined)
  if (!first[0]) return []
  const list: Stretch[] = []
  let x = first[0].x_m
  let fromX = x
  let top = Math.max(...first.map((a) => a.height_m))
  for (const m of rebelays(strand)) {
    list.push({ fromX, x, top, bottom: m.height_m })
    fromX = x
    x = anchors.get(m.anchor ?? '')?.x_m ?? x
    top = m.height_m
  }
  list.push({ fromX, x, top, bottom: Math.max(end, 0) })
  return list
}

function rebelays(strand: Strand): Mark[] {
  return (strand.marks ?? []).filter((m) => m.kind === 're-belay').sort((a, b) => b.height_m - a.height_m)
}

/** Where a strand hangs at a height. */
export function strandX(list: Stretch[], height: number): number {
  return (list.find((s) => height <= s.top && height > s.bottom) ?? list.at(-1))?.x ?? 0
}

/** Moves labels apart so that none lies on another; keeps their order. */
export function spread(ys: number[], gap: number, min: number, max: number): number[] {
  const order = ys.map((y, i) => ({ y, i })).sort((a, b) => a.y - b.y)
  let last = min - gap
  for (const o of order) {
    o.y = Math.max(o.y, last + gap)
    last = o.y
  }
  let limit = max
  for (const o of order.toReversed()) {
    o.y = Math.min(o.y, limit)
    limit = o.y - gap
  }
  const out = [...ys]
  order.forEach((o) => (out[o.i] = o.y))
  return out
}
