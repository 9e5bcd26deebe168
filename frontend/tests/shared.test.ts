import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { alignments, FIRST, shiftBy } from '../src/shared/alignment'
import { dayText, isLater } from '../src/ui/time'
import { ticked } from '../src/ui/Tick'

const phase = (name: string, from: number) => ({ name, from })

describe('a record laid over another', () => {
  const own = { startS: 0, phases: [phase('closed', 0), phase('opening', 2), phase('open', 3)] }
  const theirs = { startS: 10, phases: [phase('opening', 15), phase('open', 17)] }

  it('offers the phases that both have, then the begin', () => {
    expect(alignments(own.phases, [theirs.phases]).map((o) => o.key)).toEqual([
      FIRST,
      'phase opening',
      'phase open',
      'begin',
    ])
    expect(alignments(own.phases, [[phase('idle', 1)]]).map((o) => o.key)).toEqual(['begin'])
  })

  it('is moved so that what was chosen falls together', () => {
    expect(shiftBy('phase open', own, theirs)).toBe(3 - 17)
    expect(shiftBy(FIRST, own, theirs)).toBe(2 - 15)
    expect(shiftBy('begin', own, theirs)).toBe(-10)
    expect(shiftBy('phase closed', own, theirs)).toBe(-10)
  })

  it('does not go by a phase that was under way when its record began', () => {
    const early = { startS: 0, phases: [phase('idle', 0), phase('snap', 5)] }
    const late = { startS: 0, phases: [phase('idle', 3), phase('snap', 9)] }
    expect(shiftBy(FIRST, early, late)).toBe(5 - 9)
  })
})

describe('a day', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    vi.setSystemTime(new Date(2026, 2, 10, 23, 30))
  })
  afterEach(() => void vi.useRealTimers())
  const on = (day: number, hour = 12) => new Date(2026, 2, day, hour).toISOString()

  it('is told as people say it, by the calendar and not by hours', () => {
    expect([on(10, 0), on(11, 0), on(9, 23), on(13), on(2)].map(dayText)).toEqual([
      'today',
      'tomorrow',
      'yesterday',
      'in 3 days',
      '8 days ago',
    ])
    expect(dayText(on(30))).toBe('30 Mar')
    expect(dayText(null)).toBe('no date')
  })

  it('is later from the next day on', () => {
    expect([isLater(on(10, 23)), isLater(on(11, 0)), isLater(on(1)), isLater(null)]).toEqual([
      false,
      true,
      false,
      false,
    ])
  })
})

describe('a list of ticks', () => {
  it('takes a key in and out and keeps the order of the others', () => {
    expect(ticked(['a', 'b'], 'c', true)).toEqual(['a', 'b', 'c'])
    expect(ticked(['a', 'b', 'c'], 'b', false)).toEqual(['a', 'c'])
  })
})
