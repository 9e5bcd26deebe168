/** Keeps tiles of a record, asks for missing ones once, and finds the best there is meanwhile. */
import type { StripRecord, TileSource } from './types'

export interface Piece {
  /** Low-high pairs, or samples when `level` is 0. */
  data: Float32Array
  level: number
  /** Index of the first bin of `data` on its level. */
  firstBin: number
}

export class Tiles {
  private readonly kept = new Map<string, Float32Array>()
  private readonly asked = new Set<string>()
  private readonly record: StripRecord
  private readonly source: TileSource
  private readonly arrived: () => void

  constructor(record: StripRecord, source: TileSource, arrived: () => void) {
    this.record = record
    this.source = source
    this.arrived = arrived
  }

  /** The coarsest level that the whole record needs in one or two tiles. */
  get topLevel(): number {
    return Math.max(0, Math.ceil(Math.log2(this.record.samples / this.record.tileBins)))
  }

  /** The level with one to two bins a pixel. */
  levelFor(samplesShown: number, pixels: number): number {
    return Math.max(0, Math.min(this.topLevel, Math.floor(Math.log2(samplesShown / Math.max(pixels, 1)))))
  }

  /** Pieces that cover samples [from, to) of a lane, from this level where it is here, else from a coarser one. */
  pieces(lane: string, from: number, to: number, level: number): Piece[] {
    const width = this.record.tileBins * 2 ** level
    const first = Math.max(0, Math.floor(from / width))
    const last = Math.min(Math.floor((this.record.samples - 1) / width), Math.floor(to / width))
    const out: Piece[] = []
    for (let tile = first; tile <= last; tile++) {
      const data = this.get(lane, level, tile)
      if (data) out.push({ data, level, firstBin: tile * this.record.tileBins })
      else out.push(...this.coarser(lane, level, tile))
    }
    return out
  }

  private coarser(lane: string, level: number, tile: number): Piece[] {
    const bins = this.record.tileBins
    for (let up = 1; level + up <= this.topLevel; up++) {
      const above = tile >> up
      const data = this.kept.get(`${lane}/${level + up}/${above}`)
      if (!data) continue
      const inTile = tile - (above << up)
      const start = Math.floor((inTile * bins) / 2 ** up)
      const stop = Math.ceil(((inTile + 1) * bins) / 2 ** up)
      return [{ data: data.subarray(2 * start, 2 * stop), level: level + up, firstBin: above * bins + start }]
    }
    return []
  }

  private get(lane: string, level: number, tile: number): Float32Array | undefined {
    const key = `${lane}/${level}/${tile}`
    const kept = this.kept.get(key)
    if (kept || this.asked.has(key)) return kept
    this.asked.add(key)
    this.source(lane, level, tile).then(
      (data) => {
        this.kept.set(key, data)
        this.arrived()
      },
      // Asked for again at the next drawing, at the earliest in two seconds.
      () => setTimeout(() => this.asked.delete(key), 2000),
    )
    return undefined
  }
}
