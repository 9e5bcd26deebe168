import { infiniteQueryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type Line = Schemas['LineOut']
export type Kind = Line['about']

/** The trail, newest first, page by page; of one kind of thing, or one thing. */
export const trailQuery = (about: Kind | null, about_id: number | null) =>
  infiniteQueryOptions({
    queryKey: ['trail', about, about_id],
    queryFn: ({ pageParam }: { pageParam: number | null }) =>
      unwrap(
        api.GET('/api/audit', {
          params: {
            query: {
              ...(about === null ? {} : { about }),
              ...(about_id === null ? {} : { about_id }),
              ...(pageParam === null ? {} : { before: pageParam }),
            },
          },
        }),
      ),
    initialPageParam: null as number | null,
    getNextPageParam: (last: Line[]) => (last.length < 50 ? undefined : last.at(-1)?.id),
  })
