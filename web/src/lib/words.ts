import type { Finding, Severity } from '@/api/client'

/** A verdict has a word, a shape and a colour; this is the shape. */
export const shape: Record<Severity, string> = { stop: '■', look: '◆', note: '●' }

/** Class names that colour a severity; the word always stands beside it. */
export const ink: Record<Severity, string> = { stop: 'text-stop', look: 'text-look', note: 'text-note' }

const rank: Record<Severity, number> = { stop: 0, look: 1, note: 2 }

/** The worst severity of some findings, if there is any. */
export function worst(findings: Finding[]): Severity | undefined {
  return findings.map((f) => f.severity).sort((a, b) => rank[a] - rank[b])[0]
}

/**
 * Keys of the things a finding is about: a page puts the finding beside each of
 * them that it shows. A page shows holds or anchors, marks and strands, not both.
 */
export function aboutKeys(f: Finding): string[] {
  const s = f.subject
  if (s.hold) return [`hold:${s.person}:${s.hold}`, `person:${s.person}`]
  if (s.kind === 'mark') return [`mark:${s.strand}:${s.id}`]
  if (s.kind === 'anchor') return [`anchor:${s.id}`]
  if (s.strand) return [`strand:${s.strand}`]
  return s.person ? [`person:${s.person}`] : []
}

/** A count with its noun: 1 stop, 3 stops. */
export const count = (n: number, noun: string) => `${n} ${noun}${n === 1 ? '' : 's'}`

/** What people read in place of a rule's id. */
export const ruleWords = (rule: string) => rule.replace('.', ': ').replaceAll('-', ' ')

/** What people read in place of a move's id. */
export const moveWords = (move: string) => move.replaceAll('-', ' ').replace('rebelay', 're-belay')

/** Writes a number as a person types it, without a unit. */
export function plainNumber(n: number): string {
  return String(Math.round(n * 1000) / 1000)
}

/** A time in minutes, to a tenth: what is a little over a limit is not shown as at it. */
export const minutes = (s: number) => `${plainNumber(Number((s / 60).toFixed(1)))} min`

/** Reads what a person typed as a number; a decimal comma counts. */
export function typedNumber(text: string): number | undefined {
  const t = text.trim().replace(',', '.').replace('−', '-')
  return /^-?\d+(\.\d+)?$/.test(t) ? Number(t) : undefined
}

/** An id that is not taken yet, from a stem. */
export function freeId(stem: string, taken: Iterable<string>): string {
  const used = new Set(taken)
  for (let n = 1; ; n++) {
    const id = `${stem}-${n}`
    if (!used.has(id)) return id
  }
}
