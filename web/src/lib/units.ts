import { useStorage } from '@vueuse/core'
import type { Figure } from '@/api/client'
import { plainNumber } from '@/lib/words'

/** How quantities are shown. Everything kept and computed is metric. */
export const systems = ['metric', 'imperial'] as const
export type System = (typeof systems)[number]

export const system = useStorage<System>('units', 'metric')

type Shown = { unit: string; factor: number; offset?: number; digits: number }

/** Imperial units by the metric ones of the core. */
const imperial: Record<string, Shown> = {
  m: { unit: 'ft', factor: 1 / 0.3048, digits: 1 },
  mm: { unit: 'in', factor: 1 / 25.4, digits: 3 },
  kg: { unit: 'lb', factor: 1 / 0.45359237, digits: 0 },
  g: { unit: 'oz', factor: 1 / 28.349523125, digits: 1 },
  'g/m': { unit: 'lb/100 ft', factor: 30.48 / 453.59237, digits: 2 },
  kN: { unit: 'lbf', factor: 1000 / 4.4482216152605, digits: 0 },
  'm/s': { unit: 'ft/s', factor: 1 / 0.3048, digits: 1 },
  '°C': { unit: '°F', factor: 1.8, offset: 32, digits: 0 },
}

function shownAs(unit: string): Shown | undefined {
  return system.value === 'imperial' ? imperial[unit] : undefined
}

/** The unit that stands for a metric one. */
export function unitOf(unit: string): string {
  return shownAs(unit)?.unit ?? unit
}

/** A metric figure as it is shown, without unit. */
export function toShown(value: number, unit: string): number {
  const s = shownAs(unit)
  if (!s) return value
  return Number((value * s.factor + (s.offset ?? 0)).toFixed(s.digits))
}

/** A figure that was typed as it is shown, in metric. */
export function fromShown(value: number, unit: string): number {
  const s = shownAs(unit)
  return s ? Number(((value - (s.offset ?? 0)) / s.factor).toFixed(6)) : value
}

/** A metric figure with its unit, as it is shown. */
export function show(value: number, unit: string, digits = 2): string {
  const n = shownAs(unit) ? toShown(value, unit) : Number(value.toFixed(Math.abs(value) >= 100 ? 1 : digits))
  const u = unitOf(unit)
  return u ? `${plainNumber(n)}${u === '°' ? '' : ' '}${u}` : plainNumber(n)
}

/** A figure of the core as it is shown: its own words, or in the other units. */
export function showFigure(f: Pick<Figure, 'value' | 'unit' | 'text'>): string {
  return shownAs(f.unit) ? show(f.value, f.unit) : f.text
}

const quantity = /(?<![\w.])(-?\d+(?:\.\d+)?) (m\/s|g\/m|mm|kg|kN|°C|g|m)(?![\w/²])/g

/** A sentence of the core with its quantities as they are shown. */
export function say(text: string): string {
  if (system.value === 'metric') return text
  return text.replace(quantity, (_, n: string, unit: string) => show(Number(n), unit))
}
