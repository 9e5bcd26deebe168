import { useEffect, useRef } from 'react'
import type { Schemas } from '../api/client'

export type Job = Schemas['JobOut']

/** Follows a job as the server tells of it, and calls once when it has ended. */
export function useJob(job: Job | null, onEnd: (job: Job) => void): void {
  const ended = useRef(onEnd)
  useEffect(() => {
    ended.current = onEnd
  })
  const id = job && (job.state === 'waiting' || job.state === 'running') ? job.id : null
  useEffect(() => {
    if (id === null) return
    // The stream ends from time to time, and the browser asks again by itself.
    const events = new EventSource(`/api/jobs/${id}/events`)
    events.onmessage = (event: MessageEvent<string>) => {
      const told = JSON.parse(event.data) as Job
      if (told.state === 'waiting' || told.state === 'running') return
      events.close()
      ended.current(told)
    }
    return () => events.close()
  }, [id])
}
