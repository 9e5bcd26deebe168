import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'
import { forgetKept } from '../../offline/keep'
import { hasEvents, type Circuit } from '../../shared/facts'
import { whenDone } from '../../shared/useJob'

export type Sitting = Schemas['SittingOut']
export type StepAnswer = Schemas['AnswerBody']
export type Step = Sitting['card']['steps'][number]
export type RecordSettings = Schemas['RecordIn']

const at = (sitting_id: number) => ({ params: { path: { sitting_id } } })

export const sittingQuery = (id: number) =>
  queryOptions({
    queryKey: ['sitting', id],
    queryFn: () => unwrap(api.GET('/api/sittings/{sitting_id}', at(id))),
  })

/** Only for circuits whose captures are rows of events, once released. */
export const paradeQuery = (sitting: Sitting, circuit: Circuit) =>
  queryOptions({
    queryKey: ['parade-of-sitting', sitting.id],
    queryFn: () => unwrap(api.GET('/api/sittings/{sitting_id}/parade', at(sitting.id))),
    enabled: sitting.capture_id !== null && sitting.feedback !== null && hasEvents(circuit),
    staleTime: Infinity,
    retry: false,
  })

/** Of a released sitting whose card has a reference. */
export const corridorQuery = (sitting: Sitting) =>
  queryOptions({
    queryKey: ['corridor-of-sitting', sitting.id],
    queryFn: () => unwrap(api.GET('/api/sittings/{sitting_id}/corridor', at(sitting.id))),
    enabled: sitting.capture_id !== null && (sitting.feedback?.reference_capture_id ?? null) !== null,
    staleTime: Infinity,
    retry: false,
  })

export const beginSitting = (card_id: number) =>
  unwrap(api.POST('/api/cards/{card_id}/sittings', { params: { path: { card_id } } }))

export const takeHint = (id: number, step: string) =>
  unwrap(api.POST('/api/sittings/{sitting_id}/hint', { ...at(id), body: { step } }))

export const saveAnswer = (id: number, body: Schemas['AnswerIn']) =>
  unwrap(api.PUT('/api/sittings/{sitting_id}/answer', { ...at(id), body }))

export const recordOnTrainer = (id: number, body: RecordSettings): Promise<Sitting> =>
  unwrap(api.POST('/api/sittings/{sitting_id}/record', { ...at(id), body })).then(onceRecorded)

/** The sitting with what was recorded for it, also where a worker takes its time for that. */
async function onceRecorded({ sitting, job }: Schemas['RecordedOut']): Promise<Sitting> {
  if (!job) return sitting
  await whenDone(job)
  return unwrap(api.GET('/api/sittings/{sitting_id}', at(sitting.id)))
}

/** When the time of a sitting is up: an instructor may give more while it runs. */
export const timeOf = (id: number) => unwrap(api.GET('/api/sittings/{sitting_id}/time', at(id)))

export const meterAlong = (id: number) => unwrap(api.GET('/api/sittings/{sitting_id}/meter', at(id)))

export const takeCapture = (id: number, capture_id: number) =>
  unwrap(api.POST('/api/sittings/{sitting_id}/capture', { ...at(id), body: { capture_id } }))

export const askAgain = (id: number, words: string) =>
  unwrap(api.POST('/api/sittings/{sitting_id}/second-look', { ...at(id), body: { words } }))

export const handIn = (id: number) =>
  unwrap(
    api.POST('/api/sittings/{sitting_id}/hand-in', { ...at(id), body: { incomplete_ok: true } }),
  ).finally(() => void forgetKept())

export type RunSettings = Schemas['RunSettingsIn']
export type RunState = Schemas['RunOut']
export type Move = Schemas['MoveIn']

/** What the scope shows of a run: least and most by columns. */
export interface Frame {
  run: number
  elapsed_s: number
  over: boolean
  /** A long record is shown while it is taken, in seconds before now. */
  rolls: boolean
  begin_s: number
  seconds: number
  length_s: number
  whole: boolean
  /** Why nothing shows yet. */
  waits: string
  lanes: { name: string; unit: string; low: number[]; high: number[] }[]
  scan: [string, number, string][]
}

export const lookAtRun = (id: number) => unwrap(api.GET('/api/sittings/{sitting_id}/run', at(id)))

export const beginRun = (id: number, body: RunSettings) =>
  unwrap(api.POST('/api/sittings/{sitting_id}/run', { ...at(id), body }))

export const sendMoves = (id: number, body: Schemas['MovesIn']) =>
  unwrap(api.POST('/api/sittings/{sitting_id}/run/moves', { ...at(id), body }))

export const setRunScope = (id: number, body: Schemas['ScopeChangeIn']) =>
  unwrap(api.PUT('/api/sittings/{sitting_id}/run/scope', { ...at(id), body }))

export const freezeRun = (id: number, body: Schemas['FreezeIn']): Promise<Sitting> =>
  unwrap(api.POST('/api/sittings/{sitting_id}/run/freeze', { ...at(id), body })).then(onceRecorded)
