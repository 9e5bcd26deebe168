import { describe, expect, it } from 'vitest'
import { asked, isFiltered, narrowed, WHOLE_SHELF } from '../src/features/shelf/filters'
import { acted, opened, type SheetEvent } from '../src/features/shelf/sheetState'
import { tagMarks, toldPhases } from '../src/features/shelf/told'
import { cylindersOf, lastsS, oddOne, orderFor, planFor, planned } from '../src/features/shelf/trainerPlan'

const after = (...events: SheetEvent[]) => events.reduce(acted, opened('closed_v'))

describe('a sheet', () => {
  it('turns to what was chosen on the trace', () => {
    expect(after({ type: 'turnedTo', tab: 'limits' }, { type: 'selected', id: 'tag-2' }).tab).toBe('tags')
    expect(after({ type: 'turnedTo', tab: 'limits' }, { type: 'selected', id: 'finding-0' }).tab).toBe(
      'readings',
    )
    expect(after({ type: 'turnedTo', tab: 'limits' }, { type: 'selected', id: null }).tab).toBe('limits')
  })

  it('sets a limit on the reading that was chosen, unless one is being typed', () => {
    const chosen: SheetEvent = { type: 'selected', id: 'reading-open_v' }
    expect(after(chosen).limit.reading).toBe('open_v')
    const draft = { ...opened('closed_v').limit, low: '0,3' }
    expect(after({ type: 'limitTyped', draft }, chosen).limit).toEqual(draft)
  })

  it('begins a tag anew each time its key is pressed', () => {
    const twice = after({ type: 'tagBegun' }, { type: 'turnedTo', tab: 'phases' }, { type: 'tagBegun' })
    expect([twice.tab, twice.begin]).toEqual(['tags', 2])
  })

  it('goes back to the strip with the event that was chosen', () => {
    const shown = after(
      { type: 'laidOver', on: true },
      { type: 'eventShown', course: { from: 1, to: 2, number: 7 }, lane: 'signal' },
    )
    expect(shown.laidOver).toBe(false)
    expect(shown.event).toMatchObject({ from: 1, to: 2, label: 'Event 7' })
    expect(shown.selected).toBe(shown.event?.id)
  })

  it('keeps a title apart while it is typed', () => {
    expect(after({ type: 'titleTyped', title: 'x' }).title).toBe('x')
    expect(after({ type: 'titleTyped', title: 'x' }, { type: 'titleTyped', title: null }).title).toBeNull()
  })
})

describe('what an author told', () => {
  const found = [
    { name: 'closed', from: 0, to: 1 },
    { name: 'opening', from: 1, to: 2 },
    { name: 'closed', from: 4, to: 5 },
  ]

  it('stands for all phases of its name, the others as they were told', () => {
    const told = [
      { name: 'open', from: 2, to: 4 },
      { name: 'closed', from: 9, to: 9.5 },
    ]
    expect(toldPhases(found, told, 2, { from: 4.2, to: 5 })).toEqual([
      { name: 'open', from: 2, to: 4 },
      { name: 'closed', from: 0, to: 1 },
      { name: 'closed', from: 4.2, to: 5 },
    ])
    expect(toldPhases(found, told, 3, { from: 0, to: 1 })).toBeNull()
  })

  it('is marked on the strip in its order', () => {
    const marks = tagMarks([{ from: 1, to: 2, lane: 'signal', text: 'Here' }])
    expect(marks).toEqual([{ id: 'tag-0', kind: 'tag', from: 1, to: 2, lane: 'signal', label: 'Here' }])
  })
})

describe('filters', () => {
  it('ask for nothing that was not chosen', () => {
    expect(asked(WHOLE_SHELF)).toEqual({ words: '', circuit: '', state: '', call: '', collection: '' })
    expect(isFiltered(WHOLE_SHELF)).toBe(false)
    expect(isFiltered(narrowed(WHOLE_SHELF, { words: '   ' }))).toBe(false)
    const narrow = narrowed(narrowed(WHOLE_SHELF, { call: 'faulty' }), { words: ' idle ' })
    expect(asked(narrow)).toMatchObject({ words: 'idle', call: 'faulty', state: '' })
    expect(isFiltered(narrow)).toBe(true)
  })
})

describe('a recording on the trainer', () => {
  const trainer = {
    rate_hz: 1000,
    range_v: 5,
    manoeuvres: [
      { key: 'sweep', title: 'Sweep', duration_s: 32, sweeps: true },
      { key: 'idle', title: 'Idle', duration_s: 9, sweeps: false },
    ],
    layouts: [],
    rows: [
      { key: '1-2-3', text: '3' },
      { key: '1-3-4-2', text: '4' },
    ],
  } as unknown as Parameters<typeof planFor>[0]
  const plan = planFor(trainer)

  it('lasts as long as its sweeps, or as what is done', () => {
    expect(lastsS(plan, trainer)).toBe(2 * (2 * 6 + 2) + 6)
    expect(lastsS(planned(plan, { manoeuvre: 'idle' }), trainer)).toBe(9)
  })

  it('has its fault on a cylinder that the engine has', () => {
    expect(cylindersOf('1-3-4-2')).toEqual([1, 2, 3, 4])
    expect(oddOne(planned(plan, { cylinder: '4' }))).toBe('4')
    expect(oddOne(planned(plan, { cylinder: '6' }))).toBe('1')
    expect(orderFor(planned(plan, { cylinder: '6', fault: 'weak' }), { code: 'c', trainer })).toMatchObject({
      circuit: 'c',
      cylinder: 1,
      fault: 'weak',
      firing_order: '1-3-4-2',
      rate_hz: 1000,
    })
  })
})
