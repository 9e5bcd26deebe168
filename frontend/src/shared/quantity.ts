/** A number as people type it, with a unit of their own or without. */
import { numberIn, rounded } from '../ui/numbers'

const PREFIXES: Record<string, number> = { n: 1e-9, u: 1e-6, µ: 1e-6, μ: 1e-6, m: 1e-3, k: 1e3, M: 1e6 }
const BASES = ['V', 's', 'A', 'Hz', 'Pa']

/** Units offered beside each, the usual ones first. */
const NEIGHBOURS: Record<string, string[]> = {
  V: ['V', 'mV', 'kV'],
  s: ['s', 'ms', 'µs'],
  A: ['A', 'mA'],
  Hz: ['Hz', 'kHz'],
  Pa: ['kPa', 'Pa'],
}

interface Unit {
  base: string
  factor: number
}

/** A unit as base and factor; null where it takes no prefix, as rpm or %. */
function split(unit: string): Unit | null {
  const exact = BASES.find((b) => b.toLowerCase() === unit.toLowerCase())
  if (exact) return { base: exact, factor: 1 }
  const factor = PREFIXES[unit.charAt(0)]
  const base = BASES.find((b) => b.toLowerCase() === unit.slice(1).toLowerCase())
  return base && factor !== undefined ? { base, factor } : null
}

/** Units that a value of this one may be told in, its own among them. */
export function unitsBeside(unit: string): string[] {
  const known = split(unit)
  return known ? [...new Set([unit, ...(NEIGHBOURS[known.base] ?? [])])] : [unit]
}

/** How many of the unit `to` one `from` is; null where they are of different kinds. */
export function factorBetween(from: string, to: string): number | null {
  if (from === to) return 1
  const [one, other] = [split(from), split(to)]
  return one && other && one.base === other.base ? one.factor / other.factor : null
}

/** Without the noise that a factor leaves behind the twelfth figure. */
export const scaled = (value: number, factor: number): number => rounded(value * factor, 12)

/** What was typed, in the unit asked for; null where it is no number or its unit is of another kind. */
export function quantity(text: string, unit: string): number | null {
  const found = /^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:e[+-]?\d+)?)\s*(\S*)$/i.exec(text.trim())
  if (!found) return null
  const value = numberIn(found[1] ?? '') ?? NaN
  const factor = factorBetween(found[2] || unit, unit)
  return Number.isFinite(value) && factor !== null ? scaled(value, factor) : null
}
