import type { Answer } from '../../shared/facts'

/** A case as it is written here, in the very shape that `tracebench suspects` reads, and what can be done with it. */

export interface Vehicle {
  fuel: string
  cylinders: number
  firing_order?: string
  ignition: string
  injection: string
  throttle: string
  load_sensor: string[]
  oxygen: string
  charging: string
}

export interface SeenFinding {
  code: string
  kind: string
  cylinder: number | null
  lane?: string | null
}

export interface Evidence {
  test: string
  at?: string
  conditions: string[]
  answer?: { call: string; findings: SeenFinding[]; readings: unknown[] }
  rows?: Record<string, string>[]
}

export interface CaseDocument {
  vehicle: Vehicle
  complaint: { symptoms: string[]; when: string[] }
  renewed: string[]
  codes: string[]
  evidence: Evidence[]
}

/** A cause that the trainer has and nobody was told of. */
export interface Drawn {
  cause: string
  title: string
  seed: number
  shown: boolean
}

export interface CaseState {
  document: CaseDocument
  drawn: Drawn | null
  /** The trainer's captures, beside the evidence that they are; null where there is none. */
  captures: (Captured | null)[]
}

/** A capture that was kept, with the whole answer to it. */
export interface Captured {
  id: number
  answer: Answer
}

export type Deed =
  | { do: 'vehicle'; set: Partial<Vehicle> }
  | { do: 'complaint'; set: Partial<CaseDocument['complaint']> }
  | { do: 'renewed' | 'codes'; set: string[] }
  | { do: 'add'; evidence: Evidence; capture?: Captured | null }
  | { do: 'remove'; at: number }
  | { do: 'drawn'; drawn: Drawn; symptoms: string[]; when: string[] }
  | { do: 'show' }
  | { do: 'open'; state: CaseState }

export const FRESH: CaseState = {
  document: {
    vehicle: {
      fuel: 'petrol',
      cylinders: 4,
      ignition: 'coil-on-plug',
      injection: 'port',
      throttle: 'cable',
      load_sensor: ['manifold-pressure'],
      oxygen: 'switching',
      charging: 'plain',
    },
    complaint: { symptoms: [], when: [] },
    renewed: [],
    codes: [],
    evidence: [],
  },
  drawn: null,
  captures: [],
}

/** A vehicle of another fuel has another ignition and injection. */
const OF_FUEL: Record<string, Partial<Vehicle>> = {
  diesel: {
    ignition: 'none',
    injection: 'rail-solenoid',
    throttle: 'electronic',
    oxygen: 'none',
    load_sensor: ['airflow-voltage'],
  },
  petrol: {
    ignition: 'coil-on-plug',
    injection: 'port',
    throttle: 'cable',
    oxygen: 'switching',
    load_sensor: ['manifold-pressure'],
  },
}

/** The vehicle with something else set: what cannot go with it gives way. What was written down stays. */
function withVehicle(document: CaseDocument, set: Partial<Vehicle>): CaseDocument {
  const byFuel = set.fuel && set.fuel !== document.vehicle.fuel ? OF_FUEL[set.fuel] : {}
  const vehicle = { ...document.vehicle, ...byFuel, ...set }
  if (set.cylinders && set.cylinders !== document.vehicle.cylinders) delete vehicle.firing_order
  return { ...document, vehicle }
}

export function changed(state: CaseState, deed: Deed): CaseState {
  const { document } = state
  switch (deed.do) {
    case 'vehicle':
      // What the trainer has is of the vehicle that it was drawn for.
      return { ...state, document: withVehicle(document, deed.set), drawn: null }
    case 'complaint':
      return { ...state, document: { ...document, complaint: { ...document.complaint, ...deed.set } } }
    case 'renewed':
      return { ...state, document: { ...document, renewed: deed.set } }
    case 'codes':
      return { ...state, document: { ...document, codes: deed.set } }
    case 'add':
      return {
        ...state,
        document: { ...document, evidence: [...document.evidence, deed.evidence] },
        captures: [...state.captures, deed.capture ?? null],
      }
    case 'remove':
      return {
        ...state,
        document: { ...document, evidence: document.evidence.filter((_, k) => k !== deed.at) },
        captures: state.captures.filter((_, k) => k !== deed.at),
      }
    case 'drawn':
      return {
        document: {
          ...document,
          complaint: { symptoms: deed.symptoms, when: deed.when },
          evidence: [],
          renewed: [],
          codes: [],
        },
        drawn: deed.drawn,
        captures: [],
      }
    case 'show':
      return { ...state, drawn: state.drawn && { ...state.drawn, shown: true } }
    case 'open':
      return deed.state
  }
}

/** What was seen, in a few words: findings with their cylinders once each, or nothing found; rows by their columns. */
export function seenIn(evidence: Evidence, columns: string[]): string {
  if (evidence.rows)
    return evidence.rows
      .map((r) =>
        columns
          .map((c) => r[c] ?? '')
          .filter(Boolean)
          .join(' '),
      )
      .join(' · ')
  const answer = evidence.answer
  const faults = (answer?.findings ?? []).filter((f) => f.kind === 'fault')
  const words = [
    ...new Set(
      faults.map((f) => `${f.code.replaceAll('_', ' ')}${f.cylinder ? `, cylinder ${f.cylinder}` : ''}`),
    ),
  ]
  if (words.length) return words.join('; ')
  return answer?.call === 'inconclusive' ? 'cannot tell' : 'sound'
}

/** The case of a file, or null where the file holds none. What is wrong inside is said by the server. */
export function fromFile(text: string): CaseState | null {
  try {
    const found = JSON.parse(text) as Partial<CaseDocument> | null
    if (!found || typeof found !== 'object' || typeof found.vehicle !== 'object') return null
    const fresh = FRESH.document
    const complaint = { ...fresh.complaint, ...found.complaint }
    const vehicle = { ...fresh.vehicle, ...found.vehicle }
    const document = { ...fresh, ...found, vehicle, complaint }
    return { document, drawn: null, captures: document.evidence.map(() => null) }
  } catch {
    return null
  }
}

const place = (personId: number) => `trace-bench-case-${personId}`

/** The case that this person left in this browser. */
export function kept(personId: number): CaseState {
  try {
    const text = window.localStorage.getItem(place(personId))
    return text ? { ...FRESH, ...(JSON.parse(text) as CaseState) } : FRESH
  } catch {
    return FRESH
  }
}

export function keep(personId: number, state: CaseState): void {
  try {
    window.localStorage.setItem(place(personId), JSON.stringify(state))
  } catch {
    // A device that keeps nothing still shows the case.
  }
}
