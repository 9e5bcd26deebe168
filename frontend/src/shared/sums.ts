import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../api/client'

export type Calculation = Schemas['CalculationOut']

export const calculationsQuery = queryOptions({
  queryKey: ['calculations'],
  queryFn: () => unwrap(api.GET('/api/calculations')),
  staleTime: Infinity,
})

export const workedQuery = (key: string, figures: Record<string, string>) =>
  queryOptions({
    queryKey: ['worked', key, figures],
    queryFn: () =>
      unwrap(api.POST('/api/calculations/{key}', { params: { path: { key } }, body: { figures } })),
    staleTime: Infinity,
    retry: false,
  })
