/** Limits in words, with the marginal zone that is in force. */
import { rounded } from '../ui/numbers'

export interface LimitLike {
  low: number | null
  high: number | null
  basis: string
  zone: number
}

export const BASIS: Record<string, string> = {
  maker: 'maker',
  'own-fleet': 'own fleet',
  'common-practice': 'common practice',
}

/** A figure without binary dust: 0.45 + 0.015 is 0.465. */
export const figure = (value: number): string => String(rounded(value, 6))

/** What a reading should be: at least, at most, or from one to the other. */
export function limitText(limit: { low: number | null; high: number | null }, unit: string): string {
  const { low, high } = limit
  if (low !== null && high !== null) return `${figure(low)} to ${figure(high)} ${unit}`.trim()
  return (low !== null ? `at least ${figure(low)} ${unit}` : `at most ${figure(high ?? 0)} ${unit}`).trim()
}

/** Where the marginal zone ends, beyond the limit. */
export function zoneText(limit: LimitLike, unit: string): string {
  if (limit.zone === 0) return 'there is no marginal zone'
  const ends = [
    limit.low === null ? null : `down to ${figure(limit.low - limit.zone)}`,
    limit.high === null ? null : `up to ${figure(limit.high + limit.zone)}`,
  ].filter((end) => end !== null)
  return `marginal beyond it ${ends.join(' and ')} ${unit}, outside further on`.replace('  ', ' ')
}
