import { useIsFetching } from '@tanstack/react-query'
import { Problem } from '../api/client'
import { Note } from '../ui/layout'

/** Said over every view while the server's database is coming back; what was asked is asked again by itself. */
export function ComingBack() {
  const waiting = useIsFetching({ predicate: (query) => isComingBack(query.state.fetchFailureReason) })
  return waiting ? (
    <Note>The database is coming back; what you do is kept. This page goes on by itself.</Note>
  ) : null
}

export const isComingBack = (error: unknown) => error instanceof Problem && error.status === 503
