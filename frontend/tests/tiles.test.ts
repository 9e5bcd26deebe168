import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Tiles } from '../src/plot/tiles'
import type { StripRecord, TileSource } from '../src/plot/types'

const BINS = 64
const record: StripRecord = { id: 1, samples: 10_000, intervalS: 1e-3, startS: 0, tileBins: BINS, lanes: [] }

/** What a server sends: samples on level 0, else the least and most of each bin, of a lane that counts its samples. */
const tileOf = (level: number, tile: number): Float32Array => {
  const wide = 2 ** level
  const first = tile * BINS
  const bins = Math.max(0, Math.min(BINS, Math.ceil(record.samples / wide) - first))
  const out = Array.from({ length: bins }, (_, k) => {
    const from = (first + k) * wide
    return level === 0 ? [from] : [from, Math.min(from + wide, record.samples) - 1]
  })
  return Float32Array.from(out.flat())
}

const settled = () => new Promise((done) => setTimeout(done, 0))

describe('tiles of a record', () => {
  it('cover what is shown, without a gap, and no more than a tile beyond it', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: 9_998 }),
        fc.integer({ min: 1, max: 4_000 }),
        fc.integer({ min: 0, max: 5 }),
        async (from, long, level) => {
          const to = Math.min(9_999, from + long)
          const tiles = new Tiles(
            record,
            (_, l, t) => Promise.resolve(tileOf(l, t)),
            () => undefined,
          )
          tiles.pieces('signal', from, to, level)
          await settled()
          const pieces = tiles.pieces('signal', from, to, level)
          const per = level === 0 ? 1 : 2
          let next = pieces[0]?.firstBin ?? NaN
          expect(next * 2 ** level).toBeLessThanOrEqual(from)
          for (const piece of pieces) {
            expect(piece.firstBin).toBe(next)
            // The samples are their own numbers: what is drawn is what was recorded there.
            expect(piece.data[0]).toBe(piece.firstBin * 2 ** level)
            next = piece.firstBin + piece.data.length / per
          }
          expect(next * 2 ** level).toBeGreaterThanOrEqual(to)
        },
      ),
      { numRuns: 60 },
    )
  })

  it('are asked for once each, and stand in for finer ones that have not come', async () => {
    const asked: string[] = []
    const source: TileSource = (lane, level, tile) => {
      asked.push(`${lane}/${level}/${tile}`)
      return level === 0 ? new Promise(() => undefined) : Promise.resolve(tileOf(level, tile))
    }
    const tiles = new Tiles(record, source, () => undefined)
    tiles.pieces('signal', 1_000, 2_000, 3)
    await settled()
    const meanwhile = [1, 2].map(() => tiles.pieces('signal', 1_000, 1_060, 0)).at(-1) ?? []
    expect(new Set(asked).size).toBe(asked.length)
    expect(meanwhile.every((p) => p.level === 3)).toBe(true)
    const [first, last] = [meanwhile[0], meanwhile.at(-1)]
    expect((first?.firstBin ?? NaN) * 8).toBeLessThanOrEqual(1_000)
    expect(((last?.firstBin ?? 0) + (last?.data.length ?? 0) / 2) * 8).toBeGreaterThanOrEqual(1_060)
  })

  it('have one to two bins a pixel', () => {
    const tiles = new Tiles(
      record,
      () => new Promise(() => undefined),
      () => undefined,
    )
    for (const [samples, pixels] of [
      [10_000, 500],
      [3_000, 1_000],
      [900, 300],
    ] as const) {
      const bins = samples / 2 ** tiles.levelFor(samples, pixels) / pixels
      expect(bins).toBeGreaterThanOrEqual(1)
      expect(bins).toBeLessThan(2)
    }
    expect(tiles.levelFor(50, 1_000)).toBe(0)
  })

  describe('that could not be had', () => {
    beforeEach(() => void vi.useFakeTimers())
    afterEach(() => void vi.useRealTimers())

    it('are asked for again, after two seconds and not before', async () => {
      const source = vi.fn<TileSource>(() => Promise.reject(new Error('gone')))
      const tiles = new Tiles(record, source, () => undefined)
      const look = async (waitMs: number) => {
        tiles.pieces('signal', 0, 10, 0)
        await vi.advanceTimersByTimeAsync(waitMs)
      }
      await look(1_900)
      await look(200)
      expect(source).toHaveBeenCalledTimes(1)
      await look(0)
      expect(source).toHaveBeenCalledTimes(2)
    })
  })
})
