import type { LaneRole } from '../design/theme'

/** What the strip draws: a record of evenly spaced samples in lanes. Times are seconds on the file's axis. */
export interface StripLane {
  lane: string
  title: string
  role: LaneRole
  unit: string
  lowest: number
  highest: number
  /** Taken along with the lanes that the circuit is about, and lower than they are. */
  beside?: boolean
  /** Scan data: (seconds, value) at true update times, instead of even samples. */
  points?: [number, number][]
}

export interface StripRecord {
  id: number
  samples: number
  intervalS: number
  startS: number
  tileBins: number
  lanes: StripLane[]
}

/** A named stretch in the ribbon. */
export interface StripPhase {
  name: string
  from: number
  to: number
}

export type MarkKind = 'fault' | 'set-up' | 'note' | 'tag' | 'reading'

/** Something that can be chosen on the strip and in a list beside it. */
export interface StripMark {
  id: string
  kind: MarkKind
  from: number
  to: number
  label: string
  lane?: string | null
}

export type Pegs = [number | null, number | null]

/** Samples (level 0) or low-high pairs of bins of 2^level samples. */
export type TileSource = (lane: string, level: number, tile: number) => Promise<Float32Array>

/** Values at the pegs, by lane. */
export interface PegValues {
  instants: number[]
  lanes: { lane: string; unit: string; at: number[]; level: number; least: number; most: number }[]
}

/** How a record beneath lies along the trace, and what else it could go by. */
export interface Alignment {
  by: string
  onBy: (by: string) => void
  options: { key: string; text: string }[]
}

/** Another record drawn beneath, moved by `shiftS` seconds: pale, or as the nth of several with a line of its own. */
export interface Ghost {
  nth?: number
  record: StripRecord
  tiles: TileSource
  shiftS: number
  /** Where the viewer may choose how it lies. */
  alignment?: Alignment
  label: string
  /** Brought to the height of the record that it is drawn along, lane by lane, to compare shapes alone. */
  scaled?: boolean
}

/** The band that sound traces stay within, along one stretch in even parts; `outside` says where the trace leaves it. */
export interface CorridorPiece {
  lane: string
  from: number
  to: number
  low: number[]
  high: number[]
  outside: number[][]
}

export interface StripCorridor {
  pieces: CorridorPiece[]
  label: string
}
