// @vitest-environment happy-dom
import fc from 'fast-check'
import { beforeEach, describe, expect, it } from 'vitest'
import { evidenceMarks, nameMarks } from '../src/features/sitting/given'
import {
  afterRefusal,
  forgetLate,
  keep,
  keepLate,
  kept,
  late,
  saved,
  typed,
  without,
} from '../src/features/sitting/outbox'
import { keepOther, know, overwritten, putAway, settle } from '../src/features/sitting/overwritten'
import { thinned } from '../src/features/sitting/trainer/moves'
import { widened } from '../src/features/sitting/trainer/useFrames'

beforeEach(() => localStorage.clear())

describe('answers on their way', () => {
  it('wait until just what was sent is saved', () => {
    const [one, two] = [{ value: 1 }, { value: 2 }]
    const waiting = typed(typed({}, 'a', one), 'b', one)
    expect(saved(waiting, 'a', one)).toEqual({ b: one })
    // Typed again while the first was on its way: that is still to be sent.
    expect(saved(typed(waiting, 'a', two), 'a', one)).toEqual({ a: two, b: one })
    expect(without(waiting, 'c')).toEqual(waiting)
  })

  it('survive a reload, whatever was typed', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.record({ words: fc.string() })), (waiting) => {
        keep(7, waiting)
        expect(kept(7)).toEqual(JSON.parse(JSON.stringify(waiting)))
        expect(kept(8)).toEqual({})
      }),
    )
    keep(7, {})
    expect(localStorage.length).toBe(0)
  })

  it('do not break a page by what stands in the store', () => {
    localStorage.setItem('tracebench-sitting-7', '{broken')
    expect([kept(7), late(7)]).toEqual([{}, {}])
  })

  it('are kept beside the sitting where nothing more can be sent, until they are put away', () => {
    keepLate(7, { a: { value: 1 } })
    keepLate(7, { b: { value: 2 } })
    keep(7, { c: { value: 3 } })
    expect(Object.keys(late(7)).sort()).toEqual(['a', 'b', 'c'])
    forgetLate(7)
    expect(late(7)).toEqual({})
  })

  it('go on top of another window, wait for the network, and are dropped where they can never be taken', () => {
    expect([afterRefusal(409, true), afterRefusal(409, false), afterRefusal(422, true)]).toEqual([
      'again',
      'late',
      'dropped',
    ])
    for (const status of [0, 500, 503, 429]) expect(afterRefusal(status, true), String(status)).toBe('kept')
  })
})

describe('what another window answered', () => {
  it('is kept where this one writes over it unseen', () => {
    know(1, 'a', { value: 1 })
    keepOther(1, 'a', { value: 3 }, { value: 2 })
    expect(overwritten(1)).toEqual({ a: { value: 2 } })
    putAway(1, 'a')
    expect(overwritten(1)).toEqual({})
  })

  it('is no other where it was known, is the same, or is empty', () => {
    know(1, 'a', { value: 1 })
    keepOther(1, 'a', { value: 3 }, { value: 1 })
    keepOther(1, 'b', { value: 3 }, { value: 3 })
    keepOther(1, 'c', { value: 3 }, { pegs: [] })
    keepOther(1, 'd', { value: 3 }, undefined)
    expect(overwritten(1)).toEqual({})
    settle(1, 'a')
    keepOther(1, 'a', { value: 3 }, { value: 1 })
    expect(Object.keys(overwritten(1))).toEqual(['a'])
  })
})

describe('hands on the trainer', () => {
  const move = (control: string, at_s: number, value = 0) => ({ control, at_s, value })

  it('are one move where a drag goes on, and lose none of the others', () => {
    const drag = [move('travel', 0, 0), move('travel', 0.02, 0.4), move('travel', 0.04, 0.7)]
    const made = drag.reduce(thinned, [])
    expect(made).toEqual([move('travel', 0, 0.4), move('travel', 0.04, 0.7)])
    expect([move('key', 0, 1), move('key', 0.01, 0)].reduce(thinned, [])).toHaveLength(2)
  })

  it('widen the scale and never narrow it', () => {
    const frame = (low: number, high: number) => ({
      lanes: [{ name: 'signal', unit: 'V', low: [low], high: [high] }],
    })
    const once = widened({}, frame(1, 2))
    expect(widened(once, frame(1.2, 1.5))).toEqual({ signal: [1, 2] })
    expect(widened(once, frame(-1, 5))).toEqual({ signal: [-1, 5] })
  })
})

describe('what a learner put on the trace', () => {
  it('is marked with its number and name', () => {
    expect(evidenceMarks({ call: { evidence: [[1, 2], [4]] } })).toMatchObject([
      { from: 1, to: 2, label: 'Your evidence 1' },
      { from: 4, to: 4, label: 'Your evidence 2' },
    ])
    expect(evidenceMarks({})).toEqual([])
    const steps = [
      { id: 'n', kind: 'name' },
      { id: 'r', kind: 'reading' },
    ] as Parameters<typeof nameMarks>[0]
    const answers = { n: { marks: { spark_line: [0.5] } }, r: { marks: { other: [1] } } }
    expect(nameMarks(steps, answers, 'secondary')).toMatchObject([
      { from: 0.5, label: 'spark line', lane: 'secondary' },
    ])
  })
})
