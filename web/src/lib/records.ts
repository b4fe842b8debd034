import type { Content, Entry } from '@/api/client'

/** What a record is, in words. */
export const kindWords: Record<Entry['kind'] | 'plan-state' | 'retirement', string> = {
  'function-check': 'function check',
  'partner-check': 'partner check',
  quarantine: 'into quarantine',
  'back-in-service': 'back in service',
  familiarisation: 'familiarisation',
  hours: 'hours on rope',
  withdrawal: 'withdrawal',
  retirement: 'retired',
  'plan-state': 'plan',
}

/** What a record says, in words: about what, and with what result. */
export function saysWords(s: Content, label: (item: string) => string, name: (person: string) => string) {
  const note = s.note ? `: ${s.note}` : ''
  if (s.check) {
    const failed = s.check.proofs?.find((p) => !p.did)
    const why = failed ? `: proof ${failed.proof}${failed.note ? `, ${failed.note}` : ''}` : note
    return {
      about: `${label(s.item ?? '')} on ${label(s.check.rope)}`,
      result: s.check.passed ? '✓ passed' : `■ failed${why}`,
    }
  }
  if (s.partner) return { about: name(s.person ?? ''), result: s.partner.passed ? '✓ passed' : '■ not passed' }
  if (s.quarantine) return { about: label(s.item ?? ''), result: s.quarantine.event.replace('-', ' ') + note }
  if (s.familiar)
    return {
      about: name(s.person ?? ''),
      result: `shown ${s.familiar.model} ${s.familiar.by ? `by ${s.familiar.by}` : ''}`,
    }
  if (s.hours) return { about: name(s.person ?? ''), result: `${s.hours.hours_h} h, ${s.hours.work}` }
  if (s.plan) return { about: s.drop ?? '', result: [s.plan.state, ...(s.plan.because ?? [])].join('; ') }
  return { about: s.item ? label(s.item) : '', result: s.note ?? '' }
}

/** A time as it is read on this device. */
export function timeWords(iso: string): string {
  const t = new Date(iso)
  const two = (n: number) => String(n).padStart(2, '0')
  return `${t.getFullYear()}-${two(t.getMonth() + 1)}-${two(t.getDate())} ${two(t.getHours())}:${two(t.getMinutes())}`
}

/** Today on this device. */
export function today(): string {
  return timeWords(new Date().toISOString()).slice(0, 10)
}
