import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { broughtIn, moved, type Bounds, type View, type ViewEvent } from '../src/plot/view'

const bounds: Bounds = { start: -2, end: 18, interval: 0.001 }
const instant = fc.double({ min: -40, max: 40, noNaN: true })
const events: fc.Arbitrary<ViewEvent> = fc.oneof(
  fc.record({ type: fc.constant('shown' as const), from: instant, to: instant }),
  fc.record({ type: fc.constant('panned' as const), byS: instant }),
  fc.record({
    type: fc.constant('zoomed' as const),
    factor: fc.double({ min: 1e-6, max: 1e6, noNaN: true }),
    aroundS: instant,
  }),
  fc.constant({ type: 'whole' as const }),
)
const whole: View = { from: bounds.start, to: bounds.end }

describe('a view', () => {
  it('stays in the record and shows eight samples at least, however it is moved', () => {
    fc.assert(
      fc.property(fc.array(events, { maxLength: 30 }), (all) => {
        const { from, to } = all.reduce((view, event) => moved(bounds, view, event), whole)
        expect(from).toBeGreaterThanOrEqual(bounds.start - 1e-9)
        expect(to).toBeLessThanOrEqual(bounds.end + 1e-9)
        expect(to - from).toBeGreaterThanOrEqual(8 * bounds.interval - 1e-9)
      }),
    )
  })

  it('keeps the instant that it is zoomed around where it was', () => {
    const view = moved(bounds, { from: 2, to: 6 }, { type: 'zoomed', factor: 0.5, aroundS: 3 })
    expect(view).toEqual({ from: 2.5, to: 4.5 })
  })

  it('keeps its length when it is panned against an end', () => {
    expect(moved(bounds, { from: 2, to: 6 }, { type: 'panned', byS: 100 })).toEqual({ from: 14, to: 18 })
    expect(moved(bounds, { from: 2, to: 6 }, { type: 'panned', byS: -100 })).toEqual({ from: -2, to: 2 })
  })

  it('may be given from right to left', () => {
    expect(moved(bounds, whole, { type: 'shown', from: 9, to: 4 })).toEqual({ from: 4, to: 9 })
  })

  it('opens wholly again', () => expect(moved(bounds, { from: 1, to: 2 }, { type: 'whole' })).toEqual(whole))
})

describe('what is chosen', () => {
  it('comes into the middle with room around it', () => {
    const shown = broughtIn(bounds, { from: 0, to: 2 }, { from: 10, to: 11 })
    expect(shown && (shown.from + shown.to) / 2).toBe(10.5)
    expect(shown && shown.to - shown.from).toBe(6)
  })

  it('moves nothing where it is seen well, and something where it is a speck or outside', () => {
    expect(broughtIn(bounds, { from: 0, to: 6 }, { from: 2, to: 3 })).toBeNull()
    expect(broughtIn(bounds, { from: 0, to: 6 }, { from: 2, to: 2.01 })).not.toBeNull()
    expect(broughtIn(bounds, { from: 0, to: 6 }, { from: 5, to: 7 })).not.toBeNull()
  })
})
