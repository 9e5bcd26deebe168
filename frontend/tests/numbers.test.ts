import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { factorBetween, quantity, unitsBeside } from '../src/shared/quantity'
import { counted, numberIn, pointsText, roundedTo, typedNumber } from '../src/ui/numbers'

describe('a number that is typed', () => {
  it('has a decimal comma or point, and nothing beside it', () => {
    const read = {
      '1,5': 1.5,
      ' 1.5 ': 1.5,
      '-0,25': -0.25,
      '+3': 3,
      ',5': 0.5,
      '2.': 2,
      '1e3': 1000,
      '0': 0,
    }
    for (const [text, value] of Object.entries(read)) expect(numberIn(text), text).toBe(value)
    for (const text of ['1,2,3', '1.5 V', 'five', '--1', '1,000.5', 'Infinity', '0x10', '1 2'])
      expect(numberIn(text), text).toBeNull()
  })

  it('tells nothing typed from no number', () => {
    expect(typedNumber('  ')).toBeNull()
    expect(typedNumber('abc')).toBeNaN()
    expect([numberIn(''), numberIn('abc')]).toEqual([null, null])
  })

  it('is read back from what any number is shown as, with comma as with point', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
        // Nought is nought, whatever its sign.
        expect(numberIn(String(value))).toBe(value + 0)
        expect(numberIn(String(value).replace('.', ','))).toBe(value + 0)
      }),
    )
  })

  it('is finite or none, whatever is typed', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...'0123456789.,eE+- ') }), (text) =>
        Number.isFinite(numberIn(text) ?? 0),
      ),
    )
  })
})

describe('a quantity', () => {
  it('is taken in the unit that is asked for', () => {
    expect(quantity('12,3 mV', 'V')).toBe(0.0123)
    expect(quantity('0.9', 'ms')).toBe(0.9)
    expect(quantity('900 µs', 'ms')).toBe(0.9)
    expect(quantity('900us', 'ms')).toBe(0.9)
    expect(quantity('1.2 kHz', 'Hz')).toBe(1200)
    expect(quantity('14', 'rpm')).toBe(14)
  })

  it('is refused in a unit of another kind', () => {
    for (const text of ['5 A', '5 furlongs', '5 %']) expect(quantity(text, 'V'), text).toBeNull()
    expect(quantity('1000 Hz', 'rpm')).toBeNull()
  })

  it('comes back the same from every unit that is offered beside its own', () => {
    for (const own of ['V', 'mV', 's', 'ms', 'A', 'Hz', 'kPa'])
      for (const other of unitsBeside(own)) {
        const factor = factorBetween(own, other) ?? NaN
        expect(quantity(`${3.7 * factor} ${other}`, own)).toBeCloseTo(3.7, 9)
      }
  })
})

describe('a number that is shown', () => {
  it('has one decimal as points, none where it is whole', () => {
    expect([3, 2.54, 2.96, 0].map(pointsText)).toEqual(['3', '2.5', '3', '0'])
  })

  it('has its thousands apart as a count', () => expect(counted(1234567)).toBe('1,234,567'))

  it('is off by half of its last decimal at the most', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        fc.integer({ min: 0, max: 6 }),
        (v, d) => Math.abs(roundedTo(v, d) - v) <= 0.5 * 10 ** -d + 1e-9,
      ),
    )
  })
})
