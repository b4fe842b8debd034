import type { Content, Entry } from '@/api/client'
import { pointTitles, proofTitles } from '@/api/titles'
import { count } from '@/lib/words'

/** What people read in place of an id; an id of a team's own is made of words. */
export const proofTitle = (id: string) => proofTitles[id] ?? id.replaceAll('-', ' ')
const pointTitle = (id: string) =>
  pointTitles[id] ?? id.replace(/^leaflet-/, 'point of the leaflet ').replaceAll('-', ' ')

/** What a record is, in words. */
export const kindWords: Record<Content['kind'], string> = {
  'function-check': 'function check',
  'partner-check': 'partner check',
  'worn-check': 'check of what is worn',
  quarantine: 'into quarantine',
  'back-in-service': 'back in service',
  familiarisation: 'familiarisation',
  hours: 'hours on rope',
  countersignature: 'countersigned',
  withdrawal: 'withdrawal',
  'kit-issue': 'kit handed out',
  'kit-return': 'kit counted back',
  'kit-sealed': 'kit sealed',
  'seal-broken': 'seal broken',
  examination: 'examination',
  inspection: 'interim inspection',
  'rope-note': 'noted on a rope',
  'rope-cut': 'rope cut',
  recall: 'recall',
  acknowledgement: 'recall read',
  retirement: 'retired',
  use: 'use',
  incident: 'incident',
  practice: 'practice',
  'plan-state': 'plan',
  run: 'run put away',
  'gear-change': 'gear changed',
  'person-change': 'person changed',
  'member-change': 'member changed',
  'policy-change': 'policy changed',
}

/** What may have happened to a thing that is stopped. */
export const eventWords = {
  'shock-load': 'shock load',
  dropped: 'dropped from height',
  heat: 'heat',
  chemical: 'chemical contact',
  edge: 'edge contact under load',
} as const

/** What an examination found, in words. */
export function examinedWords(x: Omit<NonNullable<Entry['examined']>, 'batch'>): string {
  const result = {
    fit: '✓ fit for use',
    observation: '◆ fit, with an observation',
    quarantine: '■ stopped, into quarantine',
    retire: '■ stopped, to be destroyed',
    'not-presented': '◆ not presented',
  }[x.result]
  const seen = (x.points ?? [])
    .filter((p) => p.result !== 'pass')
    .map((p) => `${pointTitle(p.point)}: ${p.result}${p.note ? `: ${p.note}` : ''}`)
  const read = (x.readings ?? []).map((r) => `${r.part} ${r.mm} mm`)
  const more = [
    ...seen,
    ...read,
    x.again_by ? `again by ${x.again_by}` : '',
    x.examiner ? `examined by ${x.examiner}` : '',
    x.kept ? `kept at ${x.kept}` : '',
    x.source ? `taken from ${x.source}` : '',
  ].filter(Boolean)
  return [result, ...more].join('; ')
}

