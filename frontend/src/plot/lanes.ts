/** How lanes share the height of a strip, and in which order they stand. */
import { holdingCorridor } from './corridor'
import { shareOf } from './frame'
import type { CorridorPiece, Ghost, StripLane, StripRecord } from './types'

export type Shares = Readonly<Record<string, number>>

/** Least part of the height that a lane keeps. */
const LEAST_SHARE = 0.3

export const shareIn = (shares: Shares, lane: StripLane): number => shares[lane.lane] ?? shareOf(lane)

/** The lane with room for what lies beneath it. */
function holding(lane: StripLane, beneath: StripRecord): StripLane {
  const other = beneath.lanes.find((l) => l.lane === lane.lane)
  if (!other) return lane
  return {
    ...lane,
    lowest: Math.min(lane.lowest, other.lowest),
    highest: Math.max(lane.highest, other.highest),
  }
}

/** The lanes of a record in their order, each with room for what is drawn with it. */
export const lanesWith = (
  record: StripRecord,
  order: string[],
  ghosts: Pick<Ghost, 'record' | 'scaled'>[],
  corridor: CorridorPiece[] | null,
): StripLane[] =>
  [...record.lanes]
    .sort((a, b) => order.indexOf(a.lane) - order.indexOf(b.lane))
    .map((lane) => ghosts.reduce((held, g) => (g.scaled ? held : holding(held, g.record)), lane))
    .map((lane) => (corridor ? holdingCorridor(lane, corridor) : lane))

/** The border below a lane moved by pixels of a strip so high: what one gains the next loses. */
export function resized(lanes: StripLane[], shares: Shares, at: number, px: number, height: number): Shares {
  const [one, two] = [lanes[at], lanes[at + 1]]
  if (!one || !two) return shares
  const share = (lane: StripLane) => shareIn(shares, lane)
  const perPx = lanes.reduce((sum, l) => sum + share(l), 0) / Math.max(height - 80, 1)
  const by = Math.max(-share(one) + LEAST_SHARE, Math.min(share(two) - LEAST_SHARE, px * perPx))
  return { ...shares, [one.lane]: share(one) + by, [two.lane]: share(two) - by }
}

/** The order with one lane moved up or down by so many places. */
export function reordered(lanes: StripLane[], at: number, by: number): string[] {
  const next = lanes.map((l) => l.lane)
  const [name] = next.splice(at, 1)
  if (name !== undefined) next.splice(at + by, 0, name)
  return next
}
