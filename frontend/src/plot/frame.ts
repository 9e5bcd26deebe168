/** Where things are on a strip, in CSS pixels. */
import type { StripLane } from './types'
import type { View } from './view'

export const GUTTER = 132
export const RIGHT = 14
export const HEAD = 60
export const LANE_GAP = 12

export interface LaneBox {
  lane: StripLane
  top: number
  height: number
  low: number
  high: number
}

export interface Frame {
  width: number
  height: number
  view: View
  boxes: LaneBox[]
}

export const xOf = (frame: Frame, s: number): number =>
  GUTTER + ((s - frame.view.from) / (frame.view.to - frame.view.from)) * (frame.width - GUTTER - RIGHT)

export const sOf = (frame: Frame, x: number): number =>
  frame.view.from + ((x - GUTTER) / (frame.width - GUTTER - RIGHT)) * (frame.view.to - frame.view.from)

export const yOf = (box: LaneBox, v: number): number =>
  box.top + box.height - ((v - box.low) / (box.high - box.low)) * box.height

export const vOf = (box: LaneBox, y: number): number =>
  box.low + ((box.top + box.height - y) / box.height) * (box.high - box.low)

/** Least height of a lane, so that it can be read. */
const LEAST_PX = 30

/** Part of the height that a lane begins with. */
export function shareOf({ role, beside }: StripLane): number {
  if (role === 'signal' || role === 'current') return beside ? 1.5 : 3
  return role === 'scan' ? 1.3 : 1
}

/** Lane boxes under each other; each scale holds the lane's swing and zero where that costs little. */
export function laneBoxes(lanes: StripLane[], shares: number[], height: number): LaneBox[] {
  const total = shares.reduce((a, b) => a + b, 0)
  const free = height - HEAD - 8 - LANE_GAP * lanes.length
  // Every lane can be read; what the small ones need beyond their share, the others give.
  const least = Math.min(LEAST_PX, free / lanes.length)
  const own = shares.map((share) => (free * share) / total)
  const small = own.filter((h) => h < least)
  const left = free - least * small.length
  const large = free - small.reduce((a, b) => a + b, 0)
  let top = HEAD + 8
  return lanes.map((lane, k) => {
    const share = own[k] ?? least
    const box = { lane, top, height: share < least ? least : (share * left) / large, ...scaleOf(lane) }
    top += box.height + LANE_GAP
    return box
  })
}

export function scaleOf(lane: StripLane): { low: number; high: number } {
  let { lowest: low, highest: high } = lane
  const swing = Math.max(high - low, 1e-3)
  // A lane that hardly moves, far from zero, is shown at its own size; a moving one with its zero line.
  const steady = Math.abs(low) > 4 * swing
  if (!steady) {
    low = Math.min(0, low)
    high = Math.max(0, high)
  }
  const pad = Math.max(0.06 * (high - low), steady ? 0.04 * Math.abs(high) : 1e-3)
  return { low: low - pad * 0.6, high: high + pad }
}
