import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type ListedJob = Schemas['ListedJobOut']

export const jobsQuery = queryOptions({
  queryKey: ['jobs'],
  queryFn: () => unwrap(api.GET('/api/jobs')),
  refetchInterval: 2000,
})

const at = (job_id: number) => ({ params: { path: { job_id } } })

export const cancelJob = (id: number) => unwrap(api.POST('/api/jobs/{job_id}/cancel', at(id)))

export const jobAgain = (id: number) => unwrap(api.POST('/api/jobs/{job_id}/again', at(id)))
