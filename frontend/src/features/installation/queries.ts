import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type Installation = Schemas['InstallationOut']

export const installationQuery = queryOptions({
  queryKey: ['installation'],
  queryFn: () => unwrap(api.GET('/api/installation')),
  refetchInterval: 10_000,
})
