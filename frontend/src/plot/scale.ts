/** Round numbers for axes, and text for values. */
import { fixed } from '../ui/numbers'

/** A step of 1, 2 or 5 times a power of ten that divides `span` into at most `most` parts. */
export function roundStep(span: number, most: number): number {
  const raw = span / Math.max(most, 1)
  const power = 10 ** Math.floor(Math.log10(raw))
  for (const factor of [1, 2, 5, 10]) if (power * factor >= raw) return power * factor
  return power * 10
}

/** Multiples of the step inside [low, high]. */
export function ticks(low: number, high: number, step: number): number[] {
  const out: number[] = []
  for (let k = Math.ceil(low / step - 1e-9); k * step <= high + step * 1e-9; k++) out.push(k * step)
  return out
}

/** Decimals that tell neighbours `step` apart. */
export function decimalsOf(step: number): number {
  return Math.max(0, Math.min(9, -Math.floor(Math.log10(step) + 1e-9)))
}

export interface TimeUnit {
  name: string
  factor: number
}

/** The unit in which a span of time reads best. */
export function timeUnit(spanS: number): TimeUnit {
  if (spanS < 0.0005) return { name: 'µs', factor: 1e6 }
  return spanS < 0.5 ? { name: 'ms', factor: 1e3 } : { name: 'seconds', factor: 1 }
}

/** A duration with three or four meaningful figures and its unit. */
export function durationText(seconds: number): string {
  const size = Math.abs(seconds)
  if (size < 1e-3) return `${fixed(seconds * 1e6, 1)} µs`
  if (size < 1) return `${fixed(seconds * 1e3, size < 0.1 ? 2 : 1)} ms`
  return `${fixed(seconds, 3)} s`
}

/** A value in its unit; small volts as millivolts. */
export function valueText(value: number, unit: string): string {
  if (unit === 'V' && Math.abs(value) < 0.1) return `${fixed(value * 1000, 1)} mV`
  return `${fixed(value, 3)} ${unit}`.trim()
}
