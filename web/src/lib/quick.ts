import type { FigureField, QuickFigure } from '@/api/figures'

/** A value of a figure's input that can be set, at its place in it. */
export type Leaf = { path: (string | number)[]; field: FigureField; label: string; value: unknown }

type Node = { [key: string]: unknown } | unknown[]

/** Reads a field's name: words without the unit, which stands beside the value. */
export function nameOf(path: string): string {
  const last = path.split('.').at(-1)!
  return last
    .replace(/_(g_per_m|J_kgK|W_K|m_s|kN|mm|kg|pct|deg|N|C|J|g|s|m)$/, '')
    .replaceAll('_', ' ')
    .replace(/^(t1|t2)$/, (t) => `tension ${t[1]}`)
}

/** Every value that stands in an input, in its order. Entries of tables are named by their key. */
export function leavesOf(figure: QuickFigure, values: object): Leaf[] {
  const list: Leaf[] = []
  const walk = (node: unknown, path: (string | number)[], pattern: string, where: string) => {
    const field = figure.in.find((f) => f.path === pattern)
    if (node !== null && typeof node === 'object') {
      for (const [key, v] of Object.entries(node as Node)) {
        const entry = Array.isArray(node) || (field && !Array.isArray(node))
        const at = [...path, Array.isArray(node) ? Number(key) : key]
        if (entry) walk(v, at, pattern, `${where} ${Array.isArray(node) ? Number(key) + 1 : key}`)
        else walk(v, at, pattern ? `${pattern}.${key}` : key, pattern ? where : nameOf(key))
      }
      return
    }
    if (!field) return
    const own = nameOf(pattern)
    list.push({ path, field, value: node, label: where.startsWith(own) ? where : `${where}: ${own}` })
  }
  walk(values, [], '', '')
  // In the order of the figure's fields; entries of a list stay together.
  const rank = (l: Leaf) => figure.in.findIndex((f) => f.path.split('.')[0] === String(l.path[0]))
  return list.sort((a, b) => rank(a) - rank(b))
}

/** The same input with another value at a place. */
export function withValue<T extends object>(values: T, path: (string | number)[], value: unknown): T {
  const copy = structuredClone(values)
  let node = copy as Record<string | number, unknown>
  for (const key of path.slice(0, -1)) node = node[key] as Record<string | number, unknown>
  node[path.at(-1)!] = value
  return copy
}

/** From where to where a value is slid: its limits where they are near, else up to twice itself. */
export function rangeOf(field: FigureField, value: number): [number, number] {
  const reach = Math.max(Math.abs(value) * 2, field.unit === '°' ? 180 : 1)
  const low = Math.max(field.min ?? -reach, value < 0 || field.min === undefined ? -reach : 0)
  const high = Math.min(field.max ?? Infinity, reach)
  return [low, high > low ? high : low + 1]
}

/** The numbers of an answer, by their places, each with its field. */
export function numbersOf(
  figure: QuickFigure,
  answer: unknown,
): { key: string; label: string; field?: FigureField; value: number }[] {
  const list: { key: string; label: string; field?: FigureField; value: number }[] = []
  const walk = (node: unknown, key: string, pattern: string, where: string) => {
    if (typeof node === 'number') {
      const own = nameOf(pattern)
      list.push({
        key,
        label: !where || where === own ? own : `${where}: ${own}`,
        field: figure.out.find((f) => f.path === pattern),
        value: node,
      })
      return
    }
    if (node === null || typeof node !== 'object') return
    for (const [k, v] of Object.entries(node as Node)) {
      const listed = Array.isArray(node)
      if (!pattern && ['working', 'band', 'drivers', 'course'].includes(k)) continue
      const id = (v as { id?: unknown } | null)?.id
      walk(
        v,
        key ? `${key}.${k}` : k,
        listed ? pattern : pattern ? `${pattern}.${k}` : k,
        listed
          ? `${where} ${typeof id === 'string' ? id : Number(k) + 1}`.trim()
          : typeof v === 'object'
            ? `${where} ${nameOf(k)}`.trim()
            : where,
      )
    }
  }
  walk(answer, '', '', '')
  return list
}
