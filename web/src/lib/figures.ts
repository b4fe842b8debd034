/** Figures as a leaflet prints them, in whatever unit, kept in the one that a field has. */

const g = 9.80665
const lbf = 4.4482216152605e-3
/** What one of a unit is in the field's own. */
const units: Record<string, Record<string, number>> = {
  mm: { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4, ft: 304.8 },
  m: { m: 1, mm: 0.001, cm: 0.01, ft: 0.3048, in: 0.0254 },
  kN: { kN: 1, N: 0.001, daN: 0.01, lbf, lb: lbf, lbs: lbf, kg: g / 1000, kgf: g / 1000 },
  kg: { kg: 1, g: 0.001, lb: 0.45359237, lbs: 0.45359237 },
  g: { g: 1, kg: 1000, oz: 28.349523125, lb: 453.59237, lbs: 453.59237 },
  'm/s': { 'm/s': 1, 'm/min': 1 / 60, 'ft/min': 0.00508, 'ft/s': 0.3048, 'km/h': 1 / 3.6 },
}

/** The units that a field's figures may be typed in, but for its own. */
export const othersOf = (unit: string | undefined) =>
  Object.keys(units[unit ?? ''] ?? {}).filter((u) => ![unit, '"', 'lbs', 'kgf'].includes(u))

/**
 * A figure as it was typed, in the field's unit: 4900 lbf, 7/16 in, 0,5. What is no figure
 * comes back as it is, to be refused where it stands.
 */
export function figure(text: string, unit: string | undefined): number | string | undefined {
  const typed = text.trim()
  if (!typed) return undefined
  const m = /^(-?\d+(?:[.,]\d+)?)(?:\s*\/\s*(\d+))?\s*([^\d\s].*)?$/.exec(typed)
  if (!m) return typed
  const value = Number(m[1]!.replace(',', '.')) / (m[2] ? Number(m[2]) : 1)
  if (!m[3]) return m[2] ? typed : value
  const said = m[3].trim().toLowerCase()
  const of = Object.entries(units[unit ?? ''] ?? {}).find(([u]) => u.toLowerCase() === said)?.[1]
  if (of === undefined || !Number.isFinite(value)) return typed
  return Number((value * of).toPrecision(10))
}
