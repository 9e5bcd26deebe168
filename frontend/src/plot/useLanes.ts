import { useMemo, useState } from 'react'
import { laneBoxes, type LaneBox } from './frame'
import { lanesWith, reordered, resized, shareIn, type Shares } from './lanes'
import type { Ghost, StripCorridor, StripLane, StripRecord } from './types'

interface Lanes {
  lanes: StripLane[]
  boxes: LaneBox[]
  onResize: (at: number, px: number) => void
  onMove: (at: number, by: number) => void
}

/** The lanes of a strip as the person has arranged them. */
export function useLanes(
  record: StripRecord,
  ghosts: Ghost[],
  corridor: StripCorridor | null,
  height: number,
): Lanes {
  const [order, setOrder] = useState(() => record.lanes.map((l) => l.lane))
  const [shares, setShares] = useState<Shares>({})
  const pieces = corridor?.pieces ?? null
  const lanes = useMemo(() => lanesWith(record, order, ghosts, pieces), [record, order, ghosts, pieces])
  const boxes = laneBoxes(
    lanes,
    lanes.map((lane) => shareIn(shares, lane)),
    height,
  )
  return {
    lanes,
    boxes,
    onResize: (at, px) => setShares(resized(lanes, shares, at, px, height)),
    onMove: (at, by) => setOrder(reordered(lanes, at, by)),
  }
}
