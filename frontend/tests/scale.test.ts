import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { decimalsOf, durationText, roundStep, ticks, timeUnit, valueText } from '../src/plot/scale'

const span = fc.double({ min: 1e-7, max: 1e7, noNaN: true })

describe('a round step', () => {
  it('is 1, 2 or 5 times a power of ten, and parts the span into no more than asked', () => {
    fc.assert(
      fc.property(span, fc.integer({ min: 1, max: 40 }), (of, most) => {
        const step = roundStep(of, most)
        const lead = step / 10 ** Math.floor(Math.log10(step) + 1e-9)
        expect([1, 2, 5].some((n) => Math.abs(lead - n) < 1e-6)).toBe(true)
        expect(of / step).toBeLessThanOrEqual(most * (1 + 1e-9))
        // A step too long would leave an axis empty: the next shorter one has too many parts.
        expect(of / (step / 2.5)).toBeGreaterThan(most * (1 - 1e-9))
      }),
    )
  })

  it('is what a person would take', () => {
    expect([roundStep(10, 5), roundStep(10, 3), roundStep(0.9, 10), roundStep(7, 2)]).toEqual([2, 5, 0.1, 5])
  })
})

describe('ticks', () => {
  it('lie inside, a step apart, with none left out', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), span, (low, of) => {
        const [high, step] = [low + of, roundStep(of, 12)]
        const found = ticks(low, high, step)
        for (const t of found) {
          expect(t).toBeGreaterThanOrEqual(low - 1e-6 * step)
          expect(t).toBeLessThanOrEqual(high + 1e-6 * step)
        }
        expect(
          Math.abs(found.length - (Math.floor(high / step + 1e-9) - Math.ceil(low / step - 1e-9) + 1)),
        ).toBe(0)
      }),
      { numRuns: 200 },
    )
  })

  it('are told apart by their decimals', () => {
    for (const step of [5, 1, 0.5, 0.2, 0.05, 0.001]) {
      const shown = ticks(0, 10 * step, step).map((t) => t.toFixed(decimalsOf(step)))
      expect(new Set(shown).size, String(step)).toBe(shown.length)
    }
  })
})

describe('values in words', () => {
  it('take the unit in which they read best', () => {
    expect([0.0000123, 0.00123, 0.0456, 0.7, 12.34].map(durationText)).toEqual([
      '12.3 µs',
      '1.23 ms',
      '45.60 ms',
      '700.0 ms',
      '12.340 s',
    ])
    expect([
      valueText(0.0421, 'V'),
      valueText(12.34567, 'V'),
      valueText(0.05, 'A'),
      valueText(3, ''),
    ]).toEqual(['42.1 mV', '12.346 V', '0.050 A', '3.000'])
    expect([timeUnit(1e-4).name, timeUnit(0.02).name, timeUnit(4).name]).toEqual(['µs', 'ms', 'seconds'])
  })
})
