import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type Installation = Schemas['InstallationOut']

export const installationQuery = queryOptions({
  queryKey: ['installation'],
  queryFn: () => unwrap(api.GET('/api/installation')),
  refetchInterval: 10_000,
})

/** From the session that the shell holds. */
export const schoolQuery = queryOptions({
  queryKey: ['session'],
  queryFn: () => unwrap(api.GET('/api/session')),
  select: (session) => session.school,
  staleTime: Infinity,
})

export const nameSchool = (name: string) => unwrap(api.PUT('/api/school', { body: { name } }))
