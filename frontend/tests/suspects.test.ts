import { describe, expect, it } from 'vitest'
import {
  changed,
  FRESH,
  fromFile,
  seenIn,
  type CaseState,
  type Evidence,
} from '../src/features/suspects/caseState'
import { place, words } from '../src/features/suspects/words'

const drop: Evidence = {
  test: 'cylinder-drop',
  conditions: ['idle'],
  rows: [{ disabled_rpm: '785', cylinder: '1', before_rpm: '790' }],
}
const coil: Evidence = {
  test: 'coil-primary-current',
  conditions: ['idle'],
  answer: {
    call: 'faulty',
    findings: [
      { code: 'missing_ramp', kind: 'fault', cylinder: 2 },
      { code: 'missing_ramp', kind: 'fault', cylinder: 2 },
      { code: 'clamp_drift', kind: 'note', cylinder: null },
    ],
    readings: [],
  },
}
const two = [drop, coil].reduce((s: CaseState, evidence) => changed(s, { do: 'add', evidence }), FRESH)

describe('a case', () => {
  it('keeps evidence in its order, with its captures beside it', () => {
    expect(two.document.evidence).toEqual([drop, coil])
    expect(two.captures).toEqual([null, null])
    expect(changed(two, { do: 'remove', at: 0 }).document.evidence).toEqual([coil])
    expect(changed(two, { do: 'remove', at: 1 }).captures).toEqual([null])
  })

  it('keeps what was written down when its vehicle is put right, and gives up what was drawn for another', () => {
    const drawn = { cause: 'coil-weak@1', title: 'Coil weak', seed: 5, shown: false }
    const put = changed({ ...two, drawn }, { do: 'vehicle', set: { charging: 'commanded' } })
    expect(put.document.evidence).toEqual([drop, coil])
    expect(put.captures).toEqual([null, null])
    expect(put.drawn).toBeNull()
    const diesel = changed(two, { do: 'vehicle', set: { fuel: 'diesel' } }).document
    expect(diesel.evidence).toEqual([drop, coil])
    expect(diesel.vehicle.ignition).toBe('none')
    expect(diesel.vehicle.injection).toMatch(/^rail/)
    const order = {
      ...FRESH,
      document: { ...FRESH.document, vehicle: { ...FRESH.document.vehicle, firing_order: '1-3-4-2' } },
    }
    expect(
      changed(order, { do: 'vehicle', set: { cylinders: 6 } }).document.vehicle.firing_order,
    ).toBeUndefined()
    expect(changed(order, { do: 'vehicle', set: { oxygen: 'none' } }).document.vehicle.firing_order).toBe(
      '1-3-4-2',
    )
  })

  it('is drawn with its complaint and without evidence, and shows its cause when asked', () => {
    const drawn = { cause: 'coil-weak@1', title: 'Coil weak', seed: 5, shown: false }
    const state = changed(two, { do: 'drawn', drawn, symptoms: ['misfire'], when: ['load'] })
    expect(state.document.complaint).toEqual({ symptoms: ['misfire'], when: ['load'] })
    expect(state.document.evidence).toEqual([])
    expect(changed(state, { do: 'show' }).drawn?.shown).toBe(true)
    expect(changed(two, { do: 'show' }).drawn).toBeNull()
  })

  it('goes into a file and comes back', () => {
    expect(fromFile(JSON.stringify(two.document))?.document).toEqual(two.document)
    for (const text of ['', '[]', 'null', '{"vehicle": 3}', '{']) expect(fromFile(text)).toBeNull()
  })
})

describe('what was seen', () => {
  it('names findings once, and rows by their columns', () => {
    expect(seenIn(coil, [])).toBe('missing ramp, cylinder 2')
    expect(seenIn(drop, ['cylinder', 'before_rpm', 'disabled_rpm'])).toBe('1 790 785')
  })

  it('tells sound from cannot tell', () => {
    const answer = { call: 'inconclusive', findings: [], readings: [] }
    expect(seenIn({ ...coil, answer }, [])).toBe('cannot tell')
    expect(seenIn({ ...coil, answer: { ...answer, call: 'sound' } }, [])).toBe('sound')
  })
})

describe('words', () => {
  it('reads keys and places', () => {
    expect(words('high-idle')).toBe('high idle')
    expect([place('coil@2'), place('1'), place('1+4'), place('A'), place(null)]).toEqual([
      'coil 2',
      'cylinder 1',
      'cylinder 1+4',
      'reference A',
      '',
    ])
  })
})
