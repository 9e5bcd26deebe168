import { describe, expect, it } from 'vitest'
import { criteriaOf, pointsOf, sumOf, worthOf } from '../src/features/cards/points'
import { figure, limitText, zoneText } from '../src/shared/limits'
import { slipsOf, slipWords } from '../src/shared/slips'
import { stepTitle, whose } from '../src/shared/steps'

describe('a limit in words', () => {
  it('is at least, at most, or from one to the other', () => {
    expect(limitText({ low: 0.5, high: 1 }, 'V')).toBe('0.5 to 1 V')
    expect(limitText({ low: 3.8, high: null }, 'V')).toBe('at least 3.8 V')
    expect(limitText({ low: null, high: 0 }, '')).toBe('at most 0')
  })

  it('has no binary dust', () => expect(figure(0.45 + 0.015)).toBe('0.465'))

  it('says where its marginal zone ends, on the sides that it has', () => {
    const both = { low: 0.5, high: 1, basis: 'maker', zone: 0.025 }
    expect(zoneText(both, 'V')).toBe('marginal beyond it down to 0.475 and up to 1.025 V, outside further on')
    expect(zoneText({ ...both, low: null }, 'V')).toBe('marginal beyond it up to 1.025 V, outside further on')
    expect(zoneText({ ...both, zone: 0 }, 'V')).toBe('there is no marginal zone')
  })
})

describe('slips', () => {
  it('are told by name, each once, three at the most', () => {
    expect(slipWords('factor_1000')).toBe('power of ten')
    expect(slipWords('factor_-1')).toBe('wrong sign')
    expect(slipsOf({ slips: ['no_peg', 'factor_10', 'factor_1000', 'inverted', 'overlooked'] })).toBe(
      'no peg, power of ten, divided the wrong way round',
    )
  })
})

describe('a step', () => {
  const circuit = { readings: [{ id: 'burn_ms', title: 'Burn time' }] } as Parameters<typeof stepTitle>[1]
  const step = (over: object) => ({ id: 's', kind: 'reading', ...over }) as Parameters<typeof stepTitle>[0]

  it('is called by what it asks, of whom, and beside what', () => {
    expect(stepTitle(step({ reading: 'burn_ms', cylinder: 3 }), circuit)).toBe('Read: burn time, cylinder 3')
    expect(stepTitle(step({ kind: 'compare', reading: 'burn_ms', against: 'siblings' }), circuit)).toBe(
      'Compare: burn time beside the other cylinders',
    )
    expect(stepTitle(step({ kind: 'record', of: 'drop-test' }), circuit)).toBe('Record, drop test')
    expect(stepTitle(step({ kind: 'call' }), circuit)).toBe('Your call')
    expect(whose({ cylinder: 2, event: 7 } as Parameters<typeof whose>[0])).toBe('cylinder 2, event 7')
  })
})

describe('points of a card', () => {
  const maker = {
    criteria: [
      { key: 'capture_quality', skill: 'capture', points: 4 },
      { key: 'reading', skill: 'measure', points: 3 },
      { key: 'verdict', skill: 'conclude', points: 4 },
      { key: 'ruled_out', skill: 'conclude', points: 2 },
      { key: 'explain', skill: 'conclude', points: 5 },
    ],
  } as unknown as Parameters<typeof sumOf>[1]
  const card = (over: object = {}) =>
    ({
      mode: 'exercise',
      source: { kind: 'trainer' },
      points: { reading: 2 },
      steps: [
        { id: 'c', kind: 'capture' },
        { id: 'a', kind: 'reading' },
        { id: 'b', kind: 'reading' },
        { id: 'd', kind: 'call' },
        { id: 'e', kind: 'explain' },
      ],
      ...over,
    }) as unknown as Parameters<typeof sumOf>[0]

  it('part into those for reading the trace and those around it', () => {
    expect(sumOf(card(), maker)).toEqual({ around: 4, trace: 2 + 2 + 4 + 5 })
  })

  it('are none for what is given, nor for words that nobody reads', () => {
    expect(sumOf(card({ source: { kind: 'shelf' } }), maker).around).toBe(0)
    const explain = maker.criteria[4]
    expect(explain && worthOf(card({ mode: 'practice' }), explain)).toBe(0)
  })

  it('count what a call asks for only where it does', () => {
    const [call, asks] = [card().steps[3], { ...card().steps[3], asks: ['ruled_out'] }]
    if (!call) throw new Error('no call')
    expect(criteriaOf(call, maker).map((c) => c.key)).toEqual(['verdict'])
    expect(pointsOf(card(), asks as typeof call, maker)).toBe(6)
  })
})
