/** What a shelf is asked for. */
import type { Call } from '../../ui/marks'
import type { ReferenceState } from './queries'

/** Stands for no filter in a choice, which has no empty key. */
export const ANY = 'any'

export interface Filters {
  words: string
  circuit: string
  state: string
  call: string
  collection: string
}

export const WHOLE_SHELF: Filters = { words: '', circuit: ANY, state: ANY, call: ANY, collection: ANY }

export const narrowed = (filters: Filters, change: Partial<Filters>): Filters => ({ ...filters, ...change })

const chosen = (key: string): string => (key === ANY ? '' : key)

/** The same as the server is asked. */
export const asked = (filters: Filters) => ({
  words: filters.words.trim(),
  circuit: chosen(filters.circuit),
  state: chosen(filters.state) as '' | ReferenceState,
  call: chosen(filters.call) as '' | Call,
  collection: chosen(filters.collection),
})

export const isFiltered = (filters: Filters): boolean => Object.values(asked(filters)).some(Boolean)
