import type { Ref } from 'vue'
import type { Drop } from '@/api/client'

/** The drop that is open, as each part of the draft sees it. */
export type Open = {
  id: Ref<string>
  drop: Ref<Drop | undefined>
  /** The version that this device began from. */
  version: Ref<number>
  /** The server answered when it was last asked. */
  online: Ref<boolean>
}

/** A drop of this device with what is the store's as the store has it. */
export function present(mine: Drop, theirs: Drop): Drop {
  const records = new Map(theirs.items?.map((i) => [i.id, i]))
  const familiar = new Map(theirs.people?.map((p) => [p.id, p.familiar]))
  return {
    ...mine,
    checks: theirs.checks,
    partner_checks: theirs.partner_checks,
    worn_checks: theirs.worn_checks,
    policy: theirs.policy,
    items: mine.items?.map((i) => records.get(i.id) ?? i),
    people: mine.people?.map((p) => (familiar.has(p.id) ? { ...p, familiar: familiar.get(p.id) } : p)),
  }
}

export function etagVersion(response: Response): number {
  return Number(response.headers.get('ETag')?.replaceAll('"', ''))
}
