import { useEffect, useRef, useState } from 'react'
import type { Schemas } from '../api/client'

export type Job = Schemas['JobOut']

/** Follows a job as the server tells of it, and calls once when it has ended. How far it is, 0 to 1. */
export function useJob(job: Job | null, onEnd: (job: Job) => void): number {
  const ended = useRef(onEnd)
  const [told, setTold] = useState<Job | null>(null)
  useEffect(() => {
    ended.current = onEnd
  })
  const id = job && (job.state === 'waiting' || job.state === 'running') ? job.id : null
  useEffect(() => {
    if (id === null) return
    // The stream ends from time to time, and the browser asks again by itself.
    const events = new EventSource(`/api/jobs/${id}/events`)
    events.onmessage = (event: MessageEvent<string>) => {
      const next = JSON.parse(event.data) as Job
      setTold(next)
      if (next.state === 'waiting' || next.state === 'running') return
      events.close()
      ended.current(next)
    }
    return () => events.close()
  }, [id])
  return told !== null && told.id === job?.id ? told.progress : (job?.progress ?? 0)
}

/** How far something is, for a button. */
export const percent = (share: number): string => `${Math.round(100 * share)} %`