/** What a record says, in words: about what, and with what result. */
export function saysWords(
  s: Content,
  label: (item: string) => string,
  name: (person: string) => string,
  title: (model: string) => string,
) {
  const note = s.note ? `: ${s.note}` : ''
  if (s.check) {
    const failed = s.check.proofs?.find((p) => !p.did)
    const why = failed ? `: ${proofTitle(failed.proof)}${failed.note ? `, ${failed.note}` : ''}` : note
    return {
      about: s.check.rope === s.item ? label(s.item) : `${label(s.item ?? '')} on ${label(s.check.rope)}`,
      result: s.check.passed ? '✓ passed' : `■ failed${why}`,
    }
  }
  if (s.partner) return { about: name(s.person ?? ''), result: s.partner.passed ? '✓ passed' : '■ not passed' }
  if (s.worn) {
    const sound = s.worn.items.filter((w) => w.sound).map((w) => label(w.item))
    const not = s.worn.items.filter((w) => !w.sound).map((w) => `■ ${label(w.item)}: ${w.note}`)
    const words = sound.length ? `✓ ${sound.join(', ')}` : ''
    return { about: name(s.person ?? ''), result: [...not, words].filter(Boolean).join('; ') }
  }
  if (s.quarantine)
    return {
      about: label(s.item ?? ''),
      result: s.quarantine.event.replace('-', ' ') + note + (s.quarantine.kept ? `; kept at ${s.quarantine.kept}` : ''),
    }
  if (s.familiar)
    return {
      about: name(s.person ?? ''),
      result: `shown ${title(s.familiar.model)} ${s.familiar.by ? `by ${s.familiar.by}` : ''}`,
    }
  if (s.hours) {
    const h = s.hours
    const more = [h.site, h.height_m ? `to ${h.height_m} m` : ''].filter(Boolean).join(', ')
    return { about: name(s.person ?? ''), result: `${h.hours_h} h, ${h.work}${more ? `; ${more}` : ''}` }
  }
  if (s.examined) return { about: label(s.item ?? ''), result: examinedWords(s.examined) + note }
  if (s.destroyed)
    return {
      about: label(s.item ?? ''),
      result: `destroyed by ${s.destroyed.by}: ${s.destroyed.how}${note}`,
    }
  if (s.use) {
    const u = s.use
    const more = [
      u.down_m ? `${u.down_m} m down` : '',
      u.up_m ? `${u.up_m} m up` : '',
      u.loads ? `loaded ${u.loads} times` : '',
      u.peak_kN ? `at most ${u.peak_kN} kN` : '',
      u.wet_days ? `${u.wet_days} wet` : '',
      u.dirty_days ? `${u.dirty_days} dirty` : '',
    ].filter(Boolean)
    const days = count(u.days, 'day')
    return {
      about: label(s.item ?? ''),
      result: `${days}, ${u.from && u.from !== s.day ? `${u.from} to ${s.day}` : s.day}${more.length ? `: ${more.join(', ')}` : ''}${note}`,
    }
  }
  if (s.incident) {
    const i = s.incident
    const people = i.people?.length ? ` There: ${i.people.map(name).join(', ')}.` : ''
    const stop = i.stop?.length ? ` ■ Stopped: ${i.stop.map(label).join(', ')}.` : ''
    return { about: i.kind === 'near-miss' ? '(near miss)' : '', result: `${i.what}${people}${stop}` }
  }
  if (s.rope?.with)
    return {
      about: label(s.item ?? ''),
      result: `${s.rope.what === 'joint' ? `joined at ${s.rope.from_m ?? 0} m to` : 'taken apart from'} ${label(s.rope.with)}${note}`,
    }
  if (s.rope)
    return {
      about: label(s.item ?? ''),
      result: `${s.rope.what.replace('-', ' ')}${s.rope.from_m !== undefined || s.rope.to_m ? ` at ${s.rope.from_m ?? 0}${s.rope.to_m ? ` to ${s.rope.to_m}` : ''} m` : ''}${note}`,
    }
  if (s.cut)
    return {
      about: label(s.item ?? ''),
      result: `cut at ${s.cut.at_m} of ${s.cut.length_m} m; the other part: ${s.cut.label ?? 'waste'}${note}`,
    }
  if (s.recall)
    return {
      about: title(s.recall.model),
      result: `${s.recall.asks.replaceAll('-', ' ')}: ${s.recall.source}${note}; ${s.affected?.length ?? 0} in the store`,
    }
  if (s.kind === 'acknowledgement') return { about: 'a recall', result: '✓ read' }
  if (s.confirms) return { about: `hours of ${name(s.person ?? '')}`, result: '✓' }
  if (s.kit) {
    const things = s.kit.items?.map(label).join(', ') || 'nothing'
    const missing = s.missing ? `; ■ missing: ${s.missing.map(label).join(', ')}` : ''
    return { about: `${s.kit.kit}${s.kit.to ? ` to ${s.kit.to}` : ''}`, result: `counted: ${things}${missing}` }
  }
  if (s.plan) return { about: s.drop ?? '', result: [s.plan.state, ...(s.plan.because ?? [])].join('; ') }
  return { about: s.item ? label(s.item) : '', result: s.note ?? '' }
}

/** The team's time zone; that of this device until it is known. */
let zone: string | undefined

export function setZone(name: string | undefined) {
  zone = name
}

/** A time as the team reads it, with its offset. */
export function timeWords(iso: string): string {
  const format = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    hourCycle: 'h23',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    timeZoneName: 'longOffset',
  })
  const p = Object.fromEntries(format.formatToParts(new Date(iso)).map((x) => [x.type, x.value]))
  const offset = p.timeZoneName?.replace('GMT', '') || '+00:00'
  return `${p.year}-${p.month}-${p.day} ${p.hour}:${p.minute} ${offset}`
}

/** A time as a field for it has it, in the team's zone: 2026-05-04T09:30. */
export function timeField(at: Date): string {
  const [day, time] = timeWords(at.toISOString()).split(' ')
  return `${day}T${time}`
}

/** The instant that a field for a time means, in the team's zone. */
export function timeOfField(field: string): string {
  const wanted = Date.parse(`${field}:00Z`)
  let at = wanted
  // Twice: the offset may be another one where the first guess falls.
  for (let i = 0; i < 2; i++) at += wanted - Date.parse(`${timeField(new Date(at))}:00Z`)
  return new Date(at).toISOString()
}

/** The team's day. */
export function today(): string {
  return timeWords(new Date().toISOString()).slice(0, 10)
}
