import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { GUTTER, RIGHT, type Frame } from '../src/plot/frame'
import { flagged } from '../src/plot/flagged'
import { lanesWith, reordered, resized, shareIn } from '../src/plot/lanes'
import { nearest, onSample } from '../src/plot/snap'
import { summaryOf } from '../src/plot/summary'
import type { StripLane, StripMark, StripRecord } from '../src/plot/types'

const lane = (name: string, lowest = 0, highest = 5): StripLane => ({
  lane: name,
  title: name,
  role: 'signal',
  unit: 'V',
  lowest,
  highest,
})
const record: StripRecord = {
  id: 1,
  samples: 1001,
  intervalS: 0.01,
  startS: -1,
  tileBins: 2048,
  lanes: [lane('signal'), lane('second'), lane('supply', 11, 14)],
}
const mark = (id: string, at: number, kind: StripMark['kind'] = 'tag'): StripMark => ({
  id,
  kind,
  from: at,
  to: at,
  lane: null,
  label: id,
})

describe('a peg', () => {
  it('stands on a sample inside the record', () => {
    fc.assert(
      fc.property(fc.double({ min: -100, max: 100, noNaN: true }), (s) => {
        const at = onSample(record, s)
        const index = (at - record.startS) / record.intervalS
        expect(Math.abs(index - Math.round(index))).toBeLessThan(1e-6)
        expect(at).toBeGreaterThanOrEqual(record.startS)
        expect(at).toBeLessThanOrEqual(record.startS + 1000 * record.intervalS + 1e-9)
      }),
    )
  })

  it('goes to the nearest border that is close, never to that of a reading', () => {
    const phases = [{ from: 1, to: 2 }]
    const marks = [mark('tag', 2.05), mark('reading', 1.5, 'reading')]
    expect(nearest(1.98, 0.1, phases, marks)).toBe(2)
    expect(nearest(2.04, 0.1, phases, marks)).toBe(2.05)
    expect(nearest(1.5, 0.1, phases, marks)).toBeNull()
  })
})

describe('flags', () => {
  const frame: Frame = { width: 1000, height: 400, view: { from: 0, to: 10 }, boxes: [] }
  const xs = (marks: StripMark[]) => flagged(frame, marks).map((f) => f.x)

  it('are a finger apart, and lose no mark', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 10, noNaN: true }), { maxLength: 40 }), (at) => {
        const marks = at.map((s, k) => mark(String(k), s))
        const flags = flagged(frame, marks)
        expect(flags.flatMap((f) => f.marks).length).toBe(marks.length)
        const places = xs(marks)
        places.slice(1).forEach((x, k) => expect(x - (places[k] ?? 0)).toBeGreaterThanOrEqual(26))
      }),
    )
  })

  it('say that there is a fault among them, and leave out readings and what is not in view', () => {
    const [one, ...others] = flagged(frame, [
      mark('a', 5),
      mark('b', 5.01, 'fault'),
      mark('c', 40),
      mark('d', 1, 'reading'),
    ])
    expect(others).toEqual([])
    expect([one?.kind, one?.marks.length]).toEqual(['fault', 2])
    expect(one?.x).toBeGreaterThan(GUTTER)
    expect(one?.x).toBeLessThan(1000 - RIGHT)
  })
})

describe('lanes', () => {
  const names = (lanes: StripLane[]) => lanes.map((l) => l.lane)

  it('stand in the order they were put', () => {
    const order = reordered(record.lanes, 0, 2)
    expect(order).toEqual(['second', 'supply', 'signal'])
    expect(names(lanesWith(record, order, [], null))).toEqual(order)
  })

  it('keep their sum and their least height when a border is moved', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1 }), fc.integer({ min: -5000, max: 5000 }), (at, px) => {
        const shares = resized(record.lanes, {}, at, px, 600)
        const sum = (s: typeof shares) => record.lanes.reduce((all, l) => all + shareIn(s, l), 0)
        expect(sum(shares)).toBeCloseTo(sum({}), 9)
        for (const l of record.lanes) expect(shareIn(shares, l)).toBeGreaterThan(0.29)
      }),
    )
    expect(resized(record.lanes, {}, 2, 50, 600)).toEqual({})
  })

  it('make room for what lies beneath them, unless that has its own scale', () => {
    const beneath: StripRecord = { ...record, lanes: [lane('signal', -3, 9)] }
    const of = (scaled: boolean) => lanesWith(record, [], [{ record: beneath, scaled }], null)[0]
    expect([of(false)?.lowest, of(false)?.highest]).toEqual([-3, 9])
    expect([of(true)?.lowest, of(true)?.highest]).toEqual([0, 5])
  })

  it('make room for a corridor', () => {
    const piece = { lane: 'signal', from: 0, to: 1, low: [-1, 0], high: [5, 7], outside: [] }
    const [own] = lanesWith(record, [], [], [piece as never])
    expect([own?.lowest, own?.highest]).toEqual([-1, 7])
  })
})

describe('the trace in words', () => {
  it('tells length, lanes, phases and marks, and no readings', () => {
    const words = summaryOf(
      record,
      [{ name: 'closed', from: 0, to: 2 }],
      [mark('A dropout', 3), mark('x', 1, 'reading')],
    )
    expect(words).toContain('1,001 samples')
    expect(words).toContain('signal from 0.0 mV to 5.000 V')
    expect(words).toContain('closed 0.00 to 2.00 seconds')
    expect(words).toContain('Marked: A dropout at 3.00 seconds.')
    expect(words).not.toContain('x at')
  })
})
