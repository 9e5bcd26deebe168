import { queryOptions, type UseSuspenseQueryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../api/client'
import type { StripMark } from '../plot/types'

export type CaptureRecord = Schemas['RecordOut']
export type RecordKind = Schemas['RecordKindOut']
type NewRecord = Schemas['RecordKeepIn']

export const recordKindsQuery = queryOptions({
  queryKey: ['record-kinds'],
  queryFn: () => unwrap(api.GET('/api/record-kinds')),
  staleTime: Infinity,
})

/** Where records are kept: beside a capture on the shelf, or in a learner's sitting. */
export interface RecordPlace {
  query: Pick<UseSuspenseQueryOptions<CaptureRecord[]>, 'queryKey'> & {
    queryFn: () => Promise<CaptureRecord[]>
  }
  add: (body: NewRecord) => Promise<CaptureRecord[]>
  remove: (id: number) => Promise<CaptureRecord[]>
}

export function besideCapture(capture_id: number): RecordPlace {
  const path = { capture_id }
  return {
    query: {
      queryKey: ['records', capture_id],
      queryFn: () => unwrap(api.GET('/api/captures/{capture_id}/records', { params: { path } })),
    },
    add: (body) => unwrap(api.POST('/api/captures/{capture_id}/records', { params: { path }, body })),
    remove: (record_id) =>
      unwrap(
        api.DELETE('/api/captures/{capture_id}/records/{record_id}', {
          params: { path: { ...path, record_id } },
        }),
      ),
  }
}

export function ofSitting(sitting_id: number): RecordPlace {
  const path = { sitting_id }
  return {
    query: {
      queryKey: ['records-of-sitting', sitting_id],
      queryFn: () => unwrap(api.GET('/api/sittings/{sitting_id}/records', { params: { path } })),
    },
    add: (body) => unwrap(api.POST('/api/sittings/{sitting_id}/records', { params: { path }, body })),
    remove: (record_id) =>
      unwrap(
        api.DELETE('/api/sittings/{sitting_id}/records/{record_id}', {
          params: { path: { ...path, record_id } },
        }),
      ),
  }
}

/** What was done and when, as marks on the time axis; of an earlier recording it has no place on this one. */
export const actionMarks = (records: CaptureRecord[]): StripMark[] =>
  records
    .filter((r) => r.kind === 'log' && !r.earlier)
    .flatMap((r) => r.rows.map((row, k) => ({ row, id: `action-${r.id}-${k}` })))
    .map(({ row, id }) => ({
      id,
      kind: 'note',
      from: Number(row.at_s),
      to: Number(row.at_s),
      label: `${row.action}: ${row.where}`,
    }))
