import { infiniteQueryOptions, keepPreviousData, queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'
import { captureOf } from '../../shared/importing'
import { whenDone } from '../../shared/useJob'
import type { Call } from '../../ui/marks'

export type Reference = Schemas['ReferenceOut']
export type ReferenceDocument = Schemas['DocumentBody']
export type ShelfItem = Schemas['ShelfItemOut']
export type Mapping = Schemas['MappingIn']
export type Upload = Schemas['UploadOut']

export interface Wanted {
  words: string
  circuit: string
  state: '' | ReferenceState
  call: '' | Call
  collection: string
}

export type ReferenceState = 'draft' | 'published' | 'retired'

/** Pages of the shelf, the next asked for where the last one ends. */
export const shelfQuery = (wanted: Wanted) =>
  infiniteQueryOptions({
    queryKey: ['shelf', wanted],
    queryFn: ({ pageParam }) =>
      unwrap(api.GET('/api/references', { params: { query: { ...wanted, after: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const shown = pages.reduce((sum, page) => sum + page.items.length, 0)
      return last.items.length > 0 && shown < last.total ? shown : undefined
    },
    placeholderData: keepPreviousData,
  })

const at = (reference_id: number) => ({ params: { path: { reference_id } } })

export const referenceQuery = (id: number) =>
  queryOptions({
    queryKey: ['reference', id],
    queryFn: () => unwrap(api.GET('/api/references/{reference_id}', at(id))),
  })

export const paradeQuery = (id: number, revision: number) =>
  queryOptions({
    queryKey: ['parade', id, revision],
    queryFn: () => unwrap(api.GET('/api/references/{reference_id}/parade', at(id))),
    staleTime: Infinity,
  })

export const corridorQuery = (id: number, revision: number) =>
  queryOptions({
    queryKey: ['reference', id, 'corridor', revision],
    queryFn: () => unwrap(api.GET('/api/references/{reference_id}/corridor', at(id))),
  })

export const alikeTo = (id: number, query: { lane: string; from: number; to: number }) =>
  unwrap(api.GET('/api/references/{reference_id}/alike', { params: { ...at(id).params, query } }))

export type PairHow = Schemas['PairIn']['how'] & string

/** References of a circuit, for choosing one to draw together with another. */
export const sameCircuitQuery = (circuit: string) =>
  queryOptions({
    queryKey: ['shelf', 'of-circuit', circuit],
    queryFn: () => unwrap(api.GET('/api/references', { params: { query: { circuit, size: 200 } } })),
  })

export const setPair = (id: number, body: Schemas['PairIn']) =>
  unwrap(api.PUT('/api/references/{reference_id}/pair', { ...at(id), body }))

export const secondLook = (id: number, body: Schemas['ReviewIn']) =>
  unwrap(api.POST('/api/references/{reference_id}/review', { ...at(id), body }))

export const collectionsQuery = queryOptions({
  queryKey: ['shelf', 'collections'],
  queryFn: () => unwrap(api.GET('/api/references/collections')),
})

export const collect = (body: Schemas['CollectIn']) =>
  unwrap(api.POST('/api/references/collections', { body }))

export const saveReference = (id: number, body: Schemas['ReferenceSaveIn']) =>
  unwrap(api.PUT('/api/references/{reference_id}', { ...at(id), body }))

export const publishReference = (id: number) =>
  unwrap(api.POST('/api/references/{reference_id}/publish', at(id)))

export const retireReference = (id: number) =>
  unwrap(api.POST('/api/references/{reference_id}/retire', at(id)))

export const setReach = (id: number, body: Schemas['ReachIn']) =>
  unwrap(api.PUT('/api/references/{reference_id}/reach', { ...at(id), body }))

/** References that hold the very samples of a capture: it was brought in before. */
export const sameQuery = (capture_id: number) =>
  queryOptions({
    queryKey: ['same', capture_id],
    queryFn: () => unwrap(api.GET('/api/references/same/{capture_id}', { params: { path: { capture_id } } })),
  })

export const copyReference = (id: number) => unwrap(api.POST('/api/references/{reference_id}/copy', at(id)))

/** A recording on the trainer, also where a worker takes its time for it. */
export async function recordOnTrainer(body: Schemas['TrainerRecordIn']): Promise<Schemas['CaptureOut']> {
  const { capture, job } = await unwrap(api.POST('/api/captures/trainer', { body }))
  if (capture) return capture
  if (!job) throw new Error('Nothing was recorded; try again.')
  const made = (await whenDone(job)).result as { capture_id: number }
  return captureOf(made.capture_id)
}

export const makerFactsQuery = queryOptions({
  queryKey: ['maker-facts'],
  queryFn: () => unwrap(api.GET('/api/maker-facts')),
  staleTime: Infinity,
})

export const vehiclesQuery = queryOptions({
  queryKey: ['vehicles'],
  queryFn: () => unwrap(api.GET('/api/vehicles')),
})

export const ownFleet = (id: number, reading: string) =>
  unwrap(
    api.GET('/api/references/{reference_id}/fleet', { params: { ...at(id).params, query: { reading } } }),
  )

export type StepKind = Schemas['StepIn']['kind']
export type Step = Schemas['StepIn']

export const setSteps = (id: number, revision: number, steps: Step[]) =>
  unwrap(api.PUT('/api/references/{reference_id}/steps', { ...at(id), body: { revision, steps } }))

export const splitOff = (id: number, from: number, to: number) =>
  unwrap(api.POST('/api/references/{reference_id}/split', { ...at(id), body: { from, to } }))

export const compareQuery = (ids: string) =>
  queryOptions({
    queryKey: ['shelf', 'compare', ids],
    queryFn: () => unwrap(api.GET('/api/references/compare', { params: { query: { ids } } })),
  })

export type Comparison = Schemas['CompareOut']

export const changesQuery = (id: number, revision: number) =>
  queryOptions({
    queryKey: ['reference', id, 'changes', revision],
    queryFn: () => unwrap(api.GET('/api/references/{reference_id}/changes', at(id))),
  })

/** Where the last sheet of the circuit that was worked on, other than this, comes from; null where there is none. */
export async function lastProvenance(id: number, circuit: string) {
  const query = { circuit, size: 5 }
  const { items } = await unwrap(api.GET('/api/references', { params: { query } }))
  return items.find((item) => item.id !== id)?.provenance ?? null
}
