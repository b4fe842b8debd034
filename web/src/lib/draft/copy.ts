import type { Drop } from '@/api/client'

/** A draft on this device: the version that it began from, and what it became. */
export type Copy = { version: number; drop: Drop }

/** Whose draft of which drop. */
export type Owner = { account: string; team: string | undefined; id: string }

const keyOf = (o: Owner) => `draft:${o.account}:${o.team}:${o.id}`

/** Keeps a draft here; false where this device has no room. */
export function write(of: Owner, version: number, drop: Drop): boolean {
  try {
    localStorage.setItem(keyOf(of), JSON.stringify({ version, drop } satisfies Copy))
    return true
  } catch {
    return false
  }
}

export function read(of: Owner): Copy | undefined {
  const text = localStorage.getItem(keyOf(of))
  try {
    return text ? (JSON.parse(text) as Copy) : undefined
  } catch {
    // Half a draft is no draft; the server's is whole.
    return undefined
  }
}

export function remove(of: Owner) {
  localStorage.removeItem(keyOf(of))
}
