/** Who is signed in, for views that differ by role. */
import { useQuery } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../api/client'

export type Person = Schemas['PersonOut']

export function useWho(): Person {
  // The shell holds this query and shows nothing below it without a person.
  const { data } = useQuery({
    queryKey: ['session'],
    queryFn: () => unwrap(api.GET('/api/session')),
    staleTime: Infinity,
  })
  if (!data?.person) throw new Error('not signed in')
  return data.person
}

export const coursesQuery = {
  queryKey: ['courses'],
  queryFn: () => unwrap(api.GET('/api/courses')),
}
