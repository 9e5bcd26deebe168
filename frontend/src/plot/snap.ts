/** Where a peg comes to rest: on a sample, and on an event that is near. */
import type { StripMark, StripPhase, StripRecord } from './types'

/** The instant of the sample nearest to `s`, inside the record. */
export function onSample({ startS, intervalS, samples }: StripRecord, s: number): number {
  const index = Math.min(Math.max(Math.round((s - startS) / intervalS), 0), samples - 1)
  return startS + index * intervalS
}

/** The nearest border of a phase or mark closer than `reach`; readings have none of their own. */
export function nearest(
  s: number,
  reach: number,
  phases: Pick<StripPhase, 'from' | 'to'>[],
  marks: Pick<StripMark, 'from' | 'to' | 'kind'>[],
): number | null {
  const borders = [...phases, ...marks.filter((m) => m.kind !== 'reading')].flatMap((p) => [p.from, p.to])
  const near = borders.filter((t) => Math.abs(t - s) < reach)
  return near.sort((a, b) => Math.abs(a - s) - Math.abs(b - s))[0] ?? null
}
