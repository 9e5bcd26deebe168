import { useEffect, useRef, useState } from 'react'
import type { Schemas } from '../api/client'

export type Job = Schemas['JobOut']

const ended = (job: Job): boolean => job.state !== 'waiting' && job.state !== 'running'

const AGAIN_MS = 2000

/** Tells of a job as the server does, until it has ended; what stops telling. */
function follow(id: number, tell: (job: Job) => void): () => void {
  let events: EventSource
  let timer: ReturnType<typeof setTimeout>
  const listen = () => {
    // The stream ends from time to time, and the browser asks again by itself.
    events = new EventSource(`/api/jobs/${id}/events`)
    events.onmessage = (event: MessageEvent<string>) => {
      const next = JSON.parse(event.data) as Job
      if (ended(next)) events.close()
      tell(next)
    }
    // After an answer that is no stream, as while the database comes back, it does not.
    events.onerror = () => {
      if (events.readyState === EventSource.CLOSED) timer = setTimeout(listen, AGAIN_MS)
    }
  }
  listen()
  return () => {
    clearTimeout(timer)
    events.close()
  }
}

/** Waits until a job is done, and tells how far it is meanwhile, 0 to 1. Throws what was wrong, in the server's words. */
export function whenDone(job: Job, tell?: (share: number) => void): Promise<Job> {
  return new Promise((done, failed) => {
    const look = (told: Job) => {
      tell?.(told.progress)
      if (told.state === 'done') done(told)
      else if (ended(told)) failed(new Error(told.problem ?? 'It was stopped.'))
    }
    if (ended(job)) look(job)
    else follow(job.id, look)
  })
}

/** Follows a job as the server tells of it, and calls once when it has ended. How far it is, 0 to 1. */
export function useJob(job: Job | null, onEnd: (job: Job) => void): number {
  const onEnded = useRef(onEnd)
  const [told, setTold] = useState<Job | null>(null)
  useEffect(() => {
    onEnded.current = onEnd
  })
  const id = job && !ended(job) ? job.id : null
  useEffect(() => {
    if (id === null) return
    return follow(id, (next) => {
      setTold(next)
      if (ended(next)) onEnded.current(next)
    })
  }, [id])
  return told !== null && told.id === job?.id ? told.progress : (job?.progress ?? 0)
}

/** How far something is, for a button. */
export const percent = (share: number): string => `${Math.round(100 * share)} %`
