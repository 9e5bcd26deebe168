import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'
import type { CaseDocument } from './caseState'

export type Suspicion = Schemas['SuspicionOut']
export type Choices = Schemas['CaseChoicesOut']
export type NextTest = Schemas['NextTestOut']

export const choicesQuery = queryOptions({
  queryKey: ['diagnosis', 'choices'],
  queryFn: () => unwrap(api.GET('/api/diagnosis/choices')),
  staleTime: Infinity,
})

export const suspectsQuery = (document: CaseDocument) =>
  queryOptions({
    queryKey: ['diagnosis', 'suspects', document],
    queryFn: () => unwrap(api.POST('/api/diagnosis/suspects', { body: { case: { ...document } } })),
    retry: false,
    placeholderData: (before: Suspicion | undefined) => before,
  })

export const draw = (vehicle: CaseDocument['vehicle'], seed: number) =>
  unwrap(api.POST('/api/diagnosis/drawn', { body: { vehicle: { ...vehicle }, seed } }))

export const doTest = (body: Schemas['DoIn']) => unwrap(api.POST('/api/diagnosis/done', { body }))
